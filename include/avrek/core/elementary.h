#pragma once
#include <avrek/core/units.h>

/// Elementary functions that give the same bits on every machine and compiler, where the C library's may
/// differ. Square roots, rounding and remainders are exact by IEEE 754 and are taken from <cmath>.
namespace avrek {

/// Sine of `angle`, within 2e-16 for |angle| <= 10 and within 1e-15 * |angle| / 10 beyond.
/// By its Taylor series on [-pi/4, pi/4] after subtracting multiples of pi/2 in three parts (Cody and Waite,
/// 1980). Precondition (asserted): finite, |angle| <= 1e6.
double sine(Radians angle);

/// Cosine of `angle`; error and precondition as for sine().
double cosine(Radians angle);

/// The angle of the point (x, y) from the +x axis, in [-pi, pi], within 5e-16; 0 for the origin.
/// By its Taylor series after subtracting a multiple of pi/16. Precondition (asserted): finite arguments.
Radians arc_tangent(double y, double x);

/// 2 to the power of `exponent`, within 1e-15 of the value; 0 below -1000.
/// By the Taylor series of exp on [-ln 2 / 2, ln 2 / 2]; the whole part of the exponent is exact.
/// Precondition (asserted): not NaN, `exponent <= 1000`.
double power_of_two(double exponent);

} // namespace avrek
