// Eight capsules at a time against a line. Included by walks_body.h.

static inline Float8 load8(const float* from) {
    Float8 lanes;
    std::memcpy(&lanes, from, sizeof lanes);
    return lanes;
}

// Which capsules of one bundle the line may touch while they are on their way.
static inline unsigned near_line(const capsules::Query& query, const capsules::Bundle& one,
                                 const capsules::Bundle& other) {
    Float8 from[3];
    Float8 to[3];
    Float8 radius = load8(one.radius);
    if (&one == &other) {
        for (int axis = 0; axis < 3; ++axis) {
            from[axis] = load8(one.from[axis]) - query.point[axis];
            to[axis] = load8(one.to[axis]) - query.point[axis];
        }
    } else {
        // No point of a capsule leaves where it begins by more than its ends do.
        Float8 moved_from{};
        Float8 moved_to{};
        for (int axis = 0; axis < 3; ++axis) {
            const Float8 from_way = load8(other.from[axis]) - load8(one.from[axis]);
            const Float8 to_way = load8(other.to[axis]) - load8(one.to[axis]);
            from[axis] = (load8(one.from[axis]) + query.share * from_way) - query.point[axis];
            to[axis] = (load8(one.to[axis]) + query.share * to_way) - query.point[axis];
            moved_from += lane_max(from_way + query.shift[axis], -(from_way + query.shift[axis]));
            moved_to += lane_max(to_way + query.shift[axis], -(to_way + query.shift[axis]));
        }
        radius = lane_max(radius, load8(other.radius)) + query.moved * lane_max(moved_from, moved_to);
    }
    // The parts of both ends across the line; then the point between them that is nearest to it.
    const auto dot = [](const Float8 a[3], const Float8 b[3]) {
        return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    };
    const Float8 direction[3] = {Float8{} + query.direction[0], Float8{} + query.direction[1],
                                 Float8{} + query.direction[2]};
    const Float8 from_along = dot(from, direction);
    const Float8 to_along = dot(to, direction);
    Float8 across[3];
    for (int axis = 0; axis < 3; ++axis) {
        from[axis] -= from_along * direction[axis];
        across[axis] = (to[axis] - to_along * direction[axis]) - from[axis];
    }
    const Float8 length = lane_max(dot(across, across), Float8{} + 1e-30F);
    const Float8 place = lane_min(lane_max(-dot(from, across) / length, Float8{}), Float8{} + 1.0F);
    for (int axis = 0; axis < 3; ++axis) {
        from[axis] += place * across[axis];
    }
    radius += query.radius;
    const Float8 begins = lane_min(from_along, to_along) - radius;
    const Float8 ends = lane_max(from_along, to_along) + radius;
    return movemask((dot(from, from) <= radius * radius) & (begins <= query.limit) & (ends >= query.begin));
}

static std::uint64_t capsules_near(const capsules::Query& query, std::size_t bundles) {
    std::uint64_t mask = 0;
    for (std::size_t index = 0; index < bundles; ++index) {
        mask |= std::uint64_t{near_line(query, query.one[index], query.other[index])}
                << (capsules::width * index);
    }
    return mask;
}
