#include "clearance.h"

#include "../core/rounding.h"

#include <algorithm>
#include <cmath>

namespace avrek::detail {

namespace {

constexpr double fewest_cells = 1 << 12;
constexpr double max_cells = 1 << 21;
constexpr double cells_per_thing = 6.0;
constexpr double smallest_cell = 0.1;
constexpr std::uint8_t farthest = 24; // cells: what is farther off counts as this
// Against roundings of coordinates within 1e6 m.
constexpr double slack = 1e-6;

} // namespace

Clearance::Clearance(const Bounds& bounds, std::size_t things) : bounds_(widened(bounds, 0.01)) {
    if (is_empty(bounds)) {
        bounds_ = {};
        return;
    }
    const Vector3 size = bounds_.high - bounds_.low;
    const double most = std::clamp(cells_per_thing * static_cast<double>(things), fewest_cells, max_cells);
    cell_ = std::max(smallest_cell, std::cbrt(size.x() * size.y() * size.z() / most));
    const auto count = [&] {
        return std::ceil(size.x() / cell_) * std::ceil(size.y() / cell_) * std::ceil(size.z() / cell_);
    };
    while (count() > most) {
        cell_ *= 1.1; // flat and narrow levels
    }
    per_metre_ = 1.0 / cell_;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        size_[axis] =
            std::max(1, static_cast<int>(std::ceil(size[static_cast<Eigen::Index>(axis)] * per_metre_)));
    }
    row_words_ = (static_cast<std::size_t>(size_[0]) + 63) / 64;
    marked_.assign(row_of(0, size_[2]), 0);
    cells_.assign(index_of(0, 0, size_[2]), farthest);
}

std::size_t Clearance::row_of(int y, int z) const {
    return (static_cast<std::size_t>(z) * static_cast<std::size_t>(size_[1]) + static_cast<std::size_t>(y)) *
           row_words_;
}

std::size_t Clearance::index_of(int x, int y, int z) const {
    return (static_cast<std::size_t>(z) * static_cast<std::size_t>(size_[1]) + static_cast<std::size_t>(y)) *
               static_cast<std::size_t>(size_[0]) +
           static_cast<std::size_t>(x);
}

void Clearance::mark_row(int from, int to, int y, int z) {
    std::uint64_t* const row = &marked_[row_of(y, z)];
    for (int x = from; x <= to; ++x) {
        row[x / 64] |= std::uint64_t{1} << static_cast<unsigned>(x % 64);
    }
}

Clearance::Range Clearance::cells_of(const Bounds& box) const {
    Range range;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const auto lane = static_cast<Eigen::Index>(axis);
        const auto last = static_cast<double>(size_[axis] - 1);
        const auto cell = [&](double value) {
            return static_cast<int>(std::clamp((value - bounds_.low[lane]) * per_metre_, 0.0, last));
        };
        range.low[axis] = cell(box.low[lane] - slack);
        range.high[axis] = cell(box.high[lane] + slack);
    }
    return range;
}

void Clearance::mark(const Bounds& box) {
    mark_range(cells_of(box));
}

void Clearance::mark_range(const Range& range) {
    if (marked_.empty()) {
        return; // a level of degenerate triangles has no cells
    }
    for (int z = range.low[2]; z <= range.high[2]; ++z) {
        for (int y = range.low[1]; y <= range.high[1]; ++y) {
            mark_row(range.low[0], range.high[0], y, z);
        }
    }
}

void Clearance::mark(const Triangle& triangle) {
    const Range range = cells_of(bounds_of(triangle));
    const bool is_small = range.high[0] - range.low[0] <= 1 && range.high[1] - range.low[1] <= 1 &&
                          range.high[2] - range.low[2] <= 1;
    if (is_small) {
        mark_range(range);
        return;
    }
    // A large one: the cells that its plane cuts.
    const Vector3 normal = (triangle.b - triangle.a).cross(triangle.c - triangle.a);
    const double reach = (0.5 * cell_ + slack) * normal.cwiseAbs().sum();
    for (int z = range.low[2]; z <= range.high[2]; ++z) {
        for (int y = range.low[1]; y <= range.high[1]; ++y) {
            for (int x = range.low[0]; x <= range.high[0]; ++x) {
                const Vector3 middle = bounds_.low + cell_ * Vector3(x + 0.5, y + 0.5, z + 0.5);
                if (std::abs(normal.dot(middle - triangle.a)) <= reach) {
                    mark_row(x, x, y, z);
                }
            }
        }
    }
}

void Clearance::grow(Bits& cells, Bits& room) const {
    const auto plane = row_of(0, 1);
    // One axis after the other.
    for (std::size_t row = 0; row < cells.size(); row += row_words_) {
        for (std::size_t word = 0; word < row_words_; ++word) {
            const std::uint64_t here = cells[row + word];
            const std::uint64_t low = word > 0 ? cells[row + word - 1] >> 63U : 0;
            const std::uint64_t high = word + 1 < row_words_ ? cells[row + word + 1] << 63U : 0;
            room[row + word] = here | here << 1U | here >> 1U | low | high;
        }
    }
    const auto spread = [](const Bits& from, Bits& to, std::size_t begin, std::size_t end, std::size_t step) {
        for (std::size_t word = begin; word < end; ++word) {
            to[word] = from[word] | (word >= begin + step ? from[word - step] : 0) |
                       (word + step < end ? from[word + step] : 0);
        }
    };
    for (std::size_t begin = 0; begin < cells.size(); begin += plane) {
        spread(room, cells, begin, begin + plane, row_words_);
    }
    spread(cells, room, 0, cells.size(), plane);
    cells.swap(room);
}

void Clearance::finish() {
    if (marked_.empty()) {
        return; // there is nothing anywhere
    }
    Bits reached = marked_;
    Bits before(reached.size(), 0);
    Bits room(reached.size());
    const auto columns = static_cast<std::size_t>(size_[0]);
    for (std::uint8_t distance = 0; distance < farthest; ++distance) {
        for (std::size_t row = 0; row < reached.size(); row += row_words_) {
            std::uint8_t* const cells = &cells_[row / row_words_ * columns];
            for (std::size_t word = 0; word < row_words_; ++word) {
                for (std::uint64_t fresh = reached[row + word] & ~before[row + word]; fresh != 0;
                     fresh &= fresh - 1) {
                    const std::size_t x = 64 * word + static_cast<std::size_t>(__builtin_ctzll(fresh));
                    if (x < columns) {
                        cells[x] = distance;
                    }
                }
            }
        }
        before = reached;
        grow(reached, room);
    }
    marked_ = {};
}

double Clearance::at(const Vector3& point) const {
    if (cells_.empty()) {
        return 1e9;
    }
    double outside = 0.0;
    double within = 1e9;
    int cell[3];
    for (int axis = 0; axis < 3; ++axis) {
        const double from_low = point[axis] - bounds_.low[axis];
        const double off = std::max(-from_low, point[axis] - bounds_.high[axis]);
        outside = std::max(outside, off);
        const double place = std::clamp(from_low * per_metre_, -1e6, 1e6);
        const double whole = whole_below(place);
        within = std::min({within, place - whole, whole + 1.0 - place});
        cell[axis] = std::clamp(static_cast<int>(whole), 0, size_[static_cast<std::size_t>(axis)] - 1);
    }
    if (outside > 0.0) {
        return std::max(0.0, outside - slack);
    }
    const int cells = cells_[index_of(cell[0], cell[1], cell[2])];
    return cells == 0 ? 0.0 : std::max(0.0, (static_cast<double>(cells - 1) + within) * cell_ - slack);
}

} // namespace avrek::detail
