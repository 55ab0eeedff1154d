#include "../rounds.h"
#include "draw.h"
#include <avrek/scene/raycast.h>
#include <avrek/scene/silhouette.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <type_traits>

namespace avrek {
namespace {

Vector3 middle_of(const Solid& solid) {
    if (const auto* triangle = std::get_if<Triangle>(&solid)) {
        return (triangle->a + triangle->b + triangle->c) / 3.0;
    }
    return std::visit(
        [](const auto& shape) -> Vector3 {
            if constexpr (std::is_same_v<std::decay_t<decltype(shape)>, Triangle>) {
                return shape.a;
            } else {
                return centre_of(Shape{shape});
            }
        },
        solid);
}

std::optional<Entry> fly(const Ray& ray, double radius, const Solid& solid) {
    return std::visit(
        [&](const auto& shape) {
            if constexpr (std::is_same_v<std::decay_t<decltype(shape)>, Triangle>) {
                return sweep(ray, radius, shape);
            } else {
                return sweep(ray, radius, Shape{shape});
            }
        },
        solid);
}

TEST(Raycast, AgreesWithANumericReference) {
    Draw draw{5};
    constexpr double close = 1e-8;
    int hits = 0;
    int inside = 0;
    int touching = 0;
    for (int trial = 0; trial < rounds(25'000); ++trial) {
        const Solid solid = draw.solid();
        const bool flat = std::holds_alternative<Triangle>(solid);
        const double radius = flat || draw.below(2) == 0 ? draw(0.001, 0.5) : 0.0;
        const Ray ray = draw.ray(middle_of(solid));
        const Reference reference = search(ray, radius, solid);
        const std::optional<Entry> entry = fly(ray, radius, solid);
        const double start = signed_distance(solid, ray.origin);
        if (start >= 0.0 && start < radius) {
            // Overlapping at the start: held back only when it flies nearer.
            const double ahead = signed_distance(solid, ray.origin + 1e-7 * ray.direction);
            ASSERT_EQ(entry && entry->distance == 0.0 && !entry->inside,
                      ray.length > 0.0 && ahead < start - 1e-14)
                << "kind " << solid.index() << " in trial " << trial;
            ++touching;
            continue;
        }
        if (!entry) {
            ASSERT_GT(reference.nearest, -close)
                << "missed a solid of kind " << solid.index() << " in trial " << trial;
            continue;
        }
        ++hits;
        inside += entry->inside ? 1 : 0;
        ASSERT_LT(reference.nearest, close) << "hit nothing, kind " << solid.index() << " in trial " << trial;
        ASSERT_EQ(entry->inside, start < 0.0);
        ASSERT_NEAR(entry->normal.norm(), 1.0, 1e-9);
        if (entry->inside) {
            ASSERT_EQ(entry->distance, 0.0);
            ASSERT_EQ(entry->normal, Vector3(-ray.direction));
            continue;
        }
        const Vector3 point = point_at(ray, entry->distance);
        ASSERT_NEAR(signed_distance(solid, point), radius, close);
        ASSERT_GE(entry->distance, 0.0);
        ASSERT_LE(entry->distance, ray.length);
        // Along a grazing ray the place of entry is as uncertain as the root of the rounding.
        ASSERT_NEAR(entry->distance, reference.entry, reference.nearest < -1e-6 ? 1e-6 : 1e-3);
        // The normal is the slope of the signed distance; beside an edge of a box it is that of one face.
        const double step = 1e-5;
        ASSERT_GT(signed_distance(solid, point + step * entry->normal), radius + 0.99 * step);
        ASSERT_LE(entry->normal.dot(ray.direction), 1e-9);
    }
    EXPECT_GT(hits, enough(7'000));
    EXPECT_GT(inside, enough(700));
    EXPECT_GT(touching, enough(700));
}

TEST(Raycast, KeepsItsRulesAtTheSurface) {
    const Shape ball = Sphere{{0, 0, 5}, 1};
    const Shape wall = HalfSpace{world_up(), 0};
    const Shape crate = Box{{{0, 0, 5}, Rotation::Identity()}, {1, 1, 1}};
    const struct {
        const char* name;
        Shape shape;
        Ray ray;
        std::optional<double> distance;
    } rules[] = {
        {"touching a ball", ball, {{1, 0, 0}, world_forward(), 10}, std::nullopt},
        {"running along a face", crate, {{1, 0, 0}, world_forward(), 10}, std::nullopt},
        {"running along a plane", wall, {{0, 0, 0}, world_forward(), 10}, std::nullopt},
        {"leaving a surface", wall, {{0, 0, 0}, world_up(), 10}, std::nullopt},
        {"entering from a surface", wall, {{0, 0, 0}, -world_up(), 10}, 0.0},
        {"entering a crate from its face", crate, {{0, 0, 4}, world_forward(), 10}, 0.0},
        {"leaving a crate from its face", crate, {{0, 0, 6}, world_forward(), 10}, std::nullopt},
        {"too short", ball, {{0, 0, 0}, world_forward(), 4}, std::nullopt},
        {"just long enough", ball, {{0, 0, 0}, world_forward(), 4.0001}, 4.0},
        {"no length, outside", ball, {{0, 0, 0}, world_forward(), 0}, std::nullopt},
        {"no length, inside", ball, {{0, 0, 5}, world_forward(), 0}, 0.0},
        {"behind", ball, {{0, 0, 8}, world_forward(), 10}, std::nullopt},
    };
    for (const auto& rule : rules) {
        const std::optional<Entry> entry = raycast(rule.ray, rule.shape);
        EXPECT_EQ(entry.has_value(), rule.distance.has_value()) << rule.name;
        if (entry && rule.distance) {
            EXPECT_EQ(entry->distance, *rule.distance) << rule.name;
        }
    }
}

bool is_within(const std::vector<BoardPoint>& polygon, BoardPoint point, double margin) {
    for (std::size_t index = 0; index < polygon.size(); ++index) {
        const BoardPoint a = polygon[index];
        const BoardPoint b = polygon[(index + 1) % polygon.size()];
        const double across =
            (b.right - a.right) * (point.up - a.up) - (b.up - a.up) * (point.right - a.right);
        if (across / std::hypot(b.right - a.right, b.up - a.up) < margin) {
            return false;
        }
    }
    return !polygon.empty();
}

TEST(Silhouette, IsWhereRaysFromTheEyeHit) {
    Draw draw{6};
    int hits = 0;
    for (int trial = 0; trial < 300; ++trial) {
        const Shape shape = draw.shape();
        const Pose pose{Vector3{0, 0, 12} + draw.point(0.5), turned_to({draw(-pi, pi), draw(-1, 1)})};
        const Board board{{0, 1, 0}, {0, 1, 12}};
        const std::vector<BoardPoint> outline = silhouette(board, pose, shape, 512);
        ASSERT_EQ(outline.empty(), std::holds_alternative<HalfSpace>(shape));
        for (int shot = 0; shot < 200 && !outline.empty(); ++shot) {
            const Vector3 direction = direction_of({draw(-0.5, 0.5), draw(-0.5, 0.5)});
            const Ray local{to_local(pose, board.eye), pose.rotation.conjugate() * direction, 100};
            const BoardPoint point = on_board(board, direction);
            const bool hit = raycast(local, shape).has_value();
            hits += hit ? 1 : 0;
            ASSERT_FALSE(hit && !is_within(outline, point, -1e-3));
            ASSERT_FALSE(!hit && is_within(outline, point, 1e-3));
        }
    }
    EXPECT_GT(hits, 800);
    EXPECT_TRUE(silhouette({{0, 0, 0}, {0, 0, 5}}, {}, Sphere{{0, 0, 0.5}, 1}).empty()) << "around the eye";
    EXPECT_TRUE(silhouette({{0, 0, 0}, {0, 0, 5}}, {}, Sphere{{0, 0, -5}, 1}).empty()) << "behind the eye";
}

} // namespace
} // namespace avrek
