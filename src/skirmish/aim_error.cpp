#include <avrek/core/elementary.h>
#include <avrek/skirmish/aim_error.h>

#include <algorithm>
#include <cmath>

namespace avrek {

namespace {

// Uniform in, triangular in [-1, 1] out: as the sum of two uniform numbers, less 1.
double triangular(double uniform) {
    return uniform < 0.5 ? std::sqrt(2.0 * uniform) - 1.0 : 1.0 - std::sqrt(2.0 * (1.0 - uniform));
}

} // namespace

AimDraw aim_draw_of(const double (&uniform)[5]) {
    return {{2.0 * triangular(uniform[0]), triangular(uniform[1])},
            2.0 * pi * uniform[2],
            2.0 * pi * uniform[3],
            2.0 * uniform[4] - 1.0};
}

double error_left(const ShooterSpec& shooter, Duration since) {
    const double halves = to_seconds(std::max(Duration{}, since)) / to_seconds(shooter.recovery);
    return 1.0 / (1.0 + halves * halves + halves);
}

Look aim_error(const ShooterSpec& shooter, const AimDraw& draw, Duration since, double across) {
    const double left = error_left(shooter, since);
    const double sway = 3.0 * to_seconds(since);
    const double behind = 2.0 * draw.lag * to_seconds(shooter.tracking) * across;
    return {shooter.error * draw.first.yaw * left + shooter.min_error * sine(sway + draw.sway_yaw) + behind,
            shooter.error * draw.first.pitch * left +
                shooter.min_error * cosine(1.3 * sway + draw.sway_pitch)};
}

} // namespace avrek
