#include "../test_data.h"
#include <avrek/data/arsenal_toml.h>
#include <avrek/tuning/firing_range.h>
#include <avrek/tuning/weapon_card.h>
#include <avrek/weapon/recoil.h>

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace avrek {
namespace {

std::vector<double> shot_seconds(const std::vector<WeaponEvent>& events) {
    std::vector<double> seconds;
    for (const WeaponEvent& event : events) {
        if (event.kind == WeaponEventKind::shot) {
            seconds.push_back(to_seconds(event.at - Time{}));
        }
    }
    return seconds;
}

void expect_seconds(const std::vector<double>& found, const std::vector<double>& expected) {
    ASSERT_EQ(found.size(), expected.size());
    for (std::size_t shot = 0; shot < found.size(); ++shot) {
        EXPECT_NEAR(found[shot], expected[shot], 2e-9) << shot;
    }
}

WeaponSpec automatic(std::int32_t magazine) {
    WeaponSpec spec;
    spec.magazine = magazine;
    spec.reserve = 100;
    spec.reload.time = from_seconds(1.0);
    return spec;
}

TEST(FiringPlan, WorksTheTriggerAsItSays) {
    const auto fired = [](const WeaponSpec& weapon, const FiringPlan& plan, double seconds) {
        return shot_seconds(fire_by_plan(weapon, plan, {}, from_seconds(seconds)));
    };
    const FiringPlan bursts{FiringPlanKind::bursts, "", from_seconds(0.5), 2, {}};
    const FiringPlan taps{FiringPlanKind::taps, "", from_seconds(0.25), 0, {}};
    expect_seconds(fired(automatic(3), {}, 1.45), {0, 0.1, 0.2, 1.3, 1.4});
    expect_seconds(fired(automatic(30), bursts, 1.3), {0, 0.1, 0.6, 0.7, 1.2});
    expect_seconds(fired(automatic(3), taps, 2.1), {0, 0.25, 0.5, 1.75, 2.0});
    WeaponSpec spin = automatic(30);
    spin.modes = {TriggerMode::spin_up};
    spin.spin = {from_seconds(0.4), from_seconds(0.2), {{{0.0, 0.25}, {1.0, 1.0}}}, 0.5};
    expect_seconds(fired(spin, {}, 0.6), {0.2, 0.36, 0.468108108, 0.568108108});
    WeaponSpec charge = automatic(30);
    charge.modes = {TriggerMode::charge};
    charge.charge.full = from_seconds(0.4);
    expect_seconds(fired(charge, {}, 1.5), {0.4, 0.9, 1.4});
    WeaponSpec cell = automatic(2);
    cell.feed = AmmoFeed::cell;
    cell.cell = {from_seconds(1.0), from_seconds(0.1)};
    expect_seconds(fired(cell, {}, 1.5), {0, 0.1, 0.7, 1.3});
    // Once the cell is dry it is let go, and pressed again as soon as there is a round.
    WeaponSpec spinning_cell = cell;
    spinning_cell.modes = spin.modes;
    spinning_cell.spin = spin.spin;
    const std::vector<double> from_cell = fired(spinning_cell, {}, 6.0);
    EXPECT_GT(from_cell.size(), 7U);
    const FiringPlan intents{
        FiringPlanKind::intents,
        "",
        {},
        0,
        {{.at = Time{from_seconds(0.3)}, .trigger = true}, {.at = Time{from_seconds(0.45)}}}};
    expect_seconds(fired(automatic(30), intents, 9.0), {0.3, 0.4});
    EXPECT_EQ(fire_by_plan(automatic(30), {}, {}, std::chrono::hours{1}, 7).size(), 7U);
    EXPECT_TRUE(fired(automatic(30), {}, 0.0).empty());
    WeaponSpec grounded = automatic(30);
    grounded.handling.fires_airborne = false;
    EXPECT_TRUE(shot_seconds(fire_by_plan(grounded, {}, {.airborne = true}, from_seconds(2.0))).empty());
}

// Every shipped weapon as fast as it can be, and held down for real: nothing fires faster than the plan.
TEST(FiringPlan, NothingFiresFasterThanHold) {
    std::mt19937_64 random{4};
    for (const WeaponSpec& weapon : shipped().weapons) {
        if (weapon.reload.style == ReloadStyle::rounds || weapon.feed == AmmoFeed::heat) {
            continue; // a reload ended by a shot, or cooling in time, can well mean more shots
        }
        const auto best = shot_seconds(fire_by_plan(weapon, {}, {}, from_seconds(8.0)));
        ASSERT_FALSE(best.empty());
        for (int trial = 0; trial < 20; ++trial) {
            FiringPlan mashing{FiringPlanKind::intents, "", {}, 0, {}};
            for (Time at{}; at < Time{from_seconds(8.0)};
                 at += Duration{static_cast<std::int64_t>(random() % 300'000'000)}) {
                mashing.intents.push_back(
                    {.at = at, .trigger = random() % 2 == 0, .reload = random() % 9 == 0});
            }
            const auto mashed = shot_seconds(fire_by_plan(weapon, mashing, {}, from_seconds(8.0)));
            // A half charge comes sooner, and is worth less; all others are beaten shot by shot.
            if (weapon.modes.front() != TriggerMode::charge) {
                ASSERT_LE(mashed.size(), best.size()) << weapon.id;
                for (std::size_t shot = 0; shot < mashed.size(); ++shot) {
                    ASSERT_GE(mashed[shot], best[shot] - 1e-8) << weapon.id;
                }
            }
        }
    }
}

// Somebody who aims all the time, and the weapon with its values blended, do the same.
TEST(FiringPlan, AnAimedPostureIsTheAimedWeapon) {
    WeaponSpec rifle = *find(shipped().weapons, "thorn-rifle");
    rifle.aim.in = {};
    const FiringPlan aimed{FiringPlanKind::intents, "", {}, 0, {{.at = {}, .trigger = true, .aim = true}}};
    const auto real = fire_by_plan(rifle, aimed, {}, from_seconds(1.0));
    const auto blended = fire_by_plan(rifle, {}, {.aim_blend = 1.0}, from_seconds(1.0));
    ASSERT_EQ(real.size(), blended.size());
    for (std::size_t shot = 0; shot < real.size(); ++shot) {
        EXPECT_NEAR(real[shot].spread, blended[shot].spread, 1e-9);
        EXPECT_NEAR(real[shot].kick.yaw, blended[shot].kick.yaw, 1e-9);
        EXPECT_NEAR(real[shot].kick.pitch, blended[shot].kick.pitch, 1e-9);
    }
}

// The views that are computed from events are those that the weapon itself shows.
TEST(FiringPlan, SeesTheKicksThatTheWeaponShows) {
    const WeaponSpec& rifle = *find(shipped().weapons, "thorn-rifle");
    const auto events = fire_by_plan(rifle, {}, {}, from_seconds(2.0));
    const auto views = view_at_shots(rifle, events, 1.0);
    WeaponState state = full_weapon(rifle);
    AmmoReserve reserve = full_reserve(rifle);
    std::vector<WeaponEvent> again;
    const WeaponIntent hold{.trigger = true};
    std::size_t shot = 0;
    for (const WeaponEvent& event : events) {
        advance(rifle, state, reserve, event.at, {&hold, shot == 0 && event.at > Time{} ? 1U : 0U}, again);
        EXPECT_NEAR(view_kick_at(rifle, state, event.at).pitch, views[shot].pitch, 1e-7);
        EXPECT_NEAR(view_kick_at(rifle, state, event.at).yaw, views[shot].yaw, 1e-7);
        advance(rifle, state, reserve, event.at + Duration{1}, {&hold, shot == 0 ? 1U : 0U}, again);
        ++shot;
    }
    EXPECT_EQ(again, events);
    EXPECT_GT(views.back().pitch, from_degrees(1.0));
}

TEST(GroupSize, HoldsHalfAndNinetyPerCent) {
    std::vector<BoardPoint> points;
    for (int index = 1; index <= 10; ++index) {
        points.push_back({3.0 + index, 4.0});
        points.push_back({3.0 - index, 4.0});
    }
    const GroupSize group = group_size(points);
    EXPECT_NEAR(group.off_aim, 5.0, 1e-12);
    EXPECT_NEAR(group.radius_50, 5.0, 1e-12);
    EXPECT_NEAR(group.radius_90, 9.0, 1e-12);
    EXPECT_EQ(group_size({}).radius_90, 0.0);
    EXPECT_EQ(group_size({points.data(), 1}).radius_50, 0.0);
}

// The plans differ as their names promise, on the shipped rifle over many seeds.
TEST(FiringRange, BurstsBeatHoldingStandingBeatsMovingAndAimingBeatsTheHip) {
    const WeaponSpec& rifle = *find(shipped().weapons, "thorn-rifle");
    const BodySpec& crew = shipped().bodies.front();
    const auto half = [&](const FiringPlan& plan, const Posture& posture) {
        double sum = 0.0;
        for (std::uint64_t seed = 0; seed < 40; ++seed) {
            sum += run_range(rifle, crew, {25.0, from_seconds(3.0), RegionId{1}, seed, plan, posture, 1.0})
                       .group.radius_50;
        }
        return sum;
    };
    const FiringPlan bursts{FiringPlanKind::bursts, "", from_seconds(0.35), 4, {}};
    EXPECT_LT(half(bursts, {}), 0.6 * half({}, {}));
    EXPECT_LT(half(bursts, {}), 0.7 * half(bursts, {.speed = 5.0}));
    EXPECT_LT(half(bursts, {.aim_blend = 1.0}), half(bursts, {.aim_blend = 0.5}));
    EXPECT_LT(half(bursts, {.aim_blend = 0.5}), half(bursts, {}));
    EXPECT_LT(half(bursts, {.crouching = true}), half(bursts, {.airborne = true}));
    const RangeTrial pulled = run_range(rifle, crew, {25.0, from_seconds(2.0), RegionId{1}, 1, {}, {}, 1.0});
    const RangeTrial left = run_range(rifle, crew, {25.0, from_seconds(2.0), RegionId{1}, 1, {}, {}, 0.0});
    EXPECT_GT(left.group.centre.up, pulled.group.centre.up + 0.2) << "a kick that nobody pulls back climbs";
}

TEST(WeaponCard, IsWhatTheKeysComeTo) {
    WeaponSpec spec = automatic(10);
    spec.damage = 12.0;
    spec.pellets = 3;
    spec.reload.empty_time = from_seconds(2.0);
    spec.spread.hip = from_degrees(1.0);
    spec.spread.bloom = {{{{0.0, from_degrees(0.5)}}}, from_degrees(2.0), {.delay = from_seconds(0.2)}};
    const WeaponCard card = card_of(spec);
    EXPECT_NEAR(card.rounds_per_minute, 600.0, 1e-6);
    EXPECT_NEAR(card.burst_damage, 360.0, 1e-6);
    EXPECT_NEAR(card.sustained_damage, 36.0 * 10 / 3.0, 2.0)
        << "ten shots in a second, two seconds of reload";
    EXPECT_EQ(card.shots_to_empty, 10);
    EXPECT_EQ(card.time_to_empty, from_seconds(0.9));
    EXPECT_EQ(card.partial_reload, from_seconds(1.0));
    EXPECT_EQ(card.empty_reload, from_seconds(2.0));
    ASSERT_EQ(card.cones.size(), 1U);
    EXPECT_NEAR(to_degrees(card.cones[0].worst), 3.0, 1e-9);

    double widest = 0.0;
    double last = 0.0;
    for (const ConeSample& sample :
         cone_over_time(spec, {}, from_seconds(2.0), from_seconds(1.0), from_seconds(0.01))) {
        widest = std::max(widest, to_degrees(sample.cone));
        last = to_degrees(sample.cone);
    }
    EXPECT_NEAR(widest, 3.0, 1e-5);
    EXPECT_NEAR(last, 1.0, 1e-9) << "it has recovered";
    for (const WeaponSpec& weapon : shipped().weapons) {
        const WeaponCard shipped_card = card_of(weapon);
        EXPECT_GT(shipped_card.sustained_damage, 0.0) << weapon.id;
        EXPECT_LE(shipped_card.sustained_damage, shipped_card.burst_damage * (1.0 + 1e-9)) << weapon.id;
        EXPECT_GT(shipped_card.shots_to_empty, 0) << weapon.id;
    }
    WeaponSpec charged = spec;
    charged.modes = {TriggerMode::charge};
    charged.charge.power = {{{0.0, 0.5}, {1.0, 2.0}}};
    EXPECT_NEAR(card_of(charged).damage_per_shot, 72.0, 1e-9);
    EXPECT_NEAR(card_of(charged).rounds_per_minute, 60.0 / 1.1, 1e-6) << "a full charge after each interval";
    WeaponSpec endless = spec;
    endless.supply = AmmoSupply::endless;
    EXPECT_EQ(card_of(endless).shots_to_empty, 0);
    EXPECT_FALSE(card_of(endless).empty_reload);
    // A weapon that is not empty after two minutes has no number, however long a shot takes.
    WeaponSpec slow = charged;
    slow.magazine = 1000;
    slow.charge.full = from_seconds(7.0);
    EXPECT_EQ(card_of(slow).shots_to_empty, 0);
    WeaponSpec cool = spec;
    cool.feed = AmmoFeed::heat;
    cool.modes = {TriggerMode::spin_up};
    cool.spin.rate = {{{0.0, 0.05}, {1.0, 0.05}}};
    EXPECT_EQ(card_of(cool).shots_to_empty, 0) << "it cools in the two seconds between its shots";
    // Pauses never make it more, whatever it fires from, and how.
    for (const AmmoFeed feed : {AmmoFeed::magazine, AmmoFeed::reserve, AmmoFeed::heat, AmmoFeed::cell}) {
        for (const AmmoSupply supply :
             {AmmoSupply::counted, AmmoSupply::endless_reserve, AmmoSupply::endless}) {
            for (const TriggerMode mode : {TriggerMode::single, TriggerMode::automatic, TriggerMode::burst,
                                           TriggerMode::charge, TriggerMode::spin_up}) {
                for (const std::int32_t magazine : {1, 2, 7}) {
                    WeaponSpec one = spec;
                    one.feed = feed;
                    one.supply = supply;
                    one.modes = {mode};
                    one.magazine = magazine;
                    one.spin.rate = {{{0.0, 0.2}, {1.0, 1.0}}};
                    const WeaponCard found = card_of(one);
                    ASSERT_LE(found.sustained_damage, found.burst_damage * (1.0 + 1e-9))
                        << to_string(feed) << ' ' << to_string(supply) << ' ' << to_string(mode);
                }
            }
        }
    }
}

} // namespace
} // namespace avrek
