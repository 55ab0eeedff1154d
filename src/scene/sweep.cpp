#include <avrek/scene/nearest.h>
#include <avrek/scene/raycast.h>

#include <algorithm>
#include <cassert>
#include <cmath>
#include <utility>

namespace avrek {

namespace {

// A ball nearer than this to the surface that it touches is taken to touch it.
constexpr double touching = 1e-9;
// A path that leads towards a surface by less than this is taken to run along it.
constexpr double along = 1e-12;

void take_first(std::optional<Entry>& first, const std::optional<Entry>& entry) {
    if (entry && (!first || entry->distance < first->distance)) {
        first = entry;
    }
}

// The shape grown by a radius, hit by a point: for a ball that starts clear of it.
struct SweepClear {
    const Ray& ray;
    double radius;

    std::optional<Entry> operator()(const Sphere& shape) const {
        return raycast(ray, Sphere{shape.centre, shape.radius + radius});
    }
    std::optional<Entry> operator()(const Capsule& shape) const {
        return raycast(ray, Capsule{shape.from, shape.to, shape.radius + radius});
    }
    std::optional<Entry> operator()(const HalfSpace& shape) const {
        return raycast(ray, HalfSpace{shape.normal, shape.offset + radius});
    }

    // A box with rounded edges: the box made longer along each axis, and a capsule around each edge.
    std::optional<Entry> operator()(const Box& shape) const {
        const Ray local{to_local(shape.pose, ray.origin), shape.pose.rotation.conjugate() * ray.direction,
                        ray.length};
        const Vector3& half = shape.half_extents;
        const Box around{{}, half + Vector3::Constant(radius)};
        if (!raycast(local, around)) {
            return std::nullopt;
        }
        std::optional<Entry> first;
        for (Eigen::Index axis = 0; axis < 3; ++axis) {
            Box longer{{}, half};
            longer.half_extents[axis] += radius;
            take_first(first, raycast(local, longer));
            Vector3 corner = half;
            for (const double one : {-1.0, 1.0}) {
                for (const double other : {-1.0, 1.0}) {
                    corner[(axis + 1) % 3] = one * half[(axis + 1) % 3];
                    corner[(axis + 2) % 3] = other * half[(axis + 2) % 3];
                    Vector3 opposite = corner;
                    corner[axis] = -half[axis];
                    opposite[axis] = half[axis];
                    take_first(first, raycast(local, Capsule{corner, opposite, radius}));
                }
            }
        }
        if (first) {
            first->normal = shape.pose.rotation * first->normal;
        }
        return first;
    }

    // A triangle with rounded edges: its face moved out to either side, and a capsule along each edge.
    std::optional<Entry> operator()(const Triangle& triangle) const {
        const Vector3 front = front_of(triangle);
        const double height = front.dot(ray.origin - triangle.a);
        const double fall = -front.dot(ray.direction);
        const bool falls = height > 0.0 ? fall > 0.0 : fall < 0.0;
        if (std::abs(height) >= radius && falls) {
            const double distance = (std::abs(height) - radius) / std::abs(fall);
            if (distance >= ray.length) {
                return std::nullopt;
            }
            const double side = height > 0.0 ? 1.0 : -1.0;
            const Vector3 touched = point_at(ray, distance) - (side * radius) * front;
            if (is_over(triangle, front, touched)) {
                return Entry{distance, side * front, false, side < 0.0};
            }
        } else if (std::abs(height) >= radius) {
            return std::nullopt;
        }
        std::optional<Entry> first;
        for (const auto& [from, to] :
             {std::pair{&triangle.a, &triangle.b}, std::pair{&triangle.b, &triangle.c},
              std::pair{&triangle.c, &triangle.a}}) {
            if (!passes(*from, *to)) {
                take_first(first, raycast(ray, Capsule{*from, *to, radius}));
            }
        }
        if (first) {
            first->back = first->normal.dot(front) < 0.0;
        }
        return first;
    }

    // Whether the ball stays off the whole straight line through an edge, most often by far.
    bool passes(const Vector3& from, const Vector3& to) const {
        const Vector3 across = ray.direction.cross(to - from);
        const double off = across.dot(from - ray.origin);
        const double reach = radius + touching;
        return off * off > reach * reach * across.squaredNorm();
    }

    static bool is_over(const Triangle& triangle, const Vector3& front, const Vector3& point) {
        const auto left_of = [&](const Vector3& from, const Vector3& to) {
            return (to - from).cross(point - from).dot(front) >= 0.0;
        };
        return left_of(triangle.a, triangle.b) && left_of(triangle.b, triangle.c) &&
               left_of(triangle.c, triangle.a);
    }
};

// The rule for a ball that touches or overlaps at its start; none when it starts clear. True also where it
// starts too far away to come there.
template <class Solid>
bool starts_at(const Ray& ray, double radius, const Solid& shape, std::optional<Entry>& entry) {
    const Nearest near = nearest_point(shape, ray.origin);
    if (near.distance >= radius + touching) {
        return near.distance > (radius + ray.length) * (1.0 + touching) + touching;
    }
    if (near.distance < 0.0) {
        entry = Entry{0.0, -ray.direction, true};
    } else if (ray.length > 0.0 && near.normal.dot(ray.direction) < -along) {
        entry = Entry{0.0, near.normal, false};
    }
    return true;
}

// How a ball flies by the plane of a triangle: quick to tell, and enough for most triangles near a path.
struct PlanePass {
    bool starts_off = false; // farther off than its radius
    bool stays_off = false;  // all the way, and on the same side
};

PlanePass pass_plane(const Ray& ray, double radius, const Triangle& triangle) {
    const Vector3 normal = (triangle.b - triangle.a).cross(triangle.c - triangle.a);
    const double start = normal.dot(ray.origin - triangle.a);
    const double end = start + ray.length * normal.dot(ray.direction);
    const double reach = radius + 2.0 * touching;
    const double limit = reach * reach * normal.squaredNorm();
    const bool starts_off = start * start > limit;
    return {starts_off, starts_off && end * end > limit && (start > 0.0) == (end > 0.0)};
}

} // namespace

std::optional<Entry> sweep(const Ray& ray, Metres radius, const Shape& shape) {
    assert(radius >= 0.0);
    if (radius == 0.0) {
        return raycast(ray, shape);
    }
    std::optional<Entry> entry;
    const bool at_start =
        std::visit([&](const auto& solid) { return starts_at(ray, radius, solid, entry); }, shape);
    return at_start ? entry : std::visit(SweepClear{ray, radius}, shape);
}

std::optional<Entry> sweep(const Ray& ray, Metres radius, const Triangle& triangle) {
    assert(radius >= 0.0);
    if (radius == 0.0) {
        return raycast(ray, triangle);
    }
    std::optional<Entry> entry;
    const PlanePass pass = pass_plane(ray, radius, triangle);
    if (pass.stays_off) {
        return entry;
    }
    if (!pass.starts_off && starts_at(ray, radius, triangle, entry)) {
        if (entry) {
            entry->back = entry->normal.dot(front_of(triangle)) < 0.0;
        }
        return entry;
    }
    return SweepClear{ray, radius}(triangle);
}

} // namespace avrek
