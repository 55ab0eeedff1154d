#pragma once
#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <string_view>

namespace avrek {

/// Something that a combatant does of its own will, and that can be forbidden.
enum class Act : std::uint8_t { fire, reload, move, guard, strike };

inline constexpr std::size_t act_count = 5;

/// Returns the word for an act, as files write it.
std::string_view to_string(Act act);

/// A set of acts: `{Act::fire, Act::reload}`.
class ActSet {
  public:
    constexpr ActSet() = default;
    constexpr ActSet(std::initializer_list<Act> acts) {
        for (const Act act : acts) {
            add(act);
        }
    }
    static constexpr ActSet all() { return {Act::fire, Act::reload, Act::move, Act::guard, Act::strike}; }
    constexpr void add(Act act) {
        bits_ = static_cast<std::uint8_t>(bits_ | (1U << static_cast<std::uint32_t>(act)));
    }
    constexpr void add(ActSet acts) { bits_ = static_cast<std::uint8_t>(bits_ | acts.bits_); }
    constexpr bool contains(Act act) const { return (bits_ & (1U << static_cast<std::uint32_t>(act))) != 0; }
    constexpr bool is_empty() const { return bits_ == 0; }
    friend constexpr bool operator==(ActSet, ActSet) = default;

  private:
    std::uint8_t bits_ = 0;
};

} // namespace avrek
