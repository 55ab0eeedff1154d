#include "geometry.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <map>
#include <string_view>
#include <utility>

namespace avrek::playground {

namespace {

constexpr Metres chunk_size = 8.0;
constexpr Metres plane_size = 100.0;
constexpr std::size_t max_sides = 8;

constexpr std::pair<std::string_view, Colour> palette[] = {
    {"soil", {104, 78, 58, 255}},   {"bark", {134, 100, 68, 255}},   {"stone", {176, 172, 160, 255}},
    {"pane", {190, 222, 226, 60}},  {"leaf", {92, 138, 78, 255}},    {"steel", {138, 150, 158, 255}},
    {"water", {84, 130, 148, 255}}, {"cloth", {150, 120, 128, 255}},
};

std::array<float, 3> floats(const Vector3& vector) {
    return {static_cast<float>(vector.x()), static_cast<float>(vector.y()), static_cast<float>(vector.z())};
}

void add_triangle(std::vector<Corner>& to, const Triangle& triangle, Colour colour) {
    const Vector3 across_it = (triangle.b - triangle.a).cross(triangle.c - triangle.a);
    const double size = std::sqrt(across_it.squaredNorm());
    if (size < 1e-12) {
        return;
    }
    const auto normal = floats(across_it / size);
    for (const Vector3* corner : {&triangle.a, &triangle.b, &triangle.c}) {
        to.push_back({floats(*corner), normal, colour});
    }
}

void add_quad(std::vector<Corner>& to, const Vector3& a, const Vector3& b, const Vector3& c, const Vector3& d,
              Colour colour) {
    add_triangle(to, {a, b, c}, colour);
    add_triangle(to, {a, c, d}, colour);
}

void add_box(std::vector<Corner>& to, const Box& box, Colour colour) {
    for (int axis = 0; axis < 3; ++axis) {
        for (const double side : {-1.0, 1.0}) {
            const auto corner = [&](double along, double up) {
                Vector3 point = Vector3::Zero();
                point[axis] = side * box.half_extents[axis];
                point[(axis + 1) % 3] = along * side * box.half_extents[(axis + 1) % 3];
                point[(axis + 2) % 3] = up * box.half_extents[(axis + 2) % 3];
                return to_world(box.pose, point);
            };
            add_quad(to, corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1), colour);
        }
    }
}

// Rings about an axis, from one end to the other; both ends of the straight part have one.
void add_capsule(std::vector<Corner>& to, const Capsule& capsule, Colour colour, std::size_t sides) {
    const Vector3 way = capsule.to - capsule.from;
    const double length = std::sqrt(way.squaredNorm());
    const Vector3 axis = length > 0.0 ? Vector3{way / length} : world_up();
    const Across side = across(axis);
    std::array<Vector3, max_sides> around;
    for (std::size_t turn = 0; turn < sides; ++turn) {
        const double angle = 2.0 * pi * static_cast<double>(turn) / static_cast<double>(sides);
        around[turn] = capsule.radius * (side.left * std::cos(angle) + side.up * std::sin(angle));
    }
    constexpr double steep = 0.8660254037844386; // 60 degrees up each end: half the radius is left
    const std::pair<Vector3, double> rings[] = {{capsule.from - axis * capsule.radius, 0.0},
                                                {capsule.from - axis * capsule.radius * steep, 0.5},
                                                {capsule.from, 1.0},
                                                {capsule.to, 1.0},
                                                {capsule.to + axis * capsule.radius * steep, 0.5},
                                                {capsule.to + axis * capsule.radius, 0.0}};
    for (std::size_t ring = 0; ring + 1 < std::size(rings); ++ring) {
        const auto& [low, low_share] = rings[ring];
        const auto& [high, high_share] = rings[ring + 1];
        for (std::size_t turn = 0; turn < sides; ++turn) {
            const Vector3& here = around[turn];
            const Vector3& next = around[(turn + 1) % sides];
            add_quad(to, low + low_share * here, low + low_share * next, high + high_share * next,
                     high + high_share * here, colour);
        }
    }
}

} // namespace

Colour colour_of(const SurfaceSpec& surface) {
    for (const auto& [name, colour] : palette) {
        if (surface.id == name) {
            return colour;
        }
    }
    std::uint32_t sum = 2166136261U;
    for (const char letter : surface.id) {
        sum = (sum ^ static_cast<unsigned char>(letter)) * 16777619U;
    }
    const auto part = [&sum](unsigned shift) {
        return static_cast<std::uint8_t>(110U + (sum >> shift) % 90U);
    };
    return {part(0), part(8), part(16), 255};
}

void add_shape(std::vector<Corner>& to, const Shape& shape, Colour colour, bool is_far) {
    const std::size_t sides = is_far ? 5 : max_sides;
    if (const auto* sphere = std::get_if<Sphere>(&shape)) {
        add_capsule(to, {sphere->centre, sphere->centre, sphere->radius}, colour, sides);
    } else if (const auto* capsule = std::get_if<Capsule>(&shape)) {
        add_capsule(to, *capsule, colour, sides);
    } else if (const auto* box = std::get_if<Box>(&shape)) {
        add_box(to, *box, colour);
    } else {
        assert(false);
    }
}

LevelGeometry geometry_of(const Level& level, std::span<const SurfaceSpec> surfaces) {
    // By opacity and place, in an order that does not depend on anything else.
    std::map<std::array<int, 3>, std::vector<Corner>> cells;
    const auto put = [&cells](const std::vector<Corner>& corners) {
        for (std::size_t first = 0; first + 2 < corners.size(); first += 3) {
            const Corner& corner = corners[first];
            const auto cell = [](float place) { return static_cast<int>(std::floor(place / chunk_size)); };
            std::vector<Corner>& list =
                cells[{corner.colour[3] < 255 ? 1 : 0, cell(corner.at[0]), cell(corner.at[2])}];
            list.insert(list.end(), corners.begin() + static_cast<std::ptrdiff_t>(first),
                        corners.begin() + static_cast<std::ptrdiff_t>(first) + 3);
        }
    };
    std::vector<Corner> some;
    for (std::size_t index = 0; index < level.triangle_count(); ++index) {
        some.clear();
        add_triangle(some, level.triangle(index),
                     colour_of(surface_of(surfaces, level.triangle_surface(index))));
        put(some);
    }
    for (const LevelPiece& piece : level.pieces()) {
        some.clear();
        const Colour colour = colour_of(surface_of(surfaces, piece.surface));
        if (const auto* plane = std::get_if<HalfSpace>(&piece.shape)) {
            const Across side = across(plane->normal);
            const Vector3 middle = plane->normal * plane->offset;
            const Vector3 left = side.left * plane_size;
            const Vector3 up = side.up * plane_size;
            add_quad(some, middle - left - up, middle + left - up, middle + left + up, middle - left + up,
                     colour);
            if (some[0].normal[1] * static_cast<float>(plane->normal.y()) < 0.0F) {
                std::reverse(some.begin(), some.end());
            }
        } else {
            add_shape(some, piece.shape, colour);
        }
        put(some);
    }
    LevelGeometry geometry;
    for (const auto& [cell, corners] : cells) {
        Chunk chunk{{}, geometry.corners.size(), corners.size()};
        for (const Corner& corner : corners) {
            include(chunk.bounds, Vector3{corner.at[0], corner.at[1], corner.at[2]});
        }
        geometry.corners.insert(geometry.corners.end(), corners.begin(), corners.end());
        (cell[0] == 1 ? geometry.clear : geometry.solid).push_back(chunk);
    }
    return geometry;
}

bool may_be_seen(const Bounds& box, const Camera& camera) {
    const double high = std::tan(0.5 * camera.field_of_view);
    const double wide = high * camera.width / camera.height;
    // Inner normals of the four sides and the front, in the camera's axes.
    const Vector3 planes[] = {{1, 0, wide}, {-1, 0, wide}, {0, 1, high}, {0, -1, high}, {0, 0, 1}};
    for (const Vector3& plane : planes) {
        const Vector3 normal = camera.pose.rotation * plane;
        Vector3 farthest;
        for (int axis = 0; axis < 3; ++axis) {
            farthest[axis] = normal[axis] > 0.0 ? box.high[axis] : box.low[axis];
        }
        if (normal.dot(farthest - camera.pose.position) < 0.0) {
            return false;
        }
    }
    return true;
}

} // namespace avrek::playground
