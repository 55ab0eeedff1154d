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

/// A round bar with flat ends.
struct Cylinder {
    Vector3 from = Vector3::Zero(); ///< the middle of one end; the ends stand upright on the axis
    Vector3 to = world_up();        ///< of the other, not the same point
    Metres radius = 0.0;            ///< over 0
};

/// Everything on one side of a plane: the points with normal . point <= offset.
struct HalfSpace {
    Vector3 normal = world_up(); ///< points out of the solid; of unit length
    Metres offset = 0.0;         ///< of the plane from the origin, along the normal
};

/// Any one solid shape.
using Shape = std::variant<Sphere, Capsule, Box, HalfSpace>;

/// A solid shape of limited size.
using Volume = std::variant<Sphere, Capsule, Box, Cylinder>;

/// A flat, infinitely thin triangle. Its front is where its corners run counter-clockwise.
struct Triangle {
    Vector3 a = Vector3::Zero();
    Vector3 b = Vector3::Zero();
    Vector3 c = Vector3::Zero();
};

/// The middle of a bounded shape; for a half-space the point of its plane nearest the origin.
Vector3 centre_of(const Sphere& shape);
Vector3 centre_of(const Capsule& shape);
Vector3 centre_of(const Box& shape);
Vector3 centre_of(const HalfSpace& shape);
Vector3 centre_of(const Cylinder& shape);
Vector3 centre_of(const Shape& shape);
Vector3 centre_of(const Volume& shape);

/// A shape that is given in the axes of `pose`, in the world's.
Shape to_world(const Pose& pose, const Shape& shape);
Volume to_world(const Pose& pose, const Volume& volume);

/// The unit vector on the front of a triangle; its corners must not lie on one line.
Vector3 front_of(const Triangle& triangle);

} // namespace avrek
