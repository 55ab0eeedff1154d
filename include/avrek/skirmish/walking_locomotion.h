#pragma once
#include <avrek/arsenal/movement_spec.h>
#include <avrek/core/time.h>
#include <avrek/scene/world.h>
#include <avrek/skirmish/locomotion.h>

/// WalkingLocomotion: the built-in movement of bodies. It walks, jumps, falls and slides along the level.
namespace avrek {

/// Wanted motion of a body.
struct DesiredMotion {
    Vector3 velocity = Vector3::Zero(); ///< m/s over the ground; the height is ignored
    bool jump = false;
};

/// Returns what a walking body wants: its intent and its speed, with sprint, crouch and jump.
DesiredMotion desired_motion(const MotionInput& in);

/// Moves a body for `length`. Two spheres of its radius, at its shins and at its head, collide with what
/// stops shots in the level; the ground is under its middle. Its speed approaches the wanted one with a
/// half-life of 0.05 s on the ground, 0.5 s in the air. A locomotion of the game's own can build on it.
void advance_walking(const World& world, const MovementSpec& body, BodyMotion& who, const DesiredMotion& wish,
                     Duration length);

/// Walks as advance_walking() and desired_motion() do.
class WalkingLocomotion final : public Locomotion {
  public:
    std::string_view name() const override { return "walking"; }
    std::uint32_t version() const override { return 1; }
    BodyMotion advance(const MotionInput& in, BodyMotion motion) const override;
};

/// Returns the built-in locomotion, for a list of locomotions.
const WalkingLocomotion& walking_locomotion();

} // namespace avrek
