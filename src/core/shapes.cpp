#include <avrek/core/shapes.h>

namespace avrek {

namespace {

struct ToWorld {
    const Pose& pose;

    Shape operator()(const Sphere& sphere) const {
        return Sphere{to_world(pose, sphere.centre), sphere.radius};
    }
    Shape operator()(const Capsule& capsule) const {
        return Capsule{to_world(pose, capsule.from), to_world(pose, capsule.to), capsule.radius};
    }
    Shape operator()(const Box& box) const { return Box{to_world(pose, box.pose), box.half_extents}; }
    Shape operator()(const HalfSpace& solid) const {
        const Vector3 normal = pose.rotation * solid.normal;
        return HalfSpace{normal, solid.offset + normal.dot(pose.position)};
    }
};

} // namespace

Vector3 centre_of(const Sphere& shape) {
    return shape.centre;
}

Vector3 centre_of(const Capsule& shape) {
    return 0.5 * (shape.from + shape.to);
}

Vector3 centre_of(const Box& shape) {
    return shape.pose.position;
}

Vector3 centre_of(const HalfSpace& shape) {
    return shape.offset * shape.normal;
}

Vector3 centre_of(const Shape& shape) {
    return std::visit([](const auto& solid) { return centre_of(solid); }, shape);
}

Vector3 centre_of(const Volume& shape) {
    return std::visit([](const auto& solid) { return centre_of(solid); }, shape);
}

Shape to_world(const Pose& pose, const Shape& shape) {
    return std::visit(ToWorld{pose}, shape);
}

Vector3 front_of(const Triangle& triangle) {
    return (triangle.b - triangle.a).cross(triangle.c - triangle.a).normalized();
}

} // namespace avrek
