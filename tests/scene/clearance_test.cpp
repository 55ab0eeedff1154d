#include "../rounds.h"
#include "random_scene.h"

#include <gtest/gtest.h>

#include <algorithm>

namespace avrek {
namespace {

using std::chrono::milliseconds;

TEST(Clearance, IsNeverMoreThanThereIs) {
    Draw draw{101};
    int useful = 0;
    for (int round = 0; round < rounds(300); ++round) {
        const RandomScene random{draw};
        for (int index = 0; index < 40; ++index) {
            const Vector3 point = draw.point(draw.below(4) == 0 ? 100 : 8);
            double nearest = 1e9;
            random.each({.hits = {CollisionLayer::level, CollisionLayer::glass}}, present,
                        [&](const Hit&, const Pose&, const auto& solid) {
                            nearest = std::min(nearest, distance_to(solid, point));
                        });
            const Metres clear = random.scene.clearance(point);
            ASSERT_LE(clear, std::max(0.0, nearest) + 1e-9) << round;
            useful += clear > 0.3 * nearest && nearest < 1e8 ? 1 : 0;
        }
    }
    EXPECT_GT(useful, enough(1000));
    EXPECT_GT(Scene{}.clearance({1, 2, 3}), 1e6) << "nothing is near";
}

TEST(Clearance, ABodyThatIsThereIsNeverSaidToBeAway) {
    Draw draw{102};
    int met = 0;
    int away = 0;
    for (int round = 0; round < rounds(150); ++round) {
        RandomScene random{draw};
        const Time before = random.scene.now();
        const Time after = before + milliseconds{50};
        random.scene.begin_frame(after);
        for (const SceneBody& body : random.bodies) {
            Pose pose = *random.scene.pose_of(body.id);
            pose.position += draw.point(draw.below(5) == 0 ? 10 : 1);
            pose.rotation = pose.rotation * turned_to({draw(-2, 2), 0});
            if (draw.below(3) == 0) {
                random.scene.jump(body.id, pose);
            } else if (draw.below(3) != 0) {
                random.scene.move(body.id, pose);
            }
        }
        for (int cast = 0; cast < 200; ++cast) {
            Vector3 origin = draw.point(6);
            const Time at = before + milliseconds{draw.below(51)};
            if (!random.bodies.empty() && draw.below(2) == 0) {
                origin =
                    random.scene.pose_of(random.bodies[draw.below(random.bodies.size())].id, at)->position +
                    draw.point(1);
            }
            const Ray ray{origin, draw.direction(), draw(0, 1)};
            const double radius = draw.below(2) == 0 ? 0.0 : draw(0, 0.3);
            double nearest = 1e9;
            random.each({.hits = {CollisionLayer::bodies}}, at,
                        [&](const Hit&, const Pose& pose, const auto& solid) {
                            nearest = std::min(nearest, distance_to(solid, to_local(pose, origin)));
                        });
            Bounds box;
            include(box, ray.origin);
            include(box, point_at(ray, ray.length));
            const bool may = random.scene.may_meet_bodies(widened(box, radius), at, at);
            if (nearest < -1e-6) {
                ++met;
                ASSERT_TRUE(may) << round << ", " << cast;
                ASSERT_TRUE(
                    random.scene.closest_hit({ray, radius, at, at}, {.hits = {CollisionLayer::bodies}}));
                ASSERT_TRUE(
                    random.scene.closest_hit({ray, radius, at, after}, {.hits = {CollisionLayer::bodies}}));
            }
            away += may ? 0 : 1;
        }
    }
    EXPECT_GT(met, enough(300));
    EXPECT_GT(away, enough(5000));
}

} // namespace
} // namespace avrek
