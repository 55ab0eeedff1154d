#pragma once
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

namespace avrek {

/// How a turret may turn: angles relative to its base.
struct TurretSpec {
    Radians left = pi;             ///< how far it turns to the left of straight ahead, in [0, pi]
    Radians right = pi;            ///< and to the right, in [0, pi]; with pi for both it turns all around
    Radians down = 0.25 * pi;      ///< in [0, pi/2]
    Radians up = 0.45 * pi;        ///< in [0, pi/2]
    double yaw_rate = 0.5 * pi;    ///< rad/s, at least 0
    double pitch_rate = 0.25 * pi; ///< rad/s, at least 0
};

/// Where a turret looks after it has turned for a while.
struct TurretTurn {
    Look look{};
    bool in_arcs = true;    ///< what it was asked to look at is within its arcs
    bool on_target = false; ///< it looks there, within a microradian
};

/// The look, relative to `base`, along a direction of the world. Precondition (asserted): finite, not zero.
Look turret_look(const Pose& base, const Vector3& direction);

/// The direction of the world in which a turret looks.
Vector3 turret_direction(const Pose& base, Look look);

/// `wanted`, or the look within the arcs that is nearest to it in yaw and in pitch.
Look within_arcs(const TurretSpec& spec, Look wanted);

/// Turns from `look`, which is within the arcs, towards `wanted` for `length`, in yaw and in pitch at once:
/// the shorter way round where it turns all around, else the way that its arcs leave. Preconditions
/// (asserted): length at least 0; rates at least 0.
TurretTurn slew(const TurretSpec& spec, Look look, Look wanted, Duration length);

} // namespace avrek
