#pragma once
#include "effect_keys.h"
#include <avrek/arsenal/condition_spec.h>
#include <avrek/arsenal/damage_type_spec.h>
#include <avrek/arsenal/hazard_spec.h>
#include <avrek/arsenal/pickup_spec.h>

namespace avrek::detail {

template <class Keys>
void visit_keys(Keys& key, DamageTypeSpec& spec) {
    key("heals", spec.heals, {}, "It gives health instead of taking it.");
    key("guardable", spec.guardable, {}, "A guard can stop it.");
}

/// The group `grants` of a condition.
struct GrantKeys {
    ConditionSpec& condition;
};

template <class Keys>
void visit_keys(Keys& key, const GrantKeys& grants) {
    key("defence", grants.condition.grants_defence, {},
        "Defence layer of the body that gets points, if the body has one of this name.");
    key("points", grants.condition.grants_points, {.unit = "points", .range = {0.0, 1e6}},
        "Points, times strength.");
}

template <class Keys>
void visit_keys(Keys& key, ConditionSpec& spec) {
    key("lasts", spec.lasts, {.unit = "s", .range = {0.0, 86400.0}, .otherwise = "until something ends it"},
        "Duration; 0: its effect is instant.");
    key("period", spec.period, seconds, "Time between two ticks; 0: it does not tick.");
    key("ticks_at_once", spec.ticks_at_once, {}, "The first tick comes at the start, not a period later.");
    key("amount", spec.amount, {.unit = "health", .range = {0.0, 1e5}},
        "Damage, or healing if its type heals, of a tick or of an instant condition; times strength and "
        "count.");
    key("type", spec.type, {.refers = "damage"}, "Type of that damage or healing.");
    key("stacking", spec.stacking, {.words = words_of<Stacking>(5)},
        "Effect of a second condition of the same id.");
    key("max_count", spec.max_count, {.range = {1.0, 1000.0}}, "Maximum count, with stacking count.");
    key("max_time", spec.max_time, {.unit = "s", .range = {0.0, 86400.0, true}},
        "Maximum time left, with stacking extend.");
    key("damage_taken", spec.damage_taken, factor,
        "Factor for damage to its bearer. In this and the next three, strength s counts as 1 + (value - 1) "
        "s.");
    key("damage_dealt", spec.damage_dealt, factor, "Factor for damage by its bearer.");
    key("speed", spec.speed, factor, "Factor for its bearer's speed.");
    key("spread", spec.spread, factor, "Factor for its bearer's spread.");
    key("forbids", spec.forbids, {.range = {0.0, 5.0}, .words = words_of<Act>(act_count)},
        "Acts that its bearer cannot do meanwhile.");
    key("cancels", spec.cancels, {.refers = "condition"}, "Conditions that it ends when it begins.");
    key("prevents", spec.prevents, {.refers = "condition"}, "Conditions that cannot begin while it lasts.");
    key("ends_when", spec.ends_when,
        {.range = {0.0, 5.0}, .words = words_of<ConditionEnd>(condition_end_count)},
        "Events that end it early.");
    key.group("grants", GrantKeys{spec});
}

template <class Keys>
void visit_keys(Keys& key, HazardSpec& spec) {
    key("shape", spec.volume, {.otherwise = "a ball of 1 m"}, "Volume, in its own axes.");
    key("damage", spec.damage, {.unit = "health", .range = {0.0, 1e5}}, "Damage, or healing, per period.");
    key("period", spec.period, some_seconds,
        "Time between two hits on the same body, as long as it touches.");
    key("lasts", spec.lasts,
        {.unit = "s", .range = {0.0, 86400.0, true}, .otherwise = "until it is taken away"},
        "Lifetime after it was placed.");
    key("side", spec.side, {.words = words_of<HazardSide>(3)},
        "Bodies that it touches, seen from the team that placed it.");
    key("layers", spec.layers,
        {.range = {1.0, 8.0}, .words = words_of<CollisionLayer>(collision_layer_count)},
        "Collision layers of the bodies that it touches.");
    key.group("effect", spec.effect);
}

template <class Keys>
void visit_keys(Keys& key, PickupSpec& spec) {
    key("radius", spec.radius, {.unit = "m", .range = {0.0, 100.0, true}},
        "Radius of the sphere in which it is touched.");
    key("taken", spec.on_request, {.words = {"touch", "request"}}, "Whether a touch takes it, or a request.");
    key("only_when_useful", spec.only_when_useful, {}, "A combatant with no use for it leaves it there.");
    key("respawn_delay", spec.respawn_delay,
        {.unit = "s", .range = {0.0, 86400.0, true}, .otherwise = "never"},
        "Time from being taken to its return.");
    key("health", spec.health, {.unit = "health", .range = {0.0, 1e6}}, "Health that it restores.");
    key("ammo", spec.ammo, {.refers = "ammo"}, "Type of its rounds.");
    key("rounds", spec.rounds, {.unit = "rounds", .range = {0.0, 1e5}}, "Number of rounds.");
    key("weapon", spec.weapon, {.refers = "weapon"}, "Weapon that it gives, full.");
    key("with_reserve", spec.with_reserve, {}, "The weapon brings the reserve that it starts with.");
    key("condition", spec.condition, {.refers = "condition"}, "Condition that it gives.");
    key("strength", spec.strength, {.range = {0.0, 1000.0, true}}, "Strength of that condition.");
    key("lives", spec.lives, {.unit = "lives", .range = {0.0, 1000.0}}, "Lives that it gives.");
}

} // namespace avrek::detail
