#include "../rounds.h"
#include "../scene/random_scene.h"
#include "flights.h"
#include <avrek/ballistics/projectiles.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <tuple>

namespace avrek {
namespace {

using std::chrono::milliseconds;
using trial::catcher;
using trial::fly;
using trial::fly_one;
using trial::seed;
using trial::thrower;

// The same path by an integration that shares nothing with it: 4,000 steps of the midpoint method for each
// second, extrapolated from half as many.
Vector3 reference(const ProjectileSpec& spec, const Vector3& velocity, double seconds) {
    const auto end_after = [&](int steps) {
        const double h = seconds / steps;
        Vector3 x = Vector3::Zero();
        Vector3 v = velocity;
        const auto a = [&](const Vector3& u) {
            return Vector3{Vector3{0, -spec.gravity, 0} - spec.drag * u.norm() * u};
        };
        for (int step = 0; step < steps; ++step) {
            const Vector3 middle = v + 0.5 * h * a(v);
            x += h * middle;
            v += h * a(middle);
        }
        return x;
    };
    const int steps = 1 + static_cast<int>(4'000 * seconds);
    return (4.0 * end_after(2 * steps) - end_after(steps)) / 3.0;
}

TEST(Projectiles, FlyTheSamePathAtAnyTickRateAndTheTrueOne) {
    Draw draw{1};
    const Scene nothing;
    double worst = 0.0;
    for (int trial = 0; trial < rounds(40); ++trial) {
        ProjectileSpec spec = seed();
        spec.speed = trial % 4 == 0 ? draw(500, 3000) : draw(5, 200);
        spec.drag = trial % 3 == 0 ? 0.0 : draw(0, trial % 4 == 0 ? 0.005 : 0.1);
        spec.gravity = draw(0, 20);
        const Vector3 direction = draw.direction();
        const Duration launched{static_cast<Duration::rep>(draw(0, 5e7))};
        for (const TickRate rate : {TickRate{20}, TickRate{97}, TickRate{240}}) {
            ProjectilePool pool{spec, 1};
            std::vector<ProjectileEvent> events;
            const auto handle = pool.launch({.at = Time{launched}, .direction = direction}, events);
            for (Tick tick = 0; tick_span(tick, rate).begin < Time{std::chrono::seconds{2}}; ++tick) {
                const Span span = tick_span(tick, rate);
                pool.advance(nothing, {}, span, events);
                const Time at = span.end;
                if (at > Time{launched} && tick % 13 == 7) {
                    const Vector3 exact =
                        reference(spec, spec.speed * direction, to_seconds(at - Time{launched}));
                    worst = std::max(worst, (pool.find(*handle)->position - exact).norm());
                }
            }
        }
    }
    EXPECT_LT(worst, 1e-3);
    RecordProperty("worst", std::to_string(worst));
}

// Random projectiles in random levels: every event at the same nanosecond and place at any tick rate.
TEST(Projectiles, HaveTheSameEventsAtAnyTickRate) {
    Draw draw{2};
    std::array<int, 8> kinds{};
    for (int trial = 0; trial < rounds(150); ++trial) {
        const RandomScene random{draw};
        const Scene scene{random.scene.level()};
        const std::vector<SurfaceSpec> surfaces{
            {"a", 0.9, 0.1}, {"b", 0.5, 0.3, 0.6}, {"c", 0.7, 0.0, 1.5, 20.0}};
        ProjectileSpec spec = seed();
        spec.radius = draw.below(3) == 0 ? 0.0 : draw(0.01, 0.2);
        spec.bounce = {static_cast<std::int32_t>(draw.below(6)), 1.0, 1.0, draw(1, 60), 0.5};
        spec.pierce = {draw.below(2) == 0 ? 0.0 : draw(1000, 30000), 5.0};
        spec.fuse = draw.below(3) == 0 ? from_seconds(draw(0.1, 2.0)) : Duration::zero();
        spec.sticks = draw.below(4) == 0;
        spec.blast.radius = draw.below(2) == 0 ? 2.0 : 0.0;
        std::vector<Launch> launches;
        std::array<Hit, 1> inside;
        for (int index = 0; index < 10; ++index) {
            Vector3 muzzle = draw.point(8);
            for (int tries = 0; tries < 50 && scene.overlaps(Sphere{muzzle, 0.3}, present, {}, inside) > 0;
                 ++tries) {
                muzzle = draw.point(8);
            }
            launches.push_back({.at = Time{Duration{static_cast<Duration::rep>(draw(0, 1e9))}},
                                .muzzle = muzzle,
                                .direction = draw.direction()});
        }
        std::sort(launches.begin(), launches.end(),
                  [](const Launch& a, const Launch& b) { return a.at < b.at; });
        std::vector<ProjectileEvent> first;
        for (const TickRate rate : {TickRate{60}, TickRate{20}, TickRate{144}}) {
            ProjectilePool pool{spec, 16};
            std::vector<ProjectileEvent> events;
            auto next = launches.begin();
            for (Tick tick = 0; tick < 5 * rate.hertz; ++tick) {
                const Span span = tick_span(tick, rate);
                std::vector<ProjectileEvent> none;
                for (; next != launches.end() && next->at < span.end; ++next) {
                    pool.launch(*next, none);
                }
                pool.advance(scene, surfaces, span, events);
            }
            ASSERT_EQ(pool.size(), 0U);
            if (first.empty()) {
                first = events;
                for (const ProjectileEvent& event : events) {
                    ++kinds[static_cast<std::size_t>(event.kind)];
                }
                continue;
            }
            ASSERT_EQ(events.size(), first.size()) << "trial " << trial;
            for (std::size_t index = 0; index < events.size(); ++index) {
                ASSERT_EQ(events[index].kind, first[index].kind) << "trial " << trial;
                ASSERT_EQ(events[index].at, first[index].at) << "trial " << trial;
                ASSERT_EQ(events[index].point, first[index].point) << "trial " << trial;
                ASSERT_EQ(events[index].flown, first[index].flown) << "trial " << trial;
            }
        }
    }
    for (const ProjectileEventKind kind :
         {ProjectileEventKind::bounced, ProjectileEventKind::pierced, ProjectileEventKind::stopped,
          ProjectileEventKind::stuck, ProjectileEventKind::exploded, ProjectileEventKind::expired}) {
        EXPECT_TRUE(tests_are_slow || kinds[static_cast<std::size_t>(kind)] > 10) << static_cast<int>(kind);
    }
}

TEST(Projectiles, PassNothingHoweverFastThinOrMoving) {
    Draw draw{3};
    RigSpec thin{{{"wire", {Capsule{{0, -50, 0}, {0, 50, 0}, 0.001}}}}};
    ProjectileSpec spec = seed();
    spec.speed = 3000;
    spec.radius = 0.01;
    spec.drag = 0.001;
    spec.lifetime = milliseconds{300};
    for (int trial = 0; trial < rounds(300); ++trial) {
        const double distance = draw(5, 200);
        const Launch launch{.at = Time{Duration{static_cast<Duration::rep>(draw(0, 4e7))}},
                            .shooter = thrower};
        // A wall of a millimetre, as a box and as a sheet of triangles.
        const Box wall{{{0, 0, distance}, turned_to({draw(-1, 1), draw(-1, 1)})}, {400, 400, 0.0005}};
        LevelMesh sheet;
        for (const double x : {-400.0, 400.0}) {
            for (const double y : {-400.0, 400.0}) {
                sheet.vertices.push_back(to_world(wall.pose, {x, y, 0}).cast<float>());
            }
        }
        sheet.triangles = {{{0, 1, 2}}, {{1, 3, 2}}};
        for (const Scene& scene : {Scene{Level{{{wall}}}}, Scene{Level{{}, std::span{&sheet, 1}}}}) {
            const auto events = fly_one(spec, launch, scene, {20});
            ASSERT_EQ(events.size(), 1U);
            ASSERT_EQ(events[0].kind, ProjectileEventKind::stopped) << "trial " << trial;
            ASSERT_NEAR(nearest_point(wall, events[0].point).distance, spec.radius, 0.002);
        }
        // A wire that stands in the way, and one that comes across it at 50 m/s just as the projectile gets
        // there.
        Scene scene{Level{}, {.bodies = 1, .frames = 16}};
        const double speed = trial % 2 == 0 ? 0.0 : 50.0;
        const double meets = to_seconds(launch.at.time_since_epoch()) + distance / spec.speed;
        const auto pose_at = [&](double seconds) { return Pose{{speed * (seconds - meets), 0, distance}}; };
        ASSERT_TRUE(scene.add({catcher, &thin, pose_at(0)}));
        for (Tick tick = 0; tick < 8; ++tick) {
            scene.begin_frame(tick_span(tick, {20}).end);
            scene.move(catcher, pose_at(0.05 * static_cast<double>(tick + 1)));
        }
        spec.drag = 0.0;
        const auto events = fly_one(spec, launch, scene, {20});
        ASSERT_EQ(events.at(0).kind, ProjectileEventKind::stopped) << "trial " << trial;
        ASSERT_EQ(events[0].hit->body, catcher);
        ASSERT_NEAR(events[0].point.z(), distance, 0.1);
    }
}

} // namespace
} // namespace avrek
