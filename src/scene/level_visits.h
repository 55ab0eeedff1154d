#pragma once
#include "level_data.h"

/// Parts of a level as they lie in the leaves of its trees, for the queries.
namespace avrek::detail {

inline void mark_piece(const LevelData& level, std::uint32_t piece, Hit& hit) {
    hit.surface = level.pieces[piece].surface;
    hit.layer = level.pieces[piece].layer;
    hit.part = piece;
}

/// A triangle as it lies in its leaf.
struct Placed {
    std::uint32_t leaf = 0;
    std::uint32_t index = 0;
};

inline void mark_triangle(const LevelData& level, const Placed& at, Hit& hit) {
    const tree::TriangleLeaf& leaf = level.triangle_leaves[at.leaf];
    hit.surface = static_cast<SurfaceId>(leaf.surface[at.index]);
    hit.layer = static_cast<CollisionLayer>(leaf.layer[at.index]);
    hit.part = static_cast<std::uint32_t>(level.pieces.size()) + leaf.number[at.index];
}

inline Triangle triangle_of(const LevelData& level, const Placed& at) {
    const auto& corners = level.triangle_leaves[at.leaf].corners;
    const auto corner = [&](std::size_t index) {
        return Vector3{corners[index][0][at.index], corners[index][1][at.index], corners[index][2][at.index]};
    };
    return {corner(0), corner(1), corner(2)};
}

/// Calls `look(piece)` for the half-spaces, and for what a walk over the pieces' tree comes to.
template <class Look>
struct PieceLeaves {
    const LevelData& level;
    CollisionLayers layers;
    const Look& look; // (piece, limit) -> whether to go on

    bool operator()(std::uint32_t leaf, double& limit) const {
        for (const std::uint32_t piece : level.piece_tree.leaves[leaf]) {
            if (piece != tree::nothing && layers.contains(level.pieces[piece].layer) && !look(piece, limit)) {
                return false;
            }
        }
        return true;
    }
};

/// The same for triangles: `look(place, corners, limit)`.
template <class Look>
struct TriangleLeaves {
    const LevelData& level;
    CollisionLayers layers;
    const Look& look;

    bool operator()(std::uint32_t leaf, double& limit) const {
        const tree::TriangleLeaf& triangles = level.triangle_leaves[leaf];
        for (std::uint32_t index = 0; index < tree::leaf_width; ++index) {
            const Placed at{leaf, index};
            if (triangles.number[index] != tree::nothing &&
                layers.contains(static_cast<CollisionLayer>(triangles.layer[index])) &&
                !look(at, triangle_of(level, at), limit)) {
                return false;
            }
        }
        return true;
    }
};

template <class Leaves>
bool visit_leaves(void* context, std::uint32_t leaf, double& limit) {
    return (*static_cast<const Leaves*>(context))(leaf, limit);
}

inline bool has_level(CollisionLayers layers) {
    return (layers.bits() & ~(1U << static_cast<unsigned>(CollisionLayer::bodies))) != 0;
}

inline std::uint32_t part_of(const LevelData& level, const Placed& at) {
    return static_cast<std::uint32_t>(level.pieces.size()) + level.triangle_leaves[at.leaf].number[at.index];
}

} // namespace avrek::detail
