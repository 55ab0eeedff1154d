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

/// What stands still: solid pieces and triangle meshes, made once and shared by all scenes that are copied
/// from one another.
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
    std::array<std::uint32_t, 3> corners{}; ///< places in LevelMesh::vertices
    SurfaceId surface{};
    CollisionLayer layer = CollisionLayer::level;
};

/// A triangle mesh, in the axes of the world. It needs not be closed; a closed one has its fronts outside.
struct LevelMesh {
    std::vector<MeshVertex> vertices{};
    std::vector<MeshTriangle> triangles{};
};

struct LevelSettings {
    /// Use wide vector instructions where the processor has them. The results are the same to the last bit.
    bool wide_vectors = true;
};

struct LevelData; // pieces, triangles and the trees over them

/// The still part of a scene. Immutable, cheap to copy.
class Level {
  public:
    /// An empty level.
    Level();

    /// Builds the trees over everything: about a microsecond for each triangle. Triangles without an area are
    /// left out of queries, but keep their number. Preconditions (asserted): finite coordinates within 1e6 m,
    /// corners that are in the mesh, layers other than `bodies`.
    explicit Level(std::vector<LevelPiece> pieces, std::span<const LevelMesh> meshes = {},
                   LevelSettings settings = {});

    const std::vector<LevelPiece>& pieces() const;

    /// Of all meshes together, in their order.
    std::size_t triangle_count() const;
    Triangle triangle(std::size_t index) const;
    SurfaceId triangle_surface(std::size_t index) const;
    CollisionLayer triangle_layer(std::size_t index) const;

    /// How many triangles have no area.
    std::size_t flat_triangles() const;

    /// Of all that is bounded.
    const Bounds& bounds() const;

    /// For the queries.
    const LevelData& data() const { return *data_; }

  private:
    std::shared_ptr<const LevelData> data_;
};

} // namespace avrek
