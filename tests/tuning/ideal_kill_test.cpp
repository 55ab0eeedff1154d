#include "../rounds.h"
#include "../test_data.h"
#include "../vitals/random_body.h"
#include <avrek/tuning/firing_range.h>
#include <avrek/tuning/time_to_kill.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <random>

namespace avrek {
namespace {

// A weapon of any feed, mode and reload that makes its shooter pause.
WeaponSpec random_weapon(std::mt19937_64& random) {
    std::uniform_real_distribution<double> unit{0.0, 1.0};
    const auto below = [&](std::uint64_t count) { return static_cast<std::int32_t>(random() % count); };
    const auto time = [&](double most) { return from_seconds(most * unit(random)); };
    WeaponSpec weapon{.id = "w", .range = 100.0};
    weapon.modes = {static_cast<TriggerMode>(below(5))};
    weapon.rounds_per_minute = 60.0 + 1000.0 * unit(random);
    weapon.burst = {1 + below(4), from_seconds(0.02 + 0.2 * unit(random)), below(2) == 0};
    weapon.charge = {time(0.2), from_seconds(0.2 + unit(random)), {}, below(2) == 0};
    if (below(2) == 0) {
        weapon.charge.power = {{{0.0, 0.2},
                                {0.5 * to_seconds(weapon.charge.full), 1.2 * unit(random) + 0.2},
                                {to_seconds(weapon.charge.full), 2.0}}};
    }
    weapon.spin = {time(1.0), time(1.0), {{{0.0, 0.3}, {1.0, 1.0}}}, 0.5 * unit(random)};
    weapon.spin.up += Duration{1};
    weapon.spin.down += Duration{1};
    weapon.feed = std::array{AmmoFeed::magazine, AmmoFeed::magazine, AmmoFeed::heat,
                             AmmoFeed::cell}[static_cast<std::size_t>(below(4))];
    weapon.magazine = 1 + below(8);
    weapon.chamber = below(2) == 0;
    weapon.reserve = 100;
    weapon.rounds_per_shot = std::min(weapon.magazine, 1 + below(2));
    weapon.heat = {0.1 + 0.5 * unit(random), from_seconds(0.5 + 2 * unit(random)), time(0.5),
                   0.8 * unit(random)};
    weapon.cell = {from_seconds(0.5 + 2 * unit(random)), time(0.5)};
    weapon.reload.style = below(2) == 0 ? ReloadStyle::rounds : ReloadStyle::magazine;
    weapon.reload.time = time(1.0);
    weapon.reload.start = time(0.5);
    weapon.reload.end = time(0.5);
    weapon.reload.keeps_rounds = below(4) != 0;
    weapon.reload.automatic = below(2) == 0;
    weapon.reload.cancelled_by.trigger = below(2) == 0;
    if (below(2) == 0) {
        weapon.reload.commit = time(to_seconds(weapon.reload.time));
    }
    if (below(2) == 0) {
        weapon.reload.empty_time = weapon.reload.time + time(1.0);
        weapon.reload.empty_start = weapon.reload.start + time(1.0);
    }
    weapon.damage = 4.0 + 60.0 * unit(random);
    return weapon;
}

// Somebody who works the weapon without a plan, mostly busily.
std::vector<WeaponIntent> random_statements(std::mt19937_64& random, const WeaponSpec& weapon,
                                            Duration until) {
    std::vector<WeaponIntent> statements{{.at = {}, .trigger = true}};
    const std::int64_t usual = shot_offset(1, weapon.rounds_per_minute).count();
    const double patience = std::array{0.3, 1.0, 3.0}[random() % 3];
    while (statements.back().at < Time{until}) {
        WeaponIntent next = statements.back();
        const auto most = static_cast<std::uint64_t>(static_cast<double>(usual) * patience) + 2;
        next.at += Duration{static_cast<std::int64_t>(1 + random() % most)};
        next.trigger = random() % 4 == 0 ? next.trigger : !next.trigger;
        next.reload = random() % 5 == 0;
        statements.push_back(next);
    }
    return statements;
}

TEST(IdealKill, IsTheLeastOfRandomPlansAndIsFired) {
    std::mt19937_64 random{77};
    RandomLife draw{78};
    const int weapons = rounds(100, "AVREK_IDEALS");
    const int plans = rounds(300, "AVREK_PLANS");
    int faster = 0;
    int kills = 0;
    for (int trial = 0; trial < weapons; ++trial) {
        const WeaponSpec weapon = random_weapon(random);
        BodySpec body = *find(shipped().bodies, "crew");
        body.defence = trial % 3 == 0 ? draw.body().defence : std::vector<DefenceLayerSpec>{};
        for (DefenceLayerSpec& layer : body.defence) {
            layer.refill = layer.decay = 0.0; // against what changes by itself nothing is promised
        }
        const Target target{.body = &body};
        const RegionId torso = *find_region(body.rig, "torso");
        const IdealKill ideal = ideal_time_to_kill(weapon, target, 20.0, torso);
        if (ideal.verdict != KillVerdict::kills) {
            continue;
        }
        ++kills;
        faster += ideal.plan != IdealPlan{} ? 1 : 0;
        const auto death_by = [&](const FiringPlan& plan, Duration until) {
            WeaponSpec exact = weapon;
            exact.spread = {};
            return run_range(exact, body, {20.0, until, torso, 1, plan}).death;
        };
        const auto death =
            death_by(ideal_plan(weapon, target, 20.0, torso), ideal.time + std::chrono::minutes{1});
        ASSERT_TRUE(death) << "trial " << trial << ": " << to_string(ideal.plan);
        EXPECT_EQ(*death - Time{}, ideal.time) << "trial " << trial << ": " << to_string(ideal.plan);
        for (int plan = 0; plan < plans; ++plan) {
            const FiringPlan tried{.kind = FiringPlanKind::intents,
                                   .intents = random_statements(random, weapon, ideal.time)};
            const auto sooner = death_by(tried, ideal.time);
            // A round that finds its place rounds to a nanosecond.
            ASSERT_TRUE(!sooner || *sooner - Time{} >= ideal.time - Duration{50})
                << "trial " << trial << ": " << to_string(ideal.plan) << ", " << (*sooner - Time{}).count()
                << " and not " << ideal.time.count();
        }
    }
    EXPECT_GT(kills, weapons / 2);
    EXPECT_GT(faster, weapons / 8);
}

} // namespace
} // namespace avrek
