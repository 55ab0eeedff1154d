#include <avrek/ballistics/hitscan.h>
#include <avrek/scene/query.h>

#include <gtest/gtest.h>

#include <algorithm>

namespace avrek {
namespace {

constexpr SurfaceId glass{3};
constexpr SurfaceId soil{4};

RigSpec two_balls() {
    return {{{"upper", {Sphere{{0, 2, 0}, 0.5}}},
             {"lower", {Sphere{{0, 1, 0}, 0.5}, Sphere{{0, 0.5, 0}, 0.25}}}}};
}

struct Greenhouse {
    RigSpec rig = two_balls();
    Scene scene{
        {{HalfSpace{world_up(), 0}, soil}, {Box{{{0, 1, 20}, Rotation::Identity()}, {5, 1, 0.5}}, glass}},
        {{BodyId{7}, &rig, {{0, 0, 10}, Rotation::Identity()}},
         {BodyId{2}, &rig, {{0, 0, 5}, turned_to({1, 0})}}}};

    std::optional<Hit> hit(double height, const Filter& filter) const {
        return closest_hit(scene, {{0, height, 0}, world_forward(), 100}, filter);
    }
};

TEST(Query, HitsTheNearestThingThatTheFilterNames) {
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

    const auto level_only = house.hit(1.5, {.hits = {Layer::level}});
    ASSERT_TRUE(level_only);
    EXPECT_EQ(level_only->body, std::nullopt);
    EXPECT_EQ(level_only->surface, glass);
    EXPECT_NEAR(level_only->distance, 19.5, 1e-12);

    EXPECT_FALSE(house.hit(4.0, {}));
    EXPECT_FALSE(house.hit(2.5 + 1e-9, {.hits = {Layer::bodies}}));
    EXPECT_FALSE(house.hit(1.0, {.hits = {}}));
    EXPECT_FALSE(closest_hit({}, {{0, 0, 0}, world_forward(), 1}, {}));
}

TEST(Query, GivesTiesToTheLevelThenToTheLowestBody) {
    Greenhouse house;
    house.scene.bodies[0].pose = house.scene.bodies[1].pose; // 7 stands in 2
    EXPECT_EQ(house.hit(1.0, {})->body, BodyId{2});
    std::reverse(house.scene.bodies.begin(), house.scene.bodies.end());
    EXPECT_EQ(house.hit(1.0, {})->body, BodyId{2});
    house.scene.level.push_back({Box{{{0, 1, 5}, Rotation::Identity()}, {1, 1, 0.5}}, glass});
    EXPECT_EQ(house.hit(1.0, {})->surface, glass);
    EXPECT_EQ(house.hit(1.0, {})->body, std::nullopt);
}

TEST(Query, FindsBodiesById) {
    Greenhouse house;
    ASSERT_NE(find_body(house.scene, BodyId{7}), nullptr);
    find_body(house.scene, BodyId{7})->pose.position.z() = 3;
    EXPECT_EQ(house.hit(2.0, {})->body, BodyId{7});
    EXPECT_EQ(find_body(house.scene, BodyId{1}), nullptr);
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
