#include "geometry.h"

#include <meshoptimizer.h>

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

namespace {

constexpr std::size_t detail_count = detail_errors.size();
// An error of one metre is too small to see from here.
constexpr double far_enough = 300.0;

int chunk_cell(double at) {
    return static_cast<int>(std::floor(at / chunk_size));
}

// Triangles of one surface and chunk, with the corners that they share.
struct Patch {
    std::vector<std::array<float, 3>> points{};
    std::vector<unsigned> corners{}; // indices of points, three for each triangle
    std::map<std::array<float, 3>, unsigned> numbers{};

    void add(const Triangle& triangle) {
        for (const Vector3* corner : {&triangle.a, &triangle.b, &triangle.c}) {
            const auto [at, is_new] =
                numbers.try_emplace(floats(*corner), static_cast<unsigned>(points.size()));
            if (is_new) {
                points.push_back(at->first);
            }
            corners.push_back(at->second);
        }
    }
    // With fewer triangles, about `error` off: see detail_errors. Its border stays, so that no gap opens
    // between a coarse patch and a fine one.
    std::vector<unsigned> simplified(Metres error) const {
        const float size = meshopt_simplifyScale(points[0].data(), points.size(), sizeof points[0]);
        if (!(size > 0.0F)) {
            return corners;
        }
        std::vector<unsigned> made(corners.size());
        made.resize(meshopt_simplify(made.data(), corners.data(), corners.size(), points[0].data(),
                                     points.size(), sizeof points[0], 0, static_cast<float>(error) / size,
                                     meshopt_SimplifyLockBorder, nullptr));
        return made;
    }
    Triangle triangle(std::span<const unsigned, 3> of) const {
        const auto point = [this](unsigned number) {
            const auto& at = points[number];
            return Vector3{at[0], at[1], at[2]};
        };
        return {point(of[0]), point(of[1]), point(of[2])};
    }
};

// Shares the corners of triangles that are flat: the last one of a triangle has its normal and colour, the
// others may have those of any other triangle.
class SharedCorners {
  public:
    explicit SharedCorners(LevelGeometry& to) : to_(to) {}
    void add(std::span<const Corner, 3> triangle) {
        const std::size_t last = choose_last(triangle);
        for (const std::size_t turn : {last + 1, last + 2}) {
            std::vector<Known>& here = known_[triangle[turn % 3].at];
            if (here.empty()) {
                here.push_back(make(triangle[turn % 3], false));
            }
            to_.numbers.push_back(here.front().number);
        }
        to_.numbers.push_back(number_of_last_);
    }

  private:
    struct Known {
        std::uint32_t number = 0;
        bool is_last = false; // it is a triangle's last corner
    };
    Known make(const Corner& corner, bool is_last) {
        to_.corners.push_back(corner);
        return {static_cast<std::uint32_t>(to_.corners.size() - 1), is_last};
    }
    // Which of the three it is: one that is there already, or can become it, if there is any.
    std::size_t choose_last(std::span<const Corner, 3> triangle) {
        for (const bool is_last : {true, false}) {
            for (std::size_t turn = 0; turn < 3; ++turn) {
                for (Known& known : known_[triangle[turn].at]) {
                    Corner& corner = to_.corners[known.number];
                    if (known.is_last != is_last || (is_last && (corner.normal != triangle[turn].normal ||
                                                                 corner.colour != triangle[turn].colour))) {
                        continue;
                    }
                    corner = triangle[turn];
                    known.is_last = true;
                    number_of_last_ = known.number;
                    return turn;
                }
            }
        }
        known_[triangle[2].at].push_back(make(triangle[2], true));
        number_of_last_ = known_[triangle[2].at].back().number;
        return 2;
    }

    LevelGeometry& to_;
    std::map<std::array<float, 3>, std::vector<Known>> known_{};
    std::uint32_t number_of_last_ = 0;
};

// Corners by opacity and place, in an order that does not depend on anything else.
class Cells {
  public:
    void put(std::span<const Corner> corners, std::size_t detail, std::array<int, 2> chunk) {
        if (!corners.empty()) {
            std::vector<Corner>& list =
                cells_[{corners[0].colour[3] < 255 ? 1 : 0, chunk[0], chunk[1]}][detail];
            list.insert(list.end(), corners.begin(), corners.end());
        }
    }
    // Puts the triangles of a shape where their first corners are.
    void put(const std::vector<Corner>& corners) {
        for (std::size_t first = 0; first + 2 < corners.size(); first += 3) {
            const Corner& place = corners[first];
            for (std::size_t detail = 0; detail < detail_count; ++detail) {
                put(std::span{corners}.subspan(first, 3), detail,
                    {chunk_cell(place.at[0]), chunk_cell(place.at[2])});
            }
        }
    }
    LevelGeometry geometry() const {
        LevelGeometry made;
        for (const auto& [cell, details] : cells_) {
            Chunk chunk;
            for (std::size_t detail = 0; detail < detail_count; ++detail) {
                const std::vector<Corner>& corners = details[detail];
                chunk.details[detail] = {made.numbers.size(), corners.size()};
                SharedCorners shared{made};
                for (std::size_t first = 0; first < corners.size(); first += 3) {
                    shared.add(std::span{corners}.subspan(first).first<3>());
                }
                for (const Corner& corner : corners) {
                    include(chunk.bounds, Vector3{corner.at[0], corner.at[1], corner.at[2]});
                }
            }
            (cell[0] == 1 ? made.clear : made.solid).push_back(chunk);
        }
        return made;
    }

  private:
    std::map<std::array<int, 3>, std::array<std::vector<Corner>, detail_count>> cells_{};
};

void put_triangles(const Level& level, std::span<const SurfaceSpec> surfaces, Cells& cells) {
    std::map<std::array<int, 3>, Patch> patches; // by surface and chunk
    for (std::size_t index = 0; index < level.triangle_count(); ++index) {
        const Triangle triangle = level.triangle(index);
        patches[{static_cast<int>(to_index(level.triangle_surface(index))), chunk_cell(triangle.a.x()),
                 chunk_cell(triangle.a.z())}]
            .add(triangle);
    }
    std::vector<Corner> some;
    for (const auto& [where, patch] : patches) {
        const Colour colour = colour_of(surface_of(surfaces, SurfaceId{static_cast<std::uint8_t>(where[0])}));
        for (std::size_t detail = 0; detail < detail_count; ++detail) {
            const std::vector<unsigned> corners =
                detail == 0 ? patch.corners : patch.simplified(detail_errors[detail]);
            some.clear();
            for (std::size_t first = 0; first < corners.size(); first += 3) {
                add_triangle(some, patch.triangle(std::span{corners}.subspan(first).first<3>()), colour);
            }
            cells.put(some, detail, {where[1], where[2]});
        }
    }
}

} // namespace

Metres distance_to(const Chunk& chunk, const Vector3& point) {
    Vector3 nearest = point;
    for (int axis = 0; axis < 3; ++axis) {
        nearest[axis] = std::clamp(point[axis], chunk.bounds.low[axis], chunk.bounds.high[axis]);
    }
    return std::sqrt((nearest - point).squaredNorm());
}

double next_coarseness(double coarser, Duration picture) {
    constexpr Duration slow = std::chrono::milliseconds{45};
    constexpr Duration quick = std::chrono::milliseconds{30};
    const double wanted = picture > slow ? 1.1 * coarser : picture < quick ? coarser / 1.02 : coarser;
    return std::clamp(wanted, 1.0, 2.0);
}

std::size_t detail_of(const Chunk& chunk, const Camera& camera, double coarser) {
    // A narrower picture is a nearer one.
    const double nearer = coarser * std::tan(0.5 * camera.field_of_view) / std::tan(pi / 6.0);
    const double distance = distance_to(chunk, camera.pose.position) * nearer;
    std::size_t detail = 0;
    while (detail + 1 < detail_count && distance > far_enough * detail_errors[detail + 1]) {
        ++detail;
    }
    return detail;
}

LevelGeometry geometry_of(const Level& level, std::span<const SurfaceSpec> surfaces) {
    Cells cells;
    put_triangles(level, surfaces, cells);
    std::vector<Corner> some;
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
        cells.put(some);
    }
    return cells.geometry();
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
