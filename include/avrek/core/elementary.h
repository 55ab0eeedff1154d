#pragma once
#include <avrek/core/units.h>

/// Elementary functions that give the same bits on every machine and compiler, where the C library's can
/// differ. Square roots, rounding and remainders are exact by IEEE 754 and come from the standard library.
namespace avrek {

/// Returns the sine of `angle`, within 2e-16 for |angle| <= 10 and within 1e-15 * |angle| / 10 beyond. Taylor
/// series on [-pi/4, pi/4] after subtracting multiples of pi/2 in three parts (Cody and Waite, 1980).
/// Precondition (asserted): finite, |angle| <= 1e6.
double sine(Radians angle);

/// Returns the cosine of `angle`; error and precondition as for sine().
double cosine(Radians angle);

/// Returns the angle of the point (x, y) from the +x axis, in [-pi, pi], within 5e-16; 0 for the origin.
/// Taylor series after subtracting a multiple of pi/16. Precondition (asserted): finite arguments.
Radians arc_tangent(double y, double x);

/// Returns 2 to the power of `exponent`, within 1e-15 of the value; 0 below -1000. Taylor series of exp on
/// [-ln 2 / 2, ln 2 / 2]; the integer part of the exponent is exact. Precondition (asserted): not NaN,
/// `exponent <= 1000`.
double power_of_two(double exponent);

} // namespace avrek
