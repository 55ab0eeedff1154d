#pragma once
#include "key_row.h"
#include <avrek/arsenal/ammo_spec.h>
#include <avrek/arsenal/effect_spec.h>
#include <avrek/arsenal/impact_spec.h>
#include <avrek/arsenal/surface_spec.h>

namespace avrek::detail {

template <class Keys>
void visit_keys(Keys& key, EffectSpec& spec) {
    key("type", spec.type, {.refers = "damage"}, "Damage type.");
    key("condition", spec.condition, {.refers = "condition"}, "Condition that a hit leaves.");
    key("strength", spec.strength, {.range = {0.0, 1000.0, true}}, "Strength of that condition.");
    key("reaction", spec.reaction, {.otherwise = "none", .refers = "reaction"},
        "Reaction of the body that is hit, if it has it.");
}

template <class Keys>
void visit_keys(Keys& key, BounceSpec& spec) {
    key("count", spec.count, {.unit = "bounces", .range = {0.0, 1000.0}}, "Maximum number of bounces.");
    key("restitution", spec.restitution, {.range = {0.0, 10.0}},
        "Multiplies the surface's restitution: the share of the normal speed that a bounce keeps, at most "
        "1.");
    key("friction", spec.friction, {.range = {0.0, 10.0}},
        "Multiplies the surface's friction: the share of the tangential speed that a bounce loses, at most "
        "1.");
    key("distance", spec.distance, {.unit = "m", .range = {0.0, 1e5}, .otherwise = "no limit"},
        "Maximum distance after the first bounce.");
    key("min_speed", spec.min_speed, {.unit = "m/s", .range = {0.0, 1e5}},
        "A projectile that would bounce off slower stops.");
}

template <class Keys>
void visit_keys(Keys& key, PierceSpec& spec) {
    key("energy", spec.energy, {.unit = "energy", .range = {0.0, 1e6}},
        "Energy to spend on bodies and on metres of surfaces; damage falls with it. 0: it pierces nothing.");
    key("per_body", spec.per_body, {.unit = "energy", .range = {0.0, 1e6}}, "Energy that a body costs.");
}

template <class Keys>
void visit_keys(Keys& key, SurfaceSpec& spec) {
    key("restitution", spec.restitution, share, "Share of the normal speed that a bounce keeps.");
    key("friction", spec.friction, share, "Share of the tangential speed that a bounce loses.");
    key("grazing_angle", spec.grazing_angle, {.unit = "degrees", .range = {0.0, 90.0}},
        "Maximum angle between path and surface for a bounce.");
    key("resistance", spec.resistance, {.unit = "energy/m", .range = {0.0, 1e6}},
        "Energy that each metre costs a piercing shot.");
}

template <class Keys>
void visit_keys(Keys& key, AmmoSpec& spec) {
    key("carry_limit", spec.carry_limit, {.unit = "rounds", .range = {0.0, 1e5}},
        "Maximum rounds in a reserve of this type.");
}

} // namespace avrek::detail
