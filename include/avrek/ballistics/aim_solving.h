#pragma once
#include <avrek/core/time.h>
#include <avrek/scene/world.h>

#include <cstdint>
#include <optional>
#include <string_view>

/// Aim with the eye, fire from the muzzle, hit what the crosshair covers.
namespace avrek {

/// What to do when the muzzle is where no shot should leave from.
enum class MuzzleRule : std::uint8_t {
    draw_back,  ///< the shot leaves from just before what the muzzle is in or behind
    from_eye,   ///< the shot leaves from the eye, along its line of sight
    block_shot, ///< there is no shot
};

/// How the muzzle is placed.
enum class MuzzleState : std::uint8_t {
    clear,   ///< the shot will hit what the eye sees
    covered, ///< something is between the muzzle and what the eye sees, and will be hit instead
    inside,  ///< something is between the hold and the muzzle: the muzzle is in it or behind it
    past,    ///< what the eye sees is nearer than the muzzle
};

/// The word for a state, such as "covered".
std::string_view to_string(MuzzleState state);

struct AimQuestion {
    Ray eye{};                        ///< the line of sight; where it ends is aimed at when nothing is seen
    Vector3 muzzle = Vector3::Zero(); ///< where shots leave from
    Vector3 grip = Vector3::Zero();   ///< where the shooter holds the weapon: certainly not inside anything
    MuzzleRule rule = MuzzleRule::draw_back;
    Time at = present;
};

struct AimSolution {
    std::optional<Hit> seen{};           ///< what the eye sees beyond the hold
    Vector3 aim_point = Vector3::Zero(); ///< there, or the far end of the line of sight
    MuzzleState muzzle = MuzzleState::clear;
    std::optional<Hit> obstruction{};    ///< of `covered` and `inside`: what is in the way
    bool fires = true;                   ///< false when the rule holds the shot back
    Vector3 origin = Vector3::Zero();    ///< where the shot leaves from
    Vector3 direction = world_forward(); ///< in which it leaves, of unit length
};

/// Turns the muzzle to what the eye sees. The line of sight counts from where it passes the hold, so that an
/// eye behind the shooter does not aim at what is between the two. `filter` names what stops a shot; put the
/// shooter among its ignored bodies. The rule is applied to `inside` and `past`; a covered muzzle fires, and
/// under MuzzleRule::from_eye from the eye. Preconditions (asserted): as for rays.
AimSolution solve_aim(const World& world, const AimQuestion& question, const Filter& filter);

} // namespace avrek
