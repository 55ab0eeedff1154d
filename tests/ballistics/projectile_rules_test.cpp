#include "../rounds.h"
#include "../scene/random_scene.h"
#include "flights.h"
#include <avrek/ballistics/hitscan.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <map>
#include <tuple>

namespace avrek {
namespace {

using std::chrono::milliseconds;
using trial::catcher;
using trial::fly;
using trial::fly_one;
using trial::seed;
using trial::thrower;

struct FiringRange {
    RigSpec rig{{{"all", {Capsule{{0, 0.3, 0}, {0, 1.5, 0}, 0.3}}}}};
    Scene scene{Level{{{HalfSpace{}, SurfaceId{1}}, {Box{{{0, 1, 20}}, {5, 1, 0.1}}, SurfaceId{2}}}}};
    std::vector<SurfaceSpec> surfaces{{"ground", 0.5, 0.2}, {"board", 0.5, 0.2, 1.57, 100.0}};

    FiringRange() { EXPECT_TRUE(scene.add({catcher, &rig, {{0, 0, 10}}, TeamId{1}})); }

    void walk(const Vector3& velocity) {
        for (Tick tick = 0; tick < 60; ++tick) {
            const Time at = tick_span(tick, {20}).end;
            scene.begin_frame(at);
            scene.move(catcher, {Vector3{0, 0, 10} + to_seconds(at.time_since_epoch()) * velocity});
        }
    }
};

TEST(Projectiles, BounceUntilTheirCountDistanceOrSpeedEnds) {
    const FiringRange range;
    ProjectileSpec spec = seed();
    spec.drag = 0.0;
    spec.speed = 8.0;
    spec.bounce.count = 3;
    const Launch launch{.at = Time{}, .muzzle = {3, 2, 0}, .direction = direction_of({0, -0.5})};
    auto events = fly_one(spec, launch, range.scene, {60}, range.surfaces);
    ASSERT_EQ(events.size(), 4U);
    for (std::size_t index = 0; index < 3; ++index) {
        EXPECT_EQ(events[index].kind, ProjectileEventKind::bounced);
        const Vector3 leaves = bounced(events[index].velocity, world_up(), 0.5, 0.2);
        EXPECT_NEAR(leaves.y(), -0.5 * events[index].velocity.y(), 1e-12);
        // The next leg begins where this one ended, and comes down as fast as it went up.
        EXPECT_EQ(events[index + 1].since, events[index].at);
        EXPECT_EQ(events[index + 1].from, events[index].point);
        EXPECT_EQ(events[index].velocity_after, leaves);
        EXPECT_NEAR(events[index + 1].velocity.y(), -leaves.y(), 1e-2);
        EXPECT_NEAR(events[index + 1].velocity.z(), leaves.z(), 1e-9);
    }
    EXPECT_EQ(events[3].kind, ProjectileEventKind::stopped);
    spec.bounce.distance = 2.0;
    events = fly_one(spec, launch, range.scene, {60}, range.surfaces);
    EXPECT_EQ(events.back().kind, ProjectileEventKind::expired);
    EXPECT_NEAR(events.back().flown - events.front().flown, 2.0, 1e-6);
    spec.distance = 3.0;
    events = fly_one(spec, launch, range.scene, {60}, range.surfaces);
    EXPECT_EQ(events.back().kind, ProjectileEventKind::expired);
    EXPECT_NEAR(events.back().flown, 3.0, 1e-6) << "in all, and the first of both limits counts";
    spec.distance = 1e9;
    spec.bounce = {.count = 100, .min_speed = 3.0};
    events = fly_one(spec, launch, range.scene, {60}, range.surfaces);
    EXPECT_LT(bounced(events.back().velocity, world_up(), 0.5, 0.2).norm(), 3.0);
    std::vector<SurfaceSpec> steep = range.surfaces;
    steep[0].grazing_angle = from_degrees(20);
    EXPECT_EQ(fly_one(spec, launch, range.scene, {60}, steep).front().kind, ProjectileEventKind::stopped);
}

TEST(Projectiles, PierceWhatTheirEnergyPaysFor) {
    const FiringRange range;
    ProjectileSpec spec = seed();
    spec.gravity = spec.drag = 0.0;
    spec.pierce = {100.0, 30.0};
    const Launch launch{.at = Time{}, .muzzle = {0, 1, 0}};
    auto events = fly_one(spec, launch, range.scene, {60}, range.surfaces);
    ASSERT_EQ(events.size(), 3U);
    EXPECT_EQ(events[0].hit->body, catcher);
    EXPECT_EQ(events[0].power, 1.0);
    EXPECT_EQ(events[1].kind, ProjectileEventKind::pierced);
    EXPECT_NEAR(events[1].power, 0.7, 1e-12);
    EXPECT_EQ(events[2].kind, ProjectileEventKind::expired);
    EXPECT_NEAR(events[2].power, 0.5, 1e-6) << "the board is 0.2 m of 100 for each metre";
    spec.pierce.energy = 49.0;
    events = fly_one(spec, launch, range.scene, {60}, range.surfaces);
    EXPECT_EQ(events.back().kind, ProjectileEventKind::stopped);
    EXPECT_NEAR(events.back().power, 19.0 / 49.0, 1e-12);
}

TEST(Projectiles, GoOffByTheirFuseNearBodiesOrWhereTheyStop) {
    FiringRange range;
    range.walk({2, 0, 0});
    ProjectileSpec spec = seed();
    spec.gravity = spec.drag = 0.0;
    spec.speed = 10;
    spec.blast.radius = 3;
    const auto last = [&](const Launch& launch) {
        return fly_one(spec, launch, range.scene, {20}, range.surfaces).back();
    };
    spec.fuse = milliseconds{500};
    EXPECT_EQ(last({.muzzle = {0, 1, 0}}).at, Time{milliseconds{500}});
    EXPECT_EQ(last({.muzzle = {0, 1, 0}}).kind, ProjectileEventKind::exploded);
    spec.fuse = Duration::zero();
    const Launch beside{.muzzle = {3.6, 1, 0}, .team = TeamId{0}};
    EXPECT_EQ(last(beside).hit->surface, SurfaceId{2}) << "passes the body";
    spec.proximity = 1.5;
    EXPECT_EQ(last(beside).kind, ProjectileEventKind::exploded);
    EXPECT_LT(last(beside).point.z(), 10.0);
    EXPECT_EQ(last({.muzzle = {3.6, 1, 0}, .team = TeamId{1}}).hit->surface, SurfaceId{2})
        << "of its own team";
    spec.arming_distance = 15;
    EXPECT_GT(last(beside).point.z(), 14.9) << "not before it is armed";
    spec = seed();
    spec.gravity = 0;
    spec.sticks = true;
    spec.fuse = milliseconds{1500};
    // Launched to meet the body where it will be.
    const auto events = fly_one(spec, {.muzzle = {0.5, 1, 0}}, range.scene, {20}, range.surfaces);
    ASSERT_EQ(events.size(), 3U);
    EXPECT_EQ(events[1].kind, ProjectileEventKind::stuck);
    EXPECT_EQ(events[2].kind, ProjectileEventKind::exploded);
    EXPECT_NEAR(events[2].point.x() - events[1].point.x(), 2 * to_seconds(events[2].at - events[1].at), 1e-6)
        << "carried along";
}

// A body in any layer that stops shots is met, as hitscan meets it; filters say what else is.
TEST(Projectiles, MeetWhatTheirFilterSays) {
    for (const CollisionLayer layer :
         {CollisionLayer::bodies, CollisionLayer::level, CollisionLayer::glass, CollisionLayer::foliage}) {
        FiringRange range;
        ASSERT_TRUE(range.scene.assign(catcher, TeamId{3}, layer));
        ProjectileSpec spec = seed();
        spec.gravity = spec.drag = 0.0;
        Launch launch{.muzzle = {0, 1, 0}};
        const auto met = [&] { return fly_one(spec, launch, range.scene)[0].hit->body; };
        const auto path = fire_hitscan(range.scene, launch.muzzle, launch.direction, 30, {});
        EXPECT_EQ(met(), path.hit->body) << to_string(layer);
        launch.hits = {CollisionLayer::level, layer};
        EXPECT_EQ(met(), catcher);
        launch.teams = TeamSet::all_but(TeamId{3});
        EXPECT_NE(met(), catcher) << "of a team that it passes";
        launch.teams = {};
        launch.ignores = {&catcher, 1};
        EXPECT_NE(met(), catcher);
    }
}

// From inside its own hull it flies out, however long the hull is, and comes back to it from outside.
TEST(Projectiles, LeaveTheHullThatTheyAreFiredFrom) {
    RigSpec hull{{{"hull", {Box{{{0, 1, 4}, Rotation::Identity()}, {1, 1, 5}}}}}, {}};
    Scene scene{Level{{{Box{{{0, 1, 30}, Rotation::Identity()}, {5, 5, 1}}, SurfaceId{1}}}}};
    ASSERT_TRUE(scene.add({thrower, &hull, {}}));
    ProjectileSpec spec = seed();
    spec.gravity = spec.drag = 0.0;
    spec.bounce.count = 1;
    const Launch launch{.muzzle = {0, 1, 0}, .shooter = thrower};
    const auto events = fly_one(spec, launch, scene);
    ASSERT_EQ(events.size(), 2U);
    EXPECT_NEAR(events[0].point.z(), 28.95, 1e-6) << "it bounces off the wall";
    EXPECT_EQ(events[1].hit->body, thrower);
    EXPECT_NEAR(events[1].point.z(), 9.05, 1e-6) << "and hits the hull from outside";
    spec.self_hit_after = 60;
    EXPECT_EQ(fly_one(spec, launch, scene).back().kind, ProjectileEventKind::expired);
}

TEST(Projectiles, IgnoreTheirShooterForAWhileAndTurnToTheirTarget) {
    FiringRange range;
    ASSERT_TRUE(range.scene.add({thrower, &range.rig, {{0, 0, 0}}}));
    ProjectileSpec spec = seed();
    spec.gravity = spec.drag = 0.0;
    const Launch at_self{.muzzle = {0, 1, -0.9}, .shooter = thrower};
    EXPECT_EQ(fly_one(spec, at_self, range.scene)[0].hit->body, catcher);
    spec.self_hit_after = 0.0;
    EXPECT_EQ(fly_one(spec, at_self, range.scene)[0].hit->body, thrower);
    spec = seed();
    spec.gravity = 0.0;
    spec.speed = 10.0;
    const Launch aside{.muzzle = {-6, 1, 0}, .shooter = thrower, .target = catcher, .aim_at = {0, 1, 0}};
    EXPECT_EQ(fly_one(spec, aside, range.scene).back().kind, ProjectileEventKind::expired);
    spec.turn_rate = 2.0;
    EXPECT_EQ(fly_one(spec, aside, range.scene).back().hit->body, catcher);
}

TEST(Projectiles, ComeFromPoolsThatRefuseWhenTheyAreFull) {
    const Scene nothing;
    ProjectilePool pool{seed(), 2};
    std::vector<ProjectileEvent> events;
    const auto one = pool.launch({.at = Time{}}, events);
    const auto two = pool.launch({.at = Time{milliseconds{5}}}, events);
    ASSERT_TRUE(one && two);
    EXPECT_FALSE(pool.launch({.at = Time{milliseconds{6}}}, events));
    EXPECT_EQ(events.back().kind, ProjectileEventKind::refused);
    EXPECT_EQ(pool.size(), 2U);
    const ProjectilePool before = pool;
    pool.advance(nothing, {}, tick_span(0, {60}), events);
    EXPECT_NE(pool.state_hash(), before.state_hash());
    EXPECT_NEAR(pool.find(*two)->position.z(), 40 * (1 / 60.0 - 0.005), 0.01);
    EXPECT_TRUE(pool.remove(*one));
    EXPECT_FALSE(pool.remove(*one));
    const auto three = pool.launch({.at = Time{milliseconds{20}}}, events);
    ASSERT_TRUE(three);
    EXPECT_EQ(pool.find(*one), std::nullopt) << "its place is taken by another";
    std::array<ProjectileHandle, 4> there;
    ASSERT_EQ(pool.list(there), 2U);
    EXPECT_EQ(there[0], *two);
    EXPECT_EQ(there[1], *three);
}

// Copies fly as the originals, and one that is made to stick goes where its body goes.
TEST(Projectiles, CopiesFlyOnAndStickWhereTheyAreTold) {
    FiringRange range;
    range.walk({2, 0, 0});
    Draw draw{31};
    ProjectileSpec spec = seed();
    spec.sticks = true;
    ProjectilePool pool{spec, 32};
    ProjectilePool twin{spec, 48};
    std::vector<ProjectileEvent> events;
    for (int number = 0; number < 32; ++number) {
        pool.launch({.at = Time{milliseconds{25 * number}},
                     .muzzle = {draw(-4, 4), draw(0.5, 3), 0},
                     .direction = direction_of({draw(-0.3, 0.3), draw(-0.2, 0.6)}),
                     .shooter = thrower},
                    events);
    }
    for (Tick tick = 0; tick < 48; ++tick) {
        pool.advance(range.scene, {}, tick_span(tick, {64}), events);
        twin.advance(range.scene, {}, tick_span(tick, {64}), events);
    }
    twin.add_copies(pool);
    ASSERT_EQ(twin.size(), pool.size());
    const auto first = std::find_if(events.begin(), events.end(), [&](const ProjectileEvent& event) {
        return event.kind == ProjectileEventKind::launched && pool.find(event.projectile) &&
               !pool.find(event.projectile)->stuck;
    });
    ASSERT_NE(first, events.end());
    for (ProjectilePool* one : {&pool, &twin}) {
        std::array<ProjectileHandle, 48> there;
        const std::size_t count = one->list(there);
        for (std::size_t index = 0; index < count; ++index) {
            if (one->find(there[index])->number == first->number) {
                EXPECT_TRUE(one->stick(there[index], catcher, {0.3, 1.2, -0.3}, range.scene));
            }
        }
        for (Tick tick = 48; tick < 64; ++tick) {
            one->advance(range.scene, {}, tick_span(tick, {64}), events);
        }
    }
    EXPECT_EQ(twin.size(), pool.size());
    std::array<ProjectileHandle, 48> there;
    std::array<ProjectileHandle, 48> copies;
    for (std::size_t index = 0; index < pool.list(there); ++index) {
        (void)twin.list(copies);
        const ProjectileReadout one = *pool.find(there[index]);
        EXPECT_EQ(one.position, twin.find(copies[index])->position) << one.number;
        EXPECT_EQ(one.number, twin.find(copies[index])->number);
        if (one.number == first->number) {
            EXPECT_TRUE(one.stuck);
            EXPECT_NEAR(one.position.x(), 0.3 + 2 * 1.0, 1e-6);
        }
    }
    twin.clear();
    EXPECT_EQ(twin.size(), 0U);
    EXPECT_EQ(twin.list(there), 0U);
}

using What = std::tuple<Time, ProjectileEventKind, double, double, double>;

// Events of each projectile, whatever happened to others in between.
std::map<std::uint64_t, std::vector<What>> by_number(const std::vector<ProjectileEvent>& events) {
    std::map<std::uint64_t, std::vector<What>> all;
    for (const ProjectileEvent& event : events) {
        all[event.number].emplace_back(event.at, event.kind, event.point.x(), event.point.y(),
                                       event.point.z());
    }
    return all;
}

TEST(Projectiles, LaunchedLateFlyAsThoseThatWereInTime) {
    Draw draw{71};
    for (int round = 0; round < 60; ++round) {
        const RandomScene random{draw};
        ProjectileSpec spec = seed();
        spec.sticks = draw.below(4) == 0;
        spec.fuse = draw.below(2) == 0 ? from_seconds(draw(0.1, 0.6)) : Duration{};
        spec.turn_rate = draw.below(3) == 0 ? 2.0 : 0.0;
        spec.bounce.count = static_cast<std::int32_t>(draw.below(4));
        ProjectilePool in_time{spec, 8};
        ProjectilePool late{spec, 8};
        std::vector<ProjectileEvent> expected;
        std::vector<ProjectileEvent> events;
        for (Tick tick = 0; tick < 60; ++tick) {
            const Span span = tick_span(tick, {50});
            if (tick % 7 == 0) {
                const Launch launch{.at = span.begin +
                                          Duration{static_cast<Duration::rep>(draw.below(19'000'000))},
                                    .muzzle = draw.point(3),
                                    .direction = draw.direction(),
                                    .shooter = thrower};
                in_time.launch(launch, expected);
                in_time.advance(random.scene, {}, span, expected);
                late.advance(random.scene, {}, span, events);
                late.launch_late(launch, random.scene, {}, events);
            } else {
                in_time.advance(random.scene, {}, span, expected);
                late.advance(random.scene, {}, span, events);
            }
        }
        EXPECT_EQ(by_number(events), by_number(expected)) << "round " << round;
        EXPECT_EQ(late.size(), in_time.size());
    }
}

} // namespace
} // namespace avrek
