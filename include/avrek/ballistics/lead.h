#pragma once
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <optional>

/// Where to aim so that a projectile meets what moves.
namespace avrek {

/// What is to be hit, and from where.
struct LeadQuestion {
    Vector3 muzzle = Vector3::Zero();
    Vector3 shooter_velocity = Vector3::Zero(); ///< m/s
    Vector3 target = Vector3::Zero();           ///< as the projectile leaves
    Vector3 velocity = Vector3::Zero();         ///< of the target, m/s
    Vector3 acceleration = Vector3::Zero();     ///< of the target, m/s2
};

/// One way to hit it.
struct Lead {
    Vector3 direction = world_forward(); ///< in which to launch, of unit length
    Duration flight{};                   ///< until it meets the target
    Vector3 meeting = Vector3::Zero();   ///< where
};

/// The ways to hit it, as far as there are any.
struct Leads {
    std::optional<Lead> low{};  ///< the first to arrive
    std::optional<Lead> high{}; ///< in an arc that comes down on it
};

/// How to launch a projectile of `spec` so that its middle meets the target, with gravity, drag and what it
/// inherits of the shooter's velocity; homing, and what is in its way, are left out. Meetings within the
/// lifetime, and the fuse if it has one, are looked for in steps of 1/96 of it; two that lie closer together
/// may be missed. It comes within 1 mm for projectiles that slow down by less than ten times.
/// Method: the launch speed that meets the target after t, found by Broyden's method where there is
/// drag, is compared with the launch speed there is; t by chords and halving.
Leads solve_lead(const ProjectileSpec& spec, const LeadQuestion& question);

/// The same for the lowest shot at a target at rest, as tables need it: how long a projectile flies to a
/// point at its muzzle's height `distance` away; none when it is out of reach.
std::optional<Duration> flight_time(const ProjectileSpec& spec, Metres distance);

} // namespace avrek
