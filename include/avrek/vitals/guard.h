#pragma once
#include <avrek/core/ids.h>
#include <avrek/vitals/vitals.h>

#include <optional>
#include <span>
#include <vector>

/// Guards against hits.
namespace avrek {

/// States whether the guard is held, from `at` on. Changes count. The guard goes up as soon as the body can
/// guard and it is not broken. Only a press opens the window of a perfect guard.
void hold_guard(const LivingBody& body, bool held, Time at, std::vector<VitalsEvent>& events);

/// Returns the stamina at `at`, if nothing is guarded until then.
double stamina_at(const GuardSpec& spec, const GuardState& state, Time at);

/// Returns the share of damage of a type that a held guard lets through, `off_front` radians off the front.
double guard_share(const GuardSpec& spec, Radians off_front, std::optional<DamageTypeId> damage_type);

/// Returns the angle off its front at which a body at `pose` is hit along `direction`, in [0, pi]; 0 is
/// straight from ahead. Precondition (asserted): `direction` of unit length within 1e-9.
Radians off_front(const Pose& pose, const Vector3& direction);

} // namespace avrek
