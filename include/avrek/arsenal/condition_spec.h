#pragma once
#include <avrek/arsenal/acts.h>
#include <avrek/arsenal/effect_spec.h>
#include <avrek/arsenal/spec_ref.h>
#include <avrek/core/time.h>

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

/// What happens when a condition comes to somebody who has it already.
enum class Stacking : std::uint8_t {
    refresh,   ///< its time starts anew, with the new strength
    extend,    ///< its time grows by that of the new one, up to `longest` from now
    count,     ///< it counts once more, up to `most`, and its time starts anew
    strongest, ///< as refresh, but only for one that is at least as strong
    ignore,    ///< nothing
};

/// The word for a way of stacking in files.
std::string_view to_string(Stacking stacking);

/// What ends a condition before its time, besides other conditions.
enum class ConditionEnd : std::uint8_t { hurt, healed, fired, struck, guarded };

inline constexpr std::size_t condition_end_count = 5;

/// The word for an end in files.
std::string_view to_string(ConditionEnd end);

/// A condition that does not end by itself.
inline constexpr Duration lasting = Duration::max();

/// A set of conditions of an arsenal, by index.
struct ConditionSet {
    std::uint64_t bits = 0; ///< bit n is set when Arsenal::conditions[n] is in it

    bool contains(std::int32_t condition) const {
        return condition >= 0 && condition < 64 && (bits >> static_cast<std::uint32_t>(condition) & 1U) != 0;
    }
    void add(std::int32_t condition) {
        if (condition >= 0 && condition < 64) {
            bits |= std::uint64_t{1} << static_cast<std::uint32_t>(condition);
        }
    }
};

/// A lasting change on a combatant, or one that is over at once. Its factors f count by strength s and number
/// n as 1 + (f - 1) s n, at least 0; several conditions multiply.
struct ConditionSpec {
    std::string id{};
    Duration lasts = lasting;   ///< 0: it does what it does at once, and is gone
    Duration period{};          ///< between its ticks, at least a millisecond; 0: it has none
    bool ticks_at_once = false; ///< the first tick falls as it begins, not a period later
    double amount = 0.0; ///< health that a tick, or an instant condition, takes or heals, by `kind`; times
                         ///< strength and number; at least 0
    SpecRef type{};      ///< of that damage or healing
    bool heals = false;  ///< of the kind, see link()

    Stacking stacking = Stacking::refresh;
    std::int32_t max_count = 1;                   ///< that Stacking::count counts to, at least 1
    Duration max_time = std::chrono::seconds{60}; ///< that Stacking::extend leaves

    double damage_taken = 1.0; ///< factors, each at least 0
    double damage_dealt = 1.0;
    double speed = 1.0;
    double spread = 1.0;
    ActSet forbids{};

    std::string grants_defence{};    ///< the layer of the body that gets points when it begins; empty: none
    double grants_points = 0.0;      ///< times strength, at least 0
    std::vector<SpecRef> cancels{};  ///< conditions that it ends when it comes, also when it is instant
    std::vector<SpecRef> prevents{}; ///< conditions that cannot come while it lasts
    std::vector<ConditionEnd> ends_when{};
    ConditionSet cancels_set{}; ///< see link()
    ConditionSet prevents_set{};
};

/// No arsenal has more conditions.
inline constexpr std::size_t max_condition_kinds = 64;

/// Whether the condition is over as it begins.
inline bool is_instant(const ConditionSpec& spec) {
    return spec.lasts == Duration::zero();
}

/// Whether `end` ends it.
bool ends_when(const ConditionSpec& spec, ConditionEnd end);

} // namespace avrek
