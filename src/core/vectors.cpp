#include <avrek/core/elementary.h>
#include <avrek/core/vectors.h>

#include <cassert>
#include <cmath>

namespace avrek {

Pose between(const Pose& from, const Pose& to, double share) {
    const auto& first = from.rotation.coeffs();
    // Both signs of a quaternion are the same rotation: the nearer one is the shorter way.
    const double sign = first.dot(to.rotation.coeffs()) < 0.0 ? -1.0 : 1.0;
    Pose pose;
    pose.position = from.position + share * (to.position - from.position);
    pose.rotation.coeffs() = first + share * (sign * to.rotation.coeffs() - first);
    const double norm = std::sqrt(pose.rotation.coeffs().squaredNorm());
    if (norm > 0.0) {
        pose.rotation.coeffs() /= norm;
    } else {
        pose.rotation = from.rotation;
    }
    return pose;
}

Radians shortest_turn(Radians angle) {
    assert(std::isfinite(angle));
    return angle - 2.0 * pi * std::round(angle / (2.0 * pi));
}

Vector3 direction_of(Look look) {
    const double level = cosine(look.pitch);
    return {sine(look.yaw) * level, sine(look.pitch), cosine(look.yaw) * level};
}

Look look_of(const Vector3& direction) {
    assert(direction.allFinite() && direction.squaredNorm() > 0.0);
    const double level = std::sqrt(direction.x() * direction.x() + direction.z() * direction.z());
    return {arc_tangent(direction.x(), direction.z()), arc_tangent(direction.y(), level)};
}

Rotation turned_to(Look look) {
    const double yaw_cosine = cosine(0.5 * look.yaw);
    const double yaw_sine = sine(0.5 * look.yaw);
    const double pitch_cosine = cosine(0.5 * look.pitch);
    const double pitch_sine = sine(0.5 * look.pitch);
    return Rotation{yaw_cosine * pitch_cosine, -yaw_cosine * pitch_sine, yaw_sine * pitch_cosine,
                    yaw_sine * pitch_sine};
}

Pose to_world(const Pose& pose, const Pose& inner) {
    return {to_world(pose, inner.position), pose.rotation * inner.rotation};
}

Across across(const Vector3& direction) {
    assert(std::abs(direction.squaredNorm() - 1.0) < 2e-9);
    const double level = std::sqrt(direction.x() * direction.x() + direction.z() * direction.z());
    if (level < 1e-12) {
        const Vector3 left = world_left();
        return {left, direction.cross(left)};
    }
    const Vector3 left{direction.z() / level, 0.0, -direction.x() / level};
    return {left, direction.cross(left)};
}

} // namespace avrek
