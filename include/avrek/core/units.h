#pragma once

/// Plainly named units. Files use degrees; code uses radians.
namespace avrek {

/// A length in metres.
using Metres = double;

/// An angle in radians. Positive yaw turns left, positive pitch up.
using Radians = double;

/// The circle constant, rounded to double.
inline constexpr double pi = 3.14159265358979323846;

/// Returns degrees, as files state them, in radians.
constexpr Radians from_degrees(double degrees) {
    return degrees * (pi / 180.0);
}

/// Returns radians in degrees.
constexpr double to_degrees(Radians angle) {
    return angle * (180.0 / pi);
}

} // namespace avrek
