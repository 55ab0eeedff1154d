#pragma once
#include <avrek/core/bounds.h>
#include <avrek/core/ids.h>
#include <avrek/scene/filter.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <span>
#include <vector>

/// The static world: solid pieces and triangle meshes, shared by all copies of a scene.
namespace avrek {

/// One solid piece of the level.
struct LevelPiece {
    Shape shape;
    SurfaceId surface{};
    CollisionLayer layer = CollisionLayer::level;
};

/// A corner of a mesh, in single precision as in glTF: within 4 micrometres at 100 m from the origin.
using MeshVertex = Eigen::Vector3f;

/// One triangle of a mesh; its front is where its corners run counter-clockwise.
struct MeshTriangle {
    std::array<std::uint32_t, 3> corners{}; ///< indices into LevelMesh::vertices
    SurfaceId surface{};
    CollisionLayer layer = CollisionLayer::level;
};

/// A triangle mesh, in the world's axes. It can be open; the fronts of a closed one face outwards.
struct LevelMesh {
    std::vector<MeshVertex> vertices{};
    std::vector<MeshTriangle> triangles{};
};

/// Vector instructions that queries can use where the processor has them.
enum class VectorUse : std::uint8_t {
    none,  ///< those that every processor has
    eight, ///< eight numbers at a time: AVX2
    widest ///< all that it has: AVX-512, too
};

/// Settings of a level.
struct LevelSettings {
    VectorUse vectors = VectorUse::widest; ///< results are the same to the last bit
};

namespace detail {
struct LevelData; // pieces, triangles and the trees over them
}

/// The static part of a scene. Immutable, cheap to copy.
class Level {
  public:
    /// Makes an empty level.
    Level();

    /// Builds the search trees: about a microsecond per triangle. Triangles without an area are left out of
    /// queries, but keep their number. Preconditions (asserted): finite coordinates within 1e6 m, corners in
    /// the mesh, no part in the layer `bodies`.
    explicit Level(std::vector<LevelPiece> pieces, std::span<const LevelMesh> meshes = {},
                   LevelSettings settings = {});

    /// Returns the solid pieces.
    const std::vector<LevelPiece>& pieces() const;

    /// Number of triangles of all meshes, in their order.
    std::size_t triangle_count() const;
    /// Returns a triangle by its index over all meshes.
    Triangle triangle(std::size_t index) const;
    /// Returns the surface of a triangle.
    SurfaceId triangle_surface(std::size_t index) const;
    /// Returns the layer of a triangle.
    CollisionLayer triangle_layer(std::size_t index) const;

    /// Returns the number of triangles without an area.
    std::size_t flat_triangles() const;

    /// Returns the bounds of all bounded parts.
    const Bounds& bounds() const;

    /// For the queries.
    const detail::LevelData& data() const { return *data_; }

  private:
    std::shared_ptr<const detail::LevelData> data_;
};

} // namespace avrek
