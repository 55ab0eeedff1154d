#pragma once
#include "key_row.h"
#include <avrek/arsenal/body_spec.h>

namespace avrek::detail {

inline constexpr KeyRow point_of_body{.unit = "m", .range = {-100.0, 100.0}};
inline constexpr KeyRow points{.unit = "points", .range = {0.0, 1e6}};
inline constexpr KeyRow points_rate{.unit = "points/s", .range = {0.0, 1e6}};

template <class Keys>
void visit_keys(Keys& key, JointSpec& spec) {
    key("at", spec.rest.position, point_of_body, "Position in the body's axes, at rest.");
    key("turn", spec.rest.rotation, {.unit = "degrees", .range = {-360.0, 360.0}}, "Yaw and pitch at rest.");
}

template <class Keys>
void visit_keys(Keys& key, RegionSpec& spec, const std::vector<JointSpec>& joints) {
    key("shapes", RegionShapes{spec.shapes, spec.shape_joints, joints}, {.required = true},
        "Solids of the region, in the axes of their joint; the body's own: feet at the origin, facing +Z, +Y "
        "up, +X to its left.");
    key("joint", JointName{spec.joint, joints}, {.otherwise = "the body itself"},
        "Joint that the region moves with, where a shape does not name its own.");
    key("surface", spec.surface, {.otherwise = "the body's", .refers = "surface"},
        "Surface that shots can bounce off.");
}

template <class Keys>
void visit_keys(Keys& key, JointPoseSpec& spec) {
    key("shift", spec.shift, {.unit = "m", .range = {-10.0, 10.0}},
        "Shift from its place at rest, in the axes of its body.");
    key("turn", spec.turn, {.unit = "degrees", .range = {-360.0, 360.0}},
        "Yaw and pitch that it turns, from its rest.");
    key("look", spec.look, {.range = {-1.0, 1.0}}, "Share of the look's pitch that it follows.");
}

template <class Keys>
void visit_keys(Keys& key, PoseSpec& spec) {
    key("time", spec.time, seconds, "Time in which a body takes the pose.");
    key("shift", spec.shift, {.unit = "m", .range = {-10.0, 10.0}}, "Shift of the whole body.");
    key("turn", spec.turn, {.unit = "degrees", .range = {-360.0, 360.0}},
        "Yaw and pitch of the whole body, about its feet.");
    key.tables("joint", spec.joints, {"joint", max_joints},
               "Joints in the pose: one table each, under the joint's name; the others are at rest.");
}

template <class Keys>
void visit_keys(Keys& key, DefenceLayerSpec& spec) {
    key("max", spec.max, {.unit = "points", .range = {0.0, 1e6, true}, .required = true}, "Maximum points.");
    key("start", spec.start, points, "Points at the start of a life; at most max.");
    key("share", spec.share, share, "Share of the damage that it takes, as long as it has points.");
    key("wear", spec.wear, factor, "Points lost per point of damage taken.");
    key("carries_over", spec.carries_over, {}, "Excess damage passes to the next layer.");
    key("passes", spec.passes, {.refers = "damage"}, "Damage types that pass it.");
    key("delay", spec.delay, seconds, "Time without damage to the body before points return.");
    key("refill", spec.refill, points_rate, "Points that return by themselves.");
    key("decay", spec.decay, points_rate, "Points that are lost by themselves.");
    key("takes_healing", spec.takes_healing, {}, "Healing beyond full health goes here.");
    key("depth", spec.depth, {.range = {-1000.0, 1000.0}},
        "Damage meets layers with less depth first; with equal depth, in the order of the file.");
}

template <class Keys>
void visit_keys(Keys& key, GuardSpec& spec) {
    key("arc", spec.arc, {.unit = "degrees", .range = {0.0, 360.0, true}},
        "Angle that the guard covers, half to each side of ahead.");
    key("lets_through", spec.lets_through, share, "Share of the damage that passes the guard.");
    key("types", spec.types, {.range = share.range, .otherwise = "as lets_through", .refers = "damage"},
        "That share for single damage types.");
    key("stamina", spec.stamina, {.range = {0.0, 1e6}}, "Stamina to stop damage with; 0: it costs nothing.");
    key("cost", spec.cost, factor, "Stamina per point of damage stopped.");
    key("refill", spec.refill, {.unit = "1/s", .range = {0.0, 1e6}}, "Stamina that returns.");
    key("delay", spec.delay, seconds, "Delay after a guarded hit before the stamina returns.");
    key("broken", spec.broken, seconds, "Time for which a broken guard stays down.");
    key("perfect", spec.perfect, seconds,
        "Window after raising in which hits are stopped whole, at no cost.");
    key("perfect_staggers", spec.perfect_staggers, {},
        "A perfect guard against a blade staggers the attacker heavily.");
}

template <class Keys>
void visit_keys(Keys& key, RegenerationSpec& spec) {
    key("points", spec.points, {.unit = "health", .range = {0.0, 1e6}}, "Health that returns per period.");
    key("period", spec.period, {.unit = "s", .range = {0.001, 60.0}}, "Time from one return to the next.");
    key("delay", spec.delay, seconds, "Time without harm before the first return.");
}

template <class Keys>
void visit_keys(Keys& key, ReactionSpec& spec) {
    key("lasts", spec.lasts, seconds, "Duration of the reaction; 0: the body does not react.");
    key("shows", spec.shows,
        {.otherwise = "\"staggered\", of a heavy one \"stunned\"",
         .words = words_of<BodyState>(3, 1),
         .first_word = 1},
        "State of the body meanwhile.");
    key("rise", spec.rise, seconds, "Time to get up, after being down.");
    key("forbids", spec.forbids,
        {.range = {0.0, 5.0}, .otherwise = "all of them", .words = words_of<Act>(act_count)},
        "Acts that the body cannot do meanwhile.");
    key("push", spec.push, {.unit = "m/s", .range = {0.0, 1000.0}}, "Speed that it gives, along the hit.");
    key("repeats", spec.repeats, {.unit = "reactions, share", .range = share.range, .otherwise = "always 1"},
        "Share of the duration, over the number of such reactions in the window before.");
    key("window", spec.window, seconds, "Time after a reaction in which the next counts as a repeat.");
}

template <class Keys>
void visit_keys(Keys& key, MovementSpec& spec) {
    key("speed", spec.speed, {.unit = "m/s", .range = {0.0, 100.0}}, "Speed over the ground.");
    key("sprint", spec.sprint, {.range = {0.0, 10.0}}, "Factor for sprinting.");
    key("crouching", spec.crouching, {.range = {0.0, 10.0}}, "Factor for crouching.");
    key("jump", spec.jump, {.unit = "m/s", .range = {0.0, 100.0}}, "Upward speed of a jump.");
    key("radius", spec.radius, {.unit = "m", .range = {0.0, 100.0, true}},
        "Radius of the upright capsule that collides with the level.");
    key("height", spec.height, {.unit = "m", .range = {0.0, 200.0, true}}, "Height of that capsule.");
    key("step", spec.step, {.unit = "m", .range = {0.0, 100.0}},
        "Maximum height of a step that it walks up.");
    key("locomotion", spec.locomotion, {.otherwise = "the first of the skirmish"},
        "Name of the locomotion that moves it: \"walking\", or one of the game's own.");
}

template <class Keys>
void visit_keys(Keys& key, PostureSpec& spec) {
    key("eye", spec.eye, point_of_body, "Position of the eye, in the body's axes.");
    key("grip", spec.grip, point_of_body,
        "Position at which it holds its weapon; the weapon turns about it.");
    key("muzzle", spec.muzzle, {.unit = "m", .range = {0.0, 10.0}},
        "Distance from the grip to the muzzle, along the look.");
    key("crouched", spec.crouched, {.range = {0.0, 1.0, true}},
        "Factor for the heights of both while crouching.");
}

template <class Keys>
void visit_keys(Keys& key, BodySpec& spec) {
    constexpr std::size_t max_regions = 64;
    key("health", spec.health, {.unit = "health", .range = {0.0, 1e6, true}},
        "Health at the start, and its maximum.");
    key.tables("joint", spec.rig.joints, {"joint", max_joints},
               "Parts that move by themselves: one table each, under its name.");
    key.tables("region", spec.rig.regions, {"region", max_regions, true},
               "Hit regions: one table each, under its name.",
               [&spec](auto& inner, RegionSpec& region) { visit_keys(inner, region, spec.rig.joints); });
    key.tables("defence", spec.defence, {"defence layer", max_defence_layers},
               "Defence layers that take damage before the health: one table each, under its name, the "
               "outermost first; at most 4.");
    key("surface", spec.surface, {.otherwise = "none: nothing bounces off it", .refers = "surface"},
        "Surface of its regions, which shots can bounce off.");
    key("resists", spec.resists, {.range = factor.range, .otherwise = "each 1", .refers = "damage"},
        "Share of the damage, or healing, of a type that counts; 0: none.");
    key("immune", spec.immune, {.refers = "condition"}, "Conditions that never take hold.");
    key("first_conditions", spec.first_conditions, {.refers = "condition"},
        "Conditions that the body starts each life with.");
    key.group("guard", spec.guard);
    key.group("regeneration", spec.regeneration);
    key.group("light_reaction", spec.light_reaction);
    key.group("heavy_reaction", spec.heavy_reaction);
    key.tables("reaction", spec.reactions, {"reaction", max_own_reactions},
               "Further reactions, which effects name: one table each, under its name; at most 6 names in an "
               "arsenal.",
               [](auto& inner, ReactionSpec& reaction) {
                   inner("weight", reaction.weight, {.range = {0.0, 100.0}},
                         "It gives way to none that weighs less. A light reaction has 1, a heavy one 2.");
                   visit_keys(inner, reaction);
               });
    key.group("movement", spec.movement);
    key.group("posture", spec.posture);
    key.tables("pose", spec.poses, {"pose", pose_kind_count},
               "Poses that the body takes: one table each, named standing, crouching, airborne, staggered, "
               "rising, on-front, on-back or aiming.");
}

} // namespace avrek::detail
