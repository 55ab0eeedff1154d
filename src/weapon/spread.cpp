#include <avrek/core/elementary.h>
#include <avrek/weapon/spread.h>

#include <cassert>
#include <cmath>

namespace avrek {

Vector3 spread_direction(const Vector3& aim, Radians half_angle, const RandomKey& key) {
    assert(half_angle >= 0.0 && half_angle < pi / 2.0);
    if (half_angle == 0.0) {
        return aim;
    }
    const auto [u, v] = random_pair(key);
    // 1 - cos(theta) as 2 sin^2(theta / 2), which keeps its digits in a narrow cone.
    const double half_sine = sine(0.5 * half_angle);
    const double drop = u * 2.0 * half_sine * half_sine;
    const double out = std::sqrt(drop * (2.0 - drop));
    const double around = 2.0 * pi * v;
    const Across axes = across(aim);
    const Vector3 direction =
        (1.0 - drop) * aim + (out * cosine(around)) * axes.left + (out * sine(around)) * axes.up;
    return direction / std::sqrt(direction.squaredNorm());
}

} // namespace avrek
