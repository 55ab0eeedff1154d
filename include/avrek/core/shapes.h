#pragma once
#include <avrek/core/vectors.h>

#include <variant>

/// Solid shapes as plain data. What can be asked of them is in <avrek/scene/raycast.h>.
namespace avrek {

/// A ball.
struct Sphere {
    Vector3 centre = Vector3::Zero();
    Metres radius = 0.0; ///< over 0
};

/// All that lies within `radius` of the line from `from` to `to`. With both ends equal it is a ball.
struct Capsule {
    Vector3 from = Vector3::Zero();
    Vector3 to = Vector3::Zero();
    Metres radius = 0.0; ///< over 0
};

/// A box, turned any way.
struct Box {
    Pose pose;                              ///< its centre, and its axes
    Vector3 half_extents = Vector3::Zero(); ///< half of its size along each of its axes; each over 0
};

/// Everything on one side of a plane: the points with normal . point <= offset.
struct HalfSpace {
    Vector3 normal = world_up(); ///< points out of the solid; of unit length
    Metres offset = 0.0;         ///< of the plane from the origin, along the normal
};

/// Any one solid shape.
using Shape = std::variant<Sphere, Capsule, Box, HalfSpace>;

/// The middle of a bounded shape; for a half-space the point of its plane nearest the origin.
Vector3 centre_of(const Shape& shape);

} // namespace avrek
