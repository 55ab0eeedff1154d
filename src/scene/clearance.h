#pragma once
#include "../core/big_pages.h"
#include <avrek/core/bounds.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace avrek::detail {

/// How far everything is from any place, at least: a grid over space, looked up in no time. Made once.
class Clearance {
  public:
    /// Over so many things within `bounds`; with empty bounds there is nothing anywhere.
    explicit Clearance(const Bounds& bounds = {}, std::size_t things = 0);

    /// Marks the cells that a box, or a triangle, touches. To be followed by finish().
    void mark(const Bounds& box);
    void mark(const Triangle& triangle);
    void finish();

    /// A distance within which there is nothing, in metres; 0 where something may be.
    double at(const Vector3& point) const;

  private:
    struct Range {
        std::array<int, 3> low;
        std::array<int, 3> high;
    };
    using Bits = std::vector<std::uint64_t>; // a row along x is some whole words

    Range cells_of(const Bounds& box) const;
    std::size_t row_of(int y, int z) const;
    std::size_t index_of(int x, int y, int z) const;
    void mark_range(const Range& range);
    void mark_row(int from, int to, int y, int z);
    /// Adds all neighbours, also those across corners.
    void grow(Bits& cells, Bits& room) const;

    Bounds bounds_;
    double cell_ = 1.0;
    double per_metre_ = 1.0;
    std::array<int, 3> size_{};
    std::size_t row_words_ = 0;
    Bits marked_{};
    BigVector<std::uint8_t> cells_{}; ///< how many cells away something is; diagonals count 1
};

} // namespace avrek::detail
