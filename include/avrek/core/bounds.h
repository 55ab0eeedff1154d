#pragma once
#include <avrek/core/shapes.h>

#include <limits>

namespace avrek {

/// A box along the world's axes. A new one is empty and grows by include().
struct Bounds {
    Vector3 low = Vector3::Constant(std::numeric_limits<double>::infinity());
    Vector3 high = Vector3::Constant(-std::numeric_limits<double>::infinity());
};

/// Returns whether the bounds are empty.
bool is_empty(const Bounds& bounds);

/// Extends `bounds` to hold a point, or other bounds.
void include(Bounds& bounds, const Vector3& point);
/// Extends `bounds` to hold other bounds.
void include(Bounds& bounds, const Bounds& other);

/// Returns the bounds moved outwards by `margin` on every side.
Bounds widened(const Bounds& bounds, Metres margin);

/// Returns whether the two have a point in common; touching counts.
bool overlap(const Bounds& one, const Bounds& other);

/// Returns the smallest bounds of a shape; infinite for a half-space.
Bounds bounds_of(const Shape& shape);
/// The same for a volume.
Bounds bounds_of(const Volume& shape);
/// The same for a triangle.
Bounds bounds_of(const Triangle& triangle);

} // namespace avrek
