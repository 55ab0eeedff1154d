#pragma once
#include "../core/big_pages.h"
#include "capsules.h"
#include <avrek/core/bounds.h>
#include <avrek/scene/level.h>
#include <avrek/scene/world.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

/// A tree of boxes, eight to a node, over many small things. The boxes are in single precision and only ever
/// too large, so they decide what is looked at, never what is hit: results do not depend on them.
namespace avrek::detail::tree {

inline constexpr std::uint32_t leaf_bit = 1U << 31U;
inline constexpr std::uint32_t nothing = 0xffffffffU;
inline constexpr std::size_t width = 8;
inline constexpr std::size_t leaf_width = 4;

/// Eight boxes and what is in each: a node, or with `leaf_bit` a leaf. Unused places have empty boxes.
struct alignas(64) Node {
    float sides[2][3][width]; ///< low and high, by axis
    std::uint32_t child[width];
    std::uint8_t layers[width]; ///< collision layers in each child, as bits; of a tree of triangles
};

/// Up to four things by their number; unused places are `nothing`.
using Leaf = std::array<std::uint32_t, leaf_width>;

struct Tree {
    BigVector<Node> nodes; ///< the first is the root; none when the tree is empty
    BigVector<Leaf> leaves;
    float reach = 0.0F; ///< the largest coordinate of any box, without its sign
};

/// Builds the tree of the things with these bounds; those with empty bounds are left out.
/// Top-down by the surface area heuristic over 16 bins (Wald, 2007), eight children at a time.
Tree build_tree(std::span<const Bounds> bounds);

/// Notes in each node which collision layers its children hold, as bits, by those of the leaves.
void note_layers(Tree& tree, std::span<const std::uint8_t> of_leaves);

/// The triangles of one leaf, by place: three cache lines.
struct alignas(64) TriangleLeaf {
    float corners[3][3][leaf_width]; ///< by corner and axis; unused places are points, which nothing hits
    std::uint32_t number[leaf_width];
    std::uint32_t surface[leaf_width];
    std::uint8_t layer[leaf_width];
};

/// A path along which boxes are looked for.
struct Path {
    std::array<double, 3> origin;
    std::array<double, 3> direction;
    double radius = 0.0;
    double length = 0.0;
};

/// Gets every leaf that a walk comes to. May lower `limit`, the distance beyond which nothing matters.
/// Returns false to end the walk.
using LeafVisitor = bool (*)(void* context, std::uint32_t leaf, double& limit);

/// The same for one triangle, by its leaf and its place there.
using TriangleVisitor = bool (*)(void* context, std::uint32_t leaf, std::uint32_t index, double& limit);

/// The triangle that a ray has met first so far.
struct NearestTriangle {
    double distance; ///< the limit while there is none
    std::uint32_t triangle;
    bool from_front;
    std::uint32_t leaf; ///< where it is
    std::uint32_t index;

    bool is_there() const { return triangle != nothing; }
};

inline NearestTriangle none_before(double limit) {
    return {limit, nothing, false, 0, 0};
}

/// The boxes of bodies, as of one moment: their place in the arrays is the body's slot.
struct BodyBoxes {
    const float* low[3];
    const float* high[3];
};

/// A body that a path may meet.
struct FoundBody {
    float near; ///< along the path
    std::uint32_t slot;
};

/// The walks, as compiled for one kind of processor. All kinds give the same results.
struct Walks {
    /// The first triangle that the ray hits before `nearest.distance`, of those whose layer is in `layers`;
    /// of two at the same distance the one with the lower number. With `any`, whichever is found first.
    void (*closest_triangle)(const Tree& tree, const TriangleLeaf* triangles, const Ray& ray,
                             std::uint32_t layers, bool any, NearestTriangle& nearest);
    /// Leaves that a ball may touch on its path, nearer ones about first.
    void (*along)(const Tree& tree, const Path& path, double limit, LeafVisitor visit, void* context);
    /// The triangles that a ball may touch on its path, nearer ones about first; most of those that it does
    /// not touch are left out, and most of those whose layer is not in `layers`.
    void (*triangles_along)(const Tree& tree, const TriangleLeaf* triangles, const Path& path,
                            std::uint32_t layers, double limit, TriangleVisitor visit, void* context);
    /// Leaves that may reach into the bounds.
    void (*within)(const Tree& tree, const Bounds& bounds, LeafVisitor visit, void* context);
    /// Leaves that may be nearer to the point than `limit`, nearer ones first.
    void (*around)(const Tree& tree, const std::array<double, 3>& point, double limit, LeafVisitor visit,
                   void* context);
    /// The slots of bodies whose box the path may touch, in [0, slots), rising, and where it enters the box
    /// at the soonest; returns how many. Boxes of two moments count as one around both, wider by the margin.
    std::size_t (*boxes_along)(const BodyBoxes& one, const BodyBoxes& other, const float* margin,
                               std::size_t slots, const Path& path, FoundBody* found);
    /// The capsules of up to eight bundles that the line may touch, as bits from the lowest.
    std::uint64_t (*capsules_near)(const capsules::Query& query, std::size_t bundles);
    /// As closest_triangle() for the rays of many casts, some at a time.
    void (*closest_triangles)(const Tree& tree, const TriangleLeaf* triangles, std::span<const Cast> casts,
                              std::uint32_t layers, bool any, NearestTriangle* nearest);
};

/// Those for this processor, and the vectors it may use.
const Walks& walks_for(VectorUse use);

inline Path path_of(const Ray& ray, double radius) {
    return {{ray.origin.x(), ray.origin.y(), ray.origin.z()},
            {ray.direction.x(), ray.direction.y(), ray.direction.z()},
            radius,
            ray.length};
}

} // namespace avrek::detail::tree
