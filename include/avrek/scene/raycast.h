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
/// Points and distances are within 1e-9 m for scenes within 10 km, but for rays that graze within that
/// distance.
namespace avrek {

/// A straight path of limited length.
struct Ray {
    Vector3 origin = Vector3::Zero();
    Vector3 direction = world_forward(); ///< of unit length
    Metres length = 0.0;                 ///< at least 0
};

/// Where a ray enters a shape.
struct Entry {
    Metres distance = 0.0; ///< along the ray, in [0, length]
    Vector3 normal;        ///< out of the shape, of unit length
    bool inside = false;   ///< the ray starts inside
};

/// The point of `ray` at `distance`.
Vector3 point_at(const Ray& ray, Metres distance);

/// Where `ray` enters `shape`, if it does. Preconditions (asserted): a direction of unit length within 1e-9,
/// a finite origin, a length of at least 0.
std::optional<Entry> raycast(const Ray& ray, const Sphere& shape);
std::optional<Entry> raycast(const Ray& ray, const Capsule& shape);
std::optional<Entry> raycast(const Ray& ray, const Box& shape);
std::optional<Entry> raycast(const Ray& ray, const HalfSpace& shape);
std::optional<Entry> raycast(const Ray& ray, const Shape& shape);

} // namespace avrek
