#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/vectors.h>
#include <avrek/vitals/vitals.h>

#include <cstdint>

namespace avrek {

/// How a body holds itself: where its rig is, for the same feet.
enum class BodyStance : std::uint8_t {
    standing,
    crouching, ///< the rig is lowered so far that the eye is at PostureSpec::crouched of its height
    on_front,  ///< it lies on the ground, feet where they were
    on_back,
};

/// The stance of a body: it lies while it is down or limp, and crouches while it rises or holds the button.
BodyStance stance_of(const Vitals& vitals, bool crouches);

/// The pose of the rig of a body in a stance, from its feet and the yaw that it faces.
Pose pose_in(BodyStance stance, const BodySpec& body, const Vector3& feet, Radians yaw);

/// The pose of the same body if it stood: at its feet, facing ahead. Undoes pose_in().
Pose standing_pose(BodyStance stance, const BodySpec& body, const Pose& pose);

} // namespace avrek
