// The walks over a tree. Included once for each kind of processor, inside of a namespace of its own, by
// walks.cpp, which says what `lane_min`, `lane_max`, `movemask` and `Stack` are. No guard, and no headers of
// its own.

#include "capsules_body.h"

static inline Double4 load_as_double(const float* from) {
    Float4 lanes;
    std::memcpy(&lanes, from, sizeof lanes);
    return as_double(lanes);
}

// A path as the boxes see it: a box side at `x` is met at x * inverse + offset. Every number is rounded so
// that a box is entered too early and left too late. `reach` is the largest coordinate of the boxes; the
// slack covers the roundings of all that is computed from it, and `farther` those that grow with the
// distance.
struct BoxPath {
    // By axis: whether the path leads down; 1 / direction; where it is as seen from the near and the far
    // side. Far sides are met a little later than they are.
    bool down[3];
    Float8 inverse[3];
    Float8 near_offset[3];
    Float8 far_inverse[3];
    Float8 far_offset[3];
};

static constexpr float farther = 1.0F + 0x1p-18F;

static inline BoxPath box_path(const Path& path, float reach) {
    BoxPath result;
    for (int axis = 0; axis < 3; ++axis) {
        const double origin = path.origin[static_cast<std::size_t>(axis)];
        double direction = path.direction[static_cast<std::size_t>(axis)];
        result.down[axis] = direction < 0.0;
        const double slack = ((origin < 0.0 ? -origin : origin) + path.radius + reach + 1.0) * 0x1p-20;
        const double ahead = direction < 0.0 ? -(path.radius + slack) : path.radius + slack;
        // A path across the axis moves by less than the slack, at any distance that matters.
        const double smallest = 1e-15;
        if (direction < smallest && direction > -smallest) {
            direction = direction < 0.0 ? -smallest : smallest;
        }
        const auto inverse = static_cast<float>(1.0 / direction);
        result.inverse[axis] = Float8{} + inverse;
        result.near_offset[axis] =
            Float8{} - static_cast<float>((origin + ahead) * static_cast<double>(inverse));
        const float far_inverse = inverse * farther;
        result.far_inverse[axis] = Float8{} + far_inverse;
        result.far_offset[axis] =
            Float8{} - static_cast<float>((origin - ahead) * static_cast<double>(far_inverse));
    }
    return result;
}

static inline float box_limit(double limit) {
    return static_cast<float>(limit < 1e30 ? limit * (1.0 + 0x1p-18) : 1e30);
}

// Which of eight boxes, given by their near and far sides, the path enters before `limit`, and where.
static inline unsigned boxes_hit(const BoxPath& path, const float* const near_sides[3],
                                 const float* const far_sides[3], float limit, Float8& near) {
    const Float8 near_x = product_sum(load8(near_sides[0]), path.inverse[0], path.near_offset[0]);
    const Float8 near_y = product_sum(load8(near_sides[1]), path.inverse[1], path.near_offset[1]);
    const Float8 near_z = product_sum(load8(near_sides[2]), path.inverse[2], path.near_offset[2]);
    const Float8 far_x = product_sum(load8(far_sides[0]), path.far_inverse[0], path.far_offset[0]);
    const Float8 far_y = product_sum(load8(far_sides[1]), path.far_inverse[1], path.far_offset[1]);
    const Float8 far_z = product_sum(load8(far_sides[2]), path.far_inverse[2], path.far_offset[2]);
    near = lane_max(lane_max(near_x, near_y), lane_max(near_z, Float8{}));
    const Float8 far = lane_min(lane_min(far_x, far_y), lane_min(far_z, Float8{} + limit));
    return movemask(near <= far);
}

// An address is a number here: a tree over bodies has no leaves to point to.
static inline void fetch_lines(std::uintptr_t at) {
    __builtin_prefetch(reinterpret_cast<const void*>(at));
    __builtin_prefetch(reinterpret_cast<const void*>(at + 64));
    __builtin_prefetch(reinterpret_cast<const void*>(at + 128));
}

// Walks nodes and leaves that `hits(node, limit, near)` finds, nearer ones first; `visit(leaf, limit)` may
// lower the limit, and ends the walk by returning false.
template <class Hits, class Visit>
static inline void walk(const Tree& tree, const char* leaves, std::size_t leaf_bytes, double limit,
                        const Hits& hits, Visit&& visit) {
    if (tree.nodes.empty()) {
        return;
    }
    const Node* const nodes = tree.nodes.data();
    Stack stack;
    std::uint32_t next = 0;
    // Nodes that may be visited soon are prefetched: most of a walk is waiting for memory.
    const auto fetch = [nodes, leaves, leaf_bytes](std::uint32_t child) {
        const bool is_leaf = (child & leaf_bit) != 0;
        fetch_lines(is_leaf ? reinterpret_cast<std::uintptr_t>(leaves) + (child & ~leaf_bit) * leaf_bytes
                            : reinterpret_cast<std::uintptr_t>(nodes + child));
    };
    float bound = box_limit(limit);
    for (;;) {
        bool goes_on = true;
        while ((next & leaf_bit) == 0) {
            const Node& node = nodes[next];
            Float8 near;
            const unsigned mask = hits(node, bound, near);
            if (mask == 0) {
                goes_on = false;
                break;
            }
            next = stack.go_down(fetch, node, mask, near);
        }
        if (goes_on) {
            if (!visit(next & ~leaf_bit, limit)) {
                return;
            }
            bound = box_limit(limit);
        }
        if (!stack.pop(bound, next)) {
            return;
        }
    }
}

struct HitsAlong {
    BoxPath path;
    unsigned near_sides[3]; // places in Node::sides
    unsigned far_sides[3];

    explicit HitsAlong(const Path& of, float reach) : path(box_path(of, reach)) {
        for (unsigned axis = 0; axis < 3; ++axis) {
            const unsigned down = path.down[axis] ? 1U : 0U;
            near_sides[axis] = (3 * down + axis) * width;
            far_sides[axis] = (3 * (1 - down) + axis) * width;
        }
    }

    unsigned operator()(const Node& node, float limit, Float8& near) const {
        const float* const sides = &node.sides[0][0][0];
        const float* const in[3] = {sides + near_sides[0], sides + near_sides[1], sides + near_sides[2]};
        const float* const out[3] = {sides + far_sides[0], sides + far_sides[1], sides + far_sides[2]};
        return boxes_hit(path, in, out, limit, near);
    }
};

// The same, of children that hold some of the layers.
struct HitsOnLayers {
    HitsAlong along;
    std::uint64_t wanted; // the layers, for each of eight children

    HitsOnLayers(const Path& of, float reach, std::uint32_t layers)
        : along(of, reach), wanted((layers & 0xffU) * 0x0101010101010101U) {}

    unsigned operator()(const Node& node, float limit, Float8& near) const {
        std::uint64_t held;
        std::memcpy(&held, node.layers, sizeof held);
        held &= wanted;
        // The top bit of each byte that is not zero, then those eight bits side by side.
        const std::uint64_t low = 0x7f7f7f7f7f7f7f7fU;
        const std::uint64_t some = (((held & low) + low) | held) >> 7U & 0x0101010101010101U;
        return along(node, limit, near) & static_cast<unsigned>(some * 0x0102040810204080U >> 56U);
    }
};

static inline Float8 low_of(const Node& node, int axis) {
    return load8(node.sides[0][axis]);
}

static inline Float8 high_of(const Node& node, int axis) {
    return load8(node.sides[1][axis]);
}

static void along(const Tree& tree, const Path& path, double limit, LeafVisitor visitor, void* context) {
    const HitsAlong hits{path, tree.reach};
    walk(tree, reinterpret_cast<const char*>(tree.leaves.data()), sizeof(Leaf), limit, hits,
         [&](std::uint32_t leaf, double& to) { return visitor(context, leaf, to); });
}

// Which of four triangles a ball may touch on its path: those that reach into the box around it, and whose
// plane it crosses or comes near to.
struct FourNear {
    double origin[3];
    double way[3];
    double reach_squared;
    float low[3];
    float high[3];
    float middle[3];    // middle of the path
    float ball_squared; // square of the radius of a ball around it that holds all of the path

    explicit FourNear(const Path& path) {
        const double reach = path.radius + 1e-6;
        reach_squared = reach * reach;
        for (unsigned axis = 0; axis < 3; ++axis) {
            origin[axis] = path.origin[axis];
            way[axis] = path.length * path.direction[axis];
            const double end = origin[axis] + way[axis];
            const double min_end = end < origin[axis] ? end : origin[axis];
            const double max_end = end < origin[axis] ? origin[axis] : end;
            // Outwards by more than the rounding to single precision.
            const double slack = reach + (__builtin_fabs(origin[axis]) + __builtin_fabs(end) + 1.0) * 0x1p-22;
            low[axis] = static_cast<float>(min_end - slack);
            high[axis] = static_cast<float>(max_end + slack);
        }
        double ball = reach + 0.5 * path.length;
        for (unsigned axis = 0; axis < 3; ++axis) {
            const double place = origin[axis] + 0.5 * way[axis];
            middle[axis] = static_cast<float>(place);
            ball += (__builtin_fabs(place) + ball) * 0x1p-20;
        }
        // By more than the roundings of the sum of three squares.
        ball_squared = static_cast<float>(ball * ball * 1.000002);
    }

    // Which of the boxes around four triangles reach into the ball: corners of the path's box are far away.
    Int4 in_ball(const Float4 (&corner)[3][3]) const {
        Float4 squared{};
        for (int axis = 0; axis < 3; ++axis) {
            const Float4 from = lane_min(lane_min(corner[0][axis], corner[1][axis]), corner[2][axis]);
            const Float4 to = lane_max(lane_max(corner[0][axis], corner[1][axis]), corner[2][axis]);
            const Float4 off = lane_max(lane_max(from - middle[axis], middle[axis] - to), Float4{});
            squared += off * off;
        }
        return squared <= ball_squared;
    }

    unsigned operator()(const TriangleLeaf& leaf) const {
        Float4 corner[3][3];
        std::memcpy(corner, leaf.corners, sizeof corner);
        Int4 in_box = ~Int4{};
        for (int axis = 0; axis < 3; ++axis) {
            in_box &= (corner[0][axis] <= high[axis]) | (corner[1][axis] <= high[axis]) |
                      (corner[2][axis] <= high[axis]);
            in_box &= (corner[0][axis] >= low[axis]) | (corner[1][axis] >= low[axis]) |
                      (corner[2][axis] >= low[axis]);
        }
        unsigned mask = movemask(in_box);
        if (mask != 0) {
            mask = movemask(in_box & in_ball(corner));
        }
        if (mask == 0) {
            return 0;
        }
        Double4 a[3];
        Double4 b[3];
        Double4 c[3];
        for (int axis = 0; axis < 3; ++axis) {
            a[axis] = __builtin_convertvector(corner[0][axis], Double4);
            b[axis] = __builtin_convertvector(corner[1][axis], Double4) - a[axis];
            c[axis] = __builtin_convertvector(corner[2][axis], Double4) - a[axis];
        }
        const Double4 x = b[1] * c[2] - b[2] * c[1];
        const Double4 y = b[2] * c[0] - b[0] * c[2];
        const Double4 z = b[0] * c[1] - b[1] * c[0];
        const Double4 start = (origin[0] - a[0]) * x + (origin[1] - a[1]) * y + (origin[2] - a[2]) * z;
        const Double4 end = start + (way[0] * x + way[1] * y + way[2] * z);
        const Double4 limit = reach_squared * (x * x + y * y + z * z);
        const Long4 off = (start * start > limit) & (end * end > limit) & (start * end > Double4{});
        return mask & movemask(~off);
    }
};

static void triangles_along(const Tree& tree, const TriangleLeaf* triangles, const Path& path,
                            std::uint32_t layers, double limit, TriangleVisitor visitor, void* context) {
    const HitsOnLayers hits{path, tree.reach, layers};
    const FourNear near{path};
    walk(tree, reinterpret_cast<const char*>(triangles), sizeof(TriangleLeaf), limit, hits,
         [&](std::uint32_t leaf, double& to) {
             for (unsigned mask = near(triangles[leaf]); mask != 0; mask &= mask - 1) {
                 if (!visitor(context, leaf, static_cast<std::uint32_t>(__builtin_ctz(mask)), to)) {
                     return false;
                 }
             }
             return true;
         });
}

static void within(const Tree& tree, const Bounds& bounds, LeafVisitor visitor, void* context) {
    float low[3];
    float high[3];
    for (int axis = 0; axis < 3; ++axis) {
        const double slack = 0x1p-20 * (1.0 + __builtin_fabs(bounds.low[axis]) +
                                        __builtin_fabs(bounds.high[axis]) + tree.reach);
        low[axis] = static_cast<float>(bounds.low[axis] - slack);
        high[axis] = static_cast<float>(bounds.high[axis] + slack);
    }
    const auto hits = [&](const Node& node, float, Float8& near) {
        near = Float8{};
        return movemask((low_of(node, 0) <= high[0]) & (high_of(node, 0) >= low[0]) &
                        (low_of(node, 1) <= high[1]) & (high_of(node, 1) >= low[1]) &
                        (low_of(node, 2) <= high[2]) & (high_of(node, 2) >= low[2]));
    };
    walk(tree, reinterpret_cast<const char*>(tree.leaves.data()), sizeof(Leaf), 1.0, hits,
         [&](std::uint32_t leaf, double& to) { return visitor(context, leaf, to); });
}

static void around(const Tree& tree, const std::array<double, 3>& point, double limit, LeafVisitor visitor,
                   void* context) {
    float low[3];
    float high[3];
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const double slack = 0x1p-20 * (1.0 + __builtin_fabs(point[axis]) + tree.reach);
        low[axis] = static_cast<float>(point[axis] - slack);
        high[axis] = static_cast<float>(point[axis] + slack);
    }
    // Distances are squared on the stack, so the limit is too; the roundings of six operations are less than
    // what box_limit() adds.
    const auto hits = [&](const Node& node, float bound, Float8& squared) {
        squared = Float8{};
        for (int axis = 0; axis < 3; ++axis) {
            const Float8 off = lane_max(
                lane_max(low_of(node, axis) - high[axis], low[axis] - high_of(node, axis)), Float8{});
            squared += off * off;
        }
        return movemask(squared <= bound);
    };
    walk(tree, reinterpret_cast<const char*>(tree.leaves.data()), sizeof(Leaf), limit * limit, hits,
         [&](std::uint32_t leaf, double& squared) {
             double distance = __builtin_sqrt(squared);
             const double before = distance;
             const bool go_on = visitor(context, leaf, distance);
             if (distance < before) {
                 squared = distance * distance;
             }
             return go_on;
         });
}

// The sides that a path enters and leaves by.
static inline void choose_sides(const BoxPath& path, const float* const low[3], const float* const high[3],
                                const float* near_sides[3], const float* far_sides[3]) {
    for (int axis = 0; axis < 3; ++axis) {
        near_sides[axis] = path.down[axis] ? high[axis] : low[axis];
        far_sides[axis] = path.down[axis] ? low[axis] : high[axis];
    }
}

static std::size_t boxes_along(const BodyBoxes& one, const BodyBoxes& other, const float* margin,
                               std::size_t slots, const Path& path, FoundBody* found) {
    const BoxPath straight = box_path(path, 0.0F);
    const float limit = box_limit(path.length);
    std::size_t count = 0;
    Float8 near;
    const auto add = [&](std::size_t slot, unsigned mask) {
        for (; mask != 0; mask &= mask - 1) {
            const auto lane = static_cast<unsigned>(__builtin_ctz(mask));
            found[count++] = {near[lane], static_cast<std::uint32_t>(slot + lane)};
        }
    };
    const float* near_sides[3];
    const float* far_sides[3];
    if (one.low[0] == other.low[0]) { // one frame: its boxes as they lie there
        choose_sides(straight, one.low, one.high, near_sides, far_sides);
        for (std::size_t slot = 0; slot < slots; slot += width) {
            const float* const in[3] = {near_sides[0] + slot, near_sides[1] + slot, near_sides[2] + slot};
            const float* const out[3] = {far_sides[0] + slot, far_sides[1] + slot, far_sides[2] + slot};
            add(slot, boxes_hit(straight, in, out, limit, near));
        }
        return count;
    }
    float low[3][width];
    float high[3][width];
    const float* const lows[3] = {low[0], low[1], low[2]};
    const float* const highs[3] = {high[0], high[1], high[2]};
    choose_sides(straight, lows, highs, near_sides, far_sides);
    for (std::size_t slot = 0; slot < slots; slot += width) {
        const Float8 margins = load8(margin + slot);
        for (int axis = 0; axis < 3; ++axis) {
            const Float8 lowest =
                lane_min(load8(one.low[axis] + slot), load8(other.low[axis] + slot)) - margins;
            const Float8 highest =
                lane_max(load8(one.high[axis] + slot), load8(other.high[axis] + slot)) + margins;
            std::memcpy(low[axis], &lowest, sizeof lowest);
            std::memcpy(high[axis], &highest, sizeof highest);
        }
        add(slot, boxes_hit(straight, near_sides, far_sides, limit, near));
    }
    return count;
}

#include "rays_body.h"

static constexpr Walks walks{closest_triangle, along,       triangles_along, within,
                             around,           boxes_along, capsules_near,   closest_triangles};
