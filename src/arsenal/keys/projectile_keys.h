#pragma once
#include "effect_keys.h"
#include <avrek/arsenal/melee_spec.h>
#include <avrek/arsenal/projectile_spec.h>

namespace avrek::detail {

template <class Keys>
void visit_keys(Keys& key, BlastSpec& spec) {
    key("radius", spec.radius, {.unit = "m", .range = {0.0, 1000.0}}, "Radius of the explosion; 0: none.");
    key("damage", spec.damage, {.unit = "health", .range = {0.0, 1e5}}, "Damage at the centre.");
    key("falloff", spec.falloff, {.unit = "share of the radius, share", .range = {0.0, 10.0}},
        "Share of damage and push, over the distance of the nearest exposed point as a share of the radius.");
    key("team_share", spec.team_share, share, "Share of the damage to the shooter's team.");
    key("self_share", spec.self_share, share, "Share of the damage to the shooter.");
    key("push", spec.push, {.unit = "m/s", .range = {0.0, 1000.0}}, "Speed that it gives at the centre.");
    key.group("effect", spec.effect);
}

template <class Keys>
void visit_keys(Keys& key, ProjectileSpec& spec) {
    key("speed", spec.speed, {.unit = "m/s", .range = {0.0, 1e5, true}}, "Muzzle speed.");
    key("inherit", spec.inherit, share, "Share of the shooter's velocity that is added.");
    key("gravity", spec.gravity, {.unit = "m/s2", .range = {-1000.0, 1000.0}}, "Downward acceleration.");
    key("drag", spec.drag, {.unit = "1/m", .range = {0.0, 10.0}},
        "Deceleration is this times the speed squared.");
    key("radius", spec.radius, {.unit = "m", .range = {0.0, 100.0}}, "Radius of the projectile.");
    key("turn_rate", spec.turn_rate, {.unit = "degrees/s", .range = {0.0, 57000.0}},
        "Turn rate towards its target.");
    key("lifetime", spec.lifetime, {.unit = "s", .range = {0.0, 600.0, true}},
        "Time from launch to removal.");
    key("distance", spec.distance, {.unit = "m", .range = {0.0, 1e5, true}, .otherwise = "no limit"},
        "Maximum distance flown in all.");
    key("fuse", spec.fuse, {.unit = "s", .range = {0.0, 600.0}, .otherwise = "none"},
        "Time from launch to explosion.");
    key("arming_distance", spec.arming_distance, {.unit = "m", .range = {0.0, 1e4}},
        "Distance flown before the proximity fuse is armed.");
    key("self_hit_after", spec.self_hit_after, {.unit = "m", .range = {0.0, 1e4}},
        "Distance flown, outside of its shooter, before it can hit its shooter.");
    key("proximity", spec.proximity, {.unit = "m", .range = {0.0, 1000.0}},
        "Distance to a body of another team at which it explodes; 0: never.");
    key("sticks", spec.sticks, {}, "It sticks to what stops it, until its fuse or its lifetime ends.");
    key.group("bounce", spec.bounce);
    key.group("pierce", spec.pierce);
    key.group("blast", spec.blast);
}

template <class Keys>
void visit_keys(Keys& key, MeleeAttackSpec& spec) {
    key("windup", spec.windup, seconds, "Time before the blade hits.");
    key("active", spec.active, some_seconds, "Time during which the blade hits.");
    key("recovery", spec.recovery, seconds, "Time from the end of the active span to the next attack.");
    key("damage", spec.damage, {.unit = "health", .range = {0.0, 1e5}}, "Damage of a hit, before region.");
    key("push", spec.push, {.unit = "m/s", .range = {0.0, 1000.0}},
        "Speed that a hit gives, along the blade's motion.");
    key("push_away", spec.push_away, {.unit = "m/s", .range = {0.0, 1000.0}},
        "Speed that a hit gives over the ground, away from its wielder.");
    key("grip", spec.grip, {.unit = "m", .range = {0.0, 100.0}},
        "Distance from the turning point to the blade's near end.");
    key("reach", spec.reach, {.unit = "m", .range = {0.0, 100.0, true}},
        "Distance from the turning point to the blade's far end.");
    key("radius", spec.radius, {.unit = "m", .range = {0.001, 10.0}}, "Radius of the blade.");
    key("thrust", spec.thrust, {.unit = "m", .range = {0.0, 100.0}},
        "Distance that the blade moves outwards while active.");
    key("path", spec.path, {.unit = "degrees", .range = {-180.0, 180.0}},
        "Directions [yaw, pitch] of the blade, relative to the look, passed at an even pace while active; 1 "
        "to "
        "64.");
    key.group("effect", spec.effect);
}

template <class Keys>
void visit_keys(Keys& key, MeleeSpec& spec) {
    key("region", spec.region_multipliers, default_is("each 1", factor),
        "Damage multiplier for each hit region.");
    key.tables("attack", spec.attacks, {"attack", max_melee_attacks, true},
               "Attacks, such as light and heavy: one table each, under its name.");
}

} // namespace avrek::detail
