#pragma once
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <bit>
#include <cstdint>

namespace avrek {

/// A hash of a state: equal for equal states, bit for bit; others almost surely differ. It mixes 64-bit words
/// in sequence (finaliser of SplitMix64: Steele, Lea and Flood, 2014). Not cryptographic.
class StateHash {
  public:
    /// Adds a 64-bit word.
    void add(std::uint64_t word) {
        std::uint64_t mixed = (value_ ^ word) + 0x9e3779b97f4a7c15U;
        mixed = (mixed ^ (mixed >> 30U)) * 0xbf58476d1ce4e5b9U;
        mixed = (mixed ^ (mixed >> 27U)) * 0x94d049bb133111ebU;
        value_ = mixed ^ (mixed >> 31U);
    }
    /// Adds the bits of a number.
    void add(double value) { add(std::bit_cast<std::uint64_t>(value)); }
    /// Adds the coordinates of a vector.
    void add(const Vector3& vector) {
        add(vector.x());
        add(vector.y());
        add(vector.z());
    }
    /// Adds a time.
    void add(Time at) { add(static_cast<std::uint64_t>(at.time_since_epoch().count())); }

    /// Returns the hash.
    std::uint64_t value() const { return value_; }

  private:
    std::uint64_t value_ = 0;
};

} // namespace avrek
