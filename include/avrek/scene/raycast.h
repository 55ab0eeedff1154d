#pragma once
#include <avrek/core/shapes.h>

#include <optional>

/// Rays against solid shapes.
///
/// One rule for all shapes, taken as open solids (the surface does not belong to them):
/// - A ray hits a shape if some point of it, after its start and within its length, is strictly inside. A ray
/// that touches a surface, or runs along it, misses.
/// - A ray that starts inside hits at distance 0 with `inside` set; its normal is opposite to the ray.
/// - A ray that starts on the surface and leads inwards hits at distance 0, with the surface's normal. One
/// that leads outwards misses, so a path that bounces off a surface does not hit it again at once.
/// - A ray of length 0 hits only the shapes that it starts in.
/// A triangle has no inside: a ray hits it by crossing it, edges and corners included, so that no ray slips
/// between triangles that share corners (Woop, Benthin and Wald, "Watertight ray/triangle intersection",
/// 2013). A ray in the triangle's plane misses. A ray that starts on it hits at distance 0 from the front,
/// and misses from the back.
///
/// A sphere that flies along a ray hits a shape when its centre comes nearer than its radius. If it touches
/// or overlaps the shape at its start with its centre outside, it hits at distance 0 when it moves nearer,
/// and misses otherwise. Points and distances are within 1e-9 m for scenes within 10 km, except for rays that
/// graze within that distance.
namespace avrek {

/// A straight path of limited length.
struct Ray {
    Vector3 origin = Vector3::Zero();
    Vector3 direction = world_forward(); ///< unit length
    Metres length = 0.0;                 ///< at least 0, finite
};

/// The point where a ray enters a shape.
struct Entry {
    Metres distance = 0.0; ///< along the ray, in [0, length]
    Vector3 normal;        ///< out of the shape, unit length
    bool inside = false;   ///< the ray starts inside
    bool back = false;     ///< a triangle hit from behind; the normal leads to the back
};

/// Returns the point of `ray` at `distance`.
inline Vector3 point_at(const Ray& ray, Metres distance) {
    return ray.origin + distance * ray.direction;
}

/// Returns where `ray` enters `shape`, or none. Preconditions (asserted): a direction of unit length within
/// 1e-9, a finite origin, a finite length of at least 0.
std::optional<Entry> raycast(const Ray& ray, const Sphere& shape);
/// The same for a capsule.
std::optional<Entry> raycast(const Ray& ray, const Capsule& shape);
/// The same for a box.
std::optional<Entry> raycast(const Ray& ray, const Box& shape);
/// The same for a half-space.
std::optional<Entry> raycast(const Ray& ray, const HalfSpace& shape);
/// The same for any shape.
std::optional<Entry> raycast(const Ray& ray, const Shape& shape);
/// The same for a triangle.
std::optional<Entry> raycast(const Ray& ray, const Triangle& triangle);

/// Returns the distance at which the line of `ray`, which has entered `shape` or starts inside, leaves it.
/// Infinite if it never leaves a half-space; 0 if it does not cross the shape.
Metres exit_distance(const Ray& ray, const Shape& shape);

/// Returns where a sphere of `radius` whose centre flies along `ray` meets the shape, or none. The distance
/// is that of its centre; the normal leads from the shape to the centre. A radius of 0 gives the same as
/// raycast(). Precondition (asserted): as for raycast(), and radius >= 0.
std::optional<Entry> sweep(const Ray& ray, Metres radius, const Shape& shape);
/// The same for a triangle.
std::optional<Entry> sweep(const Ray& ray, Metres radius, const Triangle& triangle);

} // namespace avrek
