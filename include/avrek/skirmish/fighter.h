#pragma once
#include <avrek/ballistics/melee.h>
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/skirmish/body_stance.h>
#include <avrek/skirmish/intent.h>

#include <array>
#include <cstddef>
#include <cstdint>

namespace avrek {

/// What a skirmish knows of a combatant besides its life and its weapons: where it is, where it looks, and
/// what it last wanted. Plain data.
struct Fighter {
    static constexpr std::size_t max_spawns = 16;

    BodyId id = nobody;
    Intent intent{};                           ///< the last one, as it counts
    Vector3 position = Vector3::Zero();        ///< of the feet, at the end of the last tick
    Vector3 position_before = Vector3::Zero(); ///< at its begin
    Vector3 velocity = Vector3::Zero();        ///< m/s
    Look look{};                               ///< at the end of the last tick, kicks apart
    Look look_before{};                        ///< at its begin
    Radians facing = 0.0; ///< yaw of its body: its look, or as the game placed it; the dead keep it
    Look kick{};          ///< what shots have added to the look, and stays
    Time alive_since{};   ///< its present life
    bool airborne = false;
    bool in_scene = false;                    ///< its body can be hit
    BodyStance stance = BodyStance::standing; ///< of its body in the scene
    bool to_place = false;                    ///< it has come back, and gets its place in the next tick
    std::int32_t melee = -1;                  ///< index into Arsenal::melee
    MeleeState swing{};
    std::int8_t strike_before = -1; ///< as last stated
    std::uint32_t swing_ended = 0;  ///< swings before this one are over
    std::uint32_t shots = 0;        ///< it has fired, with all weapons and in all lives; keys its spread
    std::uint32_t spawned = 0;
    std::array<std::uint16_t, max_spawns> spawns{}; ///< its own spawn points
    std::size_t spawn_count = 0;                    ///< 0: those of its team
};

} // namespace avrek
