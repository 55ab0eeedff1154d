#pragma once
#include <avrek/arsenal/defence_spec.h>
#include <avrek/arsenal/effect_spec.h>
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/vitals/damage.h>

#include <cstdint>
#include <optional>
#include <string_view>

/// Events of a body's vitals.
namespace avrek {

/// Kinds of events. VitalsEvent::source is the cause.
enum class VitalsEventKind : std::uint8_t {
    /// Health or defence points were lost. `damage` is the health lost and why, `absorbed` the points lost,
    /// `overkill` the rest.
    damaged,
    /// Health or defence points came back. `damage` is the health, `absorbed` the points.
    healed,
    resisted, ///< a factor of `damage` is 0, such as a resistance
    /// Health reached 0, once per life. `region`, `push` and `on_back` are of the last hit.
    died,
    protected_hit,     ///< a hit did nothing: the body is protected
    guarded,           ///< a guard stopped a hit whole; `stamina` is left
    guarded_perfectly, ///< a perfect guard stopped a hit
    guard_raised,
    guard_lowered,
    guard_broken,      ///< stamina ran out; `until` is when it can be raised again
    guard_mended,      ///< it can be raised again
    defence_broken,    ///< defence layer `defence` has no points left
    defence_restored,  ///< defence layer `defence` is full again, by itself
    condition_began,   ///< `condition`, with `strength`, until `until`
    condition_stacked, ///< it was there; `count`, `strength`, `until` are the new ones
    condition_refused, ///< `refusal` says why
    condition_ended,   ///< its time is over, or `refusal` says why
    pushed,            ///< a hit that it survived gave it `push`
    reacted,           ///< the body is in `state` until `until`, and gets `push`
    rising,            ///< it gets up, until `until`
    recovered,         ///< it is active again
    protection_ended,
    vanished, ///< the body of the dead is removed
};

/// Reason why something did not happen, or ended.
enum class VitalsRefusal : std::uint8_t {
    none,
    immune,    ///< the body is immune
    prevented, ///< another condition prevents it
    ignored,   ///< it was there already
    weaker,    ///< the present one is stronger
    full,      ///< no room for another condition
    cancelled, ///< another condition cancelled it
    hurt,      ///< an event of the body ended it; so the next four
    healed,
    fired,
    struck,
    guarded,
};

/// One event, with its exact time. Members that its kind does not name keep their defaults.
struct VitalsEvent {
    Time at{};
    VitalsEventKind kind = VitalsEventKind::damaged;
    VitalsRefusal refusal = VitalsRefusal::none;
    ReactionClass reaction = ReactionClass::none;
    BodyState state = BodyState::active;    ///< after the event
    bool on_back = false;                   ///< with `down`, `rising` and `ragdoll`: it lies on its back
    std::optional<ConditionId> condition{}; ///< the one that ticked
    std::int32_t defence = -1;              ///< index into BodySpec::defence
    std::optional<DamageTypeId> damage_type{};
    std::uint32_t count = 0;
    BodyId source = nobody;
    std::optional<RegionId> region{};
    Time until{};
    double strength = 0.0;
    double stamina = 0.0;
    double health_left = 0.0;
    double absorbed = 0.0;
    double overkill = 0.0;
    Vector3 push = Vector3::Zero(); ///< m/s
    Damage damage{};
};

/// Returns the words for an event, such as "defence broken".
std::string_view to_string(VitalsEventKind kind);

/// Returns the words for a reason, such as "immune".
std::string_view to_string(VitalsRefusal refusal);

} // namespace avrek
