#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/arsenal/effect_spec.h>
#include <avrek/core/event_kinds.h>
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/vitals/damage.h>

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string_view>
#include <variant>

/// Events of a body's vitals, a type for each kind. `at` is the exact time, `who` the body, which a match
/// names, and `source` the cause.
namespace avrek {

/// Health or defence points were lost.
struct DamageEvent {
    Time at{};
    BodyId who = nobody;
    BodyId source = nobody;
    Damage damage{};          ///< health lost, with its steps
    double absorbed = 0.0;    ///< defence points lost
    double overkill = 0.0;    ///< damage beyond the health
    double health_left = 0.0; ///< after the event
    std::optional<DamageTypeId> type{};
    std::optional<ConditionId> condition{}; ///< the one that ticked
    std::optional<RegionId> region{};
    Vector3 push = Vector3::Zero(); ///< m/s
};

/// Health or defence points came back.
struct HealEvent {
    Time at{};
    BodyId who = nobody;
    BodyId source = nobody;
    Damage healing{};         ///< health gained, with its steps
    double absorbed = 0.0;    ///< defence points gained
    double health_left = 0.0; ///< after the event
    std::optional<DamageTypeId> type{};
    std::optional<ConditionId> condition{}; ///< the one that ticked
};

/// Reason why a hit did nothing.
enum class HitStop : std::uint8_t {
    resistance, ///< a factor of the damage is 0
    protection,
    guard,
    perfect_guard,
};

/// A hit was stopped whole.
struct StoppedHitEvent {
    Time at{};
    BodyId who = nobody;
    BodyId source = nobody;
    HitStop by = HitStop::resistance;
    Damage damage{};
    double stamina = 0.0; ///< stamina left, of a body that can guard
    std::optional<DamageTypeId> type{};
    std::optional<ConditionId> condition{}; ///< the one that ticked
    std::optional<RegionId> region{};
};

/// Health reached 0, once per life. The damage is told before, by a DamageEvent.
struct DeathEvent {
    Time at{};
    BodyId who = nobody;
    BodyId source = nobody;
    std::optional<DamageTypeId> type{}; ///< type of the last hit
    std::optional<ConditionId> condition{};
    std::optional<RegionId> region{};
    Vector3 push = Vector3::Zero(); ///< m/s
    bool on_back = false;           ///< it falls on its back
};

/// Changes of a guard.
enum class GuardChange : std::uint8_t {
    raised,
    lowered,
    broken, ///< its stamina ran out
    mended, ///< it can be raised again
};

/// A guard changed.
struct GuardEvent {
    Time at{};
    BodyId who = nobody;
    BodyId source = nobody;
    GuardChange change = GuardChange::raised;
    double stamina = 0.0; ///< after the event
    Time until{};         ///< when a broken guard can be raised again
};

/// A defence layer lost its last point, or refilled by itself.
struct DefenceEvent {
    Time at{};
    BodyId who = nobody;
    std::size_t layer = 0; ///< index in BodySpec::defence
    bool restored = false; ///< false: broken
};

/// Changes of a condition.
enum class ConditionChange : std::uint8_t {
    began,
    stacked, ///< it was there
    refused, ///< `why` says the reason
    ended,   ///< its time is over, or `why` says the reason
};

/// Reason why a condition did not begin, or ended.
enum class ConditionReason : std::uint8_t {
    none,
    immune,    ///< the body is immune
    prevented, ///< another condition prevents it
    ignored,   ///< it was there already
    weaker,    ///< the present one is stronger
    full,      ///< no room for another condition
    cancelled, ///< another condition cancelled it
    hurt,      ///< an event of the body ended it; so do the next four
    healed,
    fired,
    struck,
    guarded,
    new_values, ///< the body or the condition has other values, see retune()
};

/// A condition changed. `count`, `strength` and `until` are the new ones.
struct ConditionEvent {
    Time at{};
    BodyId who = nobody;
    BodyId source = nobody;
    ConditionId condition{};
    ConditionChange change = ConditionChange::began;
    ConditionReason why = ConditionReason::none;
    std::uint32_t count = 0;
    double strength = 0.0;
    Time until{};
};

/// A hit that the body survived pushed it.
struct PushEvent {
    Time at{};
    BodyId who = nobody;
    BodyId source = nobody;
    std::optional<RegionId> region{};
    Vector3 push = Vector3::Zero(); ///< m/s
};

/// Changes of the state of a body.
enum class BodyChange : std::uint8_t {
    reacted,   ///< it is in `state` until `until`, and gets `push`
    rising,    ///< it gets up, until `until`
    recovered, ///< it is active again
    vanished,  ///< the body of the dead is removed
};

/// The state of a body changed.
struct BodyEvent {
    Time at{};
    BodyId who = nobody;
    BodyId source = nobody;
    BodyChange change = BodyChange::reacted;
    ReactionClass reaction = ReactionClass::none;
    BodyState state = BodyState::active; ///< after the event
    bool on_back = false;                ///< it lies on its back
    Time until{};
    Vector3 push = Vector3::Zero(); ///< m/s
};

/// The protection of a new life ended.
struct ProtectionEndedEvent {
    Time at{};
    BodyId who = nobody;
};

/// A body, or with `who` nobody the whole fight, goes by other values from now on; see retune().
struct RetunedEvent {
    Time at{};
    BodyId who = nobody;
    double health_left = 0.0; ///< after the event
    double maximum = 0.0;     ///< maximum health, after the event
    double lost = 0.0;        ///< health and defence points
};

/// One event of a body. Use std::visit() or std::get_if().
using VitalsEvent =
    std::variant<DamageEvent, HealEvent, StoppedHitEvent, DeathEvent, GuardEvent, DefenceEvent,
                 ConditionEvent, PushEvent, BodyEvent, ProtectionEndedEvent, RetunedEvent>;

/// Returns the words for a stopped hit, such as "guarded perfectly".
std::string_view to_string(HitStop stop);
/// Returns the words for a change, such as "guard broken".
std::string_view to_string(GuardChange change);
/// Returns the words for a change, such as "condition began".
std::string_view to_string(ConditionChange change);
/// Returns the word for a change, such as "rising".
std::string_view to_string(BodyChange change);

/// Returns the exact time of an event.
Time time_of(const VitalsEvent& event);
/// Returns the words for an event, such as "defence broken".
std::string_view words_of(const VitalsEvent& event);

/// Returns the words for a reason, such as "immune".
std::string_view to_string(ConditionReason reason);

/// Returns the health and defence points that were lost.
inline double points_of(const DamageEvent& hurt) {
    return hurt.damage.amount() + hurt.absorbed;
}
/// Returns the health and defence points that came back.
inline double points_of(const HealEvent& heal) {
    return heal.healing.amount() + heal.absorbed;
}

} // namespace avrek
