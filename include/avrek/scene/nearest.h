#pragma once
#include <avrek/core/shapes.h>

/// Nearest points and distances between single shapes. Distances are within 1e-9 m for scenes within 10 km.
namespace avrek {

/// The point of a shape nearest to a given point.
struct Nearest {
    Vector3 point = Vector3::Zero();  ///< on the surface
    Vector3 normal = Vector3::Zero(); ///< out of the shape at `point`, unit length
    Metres distance = 0.0;            ///< to the given point; negative when that is inside
};

/// Returns the point of the surface of `shape` nearest to `point`. Among equally near ones, the choice
/// depends on the arguments alone.
Nearest nearest_point(const Sphere& shape, const Vector3& point);
/// The same for a capsule.
Nearest nearest_point(const Capsule& shape, const Vector3& point);
/// The same for a box.
Nearest nearest_point(const Box& shape, const Vector3& point);
/// The same for a half-space.
Nearest nearest_point(const HalfSpace& shape, const Vector3& point);
/// The same for a cylinder.
Nearest nearest_point(const Cylinder& shape, const Vector3& point);
/// The same for any shape.
Nearest nearest_point(const Shape& shape, const Vector3& point);

/// Returns the point of a triangle nearest to `point`. The normal leads from it to `point`, or to the front
/// if `point` is on the triangle. The distance is never negative.
Nearest nearest_point(const Triangle& triangle, const Vector3& point);

/// Returns the point of the line from `from` to `to` nearest to `point`.
Vector3 nearest_on_line(const Vector3& from, const Vector3& to, const Vector3& point);

/// Returns the distance between two line segments.
Metres line_distance(const Vector3& from, const Vector3& to, const Vector3& other_from,
                     const Vector3& other_to);

/// Returns whether two solids overlap; touching does not count. A triangle overlaps a solid where it reaches
/// inside. Overlaps of a cylinder with a box or a triangle by less than a millimetre can count as touching.
bool overlap(const Volume& one, const Shape& other);
/// The same for a triangle.
bool overlap(const Volume& one, const Triangle& other);

} // namespace avrek
