#pragma once
#include <avrek/core/state_bytes.h>

#include <cstddef>
#include <cstdint>
#include <vector>

namespace avrek {

/// Which cells of space bodies are in, by frame: one bit for many cells that share a number, so it says
/// "none" or "perhaps". Short casts in empty air need not look at any body then.
class BodyCells {
  public:
    BodyCells(std::size_t frames, std::size_t bodies);

    void clear(std::size_t frame);
    /// Adds the cells that a box touches, given by its low and high corners.
    void add(std::size_t frame, const double (&low)[3], const double (&high)[3]);
    /// Whether some body may be in a cell that the box touches.
    bool any(std::size_t frame, const double (&low)[3], const double (&high)[3]) const;

    void save(StateWriter& to) const;
    bool restore(StateReader& from);

  private:
    std::size_t words_ = 0; // words of one frame; a power of two
    std::vector<std::uint64_t> bits_;
    std::vector<std::uint8_t> everywhere_; // by frame: a body that is too large for cells
};

} // namespace avrek
