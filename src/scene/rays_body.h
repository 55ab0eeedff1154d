// Rays against triangles. Included by walks_body.h.

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
        const Double4 lowest = lane_min(lane_min(u, v), w);
        const Double4 highest = lane_max(lane_max(u, v), w);
        determinant = (u + v) + w;
        const Long4 outside = (lowest < zero) & (highest > zero);
        const Long4 crossed = determinant != zero;
        const unsigned mask = movemask(crossed & ~outside);
        if (mask != 0) {
            distance = ((u * (ray.shear_z * z[0]) + v * (ray.shear_z * z[1])) + w * (ray.shear_z * z[2])) /
                       determinant;
        }
        return mask;
    }
};

// The triangle that a ray has met so far.
struct RayVisit {
    const TriangleLeaf* triangles;
    FourTriangles four;
    std::uint32_t layers;
    bool any;
    NearestTriangle& nearest;

    // Not a part of the walk, which wants the registers for itself.
    [[gnu::noinline]] bool operator()(std::uint32_t leaf, double& limit) {
        unsigned mask = four.cross(triangles[leaf]);
        while (mask != 0) {
            const unsigned lane = static_cast<unsigned>(__builtin_ctz(mask));
            mask &= mask - 1;
            const double distance = four.distance[lane];
            const bool from_front = four.determinant[lane] < 0.0;
            const std::uint32_t triangle = triangles[leaf].number[lane];
            const bool ahead = distance > 0.0 || (distance == 0.0 && from_front);
            const bool first =
                distance < limit || (distance == limit && triangle < nearest.triangle && nearest.is_there());
            if (ahead && first && (layers >> triangles[leaf].layer[lane] & 1U) != 0) {
                nearest = {distance, triangle, from_front, leaf, lane};
                limit = distance;
                if (any) {
                    return false;
                }
            }
        }
        return true;
    }
};

static void closest_triangle(const Tree& tree, const TriangleLeaf* triangles, const Ray& ray,
                             std::uint32_t layers, bool any, NearestTriangle& nearest) {
    const WatertightRay straight = watertight(ray);
    const HitsOnLayers hits{path_of(ray, 0.0), tree.reach, layers};
    RayVisit visit{triangles, {straight, {}, {}}, layers, any, nearest};
    walk(tree, reinterpret_cast<const char*>(triangles), sizeof(TriangleLeaf), nearest.distance, hits, visit);
}

// One ray of a batch on its walk, which takes a step at a time.
struct RayWalk {
    WatertightRay straight;
    HitsOnLayers hits;
    RayVisit visit;
    double limit;
    float bound;
    std::uint32_t next = 0;
    BatchStack stack; // not cleared, which would cost as much as the walk

    RayWalk(const Tree& tree, const TriangleLeaf* triangles, const Ray& ray, std::uint32_t layers, bool any,
            NearestTriangle& nearest)
        : straight(watertight(ray)), hits(path_of(ray, 0.0), tree.reach, layers), visit{triangles,
                                                                                        {straight, {}, {}},
                                                                                        layers,
                                                                                        any,
                                                                                        nearest},
          limit(nearest.distance), bound(box_limit(limit)) {}
    RayWalk(const RayWalk&) = delete;
    RayWalk& operator=(const RayWalk&) = delete;

    // Visits a node or a leaf, and has the one after it fetched. Returns false at the end of the walk.
    bool step(const Node* nodes) {
        const auto no_fetch = [](std::uint32_t) {};
        bool goes_on = false;
        if ((next & leaf_bit) != 0) {
            if (!visit(next & ~leaf_bit, limit)) {
                return false;
            }
            bound = box_limit(limit);
        } else {
            Float8 near;
            const unsigned mask = hits(nodes[next], bound, near);
            if (mask != 0) {
                next = stack.go_down(no_fetch, nodes[next], mask, near);
                goes_on = true;
            }
        }
        if (!goes_on && !stack.pop(bound, next)) {
            return false;
        }
        if ((next & leaf_bit) != 0) {
            fetch_lines(reinterpret_cast<std::uintptr_t>(visit.triangles + (next & ~leaf_bit)));
        } else {
            fetch_lines(reinterpret_cast<std::uintptr_t>(nodes + next));
            __builtin_prefetch(reinterpret_cast<const char*>(nodes + next) + 192);
        }
        return true;
    }
};

// Rays take turns, a step each: while one waits for memory the others go on.
static void closest_triangles(const Tree& tree, const TriangleLeaf* triangles, std::span<const Cast> casts,
                              std::uint32_t layers, bool any, NearestTriangle* nearest) {
    constexpr std::size_t most = 8; // fit into the first cache
    if (tree.nodes.empty()) {
        return;
    }
    alignas(RayWalk) std::byte room[most][sizeof(RayWalk)];
    RayWalk* walks_there[most];
    std::size_t begun = 0;
    const auto begin = [&](void* at) {
        RayWalk* const made =
            ::new (at) RayWalk(tree, triangles, casts[begun].ray, layers, any, nearest[begun]);
        ++begun;
        return made;
    };
    std::size_t there = 0;
    for (; there < most && begun < casts.size(); ++there) {
        walks_there[there] = begin(room[there]);
    }
    while (there > 0) {
        for (std::size_t index = 0; index < there;) {
            if (walks_there[index]->step(tree.nodes.data())) {
                ++index;
            } else if (begun < casts.size()) {
                walks_there[index] = begin(walks_there[index]);
                ++index;
            } else {
                --there;
                walks_there[index] = walks_there[there];
            }
        }
    }
}
