#pragma once
#include <avrek/skirmish/aim_error.h>

#include <cstddef>
#include <vector>

/// The points at which an engagement's integral over the shooter's error is evaluated.
namespace avrek::detail {

/// The first points of a lattice sequence are a lattice, and each eighth of them is a shifted copy of one
/// with an eighth as many points: that these agree is the measure of the error.
inline constexpr std::size_t lattice_parts = 8;

/// A stretch of the sequence.
struct AimBlock {
    std::size_t first = 0;
    std::size_t count = 0; ///< a power of two, at least 8; `first` is a multiple of it; at most 4096 together
};

/// The draws of a block.
std::vector<AimDraw> aim_points(const AimBlock& block);

} // namespace avrek::detail
