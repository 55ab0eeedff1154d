#pragma once
#include <avrek/core/shapes.h>

/// Nearest points and distances between single shapes. Distances are within 1e-9 m for scenes within 10 km.
namespace avrek {

/// The point of something that is nearest to a given point.
struct Nearest {
    Vector3 point = Vector3::Zero();  ///< on the surface
    Vector3 normal = Vector3::Zero(); ///< there, out of the shape, of unit length
    Metres distance = 0.0;            ///< to the given point; under 0 when that is inside
};

/// The point of the surface of `shape` nearest to `point`. Of several equally near ones, one that depends on
/// nothing but the arguments.
Nearest nearest_point(const Sphere& shape, const Vector3& point);
Nearest nearest_point(const Capsule& shape, const Vector3& point);
Nearest nearest_point(const Box& shape, const Vector3& point);
Nearest nearest_point(const HalfSpace& shape, const Vector3& point);
Nearest nearest_point(const Cylinder& shape, const Vector3& point);
Nearest nearest_point(const Shape& shape, const Vector3& point);

/// The point of a triangle nearest to `point`. The normal leads from it to `point`, or to the front where
/// `point` is on the triangle; the distance is never under 0.
Nearest nearest_point(const Triangle& triangle, const Vector3& point);

/// The point of the line from `from` to `to` nearest to `point`.
Vector3 nearest_on_line(const Vector3& from, const Vector3& to, const Vector3& point);

/// The distance between two lines, each from one end to the other.
Metres line_distance(const Vector3& from, const Vector3& to, const Vector3& other_from,
                     const Vector3& other_to);

/// Whether two solids have inner points in common; touching does not count. A triangle counts where it
/// reaches inside of the solid. Of a cylinder and a box or a triangle, what overlaps by less than a
/// millimetre may count as touching.
bool overlap(const Volume& one, const Shape& other);
bool overlap(const Volume& one, const Triangle& other);

} // namespace avrek
