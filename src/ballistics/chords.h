#pragma once
#include "../core/big_pages.h"
#include <avrek/core/vectors.h>

#include <array>
#include <cstddef>
#include <span>
#include <vector>

/// Straight pieces of many paths, laid out so that several are computed at once.
namespace avrek::detail {

/// One straight piece: from where, with which velocity, to where, arriving with which velocity.
struct Chord {
    Vector3 from = Vector3::Zero();
    Vector3 from_velocity = Vector3::Zero();
    Vector3 to = Vector3::Zero();
    Vector3 to_velocity = Vector3::Zero();
};

/// Eight of them, by axis and place.
struct alignas(64) ChordBlock {
    static constexpr std::size_t width = 8;
    double from[3][width];
    double from_velocity[3][width];
    double to[3][width];
    double to_velocity[3][width];
};

using ChordBlocks = BigVector<ChordBlock>;

Chord chord_at(const ChordBlocks& blocks, std::size_t index);
void set_chord(ChordBlocks& blocks, std::size_t index, const Chord& chord);

/// Forces that bend a path.
struct Forces {
    double gravity = 0.0; ///< m/s2 downwards
    double drag = 0.0;    ///< 1/m
};

/// Lets the first `count` chords begin where they end, and integrates them for `seconds`, by the classical
/// Runge-Kutta method (Kutta, 1901).
void step_chords(std::span<ChordBlock> blocks, std::size_t count, const Forces& forces, double seconds);

/// The chord of one path that begins at `from`, for `seconds`: the same bits as step_chords() gives.
Chord make_chord(const Vector3& from, const Vector3& velocity, const Forces& forces, double seconds);

} // namespace avrek::detail
