#include "geometry.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <map>
#include <optional>
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

// The normal, as long as twice the area.
Vector3 normal_of(const Triangle& triangle) {
    return (triangle.b - triangle.a).cross(triangle.c - triangle.a);
}

// Sizes of cells whose corners become one, and the distance from which that is too small to see.
constexpr Metres cell_sizes[detail_levels] = {0.0, 0.2, 0.4, 0.9};
constexpr Metres far_enough[detail_levels] = {0.0, 9.0, 16.0, 30.0};

int chunk_cell(double at) {
    return static_cast<int>(std::floor(at / chunk_size));
}

// Corners of triangles in different chunks: they stay where they are in all details, so that no gap opens
// between a coarse chunk and a fine one.
class Seams {
  public:
    explicit Seams(const Level& level) {
        for (std::size_t index = 0; index < level.triangle_count(); ++index) {
            const Triangle triangle = level.triangle(index);
            const std::array<int, 2> chunk{chunk_cell(triangle.a.x()), chunk_cell(triangle.a.z())};
            for (const Vector3* corner : {&triangle.a, &triangle.b, &triangle.c}) {
                const auto [at, is_new] = chunks_.try_emplace(key_of(*corner), chunk);
                if (!is_new && at->second != chunk) {
                    at->second.reset();
                }
            }
        }
    }
    bool has(const Vector3& corner) const { return !chunks_.at(key_of(corner)); }

  private:
    static std::array<double, 3> key_of(const Vector3& at) { return {at.x(), at.y(), at.z()}; }

    std::map<std::array<double, 3>, std::optional<std::array<int, 2>>> chunks_{}; // none: several
};

// For each cell, that corner of a surface in it which is nearest to the mean of all: flat parts stay flat,
// and what stands on the ground stays apart from it.
class Coarse {
  public:
    Coarse(const Level& level, const Seams& seams, Metres size) : seams_(seams), size_(size) {
        for (std::size_t index = 0; index < level.triangle_count(); ++index) {
            const Triangle triangle = level.triangle(index);
            for (const Vector3* corner : {&triangle.a, &triangle.b, &triangle.c}) {
                Cell& cell = cells_[cell_of(*corner, level.triangle_surface(index))];
                cell.sum += *corner;
                cell.count += 1.0;
            }
        }
        for (std::size_t index = 0; index < level.triangle_count(); ++index) {
            const Triangle triangle = level.triangle(index);
            for (const Vector3* corner : {&triangle.a, &triangle.b, &triangle.c}) {
                Cell& cell = cells_[cell_of(*corner, level.triangle_surface(index))];
                const double away = (*corner - cell.sum / cell.count).squaredNorm();
                if (away < cell.away) {
                    cell.away = away;
                    cell.chosen = *corner;
                }
            }
        }
    }
    Triangle of(const Triangle& triangle, SurfaceId surface) const {
        const Triangle made{chosen(triangle.a, surface), chosen(triangle.b, surface),
                            chosen(triangle.c, surface)};
        // One that has turned over would be a hole.
        return normal_of(made).dot(normal_of(triangle)) < 0.0 ? Triangle{made.a, made.c, made.b} : made;
    }

  private:
    struct Cell {
        Vector3 sum = Vector3::Zero();
        double count = 0.0;
        double away = 1e300;
        Vector3 chosen = Vector3::Zero();
    };
    std::array<int, 4> cell_of(const Vector3& at, SurfaceId surface) const {
        return {static_cast<int>(to_index(surface)), static_cast<int>(std::floor(at.x() / size_)),
                static_cast<int>(std::floor(at.y() / size_)), static_cast<int>(std::floor(at.z() / size_))};
    }
    Vector3 chosen(const Vector3& at, SurfaceId surface) const {
        return seams_.has(at) ? at : cells_.at(cell_of(at, surface)).chosen;
    }

    const Seams& seams_;
    Metres size_;
    std::map<std::array<int, 4>, Cell> cells_{};
};

// Corners by opacity and place, in an order that does not depend on anything else.
class Cells {
  public:
    // Puts the corners of a shape where its first one is; all of one place in all details.
    void put(const std::vector<Corner>& corners, std::size_t detail, const Corner& place) {
        std::vector<Corner>& list =
            cells_[{place.colour[3] < 255 ? 1 : 0, chunk_cell(place.at[0]), chunk_cell(place.at[2])}][detail];
        list.insert(list.end(), corners.begin(), corners.end());
    }
    void put(const std::vector<Corner>& corners) {
        for (std::size_t first = 0; first + 2 < corners.size(); first += 3) {
            const auto at = corners.begin() + static_cast<std::ptrdiff_t>(first);
            for (std::size_t detail = 0; detail < detail_levels; ++detail) {
                put({at, at + 3}, detail, *at);
            }
        }
    }
    LevelGeometry geometry() const {
        LevelGeometry made;
        for (const auto& [cell, details] : cells_) {
            Chunk chunk;
            for (std::size_t detail = 0; detail < detail_levels; ++detail) {
                const std::vector<Corner>& corners = details[detail];
                chunk.details[detail] = {made.corners.size(), corners.size()};
                for (const Corner& corner : corners) {
                    include(chunk.bounds, Vector3{corner.at[0], corner.at[1], corner.at[2]});
                }
                made.corners.insert(made.corners.end(), corners.begin(), corners.end());
            }
            (cell[0] == 1 ? made.clear : made.solid).push_back(chunk);
        }
        return made;
    }

  private:
    std::map<std::array<int, 3>, std::array<std::vector<Corner>, detail_levels>> cells_{};
};

double area_of(const Triangle& triangle) {
    return 0.5 * std::sqrt(normal_of(triangle).squaredNorm());
}

// Surfaces of thin things, such as pipes. A coarse level would lose most of them, so they stay as they
// are.
std::vector<bool> thin_surfaces(const Level& level, std::size_t count, const Coarse& coarse) {
    constexpr double kept = 0.75; // share of the area
    std::vector<double> fine_areas(count + 1);
    std::vector<double> coarse_areas(count + 1);
    for (std::size_t index = 0; index < level.triangle_count(); ++index) {
        const std::size_t surface = std::min<std::size_t>(to_index(level.triangle_surface(index)), count);
        fine_areas[surface] += area_of(level.triangle(index));
        coarse_areas[surface] += area_of(coarse.of(level.triangle(index), level.triangle_surface(index)));
    }
    std::vector<bool> are_thin(count + 1);
    for (std::size_t surface = 0; surface <= count; ++surface) {
        are_thin[surface] = coarse_areas[surface] < kept * fine_areas[surface];
    }
    return are_thin;
}

void put_triangles(const Level& level, std::span<const SurfaceSpec> surfaces, Cells& cells) {
    const Seams seams{level};
    const Coarse coarse[] = {
        {level, seams, cell_sizes[1]}, {level, seams, cell_sizes[2]}, {level, seams, cell_sizes[3]}};
    const std::vector<bool> are_thin[] = {thin_surfaces(level, surfaces.size(), coarse[0]),
                                          thin_surfaces(level, surfaces.size(), coarse[1]),
                                          thin_surfaces(level, surfaces.size(), coarse[2])};
    std::vector<Corner> some;
    for (std::size_t index = 0; index < level.triangle_count(); ++index) {
        const Triangle triangle = level.triangle(index);
        const Colour colour = colour_of(surface_of(surfaces, level.triangle_surface(index)));
        const std::size_t surface =
            std::min<std::size_t>(to_index(level.triangle_surface(index)), surfaces.size());
        some.clear();
        add_triangle(some, triangle, colour);
        if (some.empty()) {
            continue;
        }
        const Corner place = some.front();
        cells.put(some, 0, place);
        for (std::size_t detail = 1; detail < detail_levels; ++detail) {
            some.clear(); // there is no triangle left if two corners became one
            add_triangle(some,
                         are_thin[detail - 1][surface]
                             ? triangle
                             : coarse[detail - 1].of(triangle, level.triangle_surface(index)),
                         colour);
            cells.put(some, detail, place);
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
    while (detail + 1 < detail_levels && distance > far_enough[detail + 1]) {
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
