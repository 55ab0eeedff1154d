#include "chords.h"

#include <cstdint>
#include <cstring>
#include <span>

// Vectors are passed between functions of this file alone.
#pragma GCC diagnostic ignored "-Wpsabi"

namespace avrek::detail {

namespace {

constexpr std::size_t width = ChordBlock::width;

using Double4 [[gnu::vector_size(32)]] = double;

namespace portable {

static inline Double4 root(const Double4& values) {
    return Double4{__builtin_sqrt(values[0]), __builtin_sqrt(values[1]), __builtin_sqrt(values[2]),
                   __builtin_sqrt(values[3])};
}

#include "chords_body.h"

} // namespace portable

#if defined(__x86_64__)

#if defined(__clang__)
#pragma clang attribute push(__attribute__((target("avx2"))), apply_to = function)
#else
#pragma GCC push_options
#pragma GCC target("avx2")
#endif

namespace avx2 {

static inline Double4 root(Double4 values) {
    return __builtin_ia32_sqrtpd256(values);
}

#include "chords_body.h"

} // namespace avx2

#if defined(__clang__)
#pragma clang attribute pop
#else
#pragma GCC pop_options
#endif

#endif

// Those beyond the last one that was meant have not moved.
void keep_beyond(ChordBlock& block, std::size_t first, const ChordBlock& before) {
    for (std::size_t axis = 0; axis < 3; ++axis) {
        for (std::size_t index = first; index < width; ++index) {
            block.from[axis][index] = before.from[axis][index];
            block.from_velocity[axis][index] = before.from_velocity[axis][index];
            block.to[axis][index] = before.to[axis][index];
            block.to_velocity[axis][index] = before.to_velocity[axis][index];
        }
    }
}

} // namespace

Chord chord_at(const ChordBlocks& blocks, std::size_t index) {
    const ChordBlock& block = blocks[index / width];
    const std::size_t slot = index % width;
    const auto vector = [slot](const double(&values)[3][width]) {
        return Vector3{values[0][slot], values[1][slot], values[2][slot]};
    };
    return {vector(block.from), vector(block.from_velocity), vector(block.to), vector(block.to_velocity)};
}

void set_chord(ChordBlocks& blocks, std::size_t index, const Chord& chord) {
    ChordBlock& block = blocks[index / width];
    const std::size_t slot = index % width;
    const auto set = [slot](double(&values)[3][width], const Vector3& vector) {
        for (std::size_t axis = 0; axis < 3; ++axis) {
            values[axis][slot] = vector[static_cast<Eigen::Index>(axis)];
        }
    };
    set(block.from, chord.from);
    set(block.from_velocity, chord.from_velocity);
    set(block.to, chord.to);
    set(block.to_velocity, chord.to_velocity);
}

void step_chords(std::span<ChordBlock> blocks, std::size_t count, const Forces& forces, double seconds) {
    const std::size_t used = (count + width - 1) / width;
    const std::size_t rest = count % width;
    ChordBlock before{};
    if (rest > 0) {
        before = blocks[used - 1];
    }
    auto* step = portable::step;
#if defined(__x86_64__)
    if (__builtin_cpu_supports("avx2")) {
        step = avx2::step;
    }
#endif
    step(blocks.data(), used, forces, seconds);
    if (rest > 0) {
        keep_beyond(blocks[used - 1], rest, before);
    }
}

Chord make_chord(const Vector3& from, const Vector3& velocity, const Forces& forces, double seconds) {
    ChordBlocks::value_type block{};
    for (std::size_t axis = 0; axis < 3; ++axis) {
        block.to[axis][0] = from[static_cast<Eigen::Index>(axis)];
        block.to_velocity[axis][0] = velocity[static_cast<Eigen::Index>(axis)];
    }
    portable::step(&block, 1, forces, seconds);
    const auto vector = [](const double(&values)[3][width]) {
        return Vector3{values[0][0], values[1][0], values[2][0]};
    };
    return {from, velocity, vector(block.to), vector(block.to_velocity)};
}

} // namespace avrek::detail
