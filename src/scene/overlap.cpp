#include <avrek/scene/nearest.h>
#include <avrek/scene/raycast.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace avrek {

namespace {

// A sphere or a capsule: everything within a radius of a line.
struct RoundLine {
    Vector3 from;
    Vector3 to;
    double radius = 0.0;
};

RoundLine round_line(const Sphere& sphere) {
    return {sphere.centre, sphere.centre, sphere.radius};
}

RoundLine round_line(const Capsule& capsule) {
    return {capsule.from, capsule.to, capsule.radius};
}

std::array<Vector3, 8> corners_of(const Box& box) {
    std::array<Vector3, 8> corners;
    for (unsigned corner = 0; corner < 8; ++corner) {
        const Vector3 sign{(corner & 1U) != 0 ? 1.0 : -1.0, (corner & 2U) != 0 ? 1.0 : -1.0,
                           (corner & 4U) != 0 ? 1.0 : -1.0};
        corners[corner] = to_world(box.pose, box.half_extents.cwiseProduct(sign));
    }
    return corners;
}

// Whether the line runs through the inside of the box, by its slabs.
bool crosses(const Box& box, const RoundLine& line) {
    const Vector3 start = to_local(box.pose, line.from);
    const Vector3 way = to_local(box.pose, line.to) - start;
    double in = 0.0;
    double out = 1.0;
    for (Eigen::Index axis = 0; axis < 3; ++axis) {
        const double extent = box.half_extents[axis];
        if (way[axis] == 0.0) {
            if (std::abs(start[axis]) >= extent) {
                return false;
            }
            continue;
        }
        const double one = (-extent - start[axis]) / way[axis];
        const double other = (extent - start[axis]) / way[axis];
        in = std::max(in, std::min(one, other));
        out = std::min(out, std::max(one, other));
    }
    return in < out;
}

bool meet(const RoundLine& one, const RoundLine& other) {
    return line_distance(one.from, one.to, other.from, other.to) < one.radius + other.radius;
}

// The nearest points of a line and a box, apart, are an end of the line, or lie on an edge of the box.
bool meet(const RoundLine& line, const Box& box) {
    if (crosses(box, line) || nearest_point(box, line.from).distance < line.radius ||
        nearest_point(box, line.to).distance < line.radius) {
        return true;
    }
    const std::array<Vector3, 8> corners = corners_of(box);
    for (unsigned corner = 0; corner < 8; ++corner) {
        for (unsigned axis = 1; axis < 8; axis *= 2) {
            if ((corner & axis) == 0 &&
                line_distance(line.from, line.to, corners[corner], corners[corner | axis]) < line.radius) {
                return true;
            }
        }
    }
    return false;
}

bool meet(const RoundLine& line, const Triangle& triangle) {
    const Vector3 way = line.to - line.from;
    const double length = std::sqrt(way.squaredNorm());
    if (length == 0.0) {
        return nearest_point(triangle, line.from).distance < line.radius;
    }
    if (raycast({line.from, way / length, length}, triangle)) {
        return true;
    }
    return nearest_point(triangle, line.from).distance < line.radius ||
           nearest_point(triangle, line.to).distance < line.radius ||
           line_distance(line.from, line.to, triangle.a, triangle.b) < line.radius ||
           line_distance(line.from, line.to, triangle.b, triangle.c) < line.radius ||
           line_distance(line.from, line.to, triangle.c, triangle.a) < line.radius;
}

bool meet(const RoundLine& line, const HalfSpace& solid) {
    return std::min(solid.normal.dot(line.from), solid.normal.dot(line.to)) - line.radius < solid.offset;
}

// Whether the points of two convex bodies lie apart along `axis`; touching is apart.
template <std::size_t N, std::size_t M>
bool apart_along(const Vector3& axis, const std::array<Vector3, N>& one,
                 const std::array<Vector3, M>& other) {
    if (axis.squaredNorm() < 1e-20) {
        return false; // parallel edges: other axes decide
    }
    const auto reach = [&axis](const auto& points) {
        std::array<double, 2> range{axis.dot(points[0]), axis.dot(points[0])};
        for (const Vector3& point : points) {
            range[0] = std::min(range[0], axis.dot(point));
            range[1] = std::max(range[1], axis.dot(point));
        }
        return range;
    };
    const auto first = reach(one);
    const auto second = reach(other);
    return first[1] <= second[0] || second[1] <= first[0];
}

// Two convex bodies with flat faces are apart exactly when they are along a face normal of either, or along
// the cross product of an edge of each (the separating axis theorem; Gottschalk, 1996).
template <std::size_t N, std::size_t M, std::size_t FacesN, std::size_t FacesM, std::size_t EdgesM>
bool solids_meet(const std::array<Vector3, N>& one, const std::array<Vector3, FacesN>& faces_and_edges,
                 const std::array<Vector3, M>& other, const std::array<Vector3, FacesM>& other_faces,
                 const std::array<Vector3, EdgesM>& other_edges) {
    const auto apart = [&](const Vector3& axis) { return apart_along(axis, one, other); };
    if (std::any_of(faces_and_edges.begin(), faces_and_edges.end(), apart) ||
        std::any_of(other_faces.begin(), other_faces.end(), apart)) {
        return false;
    }
    for (const Vector3& edge : faces_and_edges) {
        for (const Vector3& other_edge : other_edges) {
            if (apart(edge.cross(other_edge))) {
                return false;
            }
        }
    }
    return true;
}

std::array<Vector3, 3> axes_of(const Box& box) {
    return {box.pose.rotation * world_left(), box.pose.rotation * world_up(),
            box.pose.rotation * world_forward()};
}

bool meet(const Box& box, const Box& other) {
    return solids_meet(corners_of(box), axes_of(box), corners_of(other), axes_of(other), axes_of(other));
}

bool meet(const Box& box, const Triangle& triangle) {
    const std::array<Vector3, 3> corners{triangle.a, triangle.b, triangle.c};
    const std::array<Vector3, 1> normal{front_of(triangle)};
    const std::array<Vector3, 3> edges{(triangle.b - triangle.a).normalized(),
                                       (triangle.c - triangle.b).normalized(),
                                       (triangle.a - triangle.c).normalized()};
    return solids_meet(corners_of(box), axes_of(box), corners, normal, edges);
}

// The point of a solid that is nearest to `point`, which is its own when it is inside.
template <class Solid>
Vector3 nearest_in(const Solid& solid, const Vector3& point) {
    const Nearest nearest = nearest_point(solid, point);
    return nearest.distance > 0.0 ? nearest.point : point;
}

// The distance of a point to a convex solid has one lowest stretch along a line: it is found by thirds,
// unless it is clear before: it changes no faster than the point moves.
bool meet(const RoundLine& line, const Cylinder& bar) {
    const double length = std::sqrt((line.to - line.from).squaredNorm());
    const auto distance = [&](double share) {
        const Vector3 point = line.from + share * (line.to - line.from);
        return std::sqrt((point - nearest_in(bar, point)).squaredNorm());
    };
    double low = 0.0;
    double high = 1.0;
    if (std::min(distance(low), distance(high)) < line.radius) {
        return true;
    }
    while (length * (high - low) > 1e-10) {
        const double third = (high - low) / 3.0;
        const double one = distance(low + third);
        const double other = distance(high - third);
        if (std::min(one, other) < line.radius) {
            return true;
        }
        if (std::min(one, other) - length * third >= line.radius) {
            return false;
        }
        (one <= other ? high : low) = one <= other ? high - third : low + third;
    }
    return false;
}

// A flat convex polygon.
struct Polygon {
    std::array<Vector3, 12> corners{}; // a face has four, and rounding adds no more than five by two cuts
    std::size_t count = 0;

    void add(const Vector3& corner) { corners[count++] = corner; }
};

// Returns the part of a polygon beyond a plane (Sutherland and Hodgman, 1974).
Polygon cut(const Polygon& polygon, const Vector3& normal, double offset) {
    Polygon kept;
    for (std::size_t index = 0; index < polygon.count; ++index) {
        const Vector3& one = polygon.corners[index];
        const Vector3& next = polygon.corners[(index + 1) % polygon.count];
        const double here = normal.dot(one) - offset;
        const double there = normal.dot(next) - offset;
        if (here >= 0.0) {
            kept.add(one);
        }
        if ((here < 0.0) != (there < 0.0)) {
            kept.add(one + here / (here - there) * (next - one));
        }
    }
    return kept;
}

// The part between the ends of the bar meets it when it is near enough to the axis, as seen along it.
bool meet(const Cylinder& bar, const Polygon& polygon) {
    const Vector3 axis = (bar.to - bar.from).normalized();
    const Polygon between = cut(cut(polygon, axis, axis.dot(bar.from)), -axis, -axis.dot(bar.to));
    const Across view = across(axis);
    const auto seen = [&](std::size_t index) {
        const Vector3 off = between.corners[index % between.count] - bar.from;
        return std::array{view.left.dot(off), view.up.dot(off)};
    };
    bool is_left = false; // the axis, of some edge
    bool is_right = false;
    for (std::size_t index = 0; index < between.count; ++index) {
        const auto from = seen(index);
        const auto to = seen(index + 1);
        const std::array way{to[0] - from[0], to[1] - from[1]};
        const double squares = way[0] * way[0] + way[1] * way[1];
        const double along = -(from[0] * way[0] + from[1] * way[1]);
        const double share = squares > 0.0 ? std::clamp(along / squares, 0.0, 1.0) : 0.0;
        const std::array near{from[0] + share * way[0], from[1] + share * way[1]};
        if (near[0] * near[0] + near[1] * near[1] < bar.radius * bar.radius) {
            return true;
        }
        const double turn = from[0] * to[1] - from[1] * to[0];
        is_left |= turn > 0.0;
        is_right |= turn < 0.0;
    }
    return is_left != is_right; // the same of all: it is within
}

bool meet(const Cylinder& bar, const Triangle& triangle) {
    return meet(bar, Polygon{{triangle.a, triangle.b, triangle.c}, 3});
}

// One that neither starts inside of the box nor goes through a face of it is outside.
bool meet(const Cylinder& bar, const Box& box) {
    if (nearest_point(box, bar.from).distance < 0.0) {
        return true;
    }
    const std::array<Vector3, 8> corners = corners_of(box);
    for (unsigned axis = 1; axis < 8; axis *= 2) {
        const unsigned one = axis == 1 ? 2 : 1;
        const unsigned other = 7 - axis - one;
        for (const unsigned side : {0U, axis}) {
            if (meet(bar, Polygon{{corners[side], corners[side | one], corners[side | one | other],
                                   corners[side | other]},
                                  4})) {
                return true;
            }
        }
    }
    return false;
}

bool meet(const Cylinder& bar, const HalfSpace& solid) {
    const Vector3 axis = (bar.to - bar.from).normalized();
    const double slant = solid.normal.dot(axis);
    const double reach = bar.radius * std::sqrt(std::max(0.0, 1.0 - slant * slant));
    return std::min(solid.normal.dot(bar.from), solid.normal.dot(bar.to)) - reach < solid.offset;
}

bool meet(const Box& box, const HalfSpace& solid) {
    const std::array<Vector3, 8> corners = corners_of(box);
    return std::any_of(corners.begin(), corners.end(),
                       [&](const Vector3& corner) { return solid.normal.dot(corner) < solid.offset; });
}

struct Meet {
    bool operator()(const Box& one, const Box& other) const { return meet(one, other); }
    bool operator()(const Box& one, const HalfSpace& other) const { return meet(one, other); }
    bool operator()(const Cylinder& one, const Box& other) const { return meet(one, other); }
    bool operator()(const Cylinder& one, const HalfSpace& other) const { return meet(one, other); }
    template <class Round>
    bool operator()(const Cylinder& one, const Round& other) const {
        return meet(round_line(other), one);
    }
    template <class Round>
    bool operator()(const Box& one, const Round& other) const {
        return meet(round_line(other), one);
    }
    template <class Round>
    bool operator()(const Round& one, const Box& other) const {
        return meet(round_line(one), other);
    }
    template <class Round>
    bool operator()(const Round& one, const HalfSpace& other) const {
        return meet(round_line(one), other);
    }
    template <class Round, class OtherRound>
    bool operator()(const Round& one, const OtherRound& other) const {
        return meet(round_line(one), round_line(other));
    }
};

struct MeetTriangle {
    const Triangle& triangle;
    bool operator()(const Box& box) const { return meet(box, triangle); }
    bool operator()(const Cylinder& bar) const { return meet(bar, triangle); }
    template <class Round>
    bool operator()(const Round& round) const {
        return meet(round_line(round), triangle);
    }
};

} // namespace

bool overlap(const Volume& one, const Shape& other) {
    return std::visit(Meet{}, one, other);
}

bool overlap(const Volume& one, const Triangle& other) {
    return std::visit(MeetTriangle{other}, one);
}

} // namespace avrek
