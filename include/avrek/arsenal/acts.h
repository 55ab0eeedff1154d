#pragma once
#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <string_view>

namespace avrek {

/// Something that a combatant does of its own will, and that can be forbidden.
enum class Act : std::uint8_t { fire, reload, move, guard, strike };

/// Number of acts.
inline constexpr std::size_t act_count = 5;

/// Returns the word for an act, as files write it.
std::string_view to_string(Act act);

/// A set of acts: `{Act::fire, Act::reload}`.
class ActSet {
  public:
    constexpr ActSet() = default;
    /// Makes a set of these acts.
    constexpr ActSet(std::initializer_list<Act> acts) {
        for (const Act act : acts) {
            add(act);
        }
    }
    /// Returns the set of all acts.
    static constexpr ActSet all() { return {Act::fire, Act::reload, Act::move, Act::guard, Act::strike}; }
    /// Adds an act.
    constexpr void add(Act act) {
        bits_ = static_cast<std::uint8_t>(bits_ | (1U << static_cast<std::uint32_t>(act)));
    }
    /// Adds the acts of another set.
    constexpr void add(ActSet acts) { bits_ = static_cast<std::uint8_t>(bits_ | acts.bits_); }
    /// Returns whether an act is in the set.
    constexpr bool contains(Act act) const { return (bits_ & (1U << static_cast<std::uint32_t>(act))) != 0; }
    /// Returns whether the set is empty.
    constexpr bool is_empty() const { return bits_ == 0; }
    friend constexpr bool operator==(ActSet, ActSet) = default;

  private:
    std::uint8_t bits_ = 0;
};

} // namespace avrek
