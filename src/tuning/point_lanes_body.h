// Arithmetic on eight floats at once. Included once for each kind of processor, inside of a namespace of its
// own, by point_lanes.cpp, which says what `root` is. No guard, and no headers of its own.

struct Float8x3 {
    Float8 x;
    Float8 y;
    Float8 z;
};

static inline Float8 load(const float* from) {
    Float8 values;
    std::memcpy(&values, from, sizeof values);
    return values;
}

static inline void store(Float8 values, float* to) {
    std::memcpy(to, &values, sizeof values);
}

static inline Float8x3 load(const std::array<Lanes, 3>& from) {
    return {load(from[0].data()), load(from[1].data()), load(from[2].data())};
}

static inline void store(const Float8x3& values, std::array<Lanes, 3>& to) {
    store(values.x, to[0].data());
    store(values.y, to[1].data());
    store(values.z, to[2].data());
}

static inline Float8 smaller(Float8 a, Float8 b) {
    return a < b ? a : b;
}

static inline Float8 larger(Float8 a, Float8 b) {
    return a > b ? a : b;
}

static double sum(const float* values, std::size_t count) {
    Float8 sums{};
    std::size_t index = 0;
    for (; index + lanes <= count; index += lanes) {
        sums += load(values + index);
    }
    double all = 0.0;
    for (std::size_t lane = 0; lane < lanes; ++lane) {
        all += static_cast<double>(sums[lane]);
    }
    for (; index < count; ++index) {
        all += static_cast<double>(values[index]);
    }
    return all;
}

static void add(float* to, const float* values, std::size_t count) {
    for (std::size_t index = 0; index < count; index += lanes) {
        store(load(to + index) + load(values + index), to + index);
    }
}

static void subtract(float* from, const float* values, std::size_t count) {
    for (std::size_t index = 0; index < count; index += lanes) {
        store(load(from + index) - load(values + index), from + index);
    }
}

static void multiply(float* values, const float* by, std::size_t count) {
    for (std::size_t index = 0; index < count; index += lanes) {
        store(load(values + index) * load(by + index), values + index);
    }
}

static void add_product(float* to, const float* one, const float* other, std::size_t count) {
    for (std::size_t index = 0; index < count; index += lanes) {
        store(load(to + index) + load(one + index) * load(other + index), to + index);
    }
}

static void clamp(float* values, std::size_t count) {
    for (std::size_t index = 0; index < count; index += lanes) {
        store(larger(load(values + index), Float8{}), values + index);
    }
}

// Heights of rows and how high each is, in radii. Chords grow from nothing at a round end, where even rows
// would be poor: they are at the sines of even angles, or at the squares of even steps.
static void cut(const DiscOnMap& disc, DiscChords& chords) {
    constexpr float round_end = 0.8F; // an end of the map beyond this is taken for the disc's
    constexpr float each = 1.0F / static_cast<float>(lanes);
    constexpr float angle = 3.14159265F / static_cast<float>(lanes);
    constexpr float inverse_of_pi = 0.31830989F;
    const bool from_bottom = disc.lowest < -round_end;
    const bool to_top = disc.highest > round_end;
    const Float8 step = (Float8{0, 1, 2, 3, 4, 5, 6, 7} + disc.phase) * each;
    Float8 up;
    Float8 high;
    if (from_bottom && to_top) {
        const float turn = (disc.phase - 0.5F) * angle;
        const float turn_sine = turn * (1.0F - turn * turn * (1.0F / 6.0F));
        const float turn_cosine = 1.0F - turn * turn * (0.5F - turn * turn * (1.0F / 24.0F));
        const Float8 sines = load(row_sines.data());
        const Float8 cosines = load(row_cosines.data());
        up = sines * turn_cosine + cosines * turn_sine;
        high = angle * (cosines * turn_cosine - sines * turn_sine);
    } else if (from_bottom) {
        const float all = disc.highest + 1.0F;
        up = all * (step * step) - 1.0F;
        high = (2.0F * each * all) * step;
    } else if (to_top) {
        const float all = 1.0F - disc.lowest;
        up = 1.0F - all * (step * step);
        high = (2.0F * each * all) * step;
    } else {
        const float all = disc.highest - disc.lowest;
        up = disc.lowest + all * step;
        high = each * all + Float8{};
    }
    const Float8 half = disc.radius * root(larger(1.0F - up * up, Float8{}));
    store(disc.right - half, chords.from.data());
    store(disc.right + half, chords.to.data());
    const Float8 row = disc.row + disc.in_rows * up;
    const Int8 inside = (row >= 0.0F) & (row < disc.rows);
    const Float8 weight = (disc.weight * inverse_of_pi / disc.radius) * high;
    store(inside ? weight : Float8{}, chords.weight.data());
    const Int8 rows =
        __builtin_convertvector(smaller(larger(row, Float8{}), disc.rows - 1.0F + Float8{}), Int8);
    std::memcpy(chords.row.data(), &rows, sizeof rows);
}

static void sum_slots(const DiscChords& chords, const SlotEnds* slots, std::size_t groups, float* sums) {
    for (std::size_t group = 0; group < groups; ++group) {
        Float8 sum{};
        for (std::size_t index = 0; index < lanes; ++index) {
            const SlotEnds& ends = slots[static_cast<std::size_t>(chords.row[index]) * groups + group];
            const Float8 from = larger(load(ends.from.data()), chords.from[index] + Float8{});
            const Float8 to = smaller(load(ends.to.data()), chords.to[index] + Float8{});
            sum += chords.weight[index] * larger(to - from, Float8{});
        }
        store(sum, sums + group * lanes);
    }
}

struct Angles {
    Float8 sine;
    Float8 cosine;
};

// Angles a little more than one whose sine and cosine are known, by Taylor series: within 1e-7 for up to
// 1 radian.
static inline Angles turned_by(float sine, float cosine, Float8 by) {
    const Float8 square = by * by;
    const Float8 by_sine =
        by * (1.0F - square * (1.0F / 6.0F) *
                         (1.0F - square * (1.0F / 20.0F) *
                                     (1.0F - square * (1.0F / 42.0F) * (1.0F - square * (1.0F / 72.0F)))));
    const Float8 by_cosine =
        1.0F - square * 0.5F *
                   (1.0F - square * (1.0F / 12.0F) *
                               (1.0F - square * (1.0F / 30.0F) * (1.0F - square * (1.0F / 56.0F))));
    return {sine * by_cosine + cosine * by_sine, cosine * by_cosine - sine * by_sine};
}

static inline Float8x3 turned(const Angles& yaw, const std::array<float, 3>& own) {
    return {yaw.cosine * own[0] + yaw.sine * own[2], own[1] + Float8{},
            yaw.cosine * own[2] - yaw.sine * own[0]};
}

// A look that is farther off than that meets nothing either way.
static inline Float8 near(Float8 angle) {
    constexpr float farthest = 1.5F;
    return smaller(larger(angle, -farthest + Float8{}), farthest + Float8{});
}

static void look(const LookingShooter& shooter, LookLanes& looks) {
    const Angles yaw = turned_by(shooter.yaw_sine, shooter.yaw_cosine, near(load(looks.yaw.data())));
    const Angles pitch = turned_by(shooter.pitch_sine, shooter.pitch_cosine, near(load(looks.pitch.data())));
    const Float8x3 view{yaw.sine * pitch.cosine, pitch.sine, yaw.cosine * pitch.cosine};
    const Float8x3 grip = turned(yaw, shooter.grip);
    store(view, looks.view);
    store(turned(yaw, shooter.eye), looks.eye);
    store({grip.x + shooter.muzzle * view.x, grip.y + shooter.muzzle * view.y,
           grip.z + shooter.muzzle * view.z},
          looks.muzzle);
}

static inline Float8 dot(const Float8x3& a, const std::array<float, 3>& b) {
    return a.x * b[0] + a.y * b[1] + a.z * b[2];
}

// Where lines cross the map's plane, which is taken to be as far away as the target.
static inline void place(const LookFrame& map, const Float8x3& from, const Float8x3& direction,
                         LookLanes& looks) {
    const Float8x3 shift{from.x - map.from[0], from.y - map.from[1], from.z - map.from[2]};
    const Float8 ahead = dot(direction, map.forward);
    const Float8 left_to_go = map.depth - dot(shift, map.forward);
    const Int8 meets = (ahead > 1e-3F) & (left_to_go > 0.0F);
    const Float8 along = left_to_go / (meets ? ahead : 1.0F + Float8{});
    const Float8x3 met{shift.x + along * direction.x, shift.y + along * direction.y,
                       shift.z + along * direction.z};
    store(-dot(met, map.left) / map.depth, looks.right.data());
    store(dot(met, map.up) / map.depth, looks.up.data());
    std::memcpy(looks.ahead.data(), &meets, sizeof meets);
}

static void place_views(const LookFrame& map, LookLanes& looks) {
    place(map, load(looks.eye), load(looks.view), looks);
}

static void place_shots(const LookFrame& map, LookLanes& looks) {
    const Float8x3 eye = load(looks.eye);
    const Float8x3 view = load(looks.view);
    const Float8x3 muzzle = load(looks.muzzle);
    const Float8 length = load(looks.length.data());
    place(map, muzzle,
          {eye.x + length * view.x - muzzle.x, eye.y + length * view.y - muzzle.y,
           eye.z + length * view.z - muzzle.z},
          looks);
}

static constexpr PointLanes functions{.sum = sum,
                                      .add = add,
                                      .subtract = subtract,
                                      .multiply = multiply,
                                      .add_product = add_product,
                                      .clamp = clamp,
                                      .cut = cut,
                                      .sum_slots = sum_slots,
                                      .look = look,
                                      .place_views = place_views,
                                      .place_shots = place_shots};
