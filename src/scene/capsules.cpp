#include "capsules.h"

#include "../core/rounding.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <variant>

namespace avrek::detail::capsules {

namespace {

// A test is about twenty operations on coordinates of the size of a body, each rounded by 2^-24 of it.
constexpr double slack = 0x1p-17;

double size_of(const Vector3& point) {
    return std::abs(point.x()) + std::abs(point.y()) + std::abs(point.z());
}

float rounded_up(double value) {
    return detail::next_above(static_cast<float>(value));
}

struct Around {
    Capsule operator()(const Sphere& sphere) const { return {sphere.centre, sphere.centre, sphere.radius}; }
    Capsule operator()(const Capsule& capsule) const { return capsule; }
    // Along its longest side.
    Capsule operator()(const Box& box) const {
        Eigen::Index longest = 0;
        const double half = box.half_extents.maxCoeff(&longest);
        Vector3 axis = Vector3::Zero();
        axis[longest] = half;
        const double radius = std::sqrt(std::max(0.0, box.half_extents.squaredNorm() - half * half));
        return {to_world(box.pose, Vector3(-axis)), to_world(box.pose, axis), radius};
    }
    Capsule operator()(const HalfSpace&) const {
        assert(false && "a body is bounded");
        return {};
    }
};

} // namespace

Capsule around(const Shape& shape) {
    return std::visit(Around{}, shape);
}

void write(const Capsule& capsule, const Vector3& origin, std::span<Bundle> bundles, std::size_t index) {
    Bundle& bundle = bundles[index / width];
    const std::size_t lane = index % width;
    const Vector3 from = capsule.from - origin;
    const Vector3 to = capsule.to - origin;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        bundle.from[axis][lane] = static_cast<float>(from[static_cast<Eigen::Index>(axis)]);
        bundle.to[axis][lane] = static_cast<float>(to[static_cast<Eigen::Index>(axis)]);
    }
    bundle.radius[lane] = rounded_up(capsule.radius + slack * (size_of(from) + size_of(to)));
}

void set_line(Query& query, const Ray& ray, const Vector3& origin, Metres radius, Metres limit) {
    const Vector3 ahead = ray.origin - origin;
    const double nearest = std::clamp(-ahead.dot(ray.direction), 0.0, ray.length);
    const Vector3 point = ahead + nearest * ray.direction;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const auto lane = static_cast<Eigen::Index>(axis);
        query.point[axis] = static_cast<float>(point[lane]);
        query.direction[axis] = static_cast<float>(ray.direction[lane]);
    }
    // Coordinates of the world are rounded, too.
    const double rounding = 1e-6 + slack * size_of(point) + 0x1p-48 * (size_of(ray.origin) + ray.length);
    query.radius = rounded_up(radius + rounding);
    query.begin = -rounded_up(nearest + rounding);
    query.limit = rounded_up(std::min(limit, ray.length) - nearest + rounding);
}

} // namespace avrek::detail::capsules
