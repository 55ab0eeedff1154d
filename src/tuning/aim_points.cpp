#include "aim_points.h"

#include <avrek/core/random.h>

#include <array>
#include <cassert>
#include <cmath>
#include <cstdint>

namespace avrek::detail {

namespace {

constexpr std::size_t axes = 5;
constexpr std::uint32_t sequence_length = 4096;

// A lattice sequence in base 2 (Hickernell, Hong, L'Ecuyer and Lemieux, 2000). Of the 40 sets of multipliers
// with the least P2 at lengths from 64 to 2048, of 60,000 that were tried, one whose error is small over
// engagements of the demo arsenal with targets that stand and that walk. The axes are not folded to make the
// ends meet: most of an engagement is a step from miss to hit, and folded points are less even.
constexpr std::array<std::uint32_t, axes> multipliers{1, 2847, 3819, 2255, 841};
constexpr std::uint64_t shift_seed = 19; // any will do

// Its bits in reverse order, as a share of the sequence.
double radical_inverse(std::size_t index) {
    double inverse = 0.0;
    double digit = 0.5;
    for (; index > 0; index >>= 1U, digit *= 0.5) {
        inverse += (index & 1U) != 0 ? digit : 0.0;
    }
    return inverse;
}

} // namespace

std::vector<AimDraw> aim_points(const AimBlock& block) {
    assert(block.first + block.count <= sequence_length);
    std::array<double, axes> shift{};
    for (std::size_t axis = 0; axis < axes; ++axis) {
        shift[axis] =
            random_pair({shift_seed, 0, RandomPurpose::recoil, 0, static_cast<std::uint32_t>(axis)})[0];
    }
    std::vector<AimDraw> draws;
    draws.reserve(block.count);
    for (std::size_t point = block.first; point < block.first + block.count; ++point) {
        const double place = radical_inverse(point);
        double uniform[axes];
        for (std::size_t axis = 0; axis < axes; ++axis) {
            const double value = place * multipliers[axis] + shift[axis];
            uniform[axis] = value - std::floor(value);
        }
        draws.push_back(aim_draw_of(uniform));
    }
    return draws;
}

} // namespace avrek::detail
