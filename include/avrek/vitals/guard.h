#pragma once
#include <avrek/vitals/vitals.h>

#include <span>
#include <vector>

/// What a body holds against hits.
namespace avrek {

/// States whether the guard is held, from `at` on; state it as often as you like: what counts is the change.
/// It goes up when the body may guard and is not broken, also later; only a press opens the window of a
/// perfect guard.
void hold_guard(std::span<const ConditionSpec> conditions, const BodySpec& body, Vitals& vitals, bool held,
                Time at, std::vector<VitalsEvent>& events);

/// The stamina at `at`, when nothing is guarded until then.
double stamina_at(const GuardSpec& spec, const GuardState& state, Time at);

/// The share of damage of a kind that a held guard lets through, `off_front` radians off the front.
double guard_share(const GuardSpec& spec, Radians off_front, std::int32_t damage_type);

/// How far off its front a body at `pose` is met by something that flies along `direction`, in [0, pi]: 0
/// straight from ahead. Precondition (asserted): `direction` of unit length within 1e-9.
Radians off_front(const Pose& pose, const Vector3& direction);

} // namespace avrek
