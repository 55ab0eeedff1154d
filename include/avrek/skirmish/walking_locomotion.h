#pragma once
#include <avrek/arsenal/movement_spec.h>
#include <avrek/core/time.h>
#include <avrek/scene/world.h>

/// A small stand-in for a game's own movement, for bots, tools and tests: it walks, jumps, falls and slides
/// along the level. A game that moves its bodies itself does not use it.
namespace avrek {

/// How somebody stands. Plain data.
struct BodyMotion {
    Vector3 position = Vector3::Zero(); ///< of the feet
    Vector3 velocity = Vector3::Zero(); ///< m/s
    bool airborne = false;
};

/// Where somebody wants to go.
struct DesiredMotion {
    Vector3 velocity = Vector3::Zero(); ///< m/s over the ground; its height is not looked at
    bool jump = false;
};

/// Moves somebody for `length`. Two balls of its radius, one at its shins and one at its head, are kept out
/// of what stops shots in the level; the ground is what is under its middle. On the ground its speed gets to
/// the wished one with a half-life of 0.05 s, in the air of 0.5 s.
void advance_walking(const World& world, const MovementSpec& body, BodyMotion& who, const DesiredMotion& wish,
                     Duration length);

} // namespace avrek
