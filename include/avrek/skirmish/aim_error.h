#pragma once
#include <avrek/arsenal/shooter_spec.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

/// How far off a shooter's aim is: what bots do in a fight, and what tuning computes with.
namespace avrek {

/// What an engagement draws for a shooter. Plain data; all zero is the best shooter there is of its profile.
struct AimDraw {
    Look first{};           ///< of the first error, in shares of ShooterSpec::error
    Radians sway_yaw = 0.0; ///< where its sway begins
    Radians sway_pitch = 0.0;
    double lag = 0.0; ///< in [-1, 1]: twice ShooterSpec::tracking times this is how far it is behind
};

/// The draw for five numbers that are uniform in [0, 1). The yaw of the first error is triangular within
/// twice, its pitch within once ShooterSpec::error, as for bots.
AimDraw aim_draw_of(const double (&uniform)[5]);

/// The share of the first error that is left `since` the target was seen: 1 / (1 + h + h^2), where h is that
/// time over ShooterSpec::settle.
double error_left(const ShooterSpec& shooter, Duration since);

/// How far off the aim is `since` the target was noticed, which moves across the line of sight at `across`
/// rad/s.
Look aim_error(const ShooterSpec& shooter, const AimDraw& draw, Duration since, double across = 0.0);

} // namespace avrek
