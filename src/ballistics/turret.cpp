#include <avrek/ballistics/turret.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

constexpr Radians close_enough = 1e-6; // to be within the arcs

bool turns_all_around(const TurretSpec& spec) {
    return spec.left >= pi && spec.right >= pi;
}

// The same direction with a yaw in [-pi, pi].
Radians wrapped(Radians yaw) {
    return std::remainder(yaw, 2.0 * pi);
}

} // namespace

Look turret_look(const Pose& base, const Vector3& direction) {
    return look_of(base.rotation.conjugate() * direction);
}

Vector3 turret_direction(const Pose& base, Look look) {
    return base.rotation * direction_of(look);
}

Look within_arcs(const TurretSpec& spec, Look wanted) {
    const Radians pitch = std::clamp(wanted.pitch, -spec.down, spec.up);
    Radians yaw = wrapped(wanted.yaw);
    if (!turns_all_around(spec) && (yaw > spec.left || yaw < -spec.right)) {
        // The end of the arcs that is nearer, around the back too.
        const Radians from_left = std::abs(wrapped(yaw - spec.left));
        const Radians from_right = std::abs(wrapped(yaw + spec.right));
        yaw = from_left <= from_right ? spec.left : -spec.right;
    }
    return {yaw, pitch};
}

TurretTurn slew(const TurretSpec& spec, Look look, Look wanted, Duration length) {
    assert(length >= Duration::zero() && spec.yaw_rate >= 0.0 && spec.pitch_rate >= 0.0 &&
           spec.tolerance >= 0.0);
    const Look goal = within_arcs(spec, wanted);
    const double seconds = to_seconds(length);
    const auto turned = [seconds](Radians way, double rate) {
        return std::clamp(way, -rate * seconds, rate * seconds);
    };
    const Radians way = turns_all_around(spec) ? wrapped(goal.yaw - look.yaw) : goal.yaw - look.yaw;
    TurretTurn turn;
    const Radians yaw_step = turned(way, spec.yaw_rate);
    const Radians pitch_way = goal.pitch - look.pitch;
    const Radians pitch_step = turned(pitch_way, spec.pitch_rate);
    turn.look.yaw = yaw_step == way ? goal.yaw : wrapped(look.yaw + yaw_step);
    turn.look.pitch = pitch_step == pitch_way ? goal.pitch : look.pitch + pitch_step;
    turn.in_arcs = std::abs(wrapped(goal.yaw - wanted.yaw)) <= close_enough &&
                   std::abs(goal.pitch - wanted.pitch) <= close_enough;
    turn.on_target = std::abs(wrapped(turn.look.yaw - wanted.yaw)) <= spec.tolerance &&
                     std::abs(turn.look.pitch - wanted.pitch) <= spec.tolerance;
    return turn;
}

} // namespace avrek
