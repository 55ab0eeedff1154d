#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/vectors.h>
#include <avrek/vitals/vitals.h>

#include <cstdint>

namespace avrek {

/// Stance of a body: the position of its rig over the same feet.
enum class BodyStance : std::uint8_t {
    standing,
    crouching, ///< the eye is lowered to PostureSpec::crouched of its height
    on_front,  ///< lying on the ground, feet where they were
    on_back,
};

/// Returns the stance of a body. It lies while it is down or a ragdoll, and crouches while it rises or holds
/// the button.
BodyStance stance_of(const Vitals& vitals, bool crouches);

/// Returns the pose of a body's rig in a stance, from its feet and facing yaw.
Pose pose_in(BodyStance stance, const BodySpec& body, const Vector3& feet, Radians yaw);

/// Returns the standing pose of the same body. Inverse of pose_in().
Pose standing_pose(BodyStance stance, const BodySpec& body, const Pose& pose);

} // namespace avrek
