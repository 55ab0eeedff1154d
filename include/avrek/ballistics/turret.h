#pragma once
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

namespace avrek {

/// Limits of a turret, relative to its base.
struct TurretSpec {
    Radians left = pi;             ///< maximum turn to the left, in [0, pi]
    Radians right = pi;            ///< maximum turn to the right, in [0, pi]; both pi: all around
    Radians down = 0.25 * pi;      ///< in [0, pi/2]
    Radians up = 0.45 * pi;        ///< in [0, pi/2]
    double yaw_rate = 0.5 * pi;    ///< rad/s, at least 0
    double pitch_rate = 0.25 * pi; ///< rad/s, at least 0
    Radians tolerance = 1e-6;      ///< looks that are so close in yaw and in pitch are on target, at least 0
};

/// Result of a turn.
struct TurretTurn {
    Look look{};
    bool in_arcs = true;    ///< the wanted look is within the limits
    bool on_target = false; ///< it looks there, within TurretSpec::tolerance
};

/// Returns the look along a direction of the world, relative to `base`. Precondition (asserted): finite, not
/// zero.
Look turret_look(const Pose& base, const Vector3& direction);

/// Returns the direction of the world in which a turret looks.
Vector3 turret_direction(const Pose& base, Look look);

/// Returns `wanted`, or the nearest look within the limits, in yaw and in pitch.
Look within_arcs(const TurretSpec& spec, Look wanted);

/// Turns from `look`, which is within the limits, towards `wanted` for `length`, in yaw and in pitch at once:
/// the shorter way where it turns all around, else the way within the limits. Preconditions (asserted):
/// length, rates and tolerance at least 0.
TurretTurn slew(const TurretSpec& spec, Look look, Look wanted, Duration length);

} // namespace avrek
