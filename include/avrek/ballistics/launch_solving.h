#pragma once
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/ballistics/aim_solving.h>
#include <avrek/ballistics/lead.h>

#include <optional>

/// From the eye to the launch of a projectile, in one call.
namespace avrek {

/// A shooter who launches a projectile at what the eye sees.
struct LaunchQuestion {
    AimQuestion aim{}; ///< its muzzle counts unless there is a barrel
    Metres barrel =
        0.0; ///< length of a barrel that turns about the grip with the launch; 0: it does not turn
    bool high_arc = false;                         ///< takes the high arc where there is one
    Vector3 shooter_velocity = Vector3::Zero();    ///< m/s
    Vector3 target_velocity = Vector3::Zero();     ///< velocity of what the eye sees, m/s
    Vector3 target_acceleration = Vector3::Zero(); ///< m/s2
};

/// The launch that solve_launch() found.
struct LaunchSolution {
    AimSolution aim{};          ///< its origin and direction are those of the launch
    std::optional<Lead> lead{}; ///< none: out of reach, and the direction is straight
};

/// Returns how to launch a projectile of `spec` at what the eye sees: solve_aim() says what that is and where
/// the projectile leaves, solve_lead() in which direction, with inherited velocity, gravity and drag. With a
/// barrel, both are repeated until muzzle and direction fit each other within 1e-6 m, at most 32 times: for
/// targets farther than a few barrels they do. Preconditions (asserted): as for solve_aim(); barrel at least
/// 0.
///
///     const LaunchSolution shot = solve_launch(scene, spec, {.aim = aim, .barrel = 0.8}, filter);
///     if (shot.lead && shot.aim.fires) { launch(shot.aim.origin, shot.aim.direction); }
LaunchSolution solve_launch(const World& world, const ProjectileSpec& spec, const LaunchQuestion& question,
                            const Filter& filter);

} // namespace avrek
