#pragma once
#include <cstdint>
#include <cstring>

/// Roundings that are a call into the C library where a compiler may use no more than every x86-64 has.
namespace avrek::detail {

/// Returns the largest whole number that is not above `value`. Precondition: it is within 2^62.
inline double whole_below(double value) {
    const auto cut = static_cast<double>(static_cast<std::int64_t>(value));
    return cut > value ? cut - 1.0 : cut;
}

/// Returns the next number in single precision after `value`, towards larger ones. Precondition: finite.
inline float next_above(float value) {
    std::int32_t bits = 0;
    value += 0.0F; // no negative zero
    std::memcpy(&bits, &value, sizeof bits);
    bits += bits < 0 ? -1 : 1;
    std::memcpy(&value, &bits, sizeof bits);
    return value;
}

/// The same towards smaller ones.
inline float next_below(float value) {
    return -next_above(-value);
}

} // namespace avrek::detail
