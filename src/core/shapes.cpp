#include <avrek/core/shapes.h>

namespace avrek {

namespace {

struct Centre {
    Vector3 operator()(const Sphere& sphere) const { return sphere.centre; }
    Vector3 operator()(const Capsule& capsule) const { return 0.5 * (capsule.from + capsule.to); }
    Vector3 operator()(const Box& box) const { return box.pose.position; }
    Vector3 operator()(const HalfSpace& solid) const { return solid.offset * solid.normal; }
};

} // namespace

Vector3 centre_of(const Shape& shape) {
    return std::visit(Centre{}, shape);
}

} // namespace avrek
