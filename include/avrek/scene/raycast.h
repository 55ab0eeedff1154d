#pragma once
#include <avrek/core/shapes.h>

#include <optional>

/// Rays against solid shapes.
///
/// One rule for all shapes, taken as open solids (their surface does not belong to them):
/// - A ray hits a shape when some point of it, after its start and within its length, is strictly inside.
///   A ray that only touches a surface, or runs along it, misses.
/// - A ray that starts inside hits at distance 0 and says so; its normal is opposite to the ray.
/// - A ray that starts on the surface and leads inwards hits at distance 0, with the surface's normal; one
/// that
///   leads outwards misses. So a path that bounces off a surface does not hit it again where it stands.
/// - A ray of length 0 hits only what it starts inside.
/// A triangle has no inside: a ray hits it when it crosses it, edges and corners included, so that no ray
/// slips between triangles that share corners (Woop, Benthin and Wald, "Watertight ray/triangle
/// intersection", 2013). A ray in the triangle's own plane misses. A ray that starts on it hits it at
/// distance 0 from the front, and misses it from the back.
///
/// A ball that flies along a ray hits a shape when its centre comes nearer to it than its radius. Where it
/// touches or overlaps the shape at its start but its centre is not inside, it hits at distance 0 if it moves
/// nearer, and misses if it moves away or along. So a ball that has bounced off, or rests, is not held.
/// Points and distances are within 1e-9 m for scenes within 10 km, but for rays that graze within that
/// distance.
namespace avrek {

/// A straight path of limited length.
struct Ray {
    Vector3 origin = Vector3::Zero();
    Vector3 direction = world_forward(); ///< of unit length
    Metres length = 0.0;                 ///< at least 0, finite
};

/// Where a ray enters a shape.
struct Entry {
    Metres distance = 0.0; ///< along the ray, in [0, length]
    Vector3 normal;        ///< out of the shape, of unit length
    bool inside = false;   ///< the ray starts inside
    bool back = false;     ///< of a triangle: it came from behind, and the normal leads to the back
};

/// The point of `ray` at `distance`.
Vector3 point_at(const Ray& ray, Metres distance);

/// Where `ray` enters `shape`, if it does. Preconditions (asserted): a direction of unit length within 1e-9,
/// a finite origin, a finite length of at least 0.
std::optional<Entry> raycast(const Ray& ray, const Sphere& shape);
std::optional<Entry> raycast(const Ray& ray, const Capsule& shape);
std::optional<Entry> raycast(const Ray& ray, const Box& shape);
std::optional<Entry> raycast(const Ray& ray, const HalfSpace& shape);
std::optional<Entry> raycast(const Ray& ray, const Shape& shape);
std::optional<Entry> raycast(const Ray& ray, const Triangle& triangle);

/// At which distance the line of `ray`, which has entered `shape` or starts inside, leaves it again; infinite
/// for one that never leaves a half-space. 0 for one that does not cross the shape.
Metres exit_distance(const Ray& ray, const Shape& shape);

/// Where a ball of `radius` that flies with its centre along `ray` meets the shape: the distance is that of
/// its centre, the normal leads from the shape to the centre. With a radius of 0 the same as raycast().
/// Precondition (asserted): as for raycast(), and radius >= 0.
std::optional<Entry> sweep(const Ray& ray, Metres radius, const Shape& shape);
std::optional<Entry> sweep(const Ray& ray, Metres radius, const Triangle& triangle);

} // namespace avrek
