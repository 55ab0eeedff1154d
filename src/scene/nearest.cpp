#include <avrek/scene/nearest.h>

#include <algorithm>
#include <cmath>

namespace avrek {

namespace {

// A normal for a point on the middle of a ball or line: any one across it.
Vector3 any_across(const Vector3& axis) {
    const Vector3 other =
        std::abs(axis.y()) > 0.9 * std::sqrt(axis.squaredNorm()) ? world_left() : world_up();
    const Vector3 side =
        other - axis * (axis.squaredNorm() > 0.0 ? other.dot(axis) / axis.squaredNorm() : 0.0);
    return side / std::sqrt(side.squaredNorm());
}

Nearest nearest_on_ball(const Vector3& centre, double radius, const Vector3& axis, const Vector3& point) {
    const Vector3 off = point - centre;
    const double distance = std::sqrt(off.squaredNorm());
    const Vector3 normal = distance > 0.0 ? Vector3(off / distance) : any_across(axis);
    return {centre + radius * normal, normal, distance - radius};
}

Vector3 nearest_on_triangle(const Triangle& triangle, const Vector3& point) {
    // By the seven regions of the triangle's plane; signs of barycentric coordinates tell them apart
    // (Ericson, "Real-Time Collision Detection", 2005, 5.1.5).
    const Vector3 ab = triangle.b - triangle.a;
    const Vector3 ac = triangle.c - triangle.a;
    const Vector3 ap = point - triangle.a;
    const double d1 = ab.dot(ap);
    const double d2 = ac.dot(ap);
    if (d1 <= 0.0 && d2 <= 0.0) {
        return triangle.a;
    }
    const Vector3 bp = point - triangle.b;
    const double d3 = ab.dot(bp);
    const double d4 = ac.dot(bp);
    if (d3 >= 0.0 && d4 <= d3) {
        return triangle.b;
    }
    const double vc = d1 * d4 - d3 * d2;
    if (vc <= 0.0 && d1 >= 0.0 && d3 <= 0.0) {
        return triangle.a + (d1 / (d1 - d3)) * ab;
    }
    const Vector3 cp = point - triangle.c;
    const double d5 = ab.dot(cp);
    const double d6 = ac.dot(cp);
    if (d6 >= 0.0 && d5 <= d6) {
        return triangle.c;
    }
    const double vb = d5 * d2 - d1 * d6;
    if (vb <= 0.0 && d2 >= 0.0 && d6 <= 0.0) {
        return triangle.a + (d2 / (d2 - d6)) * ac;
    }
    const double va = d3 * d6 - d5 * d4;
    if (va <= 0.0 && d4 - d3 >= 0.0 && d5 - d6 >= 0.0) {
        return nearest_on_line(triangle.b, triangle.c, point);
    }
    const double sum = va + vb + vc;
    return triangle.a + ab * (vb / sum) + ac * (vc / sum);
}

} // namespace

Vector3 nearest_on_line(const Vector3& from, const Vector3& to, const Vector3& point) {
    const Vector3 axis = to - from;
    const double length_squared = axis.squaredNorm();
    if (length_squared == 0.0) {
        return from;
    }
    return from + std::clamp((point - from).dot(axis) / length_squared, 0.0, 1.0) * axis;
}

Metres line_distance(const Vector3& from, const Vector3& to, const Vector3& other_from,
                     const Vector3& other_to) {
    const Vector3 one = to - from;
    const Vector3 other = other_to - other_from;
    const Vector3 apart = from - other_from;
    const double a = one.squaredNorm();
    const double b = one.dot(other);
    const double c = other.squaredNorm();
    const double determinant = a * c - b * b;
    double nearest = std::min({(nearest_on_line(from, to, other_from) - other_from).squaredNorm(),
                               (nearest_on_line(from, to, other_to) - other_to).squaredNorm(),
                               (nearest_on_line(other_from, other_to, from) - from).squaredNorm(),
                               (nearest_on_line(other_from, other_to, to) - to).squaredNorm()});
    if (determinant > 0.0) {
        // Both nearest points lie within their lines: where the common perpendicular meets both.
        const double d = one.dot(apart);
        const double e = other.dot(apart);
        const double on_one = (b * e - c * d) / determinant;
        const double on_other = (a * e - b * d) / determinant;
        if (on_one > 0.0 && on_one < 1.0 && on_other > 0.0 && on_other < 1.0) {
            nearest = std::min(nearest, (apart + on_one * one - on_other * other).squaredNorm());
        }
    }
    return std::sqrt(nearest);
}

Nearest nearest_point(const Sphere& shape, const Vector3& point) {
    return nearest_on_ball(shape.centre, shape.radius, Vector3::Zero(), point);
}

Nearest nearest_point(const Capsule& shape, const Vector3& point) {
    return nearest_on_ball(nearest_on_line(shape.from, shape.to, point), shape.radius, shape.to - shape.from,
                           point);
}

Nearest nearest_point(const Box& shape, const Vector3& point) {
    const Vector3 local = to_local(shape.pose, point);
    const Vector3 within = local.cwiseMax(-shape.half_extents).cwiseMin(shape.half_extents);
    const Vector3 off = local - within;
    const double distance_squared = off.squaredNorm();
    if (distance_squared > 0.0) {
        const double distance = std::sqrt(distance_squared);
        return {to_world(shape.pose, within), shape.pose.rotation * Vector3(off / distance), distance};
    }
    Eigen::Index face = 0; // inside: by the nearest face
    const double depth = (shape.half_extents - local.cwiseAbs()).minCoeff(&face);
    Vector3 normal = Vector3::Zero();
    normal[face] = local[face] < 0.0 ? -1.0 : 1.0;
    const Vector3 surface = local + depth * normal;
    return {to_world(shape.pose, surface), shape.pose.rotation * normal, -depth};
}

Nearest nearest_point(const HalfSpace& shape, const Vector3& point) {
    const double height = shape.normal.dot(point) - shape.offset;
    return {point - height * shape.normal, shape.normal, height};
}

Nearest nearest_point(const Cylinder& shape, const Vector3& point) {
    const double length = std::sqrt((shape.to - shape.from).squaredNorm());
    const Vector3 axis = (shape.to - shape.from) / length;
    const double along = axis.dot(point - shape.from);
    const Vector3 across = point - shape.from - along * axis;
    const double out = std::sqrt(across.squaredNorm());
    const Vector3 side = out > 0.0 ? Vector3(across / out) : avrek::across(axis).left;
    const Vector3 within =
        shape.from + std::clamp(along, 0.0, length) * axis + std::min(out, shape.radius) * side;
    const Vector3 off = point - within;
    const double distance = std::sqrt(off.squaredNorm());
    if (distance > 0.0) {
        return {within, off / distance, distance};
    }
    const double to_side = shape.radius - out; // inside: by the nearest face
    const double to_end = std::min(along, length - along);
    if (to_side <= to_end) {
        return {point + to_side * side, side, -to_side};
    }
    const Vector3 normal = along < length - along ? Vector3(-axis) : axis;
    return {point + to_end * normal, normal, -to_end};
}

Nearest nearest_point(const Shape& shape, const Vector3& point) {
    return std::visit([&point](const auto& solid) { return nearest_point(solid, point); }, shape);
}

Nearest nearest_point(const Triangle& triangle, const Vector3& point) {
    const Vector3 nearest = nearest_on_triangle(triangle, point);
    const Vector3 off = point - nearest;
    const double distance = std::sqrt(off.squaredNorm());
    return {nearest, distance > 0.0 ? Vector3(off / distance) : front_of(triangle), distance};
}

} // namespace avrek
