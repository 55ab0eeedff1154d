// Poses, bounds and shapes against what they mean, at random.
#include "../scene/draw.h"
#include <avrek/core/bounds.h>
#include <avrek/core/curve.h>
#include <avrek/core/elementary.h>
#include <avrek/core/shapes.h>
#include <avrek/core/vectors.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace avrek {
namespace {

TEST(Vectors, PosesLeadThereAndBack) {
    Draw draw{11};
    for (int round = 0; round < 2000; ++round) {
        const Pose outer = draw.pose(5.0);
        const Pose inner = draw.pose(5.0);
        const Vector3 point = draw.point(10.0);
        EXPECT_LT((to_local(outer, to_world(outer, point)) - point).norm(), 1e-13 * 100);
        // A pose within a pose is one after the other.
        EXPECT_LT((to_world(to_world(outer, inner), point) - to_world(outer, to_world(inner, point))).norm(),
                  1e-13 * 100);
        // Lengths stay.
        EXPECT_NEAR((to_world(outer, point) - to_world(outer, Vector3::Zero())).norm(), point.norm(), 1e-12);
    }
}

TEST(Vectors, BetweenTwoPosesIsAnEvenTurnTheShorterWay) {
    Draw draw{12};
    for (int round = 0; round < 1000; ++round) {
        const Pose from = draw.pose(5.0);
        Pose to = draw.pose(5.0);
        const Pose start = between(from, to, 0.0);
        const Pose end = between(from, to, 1.0);
        EXPECT_LT((start.position - from.position).norm() + (end.position - to.position).norm(), 1e-13);
        EXPECT_NEAR(std::abs(end.rotation.coeffs().dot(to.rotation.coeffs())), 1.0, 1e-12);
        // The other sign of a quaternion is the same rotation and must lead the same way.
        const Pose one = between(from, to, 0.3);
        to.rotation.coeffs() = -to.rotation.coeffs();
        const Pose other = between(from, to, 0.3);
        EXPECT_NEAR(std::abs(one.rotation.coeffs().dot(other.rotation.coeffs())), 1.0, 1e-12);
        EXPECT_NEAR(one.rotation.coeffs().norm(), 1.0, 1e-12);
    }
    for (double degrees = 1.0; degrees <= 45.0; degrees += 4.0) {
        const Pose to{{0, 0, 0}, turned_to({from_degrees(degrees), 0.0})};
        for (double share = 0.1; share < 1.0; share += 0.1) {
            const Look look = look_of(between({}, to, share).rotation * world_forward());
            EXPECT_NEAR(to_degrees(look.yaw), share * degrees, 0.01 * degrees) << degrees << ' ' << share;
        }
    }
}

TEST(Vectors, ShortestTurnsAndAcrossHoldEverywhere) {
    Draw draw{13};
    for (int round = 0; round < 2000; ++round) {
        const Radians angle = draw(-50.0, 50.0);
        const Radians turn = shortest_turn(angle);
        EXPECT_LE(std::abs(turn), pi + 1e-9);
        EXPECT_NEAR(sine(turn), sine(angle), 1e-12);
        EXPECT_NEAR(cosine(turn), cosine(angle), 1e-12);
        const Vector3 direction = direction_of({draw(-pi, pi), draw(-0.5 * pi, 0.5 * pi)});
        const Across sides = across(direction);
        EXPECT_NEAR(sides.left.norm(), 1.0, 1e-9);
        EXPECT_NEAR(sides.up.norm(), 1.0, 1e-9);
        EXPECT_NEAR(sides.left.dot(direction), 0.0, 1e-12);
        EXPECT_NEAR(sides.up.dot(direction), 0.0, 1e-12);
        EXPECT_NEAR(sides.left.y(), 0.0, 1e-12) << "level";
        EXPECT_LT((direction.cross(sides.left) - sides.up).norm(), 1e-12) << "right-handed";
    }
}

// The bounds hold every point of the shape, and each side of them is touched.
TEST(Bounds, AreTheSmallestBoxAboutAShape) {
    Draw draw{14};
    for (int round = 0; round < 200; ++round) {
        const Pose pose = draw.pose(5.0);
        const Vector3 a = draw.point(3.0);
        const Vector3 b = draw.point(3.0);
        const double radius = draw(0.05, 1.0);
        const Vector3 half{draw(0.1, 2.0), draw(0.1, 2.0), draw(0.1, 2.0)};
        const Vector3 axis = (b - a).normalized();
        for (int kind = 0; kind < 4; ++kind) {
            const Volume shape = kind == 0   ? Volume{Sphere{a, radius}}
                                 : kind == 1 ? Volume{Capsule{a, b, radius}}
                                 : kind == 2 ? Volume{Box{pose, half}}
                                             : Volume{Cylinder{a, b, radius}};
            const Bounds bounds = bounds_of(shape);
            for (int side = 0; side < 3; ++side) {
                const Vector3 unit = Vector3::Unit(side);
                double farthest = 0.0;
                if (kind == 2) {
                    farthest =
                        pose.position.dot(unit) + (pose.rotation.conjugate() * unit).cwiseAbs().dot(half);
                } else {
                    const double ends = kind == 0 ? a[side] : std::max(a[side], b[side]);
                    const double across_axis = std::sqrt(std::max(0.0, 1.0 - axis[side] * axis[side]));
                    farthest = ends + radius * (kind == 3 ? across_axis : 1.0);
                }
                EXPECT_NEAR(bounds.high[side], farthest, 1e-9) << kind << ' ' << side;
            }
            const Vector3 middle = centre_of(shape);
            EXPECT_LT((0.5 * (bounds.low + bounds.high) - middle).norm(), 1e-9) << kind;
        }
    }
}

TEST(Bounds, GrowOverlapAndStartEmpty) {
    Bounds bounds;
    EXPECT_TRUE(is_empty(bounds));
    Bounds nothing;
    include(bounds, nothing);
    EXPECT_TRUE(is_empty(bounds)) << "nothing and nothing";
    include(bounds, Vector3{1, 2, 3});
    EXPECT_FALSE(is_empty(bounds));
    EXPECT_EQ(bounds.low, bounds.high);
    include(bounds, Vector3{-1, 4, 3});
    EXPECT_EQ(bounds.low, (Vector3{-1, 2, 3}));
    EXPECT_EQ(bounds.high, (Vector3{1, 4, 3}));
    const Bounds wide = widened(bounds, 0.5);
    EXPECT_EQ(wide.low, (Vector3{-1.5, 1.5, 2.5}));
    Bounds beside{{1, 4, 3}, {9, 9, 9}};
    EXPECT_TRUE(overlap(bounds, beside)) << "touching counts";
    beside.low.x() = 1.0 + 1e-12;
    EXPECT_FALSE(overlap(bounds, beside));
    EXPECT_FALSE(overlap(bounds, Bounds{}));
    const Bounds whole = bounds_of(Shape{HalfSpace{}});
    EXPECT_TRUE(std::isinf(whole.high.x()) && std::isinf(whole.low.x()));
}

TEST(Shapes, MoveWithTheirPoseAndTrianglesHaveAFront) {
    Draw draw{15};
    for (int round = 0; round < 500; ++round) {
        const Pose pose = draw.pose(5.0);
        const Capsule capsule{draw.point(2.0), draw.point(2.0), 0.3};
        const Shape moved = to_world(pose, Shape{capsule});
        EXPECT_LT((centre_of(moved) - to_world(pose, centre_of(capsule))).norm(), 1e-12);
        const HalfSpace ground{direction_of({draw(-3, 3), draw(-1.5, 1.5)}), draw(-2, 2)};
        const auto plane = std::get<HalfSpace>(to_world(pose, Shape{ground}));
        // Points of the plane stay points of the plane.
        const Vector3 on_it = to_world(pose, ground.offset * ground.normal);
        EXPECT_NEAR(plane.normal.dot(on_it), plane.offset, 1e-12);
        const Triangle triangle{draw.point(2.0), draw.point(2.0), draw.point(2.0)};
        const Vector3 front = front_of(triangle);
        EXPECT_NEAR(front.norm(), 1.0, 1e-12);
        EXPECT_NEAR(front.dot(triangle.b - triangle.a), 0.0, 1e-9);
        EXPECT_LT((front_of({triangle.a, triangle.c, triangle.b}) + front).norm(), 1e-9);
    }
}

TEST(Curve, LiesBetweenItsNeighboursAndIsMonotonousWhereTheyAre) {
    Draw draw{16};
    for (int round = 0; round < 300; ++round) {
        Curve curve;
        double x = draw(-5.0, 5.0);
        for (int point = 0; point < 1 + round % 6; ++point) {
            curve.points.push_back({x, draw(-2.0, 2.0)});
            x += draw(0.01, 2.0);
        }
        for (const CurvePoint& point : curve.points) {
            EXPECT_EQ(value_at(curve, point.x), point.y);
        }
        for (std::size_t next = 1; next < curve.points.size(); ++next) {
            const CurvePoint& left = curve.points[next - 1];
            const CurvePoint& right = curve.points[next];
            double last = left.y;
            for (double share = 0.0; share <= 1.0; share += 0.125) {
                const double y = value_at(curve, left.x + share * (right.x - left.x));
                EXPECT_TRUE(left.y <= right.y ? y >= last - 1e-12 : y <= last + 1e-12);
                last = y;
            }
        }
        EXPECT_EQ(value_at(curve, -1e9), curve.points.front().y);
        EXPECT_EQ(value_at(curve, 1e9), curve.points.back().y);
    }
    EXPECT_EQ(value_at({}, 3.0, 0.25), 0.25);
}

} // namespace
} // namespace avrek
