#include "weapon_rig.h"
#include <avrek/weapon/aim.h>
#include <avrek/weapon/cone.h>
#include <avrek/weapon/readout.h>
#include <avrek/weapon/recoil.h>

namespace avrek {
namespace {

// A weapon held for a second, at 600 rounds a minute.
Rig held(const WeaponSpec& spec, WeaponIntent stance = {}) {
    Rig rig{spec};
    stance.trigger = true;
    rig.run({stance}, {60}, at_ms(950));
    return rig;
}

TEST(Recoil, FollowsItsPathAndScalesWithAimAndStance) {
    WeaponSpec spec = weapon_of(TriggerMode::automatic, 600.0, 30, 0, 1.0);
    spec.recoil.pattern = {{0.01, 0.1}, {0.02, 0.2}, {-0.03, 0.3}};
    spec.recoil.loop_from = 1;
    spec.recoil.aimed = 0.5;
    spec.recoil.crouching = 0.25;
    spec.recoil.recovery_share = 0.75;
    const int steps[] = {0, 1, 2, 1, 2, 1, 2, 1, 2, 1};
    const std::pair<WeaponIntent, double> stances[] = {{{}, 1.0},
                                                       {{.aim = true}, 0.5},
                                                       {{.crouching = true}, 0.25},
                                                       {{.aim = true, .crouching = true}, 0.125}};
    for (const auto& [stance, factor] : stances) {
        const std::vector<WeaponEvent> shots = held(spec, stance).of(WeaponEventKind::shot);
        ASSERT_EQ(shots.size(), 10U);
        for (std::size_t shot = 0; shot < shots.size(); ++shot) {
            const Look& step = spec.recoil.pattern[static_cast<std::size_t>(steps[shot])];
            EXPECT_NEAR(shots[shot].kick.yaw, factor * step.yaw, 1e-12) << shot;
            EXPECT_NEAR(shots[shot].kick.pitch, factor * step.pitch, 1e-12) << shot;
            EXPECT_NEAR(kept_kick(spec, shots[shot]).pitch, 0.25 * factor * step.pitch, 1e-12);
        }
    }
    Rig rig = held(spec);
    rig.run({{.at = at_ms(950)}, {.at = at_ms(1500), .trigger = true}}, {60}, at_ms(1501));
    EXPECT_NEAR(rig.events.back().kick.pitch, 0.1, 1e-12) << "after a rest the path starts anew";
    EXPECT_NE(gun_kick_at(spec, rig.state, at_ms(1501)), 0.0);
    EXPECT_EQ(gun_kick_at(spec, rig.state, at_ms(1621)), 0.0);
    spec.recoil.jitter = {0.004, 0.002};
    double most = 0.0;
    for (const WeaponEvent& shot : held(spec).of(WeaponEventKind::shot)) {
        const Look& step = spec.recoil.pattern[static_cast<std::size_t>(steps[shot.shot])];
        most = std::max(most, std::abs(shot.kick.yaw - step.yaw));
        EXPECT_LE(std::abs(shot.kick.pitch - step.pitch), 0.002);
    }
    EXPECT_TRUE(most > 0.001 && most <= 0.004) << most;
}

TEST(Recoil, TheReturningShareWaitsThenFalls) {
    WeaponSpec spec = weapon_of(TriggerMode::single, 600.0, 30, 0, 1.0);
    spec.recoil.pattern = {{0.0, 0.1}};
    spec.recoil.recovery_share = 0.8;
    spec.recoil.recovery = {from_seconds(0.1), {{{0.0, 1.0}, {0.2, 0.0}}}};
    Rig rig{spec};
    rig.run({{.at = at_ms(0), .trigger = true}}, {60}, at_ms(1));
    for (const auto& [at, left] :
         {std::pair{50.0, 0.08}, {100.0, 0.08}, {200.0, 0.04}, {300.0, 0.0}, {900.0, 0.0}}) {
        EXPECT_NEAR(view_kick_at(spec, rig.state, at_ms(at)).pitch, left, 1e-7) << at;
    }
    rig.run({{.at = at_ms(150)}, {.at = at_ms(200), .trigger = true}}, {60}, at_ms(201));
    EXPECT_NEAR(view_kick_at(spec, rig.state, at_ms(250)).pitch, 0.12, 1e-7) << "what was left, and another";
}

TEST(Bloom, GrowsByWhatThereIsAndRecovers) {
    WeaponSpec spec = weapon_of(TriggerMode::automatic, 600.0, 30, 0, 1.0);
    spec.spread.hip = 0.01;
    spec.spread.bloom.per_shot = {{{0.0, 0.001}, {0.004, 0.005}}};
    spec.spread.bloom.max = 0.012;
    spec.spread.bloom.recovery = {from_seconds(0.2), {{{0.0, 1.0}, {0.5, 0.0}}}};
    const Rig rig = held(spec);
    double bloom = 0.0;
    for (const WeaponEvent& shot : rig.of(WeaponEventKind::shot)) {
        EXPECT_NEAR(shot.spread, 0.01 + bloom, 1e-8) << shot.shot;
        bloom = std::min(bloom + 0.001 + std::min(bloom, 0.004), 0.012);
    }
    EXPECT_EQ(bloom, 0.012);
    EXPECT_NEAR(cone_at(spec, rig.state, at_ms(1100)), 0.022, 1e-8);
    EXPECT_NEAR(cone_at(spec, rig.state, at_ms(1350)), 0.016, 1e-8);
    EXPECT_NEAR(cone_at(spec, rig.state, at_ms(1600)), 0.010, 1e-8);
    for (const int ms : {1100, 1300, 1350, 1600}) { // its parts add up to it
        const ConeParts parts = cone_parts_at(spec, rig.state, at_ms(ms));
        EXPECT_NEAR(parts.base + parts.movement + parts.bloom, cone_at(spec, rig.state, at_ms(ms)), 1e-12);
        EXPECT_EQ(parts.bloom > 0.0, ms < 1600);
    }

    spec.spread.first_shot_rest = from_seconds(0.3);
    EXPECT_EQ(held(spec).of(WeaponEventKind::shot)[0].spread, 0.0) << "the first of all is exact";
    EXPECT_GT(held(spec).of(WeaponEventKind::shot)[1].spread, 0.01);
    EXPECT_EQ(cone_at(spec, rig.state, at_ms(1300)), 0.0) << "and so is the first after a rest";
}

TEST(Smooth, SpeedShowsByHalvesAndAimTakesItsTimes) {
    WeaponSpec spec = weapon_of(TriggerMode::single, 600.0, 30, 0, 1.0);
    spec.spread.speed_half_life = from_seconds(0.1);
    spec.spread.hip = 0.02;
    spec.aim = {from_seconds(0.4), from_seconds(0.2), false, from_degrees(30.0), 0.5, 0.2};
    spec.chamber = true;
    Rig rig{spec};
    rig.run({{.at = at_ms(0), .aim = true, .speed = 4.0}}, {60}, at_ms(100));
    EXPECT_NEAR(stance_at(spec, rig.state, at_ms(100)).speed, 2.0, 1e-6);
    EXPECT_NEAR(stance_at(spec, rig.state, at_ms(200)).speed, 3.0, 1e-6);
    EXPECT_NEAR(aim_blend_at(spec, rig.state, at_ms(100)), 0.25, 1e-8);
    rig.run({{.at = at_ms(200), .speed = 0.0}}, {60}, at_ms(250));
    EXPECT_NEAR(stance_at(spec, rig.state, at_ms(300)).speed, 1.5, 1e-6);
    EXPECT_NEAR(aim_blend_at(spec, rig.state, at_ms(250)), 0.25, 1e-8)
        << "half aimed, and half of the way back";
    const WeaponReadout out = readout(spec, rig.state, rig.reserve, {from_degrees(60.0), 1000.0});
    EXPECT_NEAR(to_degrees(out.field_of_view), 52.5, 1e-6);
    EXPECT_NEAR(out.movement, 0.875, 1e-8);
    EXPECT_NEAR(out.crosshair_opacity, 0.8, 1e-8);
    EXPECT_NEAR(out.crosshair_gap, crosshair_gap(out.cone, {out.field_of_view, 1000.0}), 1e-9);
    EXPECT_TRUE(out.chambered);
    rig.state.rounds = 0;
    EXPECT_FALSE(readout(spec, rig.state, rig.reserve).chambered);
    EXPECT_EQ(readout(spec, rig.state, rig.reserve).waits_for, WeaponRefusal::empty);

    spec.aim.toggles = true;
    Rig toggled{spec};
    toggled.run({{.at = at_ms(0), .aim = true}, {.at = at_ms(50)}}, {60}, at_ms(500));
    EXPECT_EQ(aim_blend_at(spec, toggled.state, at_ms(500)), 1.0);
    toggled.run({{.at = at_ms(500), .sprint = true}}, {60}, at_ms(800));
    EXPECT_EQ(aim_blend_at(spec, toggled.state, at_ms(800)), 0.0) << "a sprint lowers the aim";
    toggled.run({{.at = at_ms(800)}, {.at = at_ms(1300), .aim = true}}, {60}, at_ms(1600));
    EXPECT_EQ(aim_blend_at(spec, toggled.state, at_ms(1600)), 0.0)
        << "it came back, and the second press ended it";
}

TEST(Smooth, ChargeAndSpinShowTheirProgress) {
    WeaponSpec spec = weapon_of(TriggerMode::charge, 600.0, 30, 0, 1.0);
    spec.charge = {Duration{0}, from_seconds(0.8), {{{0.0, 0.2}, {0.4, 1.0}, {2.0, 9.0}}}, false};
    Rig rig{spec};
    rig.run({{.at = at_ms(0), .trigger = true}}, {60}, at_ms(200));
    EXPECT_NEAR(readout(spec, rig.state, rig.reserve).charge, 0.25, 1e-9);
    rig.run({{.at = at_ms(200)}, {.at = at_ms(400), .trigger = true}, {.at = at_ms(2400)}}, {60},
            at_ms(2500));
    const std::vector<WeaponEvent> shots = rig.of(WeaponEventKind::shot);
    ASSERT_EQ(shots.size(), 2U);
    EXPECT_NEAR(shots[0].power, 0.6, 1e-9);
    EXPECT_NEAR(shots[1].power, 1.0 + 0.4 / 1.6 * 8.0, 1e-9) << "no more than when it is full";
    EXPECT_EQ(readout(spec, rig.state, rig.reserve).charge, 0.0);
}

} // namespace
} // namespace avrek
