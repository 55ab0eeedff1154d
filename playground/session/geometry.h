#pragma once
#include <avrek/arsenal/surface_spec.h>
#include <avrek/ballistics/camera.h>
#include <avrek/core/time.h>
#include <avrek/scene/level.h>

#include <array>
#include <cstdint>
#include <span>
#include <vector>

/// Triangles to draw, without a graphics card.
namespace avrek::playground {

/// A colour: red, green, blue, opacity, each 0 to 255.
using Colour = std::array<std::uint8_t, 4>;

/// A corner of a triangle.
struct Corner {
    std::array<float, 3> at{};
    std::array<float, 3> normal{};
    Colour colour{};
};

/// A part of a list of numbers of corners, three for each triangle.
struct CornerRange {
    std::size_t first = 0;
    std::size_t count = 0;
};

/// How far the same surface may be off in each detail, about: rare points are twice as far off. The first is
/// as the level has it, the others are coarser, for what is far away.
inline constexpr std::array<Metres, 5> detail_errors{0.0, 0.005, 0.015, 0.045, 0.135};

/// Triangles that are near each other.
struct Chunk {
    Bounds bounds{};
    std::array<CornerRange, detail_errors.size()> details{}; ///< by number in detail_errors
};

/// Returns the distance from a point to a chunk; 0 inside.
Metres distance_to(const Chunk& chunk, const Vector3& point);
/// Returns the number of the detail that a chunk needs: it is about 0.2 degrees off in a view of 60
/// degrees, times `coarser`, which is at least 1.
std::size_t detail_of(const Chunk& chunk, const Camera& camera, double coarser = 1.0);
/// Returns how much coarser far things are drawn next, from 1 to 2: more while a picture takes longer than a
/// twentieth of a second, less again when it is quick.
double next_coarseness(double coarser, Duration picture);

/// A level to draw.
struct LevelGeometry {
    std::vector<Corner> corners{}; ///< shared by triangles of one chunk
    /// Numbers of corners, three for each triangle. The last one has the triangle's normal and colour.
    std::vector<std::uint32_t> numbers{};
    std::vector<Chunk> solid{};
    std::vector<Chunk> clear{}; ///< panes, drawn after all that is solid
};

/// Returns the colour of a surface of the demo world; of others one by its name.
Colour colour_of(const SurfaceSpec& surface);

/// Returns the triangles of a level in chunks of 8 m; a half-space as a square of 200 m.
LevelGeometry geometry_of(const Level& level, std::span<const SurfaceSpec> surfaces);

/// Adds the triangles of a shape: round ones with eight sides, or five if it is far away. Precondition
/// (asserted): no half-space.
void add_shape(std::vector<Corner>& to, const Shape& shape, Colour colour, bool is_far = false);

/// Returns whether any of a box may be in a perspective camera's picture.
bool may_be_seen(const Bounds& box, const Camera& camera);

} // namespace avrek::playground
