#pragma once
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <optional>

/// Lead: where to aim so that a projectile meets a moving target.
namespace avrek {

/// Shooter and target of a lead.
struct LeadQuestion {
    Vector3 muzzle = Vector3::Zero();
    Vector3 shooter_velocity = Vector3::Zero(); ///< m/s
    Vector3 target = Vector3::Zero();           ///< position of the target at launch
    Vector3 velocity = Vector3::Zero();         ///< target velocity, m/s
    Vector3 acceleration = Vector3::Zero();     ///< target acceleration, m/s2
};

/// One solution.
struct Lead {
    Vector3 direction = world_forward(); ///< launch direction, unit length
    Duration flight{};                   ///< time until it meets the target
    Vector3 meeting = Vector3::Zero();   ///< where it meets the target
};

/// The solutions, if any.
struct Leads {
    std::optional<Lead> low{};  ///< the first to arrive
    std::optional<Lead> high{}; ///< in a high arc
};

/// Returns how to launch a projectile of `spec` so that its centre meets the target, with gravity, drag and
/// inherited velocity. Homing and obstacles are ignored. Solutions within the lifetime, and the fuse if there
/// is one, are searched in steps of 1/96 of it; two that are closer together can be missed. Exact within 1 mm
/// for projectiles that slow down by less than ten times.
///
/// Method: compares the launch speed that meets the target after t, found by Broyden's method where there is
/// drag, with the actual launch speed; finds t by chords and bisection.
Leads solve_lead(const ProjectileSpec& spec, const LeadQuestion& question);

/// Returns the flight time of the lowest shot to a target at rest at muzzle height, `distance` away; none out
/// of reach.
std::optional<Duration> flight_time(const ProjectileSpec& spec, Metres distance);

} // namespace avrek
