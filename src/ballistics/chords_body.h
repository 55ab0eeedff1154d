// Steps four chords at once. Included once for each kind of processor, inside of a namespace of its own, by
// chords.cpp, which says what `root` is. No guard, and no headers of its own.

struct Four {
    Double4 x;
    Double4 y;
    Double4 z;
};

static inline Double4 load(const double* from) {
    Double4 lanes;
    std::memcpy(&lanes, from, sizeof lanes);
    return lanes;
}

static inline void store(Double4 lanes, double* to) {
    std::memcpy(to, &lanes, sizeof lanes);
}

static inline Four accelerate(const Four& velocity, const Forces& forces) {
    const Double4 squared = (velocity.x * velocity.x + velocity.y * velocity.y) + velocity.z * velocity.z;
    const Double4 slowing = forces.drag * root(squared);
    return {-slowing * velocity.x, -forces.gravity - slowing * velocity.y, -slowing * velocity.z};
}

static inline Four moved(const Four& from, double seconds, const Four& slope) {
    return {from.x + seconds * slope.x, from.y + seconds * slope.y, from.z + seconds * slope.z};
}

// One axis of four paths: where they go by the slopes of their velocity at the start, twice in the middle,
// and at the end. `twice` is the sum of those in the middle.
static inline void follow(ChordBlock& block, std::size_t axis, std::size_t index, double seconds,
                          Double4 first, Double4 twice, Double4 last) {
    const double sixth = seconds / 6.0;
    const Double4 from = load(&block.to[axis][index]);
    const Double4 velocity = load(&block.to_velocity[axis][index]);
    store(from, &block.from[axis][index]);
    store(velocity, &block.from_velocity[axis][index]);
    store(from + (seconds * velocity + (seconds * sixth) * (first + twice)), &block.to[axis][index]);
    store(velocity + sixth * ((first + 2.0 * twice) + last), &block.to_velocity[axis][index]);
}

static void step(ChordBlock* blocks, std::size_t count, const Forces& forces, double seconds) {
    for (std::size_t block = 0; block < count; ++block) {
        ChordBlock& chords = blocks[block];
        // Memory is what this waits for; asking for what lies beyond the end does no harm.
        for (std::uintptr_t line = 0; line < sizeof(ChordBlock); line += 64) {
            const auto here = reinterpret_cast<std::uintptr_t>(&chords);
            __builtin_prefetch(reinterpret_cast<const void*>(here + 4 * sizeof(ChordBlock) + line), 1);
        }
        for (std::size_t index = 0; index < width; index += 4) {
            const Four velocity{load(&chords.to_velocity[0][index]), load(&chords.to_velocity[1][index]),
                                load(&chords.to_velocity[2][index])};
            const Four first = accelerate(velocity, forces);
            const Four second = accelerate(moved(velocity, 0.5 * seconds, first), forces);
            const Four third = accelerate(moved(velocity, 0.5 * seconds, second), forces);
            const Four last = accelerate(moved(velocity, seconds, third), forces);
            follow(chords, 0, index, seconds, first.x, second.x + third.x, last.x);
            follow(chords, 1, index, seconds, first.y, second.y + third.y, last.y);
            follow(chords, 2, index, seconds, first.z, second.z + third.z, last.z);
        }
    }
}
