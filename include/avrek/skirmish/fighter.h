#pragma once
#include <avrek/ballistics/melee.h>
#include <avrek/core/ids.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/skirmish/intent.h>
#include <avrek/skirmish/locomotion.h>
#include <avrek/skirmish/pose_source.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>

namespace avrek {

/// Position, look and intent of a combatant in a skirmish. Its life and weapons are in Combatant. Plain data.
struct Fighter {
    static constexpr std::size_t max_spawns = 16;

    BodyId id = nobody;
    Intent intent{};                           ///< last intent, sanitised
    BodyMotion motion{};                       ///< at the end of the last tick
    Vector3 position_before = Vector3::Zero(); ///< the feet, at the start of the last tick
    Look look{};                               ///< at the end of the last tick, without recoil
    Look look_before{};                        ///< at the start of the last tick
    /// Yaw of its body: its look, or as the game placed it. The dead keep it.
    Radians facing = 0.0;
    Look kick{};                          ///< recoil in the look that does not recover by itself
    Time alive_since{};                   ///< start of its present life
    PoseState pose{};                     ///< pose of its body, for the pose source
    bool in_scene = false;                ///< its body can be hit
    Vector3 scene_feet = Vector3::Zero(); ///< feet of its body in the scene
    bool to_place = false;                ///< it has respawned and gets its position in the next tick
    std::optional<MeleeId> melee{};
    MeleeState swing{};
    std::int8_t strike_before = -1; ///< last stated attack
    std::uint32_t swing_ended = 0;  ///< swings before this one are over
    std::uint32_t shots = 0;        ///< shots fired in all lives; keys its spread
    std::uint64_t spread_seed = 0;  ///< Entrant::spread_seed, or the seed of the fight
    std::uint32_t spawned = 0;
    std::uint64_t action_chain = 0; ///< hash over the actions that it did, so that clients find differences
    std::array<std::uint16_t, max_spawns> spawns{}; ///< its own spawn points
    std::size_t spawn_count = 0;                    ///< 0: the spawn points of its team
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<Fighter> auto& fighter) {
    field("id", fighter.id, FieldUse::not_sent);
    field("intent", fighter.intent);
    field("motion", fighter.motion);
    field("position_before", fighter.position_before, FieldUse::not_sent);
    field("look", fighter.look, FieldUse::not_sent);
    field("look_before", fighter.look_before, FieldUse::not_sent);
    field("facing", fighter.facing, FieldUse::not_sent);
    field("kick", fighter.kick);
    field("alive_since", fighter.alive_since, FieldUse::not_sent);
    field("pose", fighter.pose, FieldUse::not_sent);
    field("in_scene", fighter.in_scene, FieldUse::not_sent);
    field("scene_feet", fighter.scene_feet, FieldUse::not_sent);
    field("to_place", fighter.to_place, FieldUse::not_sent);
    field("melee", fighter.melee, FieldUse::not_sent);
    field("swing", fighter.swing);
    field("strike_before", fighter.strike_before);
    field("swing_ended", fighter.swing_ended);
    field("shots", fighter.shots);
    field("spread_seed", fighter.spread_seed, FieldUse::not_sent);
    field("spawned", fighter.spawned);
    field("action_chain", fighter.action_chain);
    field("spawn_count", fighter.spawn_count, FieldUse::not_sent);
    field.list("spawns", fighter.spawns, fighter.spawn_count, FieldUse::not_sent);
}

} // namespace avrek
