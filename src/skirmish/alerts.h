#pragma once
#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace avrek::detail {

/// Foes that notice each combatant, by slots: a row of bits for each.
class Alerts {
  public:
    explicit Alerts(std::size_t slots = 0) : row_((slots + 63) / 64), words_(slots * row_) {}

    /// Returns whether anybody notices `slot`.
    bool any(std::uint32_t slot) const {
        const auto row = std::span{words_}.subspan(slot * row_, row_);
        return std::any_of(row.begin(), row.end(), [](std::uint64_t word) { return word != 0; });
    }
    void set(std::uint32_t slot, std::uint32_t by, bool sees) {
        std::uint64_t& word = words_[slot * row_ + by / 64];
        const std::uint64_t bit = std::uint64_t{1} << (by % 64);
        word = sees ? word | bit : word & ~bit;
    }
    /// Nobody notices `slot` any more.
    void clear(std::uint32_t slot) {
        const auto row = std::span{words_}.subspan(slot * row_, row_);
        std::fill(row.begin(), row.end(), std::uint64_t{0});
    }
    void clear_all() { std::fill(words_.begin(), words_.end(), std::uint64_t{0}); }
    /// Returns all bits, for hashes and saved states.
    std::span<const std::uint64_t> words() const { return words_; }
    std::span<std::uint64_t> words() { return words_; }

  private:
    std::size_t row_;
    std::vector<std::uint64_t> words_;
};

} // namespace avrek::detail
