#include <avrek/core/shapes.h>

namespace avrek {

namespace {

struct ToWorld {
    const Pose& pose;

    Sphere operator()(const Sphere& sphere) const {
        return Sphere{to_world(pose, sphere.centre), sphere.radius};
    }
    Capsule operator()(const Capsule& capsule) const {
        return Capsule{to_world(pose, capsule.from), to_world(pose, capsule.to), capsule.radius};
    }
    Box operator()(const Box& box) const { return Box{to_world(pose, box.pose), box.half_extents}; }
    HalfSpace operator()(const HalfSpace& solid) const {
        const Vector3 normal = pose.rotation * solid.normal;
        return HalfSpace{normal, solid.offset + normal.dot(pose.position)};
    }
    Cylinder operator()(const Cylinder& bar) const {
        return {to_world(pose, bar.from), to_world(pose, bar.to), bar.radius};
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

Vector3 centre_of(const Cylinder& shape) {
    return 0.5 * (shape.from + shape.to);
}

Vector3 centre_of(const Shape& shape) {
    return std::visit([](const auto& solid) { return centre_of(solid); }, shape);
}

Vector3 centre_of(const Volume& shape) {
    return std::visit([](const auto& solid) { return centre_of(solid); }, shape);
}

Shape to_world(const Pose& pose, const Shape& shape) {
    return std::visit([&](const auto& solid) -> Shape { return ToWorld{pose}(solid); }, shape);
}

Volume to_world(const Pose& pose, const Volume& volume) {
    return std::visit([&](const auto& solid) -> Volume { return ToWorld{pose}(solid); }, volume);
}

Vector3 front_of(const Triangle& triangle) {
    return (triangle.b - triangle.a).cross(triangle.c - triangle.a).normalized();
}

} // namespace avrek
