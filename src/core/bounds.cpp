#include <avrek/core/bounds.h>

namespace avrek {

namespace {

struct BoundsOf {
    Bounds operator()(const Sphere& sphere) const {
        const Vector3 reach = Vector3::Constant(sphere.radius);
        return {sphere.centre - reach, sphere.centre + reach};
    }
    Bounds operator()(const Capsule& capsule) const {
        const Vector3 reach = Vector3::Constant(capsule.radius);
        return {capsule.from.cwiseMin(capsule.to) - reach, capsule.from.cwiseMax(capsule.to) + reach};
    }
    Bounds operator()(const Box& box) const {
        const Vector3 reach = box.pose.rotation.toRotationMatrix().cwiseAbs() * box.half_extents;
        return {box.pose.position - reach, box.pose.position + reach};
    }
    Bounds operator()(const Cylinder& bar) const {
        const Vector3 axis = (bar.to - bar.from).normalized();
        const Vector3 reach =
            bar.radius * (Vector3::Ones() - axis.cwiseProduct(axis)).cwiseMax(0.0).cwiseSqrt();
        return {bar.from.cwiseMin(bar.to) - reach, bar.from.cwiseMax(bar.to) + reach};
    }
    Bounds operator()(const HalfSpace&) const {
        const Bounds nothing;
        return {nothing.high, nothing.low};
    }
};

} // namespace

bool is_empty(const Bounds& bounds) {
    return (bounds.low.array() > bounds.high.array()).any();
}

void include(Bounds& bounds, const Vector3& point) {
    bounds.low = bounds.low.cwiseMin(point);
    bounds.high = bounds.high.cwiseMax(point);
}

void include(Bounds& bounds, const Bounds& other) {
    bounds.low = bounds.low.cwiseMin(other.low);
    bounds.high = bounds.high.cwiseMax(other.high);
}

Bounds widened(const Bounds& bounds, Metres margin) {
    const Vector3 reach = Vector3::Constant(margin);
    return {bounds.low - reach, bounds.high + reach};
}

bool overlap(const Bounds& one, const Bounds& other) {
    return (one.low.array() <= other.high.array()).all() && (other.low.array() <= one.high.array()).all();
}

Bounds bounds_of(const Shape& shape) {
    return std::visit(BoundsOf{}, shape);
}

Bounds bounds_of(const Volume& shape) {
    return std::visit(BoundsOf{}, shape);
}

Bounds bounds_of(const Triangle& triangle) {
    return {triangle.a.cwiseMin(triangle.b).cwiseMin(triangle.c),
            triangle.a.cwiseMax(triangle.b).cwiseMax(triangle.c)};
}

} // namespace avrek
