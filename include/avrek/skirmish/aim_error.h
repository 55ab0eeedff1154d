#pragma once
#include <avrek/arsenal/shooter_spec.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

/// Error of a shooter's aim, shared by bots and by the computation of engagements.
namespace avrek {

/// Random draw of an engagement for a shooter. All zero is the best shooter of its profile.
struct AimDraw {
    Look first{};           ///< first error, in shares of ShooterSpec::error
    Radians sway_yaw = 0.0; ///< phase of its sway in yaw
    Radians sway_pitch = 0.0;
    double lag = 0.0; ///< in [-1, 1]: share of twice ShooterSpec::tracking as lag
};

/// Returns the draw for five numbers that are uniform in [0, 1). The yaw of the first error is triangular
/// within twice, its pitch within once ShooterSpec::error.
AimDraw aim_draw_of(const double (&uniform)[5]);

/// Returns the share of the first error that remains `since` the target was seen: 1 / (1 + h + h^2), where h
/// is that time over ShooterSpec::recovery.
double error_left(const ShooterSpec& shooter, Duration since);

/// Returns the error of the aim `since` a target was noticed that moves across the line of sight at `across`
/// rad/s.
Look aim_error(const ShooterSpec& shooter, const AimDraw& draw, Duration since, double across = 0.0);

} // namespace avrek
