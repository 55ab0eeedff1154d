#pragma once
#include <avrek/core/units.h>

#include <Eigen/Core>
#include <Eigen/Geometry>

/// Points, directions and poses. Right-handed, metres, Y up; yaw 0 and pitch 0 look along +Z.
namespace avrek {

/// A point or a direction. Directions have unit length.
using Vector3 = Eigen::Vector3d;

/// The world's axes: +X to the left when looking along +Z, +Y up, +Z ahead.
inline Vector3 world_left() {
    return {1.0, 0.0, 0.0};
}
/// +Y.
inline Vector3 world_up() {
    return {0.0, 1.0, 0.0};
}
/// +Z.
inline Vector3 world_forward() {
    return {0.0, 0.0, 1.0};
}

/// A rotation. Not aligned, so that states and specs that hold one stay plain data.
using Rotation = Eigen::Quaternion<double, Eigen::DontAlign>;

/// A position and an orientation.
struct Pose {
    Vector3 position = Vector3::Zero();
    Rotation rotation = Rotation::Identity(); ///< from the object's own axes to the world's, unit length
    friend bool operator==(const Pose&, const Pose&) = default;
};

/// Returns the pose at `share` of the way from `from` to `to`: the position on a straight line, the rotation
/// by the shorter way, at a speed that is even within 1 % for turns under 45 degrees (normalised linear
/// interpolation).
Pose between(const Pose& from, const Pose& to, double share);

/// A look direction as two angles.
struct Look {
    Radians yaw = 0.0;   ///< 0 along +Z, positive to the left (+X)
    Radians pitch = 0.0; ///< 0 level, positive up
    friend bool operator==(const Look&, const Look&) = default;
};

/// Returns the equivalent angle in [-pi, pi]. Precondition (asserted): finite.
Radians shortest_turn(Radians angle);

/// Returns the unit direction of `look`.
Vector3 direction_of(Look look);

/// Returns the look of a direction: yaw in [-pi, pi], pitch in [-pi/2, pi/2]. Precondition (asserted):
/// finite, not zero.
Look look_of(const Vector3& direction);

/// Returns the rotation that turns +Z to `look` and leaves +X level: first pitch about the side axis, then
/// yaw about +Y.
Rotation turned_to(Look look);

/// Returns `vector`, turned by a rotation of unit length.
inline Vector3 turned(const Rotation& rotation, const Vector3& vector) {
    const Vector3 axis = rotation.vec();
    Vector3 twice = axis.cross(vector);
    twice += twice;
    return vector + rotation.w() * twice + axis.cross(twice);
}

/// Returns `point`, given in the axes of `pose`, in the world's axes.
inline Vector3 to_world(const Pose& pose, const Vector3& point) {
    return pose.position + turned(pose.rotation, point);
}

/// Returns a pose given in the axes of `pose`, in the world's axes.
Pose to_world(const Pose& pose, const Pose& inner);

/// Returns a point of the world in the axes of `pose`.
inline Vector3 to_local(const Pose& pose, const Vector3& point) {
    return turned(pose.rotation.conjugate(), point - pose.position);
}

/// Returns two unit vectors normal to `direction` and to each other: with +Z they are +X (left) and +Y (up).
struct Across {
    Vector3 left;
    Vector3 up;
};

/// Returns the left and up vectors of a level viewer that looks along `direction`. Straight up or down, left
/// is +X. Precondition (asserted): unit length within 1e-9.
Across across(const Vector3& direction);

} // namespace avrek
