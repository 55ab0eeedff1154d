#include "../test_data.h"
#include "../vitals/random_body.h"
#include <avrek/data/arsenal_toml.h>
#include <avrek/tuning/breakpoints.h>
#include <avrek/tuning/firing_range.h>
#include <avrek/tuning/time_to_kill.h>
#include <avrek/tuning/weapon_card.h>

#include <gtest/gtest.h>

#include <bit>
#include <cmath>
#include <random>

namespace avrek {
namespace {

// Random weapons without spread, fired for real at a region from afar: the ideal time to kill is what
// happens.
TEST(TimeToKill, IsWhatHappensWhenEveryShotHits) {
    std::mt19937_64 random{7};
    std::uniform_real_distribution<double> unit{0.0, 1.0};
    BodySpec crew = *find(shipped().bodies, "crew");
    RandomLife draw{8};
    int reloads = 0;
    int outlasted = 0;
    for (int trial = 0; trial < 400; ++trial) {
        const bool layered = trial % 3 == 0;
        crew.defence = layered ? draw.body().defence : std::vector<DefenceLayerSpec>{};
        WeaponSpec weapon;
        weapon.modes = {trial % 2 == 0 ? TriggerMode::automatic : TriggerMode::single};
        weapon.rounds_per_minute = 30.0 + 2000.0 * unit(random);
        weapon.magazine = static_cast<std::int32_t>(1 + random() % 12);
        weapon.reserve = 500;
        weapon.reload.time = trial % 7 == 0 ? Duration{0} : from_seconds(unit(random));
        weapon.range = 60.0;
        weapon.damage = 2.0 + 50.0 * unit(random);
        weapon.region_multipliers = {{"torso", 0.3 + unit(random)}};
        const RegionId torso = *find_region(crew.rig, "torso");
        const IdealKill ideal = ideal_time_to_kill(weapon, crew, 20.0, torso);
        if (layered && ideal.verdict != KillVerdict::kills) {
            ++outlasted;
            continue;
        }
        ASSERT_EQ(ideal.verdict, KillVerdict::kills);
        const RangeTrial trial_run = run_range(
            weapon, crew,
            {20.0, ideal.time + Duration{1}, torso, 1, ideal_plan(weapon, {.body = &crew}, 20.0, torso)});
        ASSERT_TRUE(trial_run.death);
        ASSERT_EQ(*trial_run.death - Time{}, ideal.time);
        ASSERT_EQ(trial_run.shots_to_death, ideal.shots);
        if (layered) {
            continue;
        }
        // The definition: (shots - 1) intervals and the reloads, but for the rounding of each cadence.
        const Duration defined =
            shot_offset(static_cast<std::uint32_t>(ideal.shots - 1), weapon.rounds_per_minute) +
            ideal.plan.reloads * weapon.reload.time;
        ASSERT_LE(std::abs((defined - ideal.time).count()), ideal.plan.reloads + 1);
        ASSERT_GE(ideal.shots * ideal.damage_per_hit, crew.health * (1 - 1e-9));
        ASSERT_LT((ideal.shots - 1) * ideal.damage_per_hit, crew.health);
        reloads += ideal.plan.reloads;
    }
    EXPECT_GT(reloads, 100);
    EXPECT_LT(outlasted, 40);
}

TEST(TimeToKill, CountsWhatComesBackWhatLastsAndWhatIsHeld) {
    Arsenal arsenal;
    arsenal.conditions = {{.id = "rot", .lasts = from_seconds(10), .period = from_seconds(1), .amount = 30},
                          {.id = "soft", .lasts = from_seconds(0.15), .damage_taken = 2}};
    BodySpec body{.id = "body"};
    body.rig.regions = {{"all", {Sphere{{0, 1, 0}, 0.5}}}};
    arsenal.bodies = {body};
    WeaponSpec weapon{.id = "w", .rounds_per_minute = 600, .magazine = 100, .damage = 20};
    weapon.effect.condition.id = "";
    const auto kill = [&](const Target& target) {
        return ideal_time_to_kill(weapon, target, 5, RegionId{0});
    };
    resolve_references(arsenal);
    Target target{.body = &arsenal.bodies[0], .conditions = arsenal.conditions};
    EXPECT_EQ(kill(target).shots, 5);
    target.with = {{ConditionId{1}}}; // the first two shots count twice
    EXPECT_EQ(kill(target).shots, 3);
    target.with = {};
    target.attacker_with = {{ConditionId{1}}};
    EXPECT_EQ(kill(target).shots, 5) << "it is about damage taken";
    target.attacker_with = {};
    BodySpec& held = arsenal.bodies[0];
    held.guard = GuardSpec{.arc = 2, .lets_through = 0.5};
    target.guard = 0.5;
    EXPECT_EQ(kill(target).shots, 10);
    target.guard = 1.5;
    EXPECT_EQ(kill(target).shots, 5) << "from beside the guard";
    held.defence = {{.name = "shield", .max = 30, .start = 30, .refill = 250}};
    weapon.supply = AmmoSupply::endless;
    EXPECT_EQ(kill(target).verdict, KillVerdict::outlasted);
    weapon.supply = AmmoSupply::counted;
    held.defence = {};
    // One hit is enough to rot: four ticks.
    weapon.effect.condition = {"rot", ConditionId{0}};
    weapon.damage = 0;
    weapon.magazine = 1;
    const IdealKill rotten = kill(target);
    EXPECT_EQ(rotten.shots, 1);
    EXPECT_EQ(rotten.time, from_seconds(4));
}

// Between breakpoints the number of shots is the same, and beyond them it is not.
TEST(Breakpoints, AreWhereTheNumberOfShotsChanges) {
    std::mt19937_64 random{9};
    std::uniform_real_distribution<double> unit{0.0, 1.0};
    RandomLife draw{10};
    int stretches = 0;
    for (int trial = 0; trial < 60; ++trial) {
        BodySpec body = *find(shipped().bodies, "crew");
        body.defence = trial % 2 == 0 ? draw.body().defence : std::vector<DefenceLayerSpec>{};
        const Target target{.body = &body};
        WeaponSpec weapon{.id = "w", .rounds_per_minute = 600, .magazine = 200, .range = 80};
        weapon.damage = 5 + 50 * unit(random);
        weapon.falloff = {{{10, 1.0}, {20 + 40 * unit(random), 0.2 + 0.5 * unit(random)}}};
        const auto shots_at = [&](double distance) {
            const std::int32_t shots = ideal_time_to_kill(weapon, target, distance, RegionId{1}).shots;
            return shots <= max_breakpoint_shots ? shots : 0;
        };
        double before = 0.0;
        for (const ShotsStretch& stretch : shots_over_distance(weapon, target, RegionId{1})) {
            ASSERT_EQ(stretch.from, before);
            before = stretch.to;
            const double inside = std::min(0.002, 0.4 * (stretch.to - stretch.from));
            for (const double share : {0.0, 0.3, 1.0}) {
                const double distance = std::clamp(stretch.from + share * (stretch.to - stretch.from),
                                                   stretch.from + inside, stretch.to - inside);
                ASSERT_EQ(shots_at(distance), stretch.shots) << distance;
            }
            ++stretches;
        }
        ASSERT_EQ(before, weapon.range);
        const DamageBreakpoints found = damage_breakpoints(weapon, target, 15, RegionId{1});
        ASSERT_EQ(found.shots, shots_at(15));
        const auto shots_with = [&](double damage) {
            WeaponSpec tried = weapon;
            tried.damage = damage;
            return ideal_time_to_kill(tried, target, 15, RegionId{1}).shots;
        };
        if (found.fewer_from) {
            ASSERT_LT(shots_with(*found.fewer_from * (1 + 1e-5)), found.shots);
            ASSERT_EQ(shots_with(*found.fewer_from * (1 - 1e-5)), found.shots);
        }
        if (found.shots > 0) {
            ASSERT_EQ(shots_with(*found.more_below * (1 + 1e-5)), found.shots);
            const std::int32_t more = shots_with(*found.more_below * (1 - 1e-5));
            ASSERT_TRUE(more == 0 || more > found.shots);
        }
    }
    EXPECT_GT(stretches, 150);
}

TEST(TimeToKill, SaysWhyAWeaponCannotKill) {
    const BodySpec crew = *find(shipped().bodies, "crew");
    WeaponSpec weapon;
    weapon.range = 30.0;
    weapon.damage = 10.0;
    weapon.magazine = 4;
    weapon.reserve = 5;
    weapon.falloff = {{{20, 1.0}, {25, 0.0}}};
    const auto verdict = [&](double distance) {
        return ideal_time_to_kill(weapon, crew, distance, RegionId{0}).verdict;
    };
    EXPECT_EQ(verdict(31.0), KillVerdict::out_of_range);
    EXPECT_EQ(verdict(27.0), KillVerdict::no_damage);
    EXPECT_EQ(verdict(10.0), KillVerdict::out_of_ammunition);
    weapon.reserve = 6;
    EXPECT_EQ(verdict(10.0), KillVerdict::kills);
    EXPECT_EQ(ideal_time_to_kill(weapon, crew, 10.0, RegionId{0}).plan.reloads, 2);
    weapon.damage = 100.0;
    EXPECT_EQ(ideal_time_to_kill(weapon, crew, 0.0, RegionId{0}).time, Duration{0});
}

TEST(TimeToKill, NobodyCarriesMoreThanTheLimit) {
    Arsenal arsenal;
    arsenal.bodies = {*find(shipped().bodies, "crew")};
    arsenal.ammo = {{.id = "seeds", .carry_limit = 5}};
    arsenal.weapons = {{.id = "w", .ammo = {"seeds"}, .magazine = 2, .reserve = 50, .damage = 10}};
    assign_ammo(arsenal);
    const Target target{.body = &arsenal.bodies[0]};
    const auto kill = [&] { return ideal_time_to_kill(arsenal.weapons[0], target, 5, RegionId{0}); };
    EXPECT_EQ(kill().verdict, KillVerdict::out_of_ammunition);
    arsenal.ammo[0].carry_limit = 8;
    assign_ammo(arsenal);
    EXPECT_EQ(kill().shots, 10);
    arsenal.weapons[0].feed = AmmoFeed::reserve;
    EXPECT_EQ(card_of(arsenal.weapons[0]).shots_to_empty, 8);
}

TEST(Breakpoints, AreNotLookedForWithoutEnd) {
    WeaponSpec weapon{.id = "w", .rounds_per_minute = 600, .magazine = 100, .range = 80, .damage = 30};
    weapon.supply = AmmoSupply::endless;
    weapon.falloff = {{{10, 1.0}, {60, 0.0}}};
    const BodySpec crew = *find(shipped().bodies, "crew");
    const Target target{.body = &crew};
    const auto stretches = shots_over_distance(weapon, target, RegionId{1});
    EXPECT_LE(stretches.size(), max_breakpoint_shots + 1U);
    EXPECT_EQ(stretches.back().shots, 0) << "more than anybody counts, and then none";
    EXPECT_GT(stretches[stretches.size() - 2].shots, 50);
    EXPECT_EQ(damage_breakpoints(weapon, target, 59.9, RegionId{1}).shots, 0);
}

TEST(FiringRange, ListsEveryShotWithWhatItDid) {
    const Arsenal arsenal = shipped();
    const BodySpec& crew = *find(arsenal.bodies, "crew");
    WeaponSpec rifle = *find(arsenal.weapons, "thorn-rifle");
    rifle.recoil = {}; // the cone alone
    const RangeTrial trial =
        run_range(rifle, crew, {35.0, std::chrono::seconds{13}, *find_region(crew.rig, "torso"), 3});
    ASSERT_EQ(trial.shots.size(), 90U) << "30 + 30 + 30 with two reloads";
    double health = crew.health;
    std::set<std::string_view> seen;
    for (const RangeShot& shot : trial.shots) {
        seen.insert(hit_name(crew, shot));
        ASSERT_NEAR(health - shot.damage.amount(), shot.health_left, 1e-9);
        health = shot.health_left;
        ASSERT_LE(std::hypot(shot.board.right, shot.board.up), cone_radius(shot.cone, trial) * (1 + 1e-9));
    }
    EXPECT_TRUE(seen.contains("torso") && seen.contains("arms") && seen.contains("wall"));
    EXPECT_EQ(health, 0.0);

    WeaponSpec short_arm = rifle;
    short_arm.range = 10.0;
    const RangeTrial out = run_range(short_arm, crew, {35.0, std::chrono::seconds{60}, RegionId{0}, 3});
    EXPECT_EQ(out.shots.size(), 150U) << "until nothing is left to load";
    EXPECT_EQ(hit_name(crew, out.shots.front()), "nothing");
    EXPECT_FALSE(out.death);
    EXPECT_TRUE(run_range(rifle, crew, {35.0, Duration{0}, RegionId{0}, 3}).shots.empty());
}

std::uint64_t mixed(std::uint64_t hash, std::uint64_t value) {
    for (int byte = 0; byte < 8; ++byte) {
        hash = (hash ^ (value >> (8 * byte) & 0xFFU)) * 1099511628211ULL; // FNV-1a
    }
    return hash;
}

// The same bits with every compiler and optimisation: this number is the same in every build.
TEST(FiringRange, GivesTheSameBitsInEveryBuild) {
    const Arsenal arsenal = shipped();
    std::uint64_t hash = 14695981039346656037ULL;
    for (const WeaponSpec& weapon : arsenal.weapons) {
        for (const double distance : {3.0, 17.5, 55.0}) {
            const RangeTrial trial = run_range(weapon, arsenal.bodies.front(),
                                               {distance, std::chrono::seconds{20}, RegionId{1}, 42});
            for (const RangeShot& shot : trial.shots) {
                hash = mixed(hash, static_cast<std::uint64_t>(shot.at.time_since_epoch().count()));
                for (const double value :
                     {shot.direction.x(), shot.direction.y(), shot.direction.z(), shot.board.right,
                      shot.board.up, shot.hit ? shot.hit->distance : -1.0,
                      shot.hit ? shot.hit->normal.x() : -1.0, shot.damage.amount(), shot.health_left}) {
                    hash = mixed(hash, std::bit_cast<std::uint64_t>(value));
                }
            }
        }
    }
    EXPECT_EQ(hash, 16457231014643346120ULL);
}

} // namespace
} // namespace avrek
