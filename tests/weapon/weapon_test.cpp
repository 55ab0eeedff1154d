#include "weapon_rig.h"
#include <avrek/arsenal/validate.h>
#include <avrek/weapon/readout.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <random>
#include <string>

namespace avrek {
namespace {

// Smooth quantities within 1e-4 of their range, which for angles is taken as a tenth of a degree.
void expect_the_same(const WeaponReadout& a, const WeaponReadout& b) {
    constexpr double near = 1e-4;
    ASSERT_EQ(a.rounds, b.rounds);
    ASSERT_EQ(a.activity, b.activity);
    ASSERT_EQ(a.waits_for, b.waits_for);
    ASSERT_NEAR(a.reload_progress, b.reload_progress, near);
    ASSERT_NEAR(a.heat, b.heat, near);
    ASSERT_NEAR(a.charge, b.charge, near);
    ASSERT_NEAR(a.spin, b.spin, near);
    ASSERT_NEAR(a.accuracy, b.accuracy, near);
    ASSERT_NEAR(a.aim_blend, b.aim_blend, near);
    ASSERT_NEAR(a.gun_kick, b.gun_kick, near);
    ASSERT_NEAR(a.cone, b.cone, near * from_degrees(0.1));
    ASSERT_NEAR(a.view_kick.pitch, b.view_kick.pitch, near * from_degrees(0.1));
    ASSERT_NEAR(a.view_kick.yaw, b.view_kick.yaw, near * from_degrees(0.1));
    for (const double share : {a.reload_progress, a.heat, a.charge, a.spin, a.accuracy, a.aim_blend,
                               a.gun_kick, a.crosshair_opacity}) {
        ASSERT_TRUE(share >= 0.0 && share <= 1.0) << share;
    }
}

// Held for ten seconds, then random intents: the same events at the same nanoseconds at every tick rate.
TEST(Weapon, FiresTheSameShotsAtTheSameNanosecondsAtAnyTickRate) {
    std::mt19937_64 random{1};
    std::uniform_real_distribution<double> rates{1.0, 6000.0};
    const Time end{std::chrono::seconds{10}};
    for (int trial = 0; trial < 60; ++trial) {
        const auto mode = trial % 4 == 3 ? TriggerMode::single : TriggerMode::automatic;
        const WeaponSpec spec = weapon_of(mode, trial == 0 ? 6000.0 : rates(random), 10000, 10000, 0.7);
        const Time first = Time{Duration{static_cast<std::int64_t>(random() % 1'000'000'000)}};
        std::vector<WeaponIntent> intents{{first, true, false}};
        for (Time at = first; trial % 2 == 1;) {
            at += Duration{static_cast<std::int64_t>(random() % 200'000'000)};
            if (at >= end) {
                break;
            }
            intents.push_back({at, random() % 3 != 0, random() % 8 == 0});
        }
        Rig whole{spec};
        whole.run(intents, {1}, end);
        if (trial % 2 == 0) {
            const std::vector<WeaponEvent> shots = whole.of(WeaponEventKind::shot);
            for (std::size_t shot = 0; shot < shots.size(); ++shot) {
                ASSERT_EQ(shots[shot].at, mode == TriggerMode::single
                                              ? first
                                              : first + shot_offset(static_cast<std::uint32_t>(shot),
                                                                    spec.rounds_per_minute));
            }
            const auto expected = static_cast<double>((end - first).count()) * spec.rounds_per_minute / 60e9;
            ASSERT_EQ(shots.size(),
                      mode == TriggerMode::single ? 1 : static_cast<std::size_t>(std::ceil(expected)));
        }
        const auto any = static_cast<std::int32_t>(1 + random() % 1000);
        for (const std::int32_t hertz : {20, 30, 37, 60, 64, 128, 240, any}) {
            Rig cut{spec};
            cut.run(intents, {hertz}, end);
            ASSERT_EQ(cut.events, whole.events)
                << hertz << " Hz, " << spec.rounds_per_minute << " rounds/min";
            ASSERT_EQ(cut.state, whole.state);
            ASSERT_EQ(cut.reserve, whole.reserve);
        }
    }
}

TEST(Weapon, TappingNeverBeatsTheRateOfFire) {
    std::mt19937_64 random{2};
    for (const TriggerMode mode : {TriggerMode::single, TriggerMode::automatic}) {
        Rig rig{weapon_of(mode, 700.0, 10000, 0, 1.0)};
        std::vector<WeaponIntent> taps;
        for (Time at{}; at < Time{std::chrono::seconds{20}}; at += Duration{random() % 30'000'000}) {
            taps.push_back({at, taps.size() % 2 == 0, false});
        }
        rig.run(taps, {60}, Time{std::chrono::seconds{20}});
        const std::vector<WeaponEvent> shots = rig.of(WeaponEventKind::shot);
        ASSERT_GT(shots.size(), 100U);
        for (std::size_t shot = 1; shot < shots.size(); ++shot) {
            // One nanosecond for the rounding of each end.
            ASSERT_GE(shots[shot].at - shots[shot - 1].at, shot_offset(1, 700.0) - Duration{1});
        }
    }
}

// Every rule at once: random weapons in random hands, and all they do and show is the same at any tick rate.
TEST(Weapon, DoesAndShowsTheSameAtAnyTickRateWhateverItIs) {
    Chance chance{std::mt19937_64{11}};
    std::map<WeaponEventKind, int> seen;
    std::map<WeaponRefusal, int> reasons;
    for (int trial = 0; trial < 400; ++trial) {
        chance.round = trial % 3 == 0;
        const WeaponSpec spec = chance.weapon();
        for (const SpecFault& found : validate(spec)) {
            ASSERT_EQ(found.severity, Severity::warning) << found.key << ' ' << found.message;
        }
        const Time end{std::chrono::seconds{6}};
        const std::vector<WeaponIntent> intents = chance.intents(end, 250'000'000);
        Rig whole{spec};
        whole.run(intents, {1}, end);
        for (const WeaponEvent& event : whole.events) {
            ++seen[event.kind];
            ++reasons[event.refusal];
        }
        for (const std::int32_t hertz : {20, 30, 37, 60, 64, 128, 240, chance.whole(20, 240)}) {
            Rig cut{spec};
            Rig steps{spec};
            cut.restates = trial % 2 == 0;
            for (int step = 1; step <= 24; ++step) {
                const Time moment{std::chrono::milliseconds{250 * step}};
                cut.run(intents, {hertz}, moment);
                steps.run(intents, {1}, moment);
                expect_the_same(readout(spec, cut.state, cut.reserve),
                                readout(spec, steps.state, steps.reserve));
            }
            ASSERT_EQ(cut.events, whole.events) << hertz << " Hz, trial " << trial;
            ASSERT_EQ(cut.state, whole.state);
            ASSERT_EQ(cut.reserve, whole.reserve);
        }
    }
    for (int kind = 0; kind < static_cast<int>(WeaponEventKind::swap_refused); ++kind) {
        EXPECT_GT(seen[static_cast<WeaponEventKind>(kind)], 20)
            << to_string(static_cast<WeaponEventKind>(kind));
    }
    for (int reason = 0; reason <= static_cast<int>(WeaponRefusal::let_go); ++reason) {
        if (reason != static_cast<int>(WeaponRefusal::no_weapon) &&
            reason != static_cast<int>(WeaponRefusal::empty)) {
            EXPECT_GT(reasons[static_cast<WeaponRefusal>(reason)], 0)
                << to_string(static_cast<WeaponRefusal>(reason));
        }
    }
}

TEST(Weapon, ShowsTheProgressOfAReload) {
    Rig rig{weapon_of(TriggerMode::automatic, 600.0, 5, 9, 2.0)};
    rig.state.rounds = 0;
    rig.run({{Time{}, false, true}}, {60}, Time{std::chrono::milliseconds{500}});
    EXPECT_DOUBLE_EQ(reload_progress(rig.spec, rig.state, rig.reserve), 0.25);
    rig.run({}, {60}, Time{std::chrono::seconds{2}});
    EXPECT_TRUE(is_reloading(rig.state)) << "what is due at the end of a span belongs to the next";
    EXPECT_DOUBLE_EQ(reload_progress(rig.spec, rig.state, rig.reserve), 1.0);
    rig.run({}, {60}, Time{std::chrono::seconds{2} + Duration{1}});
    EXPECT_FALSE(is_reloading(rig.state));
    EXPECT_EQ(reload_progress(rig.spec, rig.state, rig.reserve), 0.0);
}

TEST(Weapon, FiresAgainWhenTheGamePutsRoundsIntoADryMagazine) {
    Rig rig{weapon_of(TriggerMode::automatic, 600.0, 5, 0, 1.0)};
    rig.state.rounds = 0;
    rig.run({{at_ms(0), true, false}, {at_ms(5), false, false}}, {60}, at_ms(10));
    rig.state.rounds = 5;
    rig.run({{at_ms(20), true, false}}, {60}, at_ms(300));
    EXPECT_EQ(rig.of(WeaponEventKind::shot).size(), 3U);
}

} // namespace
} // namespace avrek
