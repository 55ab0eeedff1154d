#include "body_cells.h"

#include "../core/rounding.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace avrek::detail {

namespace {

constexpr double cells_per_metre = 1.0;
constexpr std::int64_t max_added = 256; // cells of one body
constexpr std::int64_t max_asked = 27;
constexpr double farthest_cell = 1e8; // cells beyond are not told apart

struct CellRange {
    std::int32_t low[3];
    std::int32_t high[3];

    std::int64_t size() const {
        std::int64_t size = 1;
        for (int axis = 0; axis < 3; ++axis) {
            size *= std::min<std::int64_t>(std::int64_t{high[axis]} - low[axis] + 1, 1000);
        }
        return size;
    }
};

CellRange range_of(const double (&low)[3], const double (&high)[3]) {
    CellRange range;
    for (int axis = 0; axis < 3; ++axis) {
        range.low[axis] = static_cast<std::int32_t>(
            whole_below(std::clamp(low[axis] * cells_per_metre, -farthest_cell, farthest_cell)));
        range.high[axis] = static_cast<std::int32_t>(
            whole_below(std::clamp(high[axis] * cells_per_metre, -farthest_cell, farthest_cell)));
    }
    return range;
}

// A number for a cell, spread over all bits (after Teschner and others, "Optimized spatial hashing", 2003).
std::uint32_t number_of(std::int32_t x, std::int32_t y, std::int32_t z) {
    const std::uint32_t mixed = static_cast<std::uint32_t>(x) * 73856093U ^
                                static_cast<std::uint32_t>(y) * 19349663U ^
                                static_cast<std::uint32_t>(z) * 83492791U;
    return mixed ^ mixed >> 15U;
}

// Calls `look(number)` for each cell of a range until it returns true; returns whether it did.
template <class Look>
bool each_cell(const CellRange& range, const Look& look) {
    for (std::int32_t x = range.low[0]; x <= range.high[0]; ++x) {
        for (std::int32_t y = range.low[1]; y <= range.high[1]; ++y) {
            for (std::int32_t z = range.low[2]; z <= range.high[2]; ++z) {
                if (look(number_of(x, y, z))) {
                    return true;
                }
            }
        }
    }
    return false;
}

} // namespace

BodyCells::BodyCells(std::size_t frames, std::size_t bodies) : words_(16) {
    while (words_ < 16 * bodies) {
        words_ *= 2;
    }
    bits_.resize(frames * words_);
    around_.resize(frames);
    everywhere_.resize(frames);
    for (std::size_t frame = 0; frame < frames; ++frame) {
        clear(frame);
    }
}

void BodyCells::clear(std::size_t frame) {
    std::fill_n(bits_.begin() + static_cast<std::ptrdiff_t>(frame * words_), words_, 0);
    constexpr double infinity = std::numeric_limits<double>::infinity();
    around_[frame] = {{infinity, infinity, infinity}, {-infinity, -infinity, -infinity}};
    everywhere_[frame] = 0;
}

void BodyCells::add(std::size_t frame, const double (&low)[3], const double (&high)[3]) {
    Box& around = around_[frame];
    for (int axis = 0; axis < 3; ++axis) {
        around.low[axis] = std::min(around.low[axis], low[axis]);
        around.high[axis] = std::max(around.high[axis], high[axis]);
    }
    const CellRange range = range_of(low, high);
    if (range.size() > max_added) {
        everywhere_[frame] = 1;
        return;
    }
    std::uint64_t* const bits = &bits_[frame * words_];
    each_cell(range, [&](std::uint32_t number) {
        bits[number / 64 & (words_ - 1)] |= std::uint64_t{1} << number % 64;
        return false;
    });
}

bool BodyCells::any(std::size_t frame, const double (&low)[3], const double (&high)[3]) const {
    if (everywhere_[frame] != 0) {
        return true;
    }
    const Box& around = around_[frame];
    double touched = 1.0; // at least so many cells
    for (int axis = 0; axis < 3; ++axis) {
        if (low[axis] > around.high[axis] || high[axis] < around.low[axis]) {
            return false;
        }
        touched *= std::max(1.0, (high[axis] - low[axis]) * cells_per_metre);
    }
    if (touched > static_cast<double>(max_asked)) {
        return true;
    }
    const CellRange range = range_of(low, high);
    if (range.size() > max_asked) {
        return true;
    }
    const std::uint64_t* const bits = &bits_[frame * words_];
    return each_cell(range, [&](std::uint32_t number) {
        return (bits[number / 64 & (words_ - 1)] >> number % 64 & 1) != 0;
    });
}

void BodyCells::forget() {
    std::fill(everywhere_.begin(), everywhere_.end(), std::uint8_t{1});
}

} // namespace avrek::detail
