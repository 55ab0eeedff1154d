#pragma once
#include <avrek/scene/raycast.h>

#include <algorithm>
#include <cmath>
#include <random>
#include <variant>

/// Random solids and rays, and a reference that shares nothing with the code it is held against.
namespace avrek {

using Solid = std::variant<Sphere, Capsule, Box, HalfSpace, Triangle>;

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
    double operator()(const Triangle& t) const {
        // Over the face by the heights above its three sides; else by the sides.
        const Vector3 front = (t.b - t.a).cross(t.c - t.a).normalized();
        double distance = std::abs(front.dot(point - t.a));
        for (const auto& [from, to] : {std::pair{t.a, t.b}, std::pair{t.b, t.c}, std::pair{t.c, t.a}}) {
            if ((to - from).cross(point - from).dot(front) < 0.0) {
                distance = std::min({(*this)(Capsule{t.a, t.b, 0}), (*this)(Capsule{t.b, t.c, 0}),
                                     (*this)(Capsule{t.c, t.a, 0})});
            }
        }
        return distance;
    }
};

inline double signed_distance(const Solid& solid, const Vector3& point) {
    return std::visit(SignedDistance{point}, solid);
}

struct Reference {
    double nearest; // signed distance along the ray
    double entry;   // distance at which the ray is first inside, when it ever is
};

// For a ball of `radius` that flies along the ray.
inline Reference search(const Ray& ray, double radius, const Solid& solid) {
    const auto f = [&](double t) { return signed_distance(solid, ray.origin + t * ray.direction) - radius; };
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

    Solid solid() {
        if (below(4) == 0) {
            return Triangle{point(3), point(3), point(3)};
        }
        return std::visit([](const auto& shape) { return Solid{shape}; }, shape());
    }

    Volume volume() {
        switch (below(4)) {
        case 0:
            return Sphere{point(3), (*this)(0.05, 2)};
        case 1:
            return Capsule{point(3), point(3), (*this)(0.05, 1)};
        case 2:
            return Cylinder{point(3), point(3), (*this)(0.05, 1)};
        default:
            return Box{pose(3), Vector3::Constant(0.02) + point(1).cwiseAbs()};
        }
    }

    Pose pose(double reach) { return {point(reach), turned_to({(*this)(-pi, pi), (*this)(-1.5, 1.5)})}; }

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
            return Box{pose(3), Vector3::Constant(0.02) + point(1).cwiseAbs()};
        default:
            return HalfSpace{direction(), (*this)(-2, 2)};
        }
    }

    // Aimed at random, along an axis, from inside, or to graze: past the shape's middle at about its own
    // size.
    Ray ray(const Vector3& middle) {
        const Vector3 origin = below(6) == 0 ? Vector3(middle + point(0.3)) : point(8);
        Vector3 direction = this->direction();
        if (below(2) == 0) {
            const Vector3 towards = middle + (*this)(0, 2) * this->direction() - origin;
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

} // namespace avrek
