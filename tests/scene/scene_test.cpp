#include "ask_often.h"
#include <avrek/ballistics/hitscan.h>

#include <algorithm>

namespace avrek {
namespace {

TEST(Scene, FindsOverlapsAndNearestPointsAsBruteForceDoes) {
    ask_often(2, [](Draw& draw, const RandomScene& random, int trial) {
        const Filter filter = random.filter(draw);
        const Time at = draw.below(2) == 0 ? present : Time{} + milliseconds{draw.below(500)};
        const Volume volume = draw.volume();
        const double within = draw(0.01, 6);
        const Vector3 centre = centre_of(volume);
        std::vector<Hit> touched;
        std::optional<Hit> nearest;
        random.each(filter, at, [&](Hit hit, const Pose& pose, const auto& shape) {
            Nearest near;
            bool touches = false;
            if constexpr (std::is_same_v<std::decay_t<decltype(shape)>, Triangle>) {
                near = nearest_point(shape, centre);
                touches = overlap(volume, shape);
            } else {
                const Shape placed = hit.body ? to_world(pose, shape) : shape;
                near = nearest_point(placed, centre);
                touches = overlap(volume, placed);
            }
            hit.distance = near.distance;
            hit.normal = near.normal;
            if (hit.distance < within && (!nearest || is_before(hit, *nearest))) {
                nearest = hit;
            }
            if (!touches) {
                return;
            }
            auto same = std::find_if(touched.begin(), touched.end(),
                                     [&](const Hit& other) { return other.body == hit.body; });
            if (same == touched.end()) {
                touched.push_back(hit);
            } else if (is_before(hit, *same)) {
                *same = hit;
            }
        });
        expect_same(random.scene.nearest_point(centre, within, filter, at), nearest, trial);
        std::sort(touched.begin(), touched.end(), [](const Hit& a, const Hit& b) { return a.body < b.body; });
        std::array<Hit, 10> found;
        ASSERT_EQ(random.scene.overlaps(volume, at, filter, found), touched.size()) << "trial " << trial;
        for (std::size_t index = 0; index < touched.size(); ++index) {
            expect_same(found[index], touched[index], trial);
        }
        ASSERT_EQ(random.scene.overlaps(volume, at, filter, std::span{found}.first(1)),
                  std::min<std::size_t>(touched.size(), 1));
    });
}

// Two convex solids overlap when going to and fro between their nearest points leads to no distance.
TEST(Scene, TellsOverlapsOfSingleShapesAsAlternatingProjectionsDo) {
    Draw draw{3};
    int overlaps = 0;
    for (int trial = 0; trial < rounds(2'000); ++trial) {
        const Volume volume = draw.volume();
        const Solid solid = draw.solid();
        const auto into = [](const auto& to, const Vector3& point) {
            const Nearest nearest =
                std::visit([&](const auto& shape) { return nearest_point(shape, point); }, to);
            return nearest.distance <= 0.0 ? point : nearest.point;
        };
        Vector3 there = draw.point(1);
        double gap = 1.0;
        for (int step = 0; step < 3'000 && gap > 1e-9; ++step) {
            const Vector3 here = into(volume, there);
            there = into(solid, here);
            gap = (there - here).norm();
        }
        const bool found = std::visit([&](const auto& other) { return overlap(volume, other); }, solid);
        overlaps += found ? 1 : 0;
        ASSERT_TRUE(found ? gap < 1e-2 : gap > 1e-8) << "kinds " << volume.index() << ", " << solid.index()
                                                     << " in trial " << trial << ", gap " << gap;
    }
    EXPECT_GT(overlaps, enough(400));
    EXPECT_LT(overlaps, 1'500);
}

constexpr SurfaceId glass{3};
constexpr SurfaceId soil{4};

RigSpec two_balls() {
    return {{{"upper", {Sphere{{0, 2, 0}, 0.5}}},
             {"lower", {Sphere{{0, 1, 0}, 0.5}, Sphere{{0, 0.5, 0}, 0.25}}}}};
}

struct Greenhouse {
    RigSpec rig = two_balls();
    Scene scene{Level{{{HalfSpace{world_up(), 0}, soil},
                       {Box{{{0, 1, 20}, Rotation::Identity()}, {5, 1, 0.5}}, glass}}},
                {.bodies = 2, .frames = 3}};

    Greenhouse() {
        EXPECT_TRUE(scene.add({BodyId{7}, &rig, {{0, 0, 10}, Rotation::Identity()}, TeamId{1}}));
        EXPECT_TRUE(scene.add({BodyId{2}, &rig, {{0, 0, 5}, turned_to({1, 0})}}));
    }

    std::optional<Hit> hit(double height, const Filter& filter, Time at = present) const {
        return scene.closest_hit({.ray = {{0, height, 0}, world_forward(), 100}, .begin = at}, filter);
    }
};

TEST(Scene, HitsTheNearestThingThatTheFilterNames) {
    const Greenhouse house;
    const auto first = house.hit(2.0, {});
    ASSERT_TRUE(first);
    EXPECT_EQ(first->body, BodyId{2});
    EXPECT_EQ(first->region, RegionId{0});
    EXPECT_NEAR(first->distance, 4.5, 1e-12);
    EXPECT_LT((first->point - Vector3(0, 2, 4.5)).norm(), 1e-12);
    EXPECT_LT((first->normal + world_forward()).norm(), 1e-9);

    const auto past_shooter = house.hit(1.0, {.ignores = {BodyId{2}}});
    ASSERT_TRUE(past_shooter);
    EXPECT_EQ(past_shooter->body, BodyId{7});
    EXPECT_EQ(past_shooter->region, RegionId{1});

    const auto level_only = house.hit(1.5, {.hits = {CollisionLayer::level}});
    ASSERT_TRUE(level_only);
    EXPECT_EQ(level_only->body, std::nullopt);
    EXPECT_EQ(level_only->surface, glass);
    EXPECT_NEAR(level_only->distance, 19.5, 1e-12);

    EXPECT_FALSE(house.hit(4.0, {}));
    EXPECT_FALSE(house.hit(2.5 + 1e-9, {.hits = {CollisionLayer::bodies}}));
    EXPECT_FALSE(house.hit(1.0, {.hits = {}}));
    EXPECT_FALSE(Scene{}.closest_hit({{{0, 0, 0}, world_forward(), 1}}, {}));
    EXPECT_EQ(house.hit(2.0, {.teams = {TeamId{1}}})->body, BodyId{7});
}

TEST(Scene, TakesBodiesAsLongAsThereIsRoom) {
    Greenhouse house;
    EXPECT_FALSE(house.scene.add({BodyId{7}, &house.rig})) << "id taken";
    EXPECT_FALSE(house.scene.add({BodyId{8}, &house.rig})) << "full";
    RigSpec many = two_balls();
    many.joints.resize(16);
    house.scene.begin_frame(Time{milliseconds{10}});
    EXPECT_TRUE(house.scene.remove(BodyId{7}));
    EXPECT_FALSE(house.scene.remove(BodyId{7}));
    EXPECT_FALSE(house.scene.add({BodyId{8}, &many})) << "too many joints";
    EXPECT_EQ(house.scene.body_count(), 1U);
    EXPECT_EQ(house.hit(2.0, {.ignores = {BodyId{2}}}), std::nullopt);
    EXPECT_EQ(house.hit(2.0, {.ignores = {BodyId{2}}}, Time{milliseconds{9}})->body, BodyId{7})
        << "the past knows it";
    EXPECT_TRUE(house.scene.add({BodyId{8}, &house.rig}));
    EXPECT_EQ(house.hit(2.0, {.ignores = {BodyId{2}}}, Time{milliseconds{9}}), std::nullopt)
        << "its place is taken";
    EXPECT_FALSE(house.scene.move(BodyId{7}, Pose{}));
    EXPECT_EQ(house.scene.pose_of(BodyId{7}), std::nullopt);
}

TEST(Scene, RemembersWhereBodiesStoodAndMovesThemEvenlyInBetween) {
    Greenhouse house;
    Scene& scene = house.scene;
    const auto z_at = [&](int at) { return scene.pose_of(BodyId{2}, Time{milliseconds{at}})->position.z(); };
    for (int frame = 1; frame <= 3; ++frame) {
        scene.begin_frame(Time{milliseconds{100 * frame}});
        scene.move(BodyId{2}, {{0, 0, 5.0 + frame}, Rotation::Identity()});
    }
    EXPECT_EQ(scene.now(), Time{milliseconds{300}});
    EXPECT_EQ(scene.oldest(), Time{milliseconds{100}}) << "of three frames";
    EXPECT_NEAR(z_at(250), 7.5, 1e-12);
    EXPECT_EQ(z_at(50), 6.0);
    EXPECT_EQ(z_at(900), 8.0);
    EXPECT_NEAR(house.hit(2.0, {}, Time{milliseconds{130}})->distance, 5.8, 1e-9);
    scene.begin_frame(Time{milliseconds{400}});
    scene.jump(BodyId{2}, {{0, 0, 1}, Rotation::Identity()});
    EXPECT_EQ(z_at(399), 8.0);
    EXPECT_EQ(z_at(400), 1.0);
    Scene copy = scene;
    copy.move(BodyId{2}, Pose{});
    EXPECT_EQ(z_at(400), 1.0);
}

TEST(Scene, FindsBodiesThatSwingWideBetweenFrames) {
    const RigSpec arm{{{"hand", {Sphere{{0, 0, 5}, 0.2}}}}};
    Scene scene{Level{}, {.bodies = 1, .frames = 2}};
    ASSERT_TRUE(scene.add({BodyId{1}, &arm, {Vector3::Zero(), turned_to({-1.4, 0})}}));
    scene.begin_frame(Time{milliseconds{100}});
    scene.move(BodyId{1}, Pose{Vector3::Zero(), turned_to({1.4, 0})});
    // At both ends the hand is far to the side; halfway it is straight ahead.
    const auto hit =
        scene.closest_hit({.ray = {{3, 0, 5}, -world_left(), 6}, .begin = Time{milliseconds{50}}}, {});
    ASSERT_TRUE(hit);
    EXPECT_NEAR(hit->distance, 2.8, 1e-6);
}

// Bodies with other rigs are hit as if they had always had them, in past frames too.
TEST(Scene, ChangesRigsAsIfTheyHadAlwaysBeenThere) {
    Draw draw{16};
    int hits = 0;
    for (int trial = 0; trial < rounds(1'000); ++trial) {
        RandomScene random{draw};
        random.change_rigs(draw);
        Scene fresh{random.scene.level(), {.bodies = 9, .joints = 4, .frames = 5}};
        for (const SceneBody& body : random.bodies) {
            ASSERT_TRUE(fresh.add(body));
        }
        for (Time at = random.scene.oldest(); at <= random.scene.now(); at += milliseconds{50}) {
            fresh.begin_frame(at);
            for (const SceneBody& body : random.bodies) {
                std::array<Pose, 4> poses;
                fresh.move(body.id, std::span{poses}.first(random.scene.poses_of(body.id, poses, at)));
            }
        }
        for (int question = 0; question < 20 && !random.bodies.empty(); ++question) {
            Cast cast;
            cast.radius = draw(0.0, 0.2);
            cast.begin = Time{milliseconds{150 + draw.below(190)}};
            cast.end = cast.begin + milliseconds{draw.below(100)};
            const SceneBody& aimed = random.bodies[draw.below(random.bodies.size())];
            const Vector3 target = random.scene.pose_of(aimed.id, cast.begin)->position + draw.point(0.5);
            cast.ray = {target + draw.point(2), draw.direction(), draw(0, 4)};
            cast.ray.direction = (target - cast.ray.origin).normalized();
            const auto hit = random.scene.closest_hit(cast, {});
            hits += hit && hit->body ? 1 : 0;
            expect_same(hit, fresh.closest_hit(cast, {}), trial);
        }
    }
    EXPECT_GT(hits, enough(2000));
}

TEST(Hitscan, EndsWhereItHitsOrWhereItsRangeEnds) {
    const Greenhouse house;
    const HitscanPath hit = fire_hitscan(house.scene, {0, 2, 0}, world_forward(), 50, {});
    EXPECT_EQ(hit.end, hit.hit->point);
    const HitscanPath miss = fire_hitscan(house.scene, {0, 2, 0}, world_left(), 50, {});
    EXPECT_FALSE(miss.hit);
    EXPECT_EQ(miss.end, Vector3(50, 2, 0));
}

} // namespace
} // namespace avrek
