#include <avrek/scene/raycast.h>
#include <avrek/scene/silhouette.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <random>

namespace avrek {
namespace {

// An independent reference: the signed distance to a convex solid is a convex function along any line, so its
// least value on a ray is found by ternary search, and the first point inside by bisection before that.
struct SignedDistance {
    Vector3 point;

    double operator()(const Sphere& s) const { return (point - s.centre).norm() - s.radius; }
    double operator()(const Capsule& c) const {
        const Vector3 axis = c.to - c.from;
        const double share = axis.squaredNorm() > 0
                                 ? std::clamp((point - c.from).dot(axis) / axis.squaredNorm(), 0.0, 1.0)
                                 : 0;
        return (point - c.from - share * axis).norm() - c.radius;
    }
    double operator()(const Box& b) const {
        const Eigen::Matrix3d axes = b.pose.rotation.toRotationMatrix();
        const Vector3 q = (axes.transpose() * (point - b.pose.position)).cwiseAbs() - b.half_extents;
        return q.cwiseMax(0.0).norm() + std::min(q.maxCoeff(), 0.0);
    }
    double operator()(const HalfSpace& h) const { return h.normal.dot(point) - h.offset; }
};

double signed_distance(const Shape& shape, const Vector3& point) {
    return std::visit(SignedDistance{point}, shape);
}

struct Reference {
    double least; // signed distance along the ray
    double entry; // distance at which the ray is first inside, when it ever is
};

Reference search(const Ray& ray, const Shape& shape) {
    const auto f = [&](double t) { return signed_distance(shape, ray.origin + t * ray.direction); };
    double low = 0.0;
    double high = ray.length;
    for (int step = 0; step < 90; ++step) {
        const double a = low + (high - low) / 3.0;
        const double b = high - (high - low) / 3.0;
        (f(a) <= f(b) ? high : low) = f(a) <= f(b) ? b : a;
    }
    const double deepest = f(0.0) < f(0.5 * (low + high)) ? 0.0 : 0.5 * (low + high);
    double outside = 0.0;
    double inside = deepest;
    for (int step = 0; step < 60 && f(0.0) >= 0.0; ++step) {
        const double middle = 0.5 * (outside + inside);
        (f(middle) < 0.0 ? inside : outside) = middle;
    }
    return {f(deepest), f(0.0) < 0.0 ? 0.0 : inside};
}

class Draw {
  public:
    explicit Draw(std::uint64_t seed) : random_(seed) {}
    double operator()(double low, double high) { return std::uniform_real_distribution{low, high}(random_); }
    Vector3 point(double reach) {
        return {(*this)(-reach, reach), (*this)(-reach, reach), (*this)(-reach, reach)};
    }
    Vector3 direction() { return direction_of({(*this)(-pi, pi), std::asin((*this)(-1, 1))}); }
    std::size_t below(std::size_t count) { return random_() % count; }

    Shape shape() {
        switch (below(5)) {
        case 0:
            return Sphere{point(3), (*this)(0.05, 2)};
        case 1:
            return Capsule{point(3), point(3), (*this)(0.05, 1)};
        case 2: {
            const Vector3 at = point(3);
            return Capsule{at, at, (*this)(0.05, 1)};
        }
        case 3:
            return Box{{point(3), turned_to({(*this)(-pi, pi), (*this)(-1.5, 1.5)})},
                       Vector3::Constant(0.02) + point(1).cwiseAbs()};
        default:
            return HalfSpace{direction(), (*this)(-2, 2)};
        }
    }

    // Aimed at random, along an axis, from inside, or to graze: past the shape's middle at about its own
    // size.
    Ray ray(const Shape& shape) {
        const Vector3 origin = below(6) == 0 ? Vector3(centre_of(shape) + point(0.3)) : point(8);
        Vector3 direction = this->direction();
        if (below(2) == 0) {
            const Vector3 towards = centre_of(shape) + (*this)(0, 2) * this->direction() - origin;
            direction = towards.norm() > 0.1 ? Vector3(towards.normalized()) : direction;
        } else if (below(3) == 0) {
            direction = Vector3::Zero();
            direction[static_cast<Eigen::Index>(below(3))] = below(2) == 0 ? 1.0 : -1.0;
        }
        return {origin, direction, below(10) == 0 ? 0.0 : (*this)(0, 20)};
    }

  private:
    std::mt19937_64 random_;
};

TEST(Raycast, AgreesWithANumericReferenceOverAHundredThousandRays) {
    Draw draw{5};
    constexpr double close = 1e-8;
    int hits = 0;
    int inside = 0;
    for (int trial = 0; trial < 100'000; ++trial) {
        const Shape shape = draw.shape();
        const Ray ray = draw.ray(shape);
        const Reference reference = search(ray, shape);
        const std::optional<Entry> entry = raycast(ray, shape);
        if (!entry) {
            ASSERT_GT(reference.least, -close)
                << "missed a shape of kind " << shape.index() << " in trial " << trial;
            continue;
        }
        ++hits;
        inside += entry->inside ? 1 : 0;
        ASSERT_LT(reference.least, close) << "hit nothing, kind " << shape.index() << " in trial " << trial;
        ASSERT_EQ(entry->inside, signed_distance(shape, ray.origin) < 0.0);
        ASSERT_NEAR(entry->normal.norm(), 1.0, 1e-9);
        if (entry->inside) {
            ASSERT_EQ(entry->distance, 0.0);
            ASSERT_EQ(entry->normal, Vector3(-ray.direction));
            continue;
        }
        const Vector3 point = point_at(ray, entry->distance);
        ASSERT_NEAR(signed_distance(shape, point), 0.0, close);
        ASSERT_GE(entry->distance, 0.0);
        ASSERT_LE(entry->distance, ray.length);
        // Along a grazing ray the place of entry is as uncertain as the root of the rounding.
        ASSERT_NEAR(entry->distance, reference.entry, reference.least < -1e-6 ? 1e-6 : 1e-3);
        // The normal is the slope of the signed distance; beside an edge of a box it is that of one face.
        const double step = 1e-5;
        ASSERT_GT(signed_distance(shape, point + step * entry->normal), 0.99 * step);
        ASSERT_LE(entry->normal.dot(ray.direction), 1e-9);
    }
    EXPECT_GT(hits, 30'000);
    EXPECT_GT(inside, 3'000);
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
