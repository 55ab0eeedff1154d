#include "watertight.h"
#include <avrek/scene/nearest.h>
#include <avrek/scene/raycast.h>

#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>

namespace avrek {

namespace {

constexpr double endless = std::numeric_limits<double>::infinity();

void assert_sound([[maybe_unused]] const Ray& ray) {
    assert(std::abs(ray.direction.squaredNorm() - 1.0) < 2e-9);
    assert(ray.origin.allFinite() && ray.length >= 0.0 && std::isfinite(ray.length));
}

Entry from_inside(const Ray& ray) {
    return {0.0, -ray.direction, true};
}

// The distances at which the line of a ray enters and leaves something, if it does.
struct Crossing {
    double in = 0.0;
    double out = 0.0;
};

// The line against a ball, by the line's nearest point to the centre: exact digits even from far away.
std::optional<Crossing> cross_ball(const Ray& ray, const Vector3& centre, double radius) {
    const Vector3 to_centre = centre - ray.origin;
    const double middle = to_centre.dot(ray.direction);
    const Vector3 off = to_centre - middle * ray.direction;
    const double half_squared = radius * radius - off.squaredNorm();
    if (half_squared <= 0.0) {
        return std::nullopt;
    }
    const double half = std::sqrt(half_squared);
    return Crossing{middle - half, middle + half};
}

// Whether a crossing from outside lies on the ray; a start on the surface that leads inwards does, at 0.
bool enters(const Ray& ray, const Crossing& crossing) {
    return crossing.out > 0.0 && crossing.in < ray.length;
}

void extend(Crossing& crossing, double in, double out) {
    crossing.in = std::min(crossing.in, in);
    crossing.out = std::max(crossing.out, out);
}

// Takes in where the line crosses the round side of a capsule, between the ends of its axis.
void cross_side(const Ray& ray, const Capsule& capsule, Crossing& crossing) {
    const Vector3 ends = capsule.to - capsule.from;
    const double length = std::sqrt(ends.squaredNorm());
    if (length == 0.0) {
        return;
    }
    const Vector3 axis = ends / length;
    const Vector3 from = ray.origin - capsule.from;
    const double slope = ray.direction.dot(axis);
    const double start = from.dot(axis);
    const Vector3 flat_direction = ray.direction - slope * axis;
    const Vector3 flat_origin = from - start * axis;
    const double a = flat_direction.squaredNorm();
    if (a < 1e-24) {
        return; // along the axis: the caps decide
    }
    const double middle = -flat_origin.dot(flat_direction) / a;
    const double off_squared = (flat_origin + middle * flat_direction).squaredNorm();
    const double half_squared = (capsule.radius * capsule.radius - off_squared) / a;
    if (half_squared <= 0.0) {
        return;
    }
    const double half = std::sqrt(half_squared);
    for (const double distance : {middle - half, middle + half}) {
        const double along = start + distance * slope;
        if (along >= 0.0 && along <= length) {
            extend(crossing, distance, distance);
        }
    }
}

// Where a line crosses the slabs of a box; none when it misses them. `face` is the axis of the entry.
std::optional<Crossing> cross_box(const Vector3& origin, const Vector3& direction,
                                  const Vector3& half_extents, Eigen::Index& face) {
    Crossing crossing{-endless, endless};
    for (Eigen::Index axis = 0; axis < 3; ++axis) {
        const double extent = half_extents[axis];
        if (direction[axis] == 0.0) {
            if (std::abs(origin[axis]) >= extent) {
                return std::nullopt;
            }
            continue;
        }
        const double near_side = direction[axis] > 0.0 ? -extent : extent;
        const double in = (near_side - origin[axis]) / direction[axis];
        const double out = (-near_side - origin[axis]) / direction[axis];
        if (in > crossing.in) {
            crossing.in = in;
            face = axis;
        }
        crossing.out = std::min(crossing.out, out);
    }
    return crossing.in < crossing.out ? std::optional{crossing} : std::nullopt;
}

// A capsule is two balls and a cylinder: its crossing reaches from the first of theirs to the last.
Crossing cross_capsule(const Ray& ray, const Capsule& shape) {
    Crossing crossing{endless, -endless};
    for (const Vector3& end : {shape.from, shape.to}) {
        if (const std::optional<Crossing> ball = cross_ball(ray, end, shape.radius)) {
            extend(crossing, ball->in, ball->out);
        }
    }
    cross_side(ray, shape, crossing);
    return crossing;
}

struct ExitDistance {
    const Ray& ray;

    double operator()(const Sphere& shape) const {
        const std::optional<Crossing> crossing = cross_ball(ray, shape.centre, shape.radius);
        return crossing ? crossing->out : 0.0;
    }
    double operator()(const Capsule& shape) const { return cross_capsule(ray, shape).out; }
    double operator()(const Box& shape) const {
        Eigen::Index face = 0;
        const std::optional<Crossing> crossing =
            cross_box(to_local(shape.pose, ray.origin), shape.pose.rotation.conjugate() * ray.direction,
                      shape.half_extents, face);
        return crossing ? crossing->out : 0.0;
    }
    double operator()(const HalfSpace& shape) const {
        const double rise = shape.normal.dot(ray.direction);
        const double height = shape.normal.dot(ray.origin) - shape.offset;
        return rise > 0.0 ? -height / rise : endless;
    }
};

} // namespace

std::optional<Entry> raycast(const Ray& ray, const Sphere& shape) {
    assert_sound(ray);
    if ((ray.origin - shape.centre).squaredNorm() < shape.radius * shape.radius) {
        return from_inside(ray);
    }
    const std::optional<Crossing> crossing = cross_ball(ray, shape.centre, shape.radius);
    if (!crossing || !enters(ray, *crossing)) {
        return std::nullopt;
    }
    const double distance = std::max(crossing->in, 0.0);
    return Entry{distance, (point_at(ray, distance) - shape.centre).normalized(), false};
}

std::optional<Entry> raycast(const Ray& ray, const Capsule& shape) {
    assert_sound(ray);
    const Vector3 start_off = ray.origin - nearest_on_line(shape.from, shape.to, ray.origin);
    if (start_off.squaredNorm() < shape.radius * shape.radius) {
        return from_inside(ray);
    }
    const Crossing crossing = cross_capsule(ray, shape);
    if (!enters(ray, crossing)) {
        return std::nullopt;
    }
    const double distance = std::max(crossing.in, 0.0);
    const Vector3 point = point_at(ray, distance);
    return Entry{distance, (point - nearest_on_line(shape.from, shape.to, point)).normalized(), false};
}

std::optional<Entry> raycast(const Ray& ray, const Box& shape) {
    assert_sound(ray);
    const Vector3 origin = to_local(shape.pose, ray.origin);
    const Vector3 direction = shape.pose.rotation.conjugate() * ray.direction;
    Eigen::Index face = 0;
    const std::optional<Crossing> crossed = cross_box(origin, direction, shape.half_extents, face);
    if (!crossed) {
        return std::nullopt;
    }
    const Crossing& crossing = *crossed;
    if (crossing.in < 0.0 && crossing.out > 0.0) {
        return from_inside(ray);
    }
    if (!enters(ray, crossing)) {
        return std::nullopt;
    }
    Vector3 normal = Vector3::Zero();
    normal[face] = direction[face] > 0.0 ? -1.0 : 1.0;
    return Entry{crossing.in, shape.pose.rotation * normal, false};
}

std::optional<Entry> raycast(const Ray& ray, const HalfSpace& shape) {
    assert_sound(ray);
    const double height = shape.normal.dot(ray.origin) - shape.offset;
    if (height < 0.0) {
        return from_inside(ray);
    }
    const double fall = -shape.normal.dot(ray.direction);
    if (fall <= 0.0 || height >= fall * ray.length) {
        return std::nullopt;
    }
    return Entry{height / fall, shape.normal, false};
}

std::optional<Entry> raycast(const Ray& ray, const Shape& shape) {
    return std::visit([&ray](const auto& solid) { return raycast(ray, solid); }, shape);
}

std::optional<Entry> raycast(const Ray& ray, const Triangle& triangle) {
    assert_sound(ray);
    const std::optional<detail::TriangleCrossing> crossing = detail::cross(detail::watertight(ray), triangle);
    if (!crossing || !(crossing->distance < ray.length) || crossing->distance < 0.0 ||
        (crossing->distance == 0.0 && !crossing->from_front)) {
        return std::nullopt;
    }
    const Vector3 front = front_of(triangle);
    return Entry{crossing->distance, crossing->from_front ? front : Vector3(-front), false,
                 !crossing->from_front};
}

Metres exit_distance(const Ray& ray, const Shape& shape) {
    assert_sound(ray);
    return std::max(0.0, std::visit(ExitDistance{ray}, shape));
}

} // namespace avrek
