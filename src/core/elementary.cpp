#include "rounding.h"
#include <avrek/core/elementary.h>

#include <array>
#include <cassert>
#include <cmath>
#include <cstddef>
#include <cstdint>

namespace avrek {

namespace {

// pi/2 in three parts of 33 bits and less, so that small multiples of the first two are exact.
constexpr double half_pi_high = 0x1.921fb544p+0;
constexpr double half_pi_middle = 0x1.0b4611a6p-34;
constexpr double half_pi_low = 0x1.3198a2e037073p-69;

struct Reduced {
    double angle;          // within [-pi/4, pi/4] but for rounding
    std::uint32_t quarter; // quarter turns taken off, modulo 4
};

Reduced reduce(Radians angle) {
    assert(std::isfinite(angle) && std::abs(angle) <= 1e6);
    const double turns = detail::whole_below(angle * (2.0 / pi) + 0.5);
    const double rest = ((angle - turns * half_pi_high) - turns * half_pi_middle) - turns * half_pi_low;
    return {rest, static_cast<std::uint32_t>(static_cast<std::int64_t>(turns) & 3)};
}

double sine_series(double x) {
    const double s = x * x;
    double sum = -1.0 / 121645100408832000.0; // 19!
    sum = sum * s + 1.0 / 355687428096000.0;
    sum = sum * s - 1.0 / 1307674368000.0;
    sum = sum * s + 1.0 / 6227020800.0;
    sum = sum * s - 1.0 / 39916800.0;
    sum = sum * s + 1.0 / 362880.0;
    sum = sum * s - 1.0 / 5040.0;
    sum = sum * s + 1.0 / 120.0;
    sum = sum * s - 1.0 / 6.0;
    return x + x * (s * sum);
}

double cosine_series(double x) {
    const double s = x * x;
    double sum = 1.0 / 6402373705728000.0; // 18!, with its sign below
    sum = 1.0 / 20922789888000.0 - sum * s;
    sum = sum * s - 1.0 / 87178291200.0;
    sum = sum * s + 1.0 / 479001600.0;
    sum = sum * s - 1.0 / 3628800.0;
    sum = sum * s + 1.0 / 40320.0;
    sum = sum * s - 1.0 / 720.0;
    sum = sum * s + 1.0 / 24.0;
    return (1.0 - 0.5 * s) + s * s * sum;
}

// The arc tangent of ratio in [0, 1].
double arc_tangent_of_ratio(double ratio) {
    constexpr std::array<double, 5> tangents{0.0, 0.19891236737965800691, 0.41421356237309504880,
                                             0.66817863791929891999, 1.0};
    // A multiple of pi/16 close enough that |x| < 0.213, where the series below ends at 1e-18.
    const auto step = static_cast<std::size_t>(ratio * 4.7);
    const double x = (ratio - tangents[step]) / (1.0 + ratio * tangents[step]);
    const double s = x * x;
    double sum = 1.0 / 23.0;
    for (int denominator = 21; denominator >= 3; denominator -= 2) {
        sum = 1.0 / denominator - sum * s;
    }
    return static_cast<double>(step) * (pi / 16.0) + (x - x * (s * sum));
}

} // namespace

double sine(Radians angle) {
    const Reduced reduced = reduce(angle);
    const double value =
        (reduced.quarter & 1U) != 0 ? cosine_series(reduced.angle) : sine_series(reduced.angle);
    return (reduced.quarter & 2U) != 0 ? -value : value;
}

double cosine(Radians angle) {
    const Reduced reduced = reduce(angle);
    const double value =
        (reduced.quarter & 1U) != 0 ? sine_series(reduced.angle) : cosine_series(reduced.angle);
    return ((reduced.quarter + 1U) & 2U) != 0 ? -value : value;
}

Radians arc_tangent(double y, double x) {
    assert(std::isfinite(x) && std::isfinite(y));
    const double width = std::abs(x);
    const double height = std::abs(y);
    if (width == 0.0 && height == 0.0) {
        return 0.0;
    }
    const double first = height <= width ? arc_tangent_of_ratio(height / width)
                                         : pi / 2.0 - arc_tangent_of_ratio(width / height);
    const double upper = x < 0.0 ? pi - first : first;
    return y < 0.0 ? -upper : upper;
}

double power_of_two(double exponent) {
    assert(exponent <= 1000.0);
    if (exponent < -1000.0) {
        return 0.0;
    }
    constexpr double log_of_two = 0.693147180559945309417;
    const double whole = detail::whole_below(exponent + 0.5);
    const double x = (exponent - whole) * log_of_two;
    double sum = 1.0;
    for (int term = 15; term >= 1; --term) {
        sum = 1.0 + x / term * sum;
    }
    return std::ldexp(sum, static_cast<int>(whole));
}

} // namespace avrek
