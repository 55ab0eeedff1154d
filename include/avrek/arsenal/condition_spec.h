#pragma once
#include <avrek/arsenal/acts.h>
#include <avrek/arsenal/effect_spec.h>
#include <avrek/arsenal/spec_ref.h>
#include <avrek/core/ids.h>
#include <avrek/core/time.h>

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

/// Rule for a condition that a combatant already has.
enum class Stacking : std::uint8_t {
    refresh,   ///< the time restarts, with the new strength
    extend,    ///< the times add up, to at most `max_time` from now
    count,     ///< the count rises, to at most `max_count`; the time restarts
    strongest, ///< refresh, if the new one is at least as strong
    ignore,    ///< nothing happens
};

/// Returns the word for a way of stacking, as files write it.
std::string_view to_string(Stacking stacking);

/// An event that ends a condition early.
enum class ConditionEnd : std::uint8_t { hurt, healed, fired, struck, guarded };

/// Number of such events.
inline constexpr std::size_t condition_end_count = 5;

/// Returns the word for such an event, as files write it.
std::string_view to_string(ConditionEnd end);

/// Duration of a condition that never ends by itself.
inline constexpr Duration lasting = Duration::max();

/// A set of conditions of an arsenal, by index.
struct ConditionSet {
    std::uint64_t bits = 0; ///< bit n stands for Arsenal::conditions[n]

    /// Returns whether a condition is in the set; false for an index out of range.
    bool contains(ConditionId condition) const { return (bits & bit_of(condition)) != 0; }
    /// Adds a condition; one beyond the 64th is left out.
    void add(ConditionId condition) { bits |= bit_of(condition); }

  private:
    static std::uint64_t bit_of(ConditionId condition) {
        return to_index(condition) < 64 ? std::uint64_t{1} << to_index(condition) : 0;
    }
};

/// A lasting change on a combatant, or an instant one. With strength s and count n, a factor f counts as 1 +
/// (f - 1) s n, at least 0. Factors of several conditions multiply.
struct ConditionSpec {
    std::string id{};
    Duration lasts = lasting;   ///< 0: instant
    Duration period{};          ///< time between ticks, at least 1 ms; 0: no ticks
    bool ticks_at_once = false; ///< the first tick comes at the start, not a period later
    /// Damage or healing of a tick, or of an instant condition, by `type`; times strength and count; at least
    /// 0.
    double amount = 0.0;
    SpecRef<DamageTypeId> type{}; ///< type of that damage or healing
    bool heals = false;           ///< from the type, set by resolve_references()

    Stacking stacking = Stacking::refresh;
    std::int32_t max_count = 1;                   ///< with Stacking::count, at least 1
    Duration max_time = std::chrono::seconds{60}; ///< maximum time left with Stacking::extend

    double damage_taken = 1.0; ///< factors, each at least 0
    double damage_dealt = 1.0;
    double speed = 1.0;
    double spread = 1.0;
    ActSet forbids{};

    std::string grants_defence{};                ///< defence layer that gets points at the start; empty: none
    double grants_points = 0.0;                  ///< times strength, at least 0
    std::vector<SpecRef<ConditionId>> cancels{}; ///< conditions that it ends when it begins
    std::vector<SpecRef<ConditionId>> prevents{}; ///< conditions that cannot begin while it lasts
    std::vector<ConditionEnd> ends_when{};
    ConditionSet cancels_set{}; ///< set by resolve_references()
    ConditionSet prevents_set{};
};

/// Maximum number of conditions of an arsenal.
inline constexpr std::size_t max_condition_kinds = 64;

/// Returns whether the condition is instant.
inline bool is_instant(const ConditionSpec& spec) {
    return spec.lasts == Duration::zero();
}

/// Returns whether `end` ends the condition early.
bool ends_when(const ConditionSpec& spec, ConditionEnd end);

} // namespace avrek
