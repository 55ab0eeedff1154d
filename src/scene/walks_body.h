// The walks over a tree. Included once for each kind of processor, inside of a namespace of its own, by
// walks.cpp, which says what `movemask` is. No guard, and no headers of its own.

static inline Float8 load8(const float* from) {
    Float8 lanes;
    std::memcpy(&lanes, from, sizeof lanes);
    return lanes;
}

static inline Double4 load_as_double(const float* from) {
    Float4 lanes;
    std::memcpy(&lanes, from, sizeof lanes);
    return __builtin_convertvector(lanes, Double4);
}

static inline Float8 least(Float8 a, Float8 b) {
    return a < b ? a : b;
}

static inline Float8 most(Float8 a, Float8 b) {
    return a > b ? a : b;
}

// A path as the boxes see it: every number is rounded so that a box is entered too early and left too late.
struct BoxPath {
    // By axis: whether the path leads down; the origin as seen from the near and the far side; 1 / direction.
    bool down[3];
    float near_origin[3];
    float far_origin[3];
    float near_inverse[3];
    float far_inverse[3];
};

static inline BoxPath box_path(const Path& path) {
    BoxPath result;
    for (int axis = 0; axis < 3; ++axis) {
        const double origin = path.origin[static_cast<std::size_t>(axis)];
        double direction = path.direction[static_cast<std::size_t>(axis)];
        result.down[axis] = direction < 0.0;
        const double slack = ((origin < 0.0 ? -origin : origin) + path.radius + 1.0) * 0x1p-21;
        const double ahead = path.radius + slack;
        result.near_origin[axis] = static_cast<float>(direction < 0.0 ? origin - ahead : origin + ahead);
        result.far_origin[axis] = static_cast<float>(direction < 0.0 ? origin + ahead : origin - ahead);
        // A path across the axis moves by less than the slack, at any distance that matters.
        const double smallest = 1e-15;
        if (direction < smallest && direction > -smallest) {
            direction = direction < 0.0 ? -smallest : smallest;
        }
        result.near_inverse[axis] = static_cast<float>((1.0 - 0x1p-20) / direction);
        result.far_inverse[axis] = static_cast<float>((1.0 + 0x1p-20) / direction);
    }
    return result;
}

static inline float box_limit(double limit) {
    return static_cast<float>(limit < 1e30 ? limit * (1.0 + 0x1p-20) : 1e30);
}

// Which of eight boxes the path enters before `limit`, and where.
static inline unsigned boxes_hit(const BoxPath& path, const float* const low[3], const float* const high[3],
                                 float limit, Float8& near) {
    const Float8 near_x =
        (load8(path.down[0] ? high[0] : low[0]) - path.near_origin[0]) * path.near_inverse[0];
    const Float8 near_y =
        (load8(path.down[1] ? high[1] : low[1]) - path.near_origin[1]) * path.near_inverse[1];
    const Float8 near_z =
        (load8(path.down[2] ? high[2] : low[2]) - path.near_origin[2]) * path.near_inverse[2];
    const Float8 far_x = (load8(path.down[0] ? low[0] : high[0]) - path.far_origin[0]) * path.far_inverse[0];
    const Float8 far_y = (load8(path.down[1] ? low[1] : high[1]) - path.far_origin[1]) * path.far_inverse[1];
    const Float8 far_z = (load8(path.down[2] ? low[2] : high[2]) - path.far_origin[2]) * path.far_inverse[2];
    near = most(most(near_x, near_y), most(near_z, Float8{}));
    const Float8 far = least(least(far_x, far_y), least(far_z, Float8{} + limit));
    return movemask(near <= far);
}

struct Entry8 {
    float near;
    std::uint32_t node;
};

// No node is deeper than 64, and each leaves at most seven more to do.
static constexpr int stack_size = 64 * 7 + 8;

// Puts the children in `mask` on the stack, the nearest on top.
static inline int push_children(const Node& node, unsigned mask, const Float8& near, Entry8* stack,
                                int size) {
    float distances[width];
    std::memcpy(distances, &near, sizeof distances);
    const int bottom = size;
    while (mask != 0) {
        const unsigned child = static_cast<unsigned>(__builtin_ctz(mask));
        mask &= mask - 1;
        const Entry8 entry{distances[child], node.child[child]};
        int place = size++;
        while (place > bottom && stack[place - 1].near < entry.near) {
            stack[place] = stack[place - 1];
            --place;
        }
        stack[place] = entry;
    }
    return size;
}

// Walks nodes and leaves that `hits(node, limit, near)` finds, nearer ones first; `visit(leaf, limit)` may
// lower the limit, and ends the walk by returning false.
template <class Hits, class Visit>
static inline void walk(const Tree& tree, double limit, const Hits& hits, const Visit& visit) {
    if (tree.nodes.empty()) {
        return;
    }
    Entry8 stack[stack_size];
    int size = 1;
    stack[0] = {0.0F, 0};
    float bound = box_limit(limit);
    while (size > 0) {
        const Entry8 next = stack[--size];
        if (next.near > bound) {
            continue;
        }
        if ((next.node & leaf_bit) != 0) {
            if (!visit(next.node & ~leaf_bit, limit)) {
                return;
            }
            bound = box_limit(limit);
            continue;
        }
        const Node& node = tree.nodes[next.node];
        Float8 near;
        const unsigned mask = hits(node, bound, near);
        size = push_children(node, mask, near, stack, size);
    }
}

struct HitsAlong {
    BoxPath path;

    unsigned operator()(const Node& node, float limit, Float8& near) const {
        const float* const low[3] = {node.low[0], node.low[1], node.low[2]};
        const float* const high[3] = {node.high[0], node.high[1], node.high[2]};
        return boxes_hit(path, low, high, limit, near);
    }
};

// Four triangles against a ray, as cross() in watertight.h does it for one: the same operations in the same
// order, so the same bits.
struct FourTriangles {
    const WatertightRay& ray;
    Double4 distance;
    Double4 determinant;

    unsigned cross(const TriangleLeaf& leaf) {
        Double4 x[3];
        Double4 y[3];
        Double4 z[3];
        for (int corner = 0; corner < 3; ++corner) {
            z[corner] = load_as_double(leaf.corners[corner][ray.axes[2]]) - ray.origin[2];
            x[corner] =
                (load_as_double(leaf.corners[corner][ray.axes[0]]) - ray.origin[0]) - ray.shear_x * z[corner];
            y[corner] =
                (load_as_double(leaf.corners[corner][ray.axes[1]]) - ray.origin[1]) - ray.shear_y * z[corner];
        }
        const Double4 u = x[2] * y[1] - y[2] * x[1];
        const Double4 v = x[0] * y[2] - y[0] * x[2];
        const Double4 w = x[1] * y[0] - y[1] * x[0];
        const Double4 zero{};
        const Long4 negative = (u < zero) | (v < zero) | (w < zero);
        const Long4 positive = (u > zero) | (v > zero) | (w > zero);
        determinant = (u + v) + w;
        const unsigned mask = movemask(~(negative & positive) & (determinant != zero));
        if (mask != 0) {
            distance = ((u * (ray.shear_z * z[0]) + v * (ray.shear_z * z[1])) + w * (ray.shear_z * z[2])) /
                       determinant;
        }
        return mask;
    }
};

static void closest_triangle(const Tree& tree, const TriangleLeaf* triangles, const std::uint8_t* layers_of,
                             const Ray& ray, std::uint32_t layers, bool any, NearestTriangle& nearest) {
    const WatertightRay straight = watertight(ray);
    const HitsAlong hits{box_path(path_of(ray, 0.0))};
    FourTriangles four{straight, {}, {}};
    const auto visit = [&](std::uint32_t leaf, double& limit) {
        unsigned mask = four.cross(triangles[leaf]);
        while (mask != 0) {
            const unsigned lane = static_cast<unsigned>(__builtin_ctz(mask));
            mask &= mask - 1;
            const double distance = four.distance[lane];
            const bool from_front = four.determinant[lane] < 0.0;
            const std::uint32_t triangle = tree.leaves[leaf][lane];
            const bool ahead = distance > 0.0 || (distance == 0.0 && from_front);
            const bool first = distance < limit || (distance == limit && triangle < nearest.triangle &&
                                                    nearest.triangle != nothing);
            if (ahead && first && (layers >> layers_of[triangle] & 1U) != 0) {
                nearest = {distance, triangle, from_front};
                limit = distance;
                if (any) {
                    return false;
                }
            }
        }
        return true;
    };
    walk(tree, nearest.distance, hits, visit);
}

static void along(const Tree& tree, const Path& path, double limit, LeafVisitor visitor, void* context) {
    const HitsAlong hits{box_path(path)};
    walk(tree, limit, hits, [&](std::uint32_t leaf, double& to) { return visitor(context, leaf, to); });
}

static void within(const Tree& tree, const Bounds& bounds, LeafVisitor visitor, void* context) {
    float low[3];
    float high[3];
    for (int axis = 0; axis < 3; ++axis) {
        const double slack =
            0x1p-21 * (1.0 + __builtin_fabs(bounds.low[axis]) + __builtin_fabs(bounds.high[axis]));
        low[axis] = static_cast<float>(bounds.low[axis] - slack);
        high[axis] = static_cast<float>(bounds.high[axis] + slack);
    }
    const auto hits = [&](const Node& node, float, Float8& near) {
        near = Float8{};
        return movemask((load8(node.low[0]) <= high[0]) & (load8(node.high[0]) >= low[0]) &
                        (load8(node.low[1]) <= high[1]) & (load8(node.high[1]) >= low[1]) &
                        (load8(node.low[2]) <= high[2]) & (load8(node.high[2]) >= low[2]));
    };
    walk(tree, 1.0, hits, [&](std::uint32_t leaf, double& to) { return visitor(context, leaf, to); });
}

static void around(const Tree& tree, const std::array<double, 3>& point, double limit, LeafVisitor visitor,
                   void* context) {
    float low[3];
    float high[3];
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const double slack = 0x1p-21 * (1.0 + __builtin_fabs(point[axis]));
        low[axis] = static_cast<float>(point[axis] - slack);
        high[axis] = static_cast<float>(point[axis] + slack);
    }
    // Distances are squared on the stack, so the limit is too; the roundings of six operations are less than
    // what box_limit() adds.
    const auto hits = [&](const Node& node, float bound, Float8& near) {
        near = Float8{};
        for (int axis = 0; axis < 3; ++axis) {
            const Float8 off =
                most(most(load8(node.low[axis]) - high[axis], low[axis] - load8(node.high[axis])), Float8{});
            near += off * off;
        }
        return movemask(near <= bound);
    };
    walk(tree, limit * limit, hits, [&](std::uint32_t leaf, double& squared) {
        double distance = __builtin_sqrt(squared);
        const double before = distance;
        const bool go_on = visitor(context, leaf, distance);
        if (distance < before) {
            squared = distance * distance;
        }
        return go_on;
    });
}

static std::size_t boxes_along(const BodyBoxes& one, const BodyBoxes& other, const float* margin,
                               std::size_t slots, const Path& path, std::uint16_t* found) {
    const BoxPath straight = box_path(path);
    const float limit = box_limit(path.length);
    std::size_t count = 0;
    for (std::size_t slot = 0; slot < slots; slot += width) {
        float low[3][width];
        float high[3][width];
        const Float8 wider = load8(margin + slot);
        for (int axis = 0; axis < 3; ++axis) {
            const Float8 lowest = least(load8(one.low[axis] + slot), load8(other.low[axis] + slot)) - wider;
            const Float8 highest = most(load8(one.high[axis] + slot), load8(other.high[axis] + slot)) + wider;
            std::memcpy(low[axis], &lowest, sizeof lowest);
            std::memcpy(high[axis], &highest, sizeof highest);
        }
        const float* const lows[3] = {low[0], low[1], low[2]};
        const float* const highs[3] = {high[0], high[1], high[2]};
        Float8 near;
        unsigned mask = boxes_hit(straight, lows, highs, limit, near);
        while (mask != 0) {
            found[count++] = static_cast<std::uint16_t>(slot + static_cast<unsigned>(__builtin_ctz(mask)));
            mask &= mask - 1;
        }
    }
    return count;
}

static constexpr Walks walks{closest_triangle, along, within, around, boxes_along};
