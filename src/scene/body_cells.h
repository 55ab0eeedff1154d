#pragma once
#include <cstddef>
#include <cstdint>
#include <vector>

namespace avrek::detail {

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

    /// Bodies may be anywhere in all frames, until one is cleared.
    void forget();

  private:
    struct Box {
        double low[3];
        double high[3];
    };

    std::size_t words_ = 0; // words of one frame; a power of two
    std::vector<std::uint64_t> bits_;
    std::vector<Box> around_;              // by frame: around all bodies
    std::vector<std::uint8_t> everywhere_; // by frame: a body that is too large for cells
};

} // namespace avrek::detail
