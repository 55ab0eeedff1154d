#pragma once
#include "clearance.h"
#include "tree.h"
#include <avrek/scene/level.h>
#include <avrek/scene/world.h>

#include <optional>

namespace avrek::detail {

/// Geometry of a level. Triangles lie beside the leaves of their tree, in the leaves' order.
struct LevelData {
    std::vector<LevelPiece> pieces;
    std::vector<std::uint32_t> half_spaces; ///< pieces that are in no tree
    tree::Tree piece_tree;
    tree::Tree triangle_tree;
    BigVector<tree::TriangleLeaf> triangle_leaves;
    std::vector<std::uint8_t> triangle_layers;
    std::vector<SurfaceId> triangle_surfaces;
    std::vector<std::array<std::uint32_t, 3>> corners; ///< corners of triangles, in `vertices`
    std::vector<MeshVertex> vertices;
    std::size_t flat_triangles = 0;
    Bounds bounds;
    Clearance clearance; ///< clearance to what stops shots, without half-spaces
    const tree::Walks* walks = nullptr;
};

/// A list of hits in the order that World states, at most as many as a span has room for.
class HitList {
  public:
    explicit HitList(std::span<Hit> room) : room_(room) {}
    void add(const Hit& hit);
    std::size_t size() const { return size_; }
    bool is_full() const { return size_ == room_.size(); }
    /// Nothing beyond this share of the cast matters any more.
    double last_share() const { return room_[size_ - 1].share; }

  private:
    std::span<Hit> room_;
    std::size_t size_ = 0;
};

/// Whether `one` comes before `other` by World's order.
bool comes_before(const Hit& one, const Hit& other);

/// `hit`, if it comes before what is there.
void take_nearest(std::optional<Hit>& nearest, const Hit& hit);

/// A distance to `point` within which nothing of the level stops shots.
Metres clearance_in_level(const LevelData& level, const Vector3& point);

// The queries of World, of the level alone.
void closest_in_level(const LevelData& level, const Cast& cast, CollisionLayers layers,
                      std::optional<Hit>& nearest);
/// The same for many casts, faster.
void closest_in_level(const LevelData& level, std::span<const Cast> casts, CollisionLayers layers,
                      std::span<std::optional<Hit>> nearest);
/// The part that is found first.
std::optional<std::uint32_t> any_in_level(const LevelData& level, const Cast& cast, CollisionLayers layers);
/// Whether each of many casts meets any part.
void any_in_level(const LevelData& level, std::span<const Cast> casts, CollisionLayers layers,
                  std::span<bool> met);
void every_in_level(const LevelData& level, const Cast& cast, CollisionLayers layers, HitList& found);
void overlap_in_level(const LevelData& level, const Volume& volume, CollisionLayers layers,
                      std::optional<Hit>& nearest);
void nearest_in_level(const LevelData& level, const Vector3& point, CollisionLayers layers, Metres within,
                      std::optional<Hit>& nearest);

} // namespace avrek::detail
