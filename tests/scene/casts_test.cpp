#include "ask_often.h"
#include <avrek/core/state_bytes.h>

#include <algorithm>
#include <array>
#include <cstdlib>
#include <set>

namespace avrek {
namespace {

TEST(Scene, FindsTheClosestHitAndAllHitsAsBruteForceDoes) {
    ask_often(1, [](Draw& draw, const RandomScene& random, int trial) {
        const Filter filter = random.filter(draw);
        const Cast cast = random_cast(draw);
        std::optional<Hit> expected;
        std::size_t entries = 0;
        std::set<std::uint32_t> parts; // parts of the level in the way
        random.each(filter, cast.begin, [&](Hit hit, const Pose& pose, const auto& shape) {
            if (const auto entry =
                    sweep(hit.body ? to_local(pose, cast.ray) : cast.ray, cast.radius, shape)) {
                ++entries;
                if (!hit.body) {
                    parts.insert(hit.part);
                }
                hit.distance = entry->distance;
                hit.normal = !hit.body       ? entry->normal
                             : entry->inside ? -cast.ray.direction
                                             : pose.rotation * entry->normal;
                if (!expected || is_before(hit, *expected)) {
                    expected = hit;
                }
            }
        });
        expect_same(random.scene.closest_hit(cast, filter), expected, trial);
        ASSERT_EQ(random.scene.any_hit(cast, filter), expected.has_value()) << "trial " << trial;
        const auto part = random.scene.any_part(cast, filter.level ? filter.hits : CollisionLayers{});
        ASSERT_TRUE(part ? parts.contains(*part) : parts.empty()) << "trial " << trial;

        std::array<Hit, 200> all;
        const std::size_t count = random.scene.every_hit(cast, filter, all);
        const auto end = all.begin() + static_cast<std::ptrdiff_t>(count);
        ASSERT_TRUE(
            std::is_sorted(all.begin(), end, [](const Hit& a, const Hit& b) { return a.share < b.share; }));
        const auto is_exit = [&](const Hit& hit) {
            return hit.back && (hit.body || hit.part < random.scene.level().pieces().size());
        };
        ASSERT_EQ(count - static_cast<std::size_t>(std::count_if(all.begin(), end, is_exit)), entries)
            << "trial " << trial;
        std::array<Hit, 2> few;
        ASSERT_EQ(random.scene.every_hit(cast, filter, few), std::min<std::size_t>(count, 2));
        for (std::size_t index = 0; index < std::min<std::size_t>(count, 2); ++index) {
            ASSERT_EQ(few[index].point, all[index].point);
        }
    });
}

// Long casts at one body after the other, with many in one call.
TEST(Scene, AnswersManyCastsAsOneByOne) {
    ask_often(5, [](Draw& draw, const RandomScene& random, int trial) {
        if (trial % 20 != 0) {
            return;
        }
        const Filter filter = random.filter(draw);
        std::vector<Cast> casts(draw.below(150));
        const bool with_balls = draw.below(3) == 0;
        for (Cast& cast : casts) {
            cast = random_cast(draw);
            cast.radius = with_balls ? cast.radius : 0.0;
            // Most are of one cone with the one before.
            if (&cast != casts.data() && draw.below(8) != 0) {
                const Cast& last = *(&cast - 1);
                const double apart = draw.below(20) == 0 ? 2.0 : 0.2;
                cast.ray.origin = last.ray.origin;
                cast.ray.direction = (last.ray.direction + apart * draw.point(1)).normalized();
            }
        }
        std::vector<std::optional<Hit>> hits(casts.size(), Hit{});
        const auto met = std::make_unique<bool[]>(casts.size());
        random.scene.closest_hits(casts, filter, hits);
        random.scene.any_hits(casts, filter, {met.get(), casts.size()});
        for (std::size_t index = 0; index < casts.size(); ++index) {
            expect_same(hits[index], random.scene.closest_hit(casts[index], filter), trial);
            ASSERT_EQ(met[index], hits[index].has_value()) << "trial " << trial;
        }
    });
}

// The capsules that make casts quick are no part of the state.
TEST(Scene, AnswersAlikeOnceItIsRestored) {
    int hits = 0;
    ask_often(7, [&](Draw& draw, const RandomScene& random, int trial) {
        if (trial % 100 != 0 || random.bodies.empty()) {
            return;
        }
        StateWriter counts{{}};
        random.scene.save(counts);
        std::vector<std::byte> saved(counts.size());
        StateWriter writer{saved};
        random.scene.save(writer);
        Scene restored = random.scene;
        StateReader reader{saved};
        ASSERT_TRUE(restored.restore(reader));
        for (int question = 0; question < 100; ++question) {
            Cast cast = random_cast(draw);
            if (draw.below(2) == 0 && cast.begin != present) {
                cast.end = cast.begin + milliseconds{draw.below(100)};
            }
            const SceneBody& aimed = random.bodies[draw.below(random.bodies.size())];
            const Vector3 target = random.scene.pose_of(aimed.id, cast.begin).value_or(Pose{}).position;
            cast.ray.direction = (target + draw.point(0.5) - cast.ray.origin).normalized();
            const auto hit = random.scene.closest_hit(cast, {});
            hits += hit && hit->body ? 1 : 0;
            expect_same(restored.closest_hit(cast, {}), hit, trial);
        }
    });
    EXPECT_GT(hits, enough(1000));
}

// Bodies come, go, walk, turn and jump, before and after the tree over them is built.
TEST(Scene, AnswersAlikeWithATreeOverItsBodies) {
    Draw draw{8};
    const RigSpec rig{{{"head", {Sphere{{0, 0.2, 0}, 0.15}}, 1}, {"arm", {Sphere{{0, -3, 0}, 0.1}}}},
                      {{"neck", {{0, 0.1, 0}, {}}}}};
    Scene with{Level{}, {.bodies = 300, .joints = 2, .frames = 4}};
    Scene without = with;
    int hits = 0;
    for (int frame = 1; frame < 6 + rounds(34); ++frame) {
        for (Scene* scene : {&with, &without}) {
            scene->begin_frame(Time{milliseconds{50 * frame}});
        }
        const bool is_late = draw.below(3) == 0;
        const std::size_t begins = draw.below(300);
        for (std::size_t index = 0; index < 300; ++index) {
            const BodyId id{static_cast<std::uint32_t>((begins + index) % 300)};
            const Pose pose = draw.pose(8);
            const std::size_t what = draw.below(8);
            for (Scene* scene : {&with, &without}) {
                const Pose before = scene->pose_of(id).value_or(pose);
                const Pose next{before.position + 0.02 * pose.position, pose.rotation};
                if (!scene->contains(id)) {
                    ASSERT_TRUE(what < 4 || scene->add({id, &rig, pose}));
                } else if (what == 0) {
                    scene->remove(id);
                } else if (what == 1) {
                    scene->jump(id, pose);
                } else {
                    scene->move(id, std::array{next, to_world(next, rig.joints[0].rest)});
                }
            }
            if (index == 200 && is_late) {
                with.end_frame();
            }
        }
        if (!is_late) {
            with.end_frame();
        }
        for (int question = 0; question < 200; ++question) {
            Cast cast{{draw.point(8), draw.direction(), draw(0, 30)}, draw.below(2) == 0 ? 0.0 : 0.1};
            cast.begin = Time{milliseconds{50 * frame - static_cast<int>(draw.below(200))}};
            cast.end = cast.begin + milliseconds{draw.below(3) == 0 ? draw.below(100) : 0};
            const auto hit = without.closest_hit(cast, {.ignores = {BodyId{7}}});
            hits += hit ? 1 : 0;
            expect_same(with.closest_hit(cast, {.ignores = {BodyId{7}}}), hit, frame);
            std::array<Hit, 20> all;
            std::array<Hit, 20> expected;
            ASSERT_EQ(with.every_hit(cast, {}, all), without.every_hit(cast, {}, expected));
            const Volume volume = draw.volume();
            const std::size_t touched = without.overlaps(volume, cast.begin, {}, expected);
            ASSERT_EQ(with.overlaps(volume, cast.begin, {}, all), touched);
            for (std::size_t index = 0; index < touched; ++index) {
                expect_same(all[index], expected[index], frame);
            }
            expect_same(with.nearest_point(cast.ray.origin, 2.0, {}, cast.begin),
                        without.nearest_point(cast.ray.origin, 2.0, {}, cast.begin), frame);
        }
    }
    EXPECT_GT(hits, enough(300));
}

// Bodies that move and turn between frames, against many still moments in between.
TEST(Scene, MeetsBodiesThatMoveDuringACast) {
    Draw draw{6};
    int hits = 0;
    for (int trial = 0; trial < rounds(3'000); ++trial) {
        RandomScene random{draw};
        if (random.bodies.empty()) {
            continue;
        }
        Cast cast;
        cast.radius = draw(0.0, 0.2);
        cast.begin = Time{milliseconds{draw.below(400)}};
        const SceneBody& aimed = random.bodies[draw.below(random.bodies.size())];
        const Vector3 target = random.scene.pose_of(aimed.id, cast.begin)->position + draw.point(0.5);
        cast.ray = {target + draw.point(2), draw.direction(), draw.below(4) == 0 ? 0.0 : draw(0, 3)};
        if (draw.below(4) != 0) {
            cast.ray.direction = (target - cast.ray.origin).normalized();
        }
        cast.end = cast.begin + milliseconds{1 + draw.below(150)};
        const Filter filter{.hits = {CollisionLayer::bodies}};
        // The first of so many moments at which the ball overlaps a body.
        constexpr int steps = 400;
        int first = 0;
        std::array<Hit, 1> touched;
        for (; first <= steps; ++first) {
            const double share = static_cast<double>(first) / steps;
            const Time at = cast.begin + Duration{static_cast<Duration::rep>(
                                             share * static_cast<double>((cast.end - cast.begin).count()))};
            const Sphere ball{point_at(cast.ray, share * cast.ray.length), std::max(1e-9, cast.radius)};
            if (random.scene.overlaps(ball, at, filter, touched) > 0) {
                break;
            }
        }
        if (first == 0) {
            continue; // what starts in touch has rules of its own
        }
        // Straight pieces stand for arcs, and moments have gaps between them: a graze may be seen by one
        // alone, so a ball that is a little larger is not later, and a smaller one not sooner.
        const auto share_of = [&](Metres radius) {
            const auto hit = radius >= 0.0
                                 ? random.scene.closest_hit({cast.ray, radius, cast.begin, cast.end}, filter)
                                 : std::nullopt;
            hits += hit ? 1 : 0;
            return hit ? hit->share : 2.0;
        };
        constexpr Metres slack = 0.02;
        const double expected = first <= steps ? static_cast<double>(first) / steps : 2.0;
        ASSERT_LE(share_of(cast.radius + slack), expected + 0.05) << "trial " << trial;
        ASSERT_GE(share_of(cast.radius - slack), expected - 0.05) << "trial " << trial;
    }
    EXPECT_GT(hits, enough(300));
}

// Fast shots through a small ball on a body that turns as they go by.
TEST(Scene, MeetsWhatTurnsDuringALongCast) {
    Draw draw{7};
    constexpr Duration span = milliseconds{16};
    for (int trial = 0; trial < rounds(5'000); ++trial) {
        const Sphere ball{draw.point(0.5), 0.02};
        RigSpec rig{.regions = {{.name = "ball", .shapes = {ball}}}};
        if (draw.below(2) == 0) {
            rig.joints.push_back({"arm", draw.pose(0.5)});
            rig.regions[0].joint = 1;
        }
        Scene scene{Level{}, {.bodies = 1, .joints = 2, .frames = 2}};
        ASSERT_TRUE(scene.add({BodyId{1}, &rig, draw.pose(5)}));
        Pose pose = *scene.pose_of(BodyId{1});
        pose.position += draw.point(0.3);
        pose.rotation = pose.rotation * turned_to({draw(-2, 2), draw(-0.3, 0.3)});
        scene.begin_frame(Time{} + span);
        scene.move(BodyId{1}, rest_poses(rig, pose));
        const auto centre_at = [&](double share) {
            const Time at =
                Time{} + Duration{static_cast<Duration::rep>(share * static_cast<double>(span.count()))};
            return to_world(*scene.pose_of(BodyId{1}, at, rig.regions[0].joint), ball.centre);
        };
        const double share = draw(0.1, 1);
        Cast cast{{Vector3::Zero(), draw.direction(), draw(1, 60)}, 0.0, Time{}, Time{} + span};
        cast.ray.origin = centre_at(share) - share * cast.ray.length * cast.ray.direction;
        const auto hit = scene.closest_hit(cast, {});
        ASSERT_TRUE(hit) << "trial " << trial;
        ASSERT_LE(hit->share, share + 1e-6) << "trial " << trial;
        ASSERT_NEAR((hit->point - centre_at(hit->share)).norm(), ball.radius, 0.005) << "trial " << trial;
        // It leaves the ball again, unless it ends in it.
        std::array<Hit, 4> all;
        const std::size_t count = scene.every_hit(cast, {}, all);
        if ((point_at(cast.ray, cast.ray.length) - centre_at(1.0)).norm() > ball.radius + 0.005) {
            ASSERT_EQ(count, 2U) << "trial " << trial;
            ASSERT_TRUE(all[1].back);
            ASSERT_NEAR((all[1].point - centre_at(all[1].share)).norm(), ball.radius, 0.005) << trial;
        }
    }
}

// A closed mesh of random corners, all in sight from about its middle: every ray from there must leave it
// through exactly one place, also those that are aimed at its edges and corners.
TEST(Scene, LetsNoRaySlipBetweenTriangles) {
    constexpr std::uint32_t around = 24;
    constexpr std::uint32_t along = 12;
    Draw draw{4};
    LevelMesh ball;
    ball.vertices.push_back({0.0F, -9.0F, 0.0F});
    ball.vertices.push_back({0.0F, 9.0F, 0.0F});
    for (std::uint32_t ring = 1; ring < along; ++ring) {
        for (std::uint32_t index = 0; index < around; ++index) {
            const Look look{2 * pi * index / around + draw(0, 0.05), pi * ring / along - pi / 2};
            ball.vertices.push_back((draw(8, 9) * direction_of(look)).cast<float>());
        }
    }
    const auto vertex = [&](std::uint32_t ring, std::uint32_t index) {
        return 2 + (ring - 1) * around + index % around;
    };
    for (std::uint32_t index = 0; index < around; ++index) {
        ball.triangles.push_back({{0, vertex(1, index), vertex(1, index + 1)}});
        ball.triangles.push_back({{1, vertex(along - 1, index + 1), vertex(along - 1, index)}});
        for (std::uint32_t ring = 1; ring + 1 < along; ++ring) {
            ball.triangles.push_back(
                {{vertex(ring, index), vertex(ring + 1, index), vertex(ring, index + 1)}});
            ball.triangles.push_back(
                {{vertex(ring, index + 1), vertex(ring + 1, index), vertex(ring + 1, index + 1)}});
        }
    }
    const Scene scene{Level{{}, std::span{&ball, 1}}};
    const int rays = rounds(20'000, "AVREK_RANDOM_QUERIES") * 5;
    for (int trial = 0; trial < rays; ++trial) {
        const auto& corners = ball.triangles[draw.below(ball.triangles.size())].corners;
        const Vector3 a = ball.vertices[corners[0]].cast<double>();
        const Vector3 b = ball.vertices[corners[1]].cast<double>();
        const double share = draw.below(3) == 0 ? 0.0 : draw(0, 1);
        const Vector3 origin = draw.below(3) == 0 ? Vector3::Zero() : draw.point(1);
        const Vector3 way = a + share * (b - a) - origin;
        const auto hit = scene.closest_hit({{origin, way.normalized(), 100}}, {});
        ASSERT_TRUE(hit) << "trial " << trial;
        ASSERT_NEAR(hit->distance, way.norm(), 1e-9);
    }
}

} // namespace
} // namespace avrek
