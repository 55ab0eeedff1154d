#pragma once
#include <avrek/core/vectors.h>

#include <variant>

/// Solid shapes as plain data. Queries are in <avrek/scene/raycast.h>.
namespace avrek {

/// A sphere.
struct Sphere {
    Vector3 centre = Vector3::Zero();
    Metres radius = 0.0; ///< over 0
    friend bool operator==(const Sphere&, const Sphere&) = default;
};

/// All points within `radius` of the line from `from` to `to`. With equal ends it is a sphere.
struct Capsule {
    Vector3 from = Vector3::Zero();
    Vector3 to = Vector3::Zero();
    Metres radius = 0.0; ///< over 0
    friend bool operator==(const Capsule&, const Capsule&) = default;
};

/// A box in any orientation.
struct Box {
    Pose pose;                              ///< centre and axes
    Vector3 half_extents = Vector3::Zero(); ///< half of the size along each axis, each over 0
    friend bool operator==(const Box&, const Box&) = default;
};

/// A cylinder with flat ends.
struct Cylinder {
    Vector3 from = Vector3::Zero(); ///< centre of one end; the ends are normal to the axis
    Vector3 to = world_up();        ///< centre of the other end, not the same point
    Metres radius = 0.0;            ///< over 0
    friend bool operator==(const Cylinder&, const Cylinder&) = default;
};

/// Everything on one side of a plane: the points with normal . point <= offset.
struct HalfSpace {
    Vector3 normal = world_up(); ///< points out of the solid; of unit length
    Metres offset = 0.0;         ///< distance of the plane from the origin, along the normal
    friend bool operator==(const HalfSpace&, const HalfSpace&) = default;
};

/// Any one solid shape.
using Shape = std::variant<Sphere, Capsule, Box, HalfSpace>;

/// A solid shape of limited size.
using Volume = std::variant<Sphere, Capsule, Box, Cylinder>;

/// A flat triangle without thickness. Its front is where its corners run counter-clockwise.
struct Triangle {
    Vector3 a = Vector3::Zero();
    Vector3 b = Vector3::Zero();
    Vector3 c = Vector3::Zero();
};

/// Returns the middle of a bounded shape; for a half-space the point of its plane nearest the origin.
Vector3 centre_of(const Sphere& shape);
/// The same for a capsule.
Vector3 centre_of(const Capsule& shape);
/// The same for a box.
Vector3 centre_of(const Box& shape);
/// The same for a half-space.
Vector3 centre_of(const HalfSpace& shape);
/// The same for a cylinder.
Vector3 centre_of(const Cylinder& shape);
/// The same for any shape.
Vector3 centre_of(const Shape& shape);
/// The same for any volume.
Vector3 centre_of(const Volume& shape);

/// Returns a shape given in the axes of `pose`, in the world's axes.
Shape to_world(const Pose& pose, const Shape& shape);
/// The same for a volume.
Volume to_world(const Pose& pose, const Volume& volume);

/// Returns the unit normal of a triangle's front. Precondition: its corners are not on one line.
Vector3 front_of(const Triangle& triangle);

} // namespace avrek
