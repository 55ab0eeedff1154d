#pragma once
#include <avrek/core/time.h>
#include <avrek/scene/world.h>

#include <cstdint>
#include <optional>
#include <string_view>

/// Aim with the eye, fire from the muzzle, hit what the crosshair covers.
namespace avrek {

/// Rule for a muzzle inside or behind an obstacle.
enum class MuzzleRule : std::uint8_t {
    draw_back,  ///< the shot leaves from just before the obstacle
    from_eye,   ///< the shot leaves from the eye, along the line of sight
    block_shot, ///< no shot leaves
};

/// State of the muzzle.
enum class MuzzleState : std::uint8_t {
    clear,   ///< the shot hits what the eye sees
    covered, ///< an obstacle in front of the muzzle is hit instead
    inside,  ///< the muzzle is inside or behind an obstacle
    past,    ///< the aim point is nearer than the muzzle
};

/// Returns the word for a state, such as "covered".
std::string_view to_string(MuzzleState state);

/// Eye, grip and muzzle of a shooter who wants to fire.
struct AimQuestion {
    Ray eye{};                        ///< line of sight; its end is the aim point if it hits nothing
    Vector3 muzzle = Vector3::Zero(); ///< where shots leave
    Vector3 grip = Vector3::Zero();   ///< where the shooter holds the weapon; never inside anything
    MuzzleRule rule = MuzzleRule::draw_back;
    Time at = present;
};

/// The shot that solve_aim() found.
struct AimSolution {
    std::optional<Hit> seen{};           ///< hit of the eye's ray beyond the grip
    Vector3 aim_point = Vector3::Zero(); ///< point that the eye sees, or the end of its line of sight
    MuzzleState muzzle = MuzzleState::clear;
    std::optional<Hit> obstruction{};    ///< obstacle of `covered` and `inside`
    bool fires = true;                   ///< false: the rule blocks the shot
    Vector3 origin = Vector3::Zero();    ///< where the shot leaves
    Vector3 direction = world_forward(); ///< direction of the shot, unit length
};

/// Aims the muzzle at what the eye sees. The line of sight counts from where it passes the grip, so that an
/// eye behind the shooter does not aim at something between the two. `filter` names what stops a shot; ignore
/// the shooter. The rule applies to `inside` and `past`. A covered muzzle fires; under MuzzleRule::from_eye,
/// from the eye. Preconditions (asserted): as for rays.
AimSolution solve_aim(const World& world, const AimQuestion& question, const Filter& filter);

} // namespace avrek
