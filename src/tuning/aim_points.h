#pragma once
#include <avrek/skirmish/aim_error.h>

#include <cstddef>
#include <vector>

/// The points at which an engagement's integral over the shooter's error is evaluated.
namespace avrek {

/// The points are copies of one lattice sequence, each shifted in its own way: that they agree is the measure
/// of the error.
inline constexpr std::size_t lattice_copies = 8;

/// A stretch of the sequence, the same in each copy.
struct AimBlock {
    std::size_t first = 0;
    std::size_t count = 0; ///< points of each copy; `first` + `count` at most 512

    std::size_t points() const { return lattice_copies * count; }
};

/// The draws of a block, copy by copy.
std::vector<AimDraw> aim_points(const AimBlock& block);

} // namespace avrek
