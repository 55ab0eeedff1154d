#include "../scene/draw.h"
#include <avrek/ballistics/aim_solving.h>
#include <avrek/ballistics/camera.h>
#include <avrek/ballistics/launch_solving.h>
#include <avrek/ballistics/lead.h>
#include <avrek/ballistics/projectiles.h>
#include <avrek/ballistics/turret.h>
#include <avrek/scene/scene.h>

#include <gtest/gtest.h>

#include <cmath>

namespace avrek {
namespace {

TEST(Camera, APointOfTheScreenIsSeenWhereItsLineOfSightLeads) {
    Draw draw{61};
    for (int round = 0; round < 2000; ++round) {
        Camera camera;
        camera.pose = {draw.point(50), turned_to({draw(-pi, pi), draw(-1.5, 1.5)})};
        camera.projection = draw.below(2) == 0 ? Projection::perspective : Projection::flat;
        camera.field_of_view = draw(0.2, 2.5);
        camera.shown_height = draw(1, 100);
        const ScreenPoint point{draw(0, camera.width), draw(0, camera.height)};
        const Ray ray = eye_ray(camera, point, 100.0);
        const auto seen = on_screen(camera, point_at(ray, draw(0.1, 100)));
        ASSERT_TRUE(seen);
        EXPECT_NEAR(seen->at.right, point.right, 1e-6);
        EXPECT_NEAR(seen->at.down, point.down, 1e-6);
        EXPECT_TRUE(seen->inside);
        EXPECT_FALSE(on_screen(camera, point_at(ray, -1.0))) << "behind the camera";
    }
    // A point to the left, and up, is drawn to the left, and up.
    const Camera camera{.pose = {{0, 1, 0}}};
    const auto left_up = on_screen(camera, {1, 2, 5});
    ASSERT_TRUE(left_up);
    EXPECT_LT(left_up->at.right, middle_of(camera).right);
    EXPECT_LT(left_up->at.down, middle_of(camera).down);
    EXPECT_NEAR(middle_of(camera).down - left_up->at.down, pixels_per_metre(camera, 5.0), 1e-9);
    EXPECT_FALSE(on_screen(camera, {100, 0, 5})->inside);
}

// A wall ahead, and a post that stands between the muzzle, on the right, and the middle of the wall.
struct Yard {
    RigSpec rig{{{"all", {Capsule{{0, 0.3, 0}, {0, 1.5, 0}, 0.3}}}}};
    Scene scene;
    AimQuestion question{
        .eye = {{0, 1.7, -3}, world_forward(), 60.0}, .muzzle = {-0.3, 1.4, 0.6}, .grip = {-0.2, 1.4, 0}};

    explicit Yard(const std::vector<Vector3>& posts, Metres wall = 10.0) {
        std::vector<LevelPiece> pieces{{HalfSpace{-world_forward(), -wall}}};
        for (const Vector3& post : posts) {
            pieces.push_back({Box{{post}, {0.1, 2.0, 0.1}}});
        }
        scene = Scene{Level{pieces}};
        EXPECT_TRUE(scene.add({BodyId{1}, &rig, {{0, 0, 0}}}));
    }
    AimSolution solve(MuzzleRule rule = MuzzleRule::draw_back) {
        question.rule = rule;
        return solve_aim(scene, question, {.ignores = {BodyId{1}}});
    }
    std::optional<Hit> shot(const AimSolution& aim) const {
        return scene.closest_hit({.ray = {aim.origin, aim.direction, 100}}, {.ignores = {BodyId{1}}});
    }
};

TEST(Aim, AClearMuzzleHitsWhatTheEyeSees) {
    Draw draw{62};
    Yard yard{{}};
    for (int round = 0; round < 500; ++round) {
        yard.question.eye.direction = direction_of({draw(-0.8, 0.8), draw(-0.3, 0.3)});
        const AimSolution aim = yard.solve();
        ASSERT_EQ(aim.muzzle, MuzzleState::clear);
        ASSERT_TRUE(aim.seen);
        EXPECT_LT((yard.shot(aim)->point - aim.seen->point).norm(), 1e-6);
    }
    yard.question.eye.direction = -world_forward();
    const AimSolution away = yard.solve();
    EXPECT_FALSE(away.seen);
    EXPECT_LT((away.aim_point - Vector3{0, 1.7, -63}).norm(), 1e-9) << "the far end of the line of sight";
}

TEST(Aim, AnObstructedMuzzleIsReportedAndResolvedByTheRule) {
    // Behind the shooter, before the eye: not aimed at.
    EXPECT_EQ(Yard({{0, 1, -1.5}}).solve().muzzle, MuzzleState::clear);

    Yard covered{{{-0.2, 1, 4}}};
    const AimSolution aim = covered.solve();
    EXPECT_EQ(aim.muzzle, MuzzleState::covered);
    ASSERT_TRUE(aim.obstruction);
    EXPECT_LT((covered.shot(aim)->point - aim.obstruction->point).norm(), 1e-6) << "that will be hit";
    const AimSolution by_eye = covered.solve(MuzzleRule::from_eye);
    EXPECT_LT((covered.shot(by_eye)->point - aim.seen->point).norm(), 1e-6);

    Yard inside{{{-0.28, 1, 0.4}}};
    for (const MuzzleRule rule : {MuzzleRule::draw_back, MuzzleRule::from_eye, MuzzleRule::block_shot}) {
        const AimSolution solved = inside.solve(rule);
        EXPECT_EQ(solved.muzzle, MuzzleState::inside);
        EXPECT_EQ(solved.fires, rule != MuzzleRule::block_shot);
        if (rule == MuzzleRule::draw_back) {
            EXPECT_LT(solved.origin.z(), 0.3) << "before the post";
            EXPECT_LT(inside.shot(solved)->point.z(), 0.5) << "which is hit, not passed";
        }
    }
    // A wall nearer than the muzzle is long: the shot must not leave beyond it.
    Yard close{{}, 0.5};
    const AimSolution solved = close.solve();
    EXPECT_EQ(solved.muzzle, MuzzleState::inside);
    EXPECT_NEAR(close.shot(solved)->point.z(), 0.5, 1e-6);
    Yard beside{{{0, 1, 0.4}}};
    EXPECT_EQ(beside.solve().muzzle, MuzzleState::past) << "seen nearer than the muzzle, and not in its way";
}

TEST(Lead, WhatIsLaunchedAsItSaysMeetsTheTarget) {
    Draw draw{63};
    const Scene nothing;
    int met = 0;
    double worst = 0.0;
    for (int round = 0; round < 300; ++round) {
        ProjectileSpec spec{.id = "seed", .speed = draw(15, 120), .inherit = draw(0, 1)};
        spec.gravity = draw.below(4) == 0 ? 0.0 : 9.81;
        spec.drag = draw.below(3) == 0 ? 0.0 : draw(0, 0.02);
        LeadQuestion question{.muzzle = draw.point(2),
                              .shooter_velocity = draw.point(6),
                              .target = draw.point(40),
                              .velocity = draw.point(8)};
        const Leads leads = solve_lead(spec, question);
        EXPECT_TRUE(leads.low || !leads.high);
        EXPECT_TRUE(!leads.high || leads.low->flight < leads.high->flight);
        for (const auto& lead : {leads.low, leads.high}) {
            if (!lead) {
                continue;
            }
            ProjectilePool pool{spec, 1};
            std::vector<ProjectileEvent> events;
            const auto handle = pool.launch({.muzzle = question.muzzle,
                                             .direction = lead->direction,
                                             .shooter_velocity = question.shooter_velocity},
                                            events);
            pool.advance(nothing, {}, {Time{}, Time{lead->flight}}, events);
            const Vector3 target = question.target + to_seconds(lead->flight) * question.velocity;
            ASSERT_TRUE(pool.find(*handle));
            worst = std::max(worst, (pool.find(*handle)->position - target).norm());
            ++met;
        }
    }
    EXPECT_GT(met, 250);
    EXPECT_LT(worst, 2e-3) << "the pool's chords, and a millimetre";
}

TEST(Lead, HasNoAnswerOutOfReachAndTwoArcsWithin) {
    const ProjectileSpec spec{.id = "seed", .speed = 30, .lifetime = std::chrono::seconds{20}};
    const double reach = 30.0 * 30.0 / 9.81; // v^2 / g, on level ground
    EXPECT_FALSE(solve_lead(spec, {.target = {0, 0, 1.001 * reach}}).low);
    const Leads leads = solve_lead(spec, {.target = {0, 0, 0.5 * reach}});
    ASSERT_TRUE(leads.low && leads.high);
    EXPECT_NEAR(to_degrees(look_of(leads.low->direction).pitch), 15.0, 1e-6);
    EXPECT_NEAR(to_degrees(look_of(leads.high->direction).pitch), 75.0, 1e-6);
    EXPECT_FALSE(flight_time(spec, 2 * reach));
    EXPECT_EQ(flight_time({.id = "dart", .speed = 50, .gravity = 0}, 100.0), std::chrono::seconds{2});
    EXPECT_FALSE(
        solve_lead({.id = "slow", .speed = 5, .gravity = 0}, {.target = {0, 0, 9}, .velocity = {0, 0, 6}})
            .low)
        << "it flies off faster";
}

// A launch as it says meets what the eye sees, from the muzzle of a barrel that turns with it.
TEST(Launch, MeetsWhatTheEyeSees) {
    Draw draw{65};
    Yard yard{{}};
    int met = 0;
    for (int round = 0; round < 200; ++round) {
        ProjectileSpec spec{.id = "seed", .speed = draw(25, 120), .inherit = draw(0, 1)};
        spec.gravity = round % 4 == 0 ? 0.0 : 9.81;
        spec.drag = round % 3 == 0 ? 0.0 : draw(0, 0.02);
        LaunchQuestion question{.aim = yard.question, .shooter_velocity = draw.point(6)};
        question.aim.eye.direction = direction_of({draw(-0.8, 0.8), draw(-0.3, 0.3)});
        question.barrel = round % 2 == 0 ? 0.0 : draw(0.2, 0.9);
        question.high_arc = round % 5 == 0;
        const Filter filter{.ignores = {BodyId{1}}};
        const LaunchSolution shot = solve_launch(yard.scene, spec, question, filter);
        ASSERT_TRUE(shot.aim.seen);
        if (!shot.lead) {
            continue;
        }
        ++met;
        const Vector3 muzzle = question.barrel > 0.0
                                   ? Vector3(question.aim.grip + question.barrel * shot.aim.direction)
                                   : question.aim.muzzle;
        EXPECT_LT((shot.aim.origin - muzzle).norm(), 1e-5);
        ProjectilePool pool{spec, 1};
        std::vector<ProjectileEvent> events;
        const auto handle = pool.launch({.muzzle = shot.aim.origin,
                                         .direction = shot.aim.direction,
                                         .shooter_velocity = question.shooter_velocity},
                                        events);
        pool.advance(Scene{}, {}, {Time{}, Time{shot.lead->flight}}, events);
        ASSERT_TRUE(pool.find(*handle));
        EXPECT_LT((pool.find(*handle)->position - shot.aim.aim_point).norm(), 5e-3);
        // Without gravity, drag and inherited velocity it is the aim itself.
        spec = {.id = "straight", .speed = 50, .gravity = 0};
        question.barrel = 0.0;
        const AimSolution aim = solve_aim(yard.scene, question.aim, filter);
        EXPECT_LT((solve_launch(yard.scene, spec, question, filter).aim.direction - aim.direction).norm(),
                  1e-6);
    }
    EXPECT_GT(met, 150);
    const ProjectileSpec slow{.id = "slow", .speed = 3};
    EXPECT_FALSE(solve_launch(yard.scene, slow, {.aim = yard.question}, {.ignores = {BodyId{1}}}).lead);
}

TEST(Turret, TurnsWithinItsArcsAtItsRateAndGetsThereAtAnyTickRate) {
    Draw draw{64};
    for (int round = 0; round < 500; ++round) {
        TurretSpec spec{draw(0.1, pi),  draw(0.1, pi), draw(0.1, 1.5),
                        draw(0.1, 1.5), draw(0.5, 4),  draw(0.5, 4)};
        if (draw.below(3) == 0) {
            spec.left = spec.right = pi;
        }
        const Look wanted{draw(-pi, pi), draw(-1.5, 1.5)};
        const Look start = within_arcs(spec, {draw(-pi, pi), draw(-1.5, 1.5)});
        Look ends[2];
        for (int way = 0; way < 2; ++way) {
            const int hertz = way == 0 ? 20 : 144;
            TurretTurn turn{start};
            for (Tick tick = 0; tick < hertz / 2; ++tick) {
                const Span span = tick_span(tick, {hertz});
                const Look before = turn.look;
                turn = slew(spec, turn.look, wanted, span.end - span.begin);
                const double seconds = to_seconds(span.end - span.begin);
                EXPECT_LE(std::abs(std::remainder(turn.look.yaw - before.yaw, 2 * pi)),
                          spec.yaw_rate * seconds + 1e-12);
                EXPECT_LE(std::abs(turn.look.pitch - before.pitch), spec.pitch_rate * seconds + 1e-12);
                EXPECT_EQ(within_arcs(spec, turn.look), turn.look);
            }
            ends[way] = turn.look;
            const TurretTurn done = slew(spec, start, wanted, std::chrono::seconds{60});
            EXPECT_EQ(done.look, within_arcs(spec, wanted));
            EXPECT_EQ(done.on_target, done.in_arcs);
        }
        EXPECT_NEAR(std::remainder(ends[0].yaw - ends[1].yaw, 2 * pi), 0.0, 1e-9);
        EXPECT_NEAR(ends[0].pitch, ends[1].pitch, 1e-9);
    }
    TurretSpec wide;
    wide.tolerance = 0.1;
    EXPECT_TRUE(slew(wide, {0, 0}, {0.09, -0.05}, Duration{}).on_target);
    EXPECT_FALSE(slew(wide, {0, 0}, {0.11, 0}, Duration{}).on_target);
    // Not through the gap behind it: from far left to far right the way leads by the front.
    const TurretSpec spec{.left = 3.0, .right = 3.0};
    EXPECT_LT(slew(spec, {2.9, 0}, {-2.9, 0}, std::chrono::milliseconds{100}).look.yaw, 2.9);
    const Pose base{{1, 2, 3}, turned_to({0.7, 0})};
    const Look ahead = turret_look(base, direction_of({0.7, 0.2}));
    EXPECT_NEAR(ahead.yaw, 0.0, 1e-12);
    EXPECT_LT((turret_direction(base, ahead) - direction_of({0.7, 0.2})).norm(), 1e-12);
}

} // namespace
} // namespace avrek
