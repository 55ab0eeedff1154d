#pragma once
// A fight of bots with everything in it, in a level of its own: what a digest, and tests that need no files,
// run.
#include <avrek/core/elementary.h>
#include <avrek/skirmish/bout.h>

#include <utility>
#include <vector>

namespace avrek::trial {

/// Two kinds of damage, a condition that hurts and one that mends.
inline void add_conditions(Arsenal& arsenal) {
    arsenal.damage_types = {{.id = "cut"}, {.id = "mend", .heals = true}};
    arsenal.conditions = {{.id = "rot",
                           .lasts = from_seconds(2),
                           .period = from_seconds(0.3),
                           .amount = 0.7,
                           .stacking = Stacking::count,
                           .max_count = 4,
                           .damage_taken = 1.07},
                          {.id = "nectar",
                           .lasts = from_seconds(3),
                           .period = from_seconds(0.21),
                           .amount = 1.3,
                           .type = {"mend"},
                           .ends_when = {ConditionEnd::fired}}};
}

/// Weapons of every delivery and trigger, a blade, layers, conditions, a guard, a cloud, pickups.
inline Arsenal make_bots_arsenal() {
    Arsenal arsenal;
    add_conditions(arsenal);
    BodySpec body{.id = "body", .health = 90};
    body.rig = {
        {{"head", {Sphere{{0, 1.66, 0}, 0.14}}}, {"torso", {Capsule{{0, 0.4, 0}, {0, 1.4, 0}, 0.22}}}}, {}};
    body.defence = {{.name = "sap", .max = 30, .start = 30, .delay = from_seconds(1.1), .refill = 7.3}};
    body.light_reaction.lasts = from_seconds(0.13);
    body.heavy_reaction = {.lasts = from_seconds(0.7), .shows = BodyState::down, .rise = from_seconds(0.3)};
    arsenal.bodies = {body};
    const EffectSpec effect{.type = {"cut"}, .condition = {"rot"}, .reaction = {"light"}};
    WeaponSpec rifle{.id = "rifle", .rounds_per_minute = 640, .magazine = 25, .reserve = 200};
    rifle.damage = 17;
    rifle.effect = effect;
    rifle.reload.time = from_seconds(1.6);
    rifle.spread.hip = 0.02;
    rifle.recoil = {
        .pattern = {{0.001, 0.006}, {-0.002, 0.005}}, .jitter = {0.001, 0.001}, .recovery_share = 0.6};
    rifle.bounce.count = 1;
    WeaponSpec lobber{.id = "lobber", .modes = {TriggerMode::single}, .rounds_per_minute = 70};
    lobber.supply = AmmoSupply::endless;
    lobber.projectile = {"seed"};
    lobber.damage = 12;
    WeaponSpec rail{.id = "rail", .modes = {TriggerMode::charge}, .rounds_per_minute = 60, .magazine = 5};
    rail.charge.full = from_seconds(0.5);
    rail.reserve = 90;
    rail.reload.time = from_seconds(2);
    rail.damage = 70;
    rail.pierce = {90, 30};
    WeaponSpec mist{.id = "mist", .rounds_per_minute = 300};
    mist.supply = AmmoSupply::endless;
    mist.spray = 0.3;
    mist.range = 9;
    mist.damage = 4;
    mist.effect = effect;
    arsenal.weapons = {rifle, lobber, rail, mist};
    ProjectileSpec seed{.id = "seed", .speed = 27, .drag = 0.01, .radius = 0.05, .fuse = from_seconds(1.4)};
    seed.bounce.count = 3;
    seed.blast = {.radius = 4, .damage = 80, .push = 5};
    arsenal.projectiles = {seed};
    MeleeAttackSpec sweep{.name = "wide", .windup = from_seconds(0.1), .recovery = from_seconds(0.2)};
    sweep.damage = 30;
    sweep.reach = 1.6;
    sweep.push = 2;
    sweep.path = {{1, 0.2}, {0, 0}, {-1, 0}};
    sweep.effect = {.type = {"cut"}, .reaction = {"heavy"}};
    arsenal.melee = {{.id = "sickle", .attacks = {sweep}}};
    arsenal.hazards = {{.id = "cloud", .volume = Sphere{{0, 1, 0}, 4}, .damage = 1.1}};
    arsenal.pickups = {
        {.id = "nectar", .respawn_delay = from_seconds(4), .health = 9, .condition = {"nectar"}}};
    MatchSpec rules{.id = "rules", .respawn = {from_seconds(1), from_seconds(0.5)}};
    rules.friendly_fire = FriendlyFire::reduced;
    arsenal.matches = {rules};
    arsenal.shooters = {{.id = "one"}, {.id = "two", .reaction = from_seconds(0.1), .error = 0.02}};
    arsenal.surfaces = {{"soil", 0.4, 0.4, 0.3, 50.0}, {"stone", 0.8, 0.1, 0.5, 500.0}};
    assign_ammo(arsenal);
    resolve_references(arsenal);
    return arsenal;
}

inline const Arsenal& bots_arsenal() {
    static const Arsenal arsenal = make_bots_arsenal();
    return arsenal;
}

/// A floor, walls around it and blocks to hide behind.
inline Level bots_level() {
    std::vector<LevelPiece> pieces{{HalfSpace{world_up(), 0}, SurfaceId{1}}};
    for (const double side : {-1.0, 1.0}) {
        pieces.push_back({Box{{{side * 31, 3, 0}, Rotation::Identity()}, {1, 3, 31}}, SurfaceId{2}});
        pieces.push_back({Box{{{0, 3, side * 31}, Rotation::Identity()}, {31, 3, 1}}, SurfaceId{2}});
    }
    for (int block = 0; block < 14; ++block) {
        const double angle = 2.4 * block;
        const double far = 5.0 + 1.6 * block;
        pieces.push_back(
            {Box{{{far * sine(angle), 1, far * cosine(angle)}, turned_to({angle, 0})}, {1.2, 1.1, 0.4}},
             SurfaceId{2}});
    }
    return Level{std::move(pieces)};
}

inline LevelPlan bots_plan() {
    LevelPlan plan;
    for (int point = 0; point < 36; ++point) {
        plan.points.push_back({-25.0 + 10.0 * (point % 6), 0, -25.0 + 10.0 * (point / 6)});
    }
    for (int spawn = 0; spawn < 12; ++spawn) {
        const double side = spawn % 2 == 0 ? -1.0 : 1.0;
        plan.spawns.push_back({{4.0 * spawn - 22, 0, 27 * side},
                               spawn % 2 == 0 ? 0.0 : pi,
                               TeamId{static_cast<std::uint8_t>(spawn % 2)}});
    }
    plan.hazards = {{HazardId{0}, {{12, 0, 0}, Rotation::Identity()}}};
    plan.pickups = {{PickupId{0}, {-5, 0, 5}}, {PickupId{0}, {5, 0, -5}}};
    return plan;
}

inline BoutSetup bots_setup(std::size_t crew) {
    return {.crew = crew,
            .melee = MeleeId{0},
            .weapons = {WeaponId{0}, WeaponId{1}, WeaponId{2}, WeaponId{3}},
            .shooters = {ShooterId{0}, ShooterId{1}}};
}

/// A fight that goes on by itself.
struct BotsFight {
    Skirmish skirmish;
    Bots bots;

    BotsFight(const Arsenal& arsenal, std::size_t crew, std::uint64_t seed, TickRate rate = {64})
        : skirmish(arsenal, bots_level(), {.rate = rate, .limits = {.combatants = crew}}, seed, bots_plan()),
          bots(skirmish) {
        const BoutSetup setup = bots_setup(crew);
        begin_bout(setup, bout_members(setup), skirmish, bots);
    }
    std::span<const Event> advance() { return skirmish.advance(bots.think(skirmish)); }
};

} // namespace avrek::trial
