#pragma once
#include <avrek/arsenal/movement_spec.h>
#include <avrek/core/time.h>
#include <avrek/scene/world.h>

/// WalkingLocomotion: the built-in movement of bodies. It walks, jumps, falls and slides along the level. A
/// game that moves its bodies itself does not use it.
namespace avrek {

/// Motion of a body. Plain data.
struct BodyMotion {
    Vector3 position = Vector3::Zero(); ///< the feet
    Vector3 velocity = Vector3::Zero(); ///< m/s
    bool airborne = false;
};

/// Wanted motion of a body.
struct DesiredMotion {
    Vector3 velocity = Vector3::Zero(); ///< m/s over the ground; the height is ignored
    bool jump = false;
};

/// Moves a body for `length`. Two spheres of its radius, at its shins and at its head, collide with what
/// stops shots in the level; the ground is under its middle. Its speed approaches the wanted one with a
/// half-life of 0.05 s on the ground, 0.5 s in the air.
void advance_walking(const World& world, const MovementSpec& body, BodyMotion& who, const DesiredMotion& wish,
                     Duration length);

} // namespace avrek
