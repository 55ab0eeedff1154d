#include <avrek/core/elementary.h>
#include <avrek/weapon/spread.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

// The direction at 1 - cos(theta) = drop from `aim`, towards (left, up), which has unit length.
Vector3 tilted(const Vector3& aim, double drop, double left, double up) {
    const double out = std::sqrt(drop * (2.0 - drop));
    const Across axes = across(aim);
    const Vector3 direction = (1.0 - drop) * aim + (out * left) * axes.left + (out * up) * axes.up;
    return direction / std::sqrt(direction.squaredNorm());
}

// 1 - cos(angle) as 2 sin^2(angle / 2), which keeps its digits in a narrow cone.
double drop_of(Radians angle) {
    const double half_sine = sine(0.5 * angle);
    return 2.0 * half_sine * half_sine;
}

} // namespace

Vector3 spread_direction(const Vector3& aim, Radians half_angle, const RandomKey& key, SpreadShape shape) {
    assert(half_angle >= 0.0 && half_angle < pi / 2.0);
    if (half_angle == 0.0) {
        return aim;
    }
    const auto [u, v] = random_pair(key);
    const double share = shape == SpreadShape::centred ? u * u : u;
    const double around = 2.0 * pi * v;
    return tilted(aim, share * drop_of(half_angle), cosine(around), sine(around));
}

Vector3 pellet_direction(const SpreadSpec& spread, const Vector3& aim, Radians half_angle, RandomKey key,
                         std::int32_t pellet) {
    assert(pellet >= 0);
    key.block = static_cast<std::uint32_t>(pellet);
    if (spread.pellet_pattern.empty()) {
        return spread_direction(aim, half_angle, key, spread.shape);
    }
    PatternPoint point =
        spread.pellet_pattern[static_cast<std::size_t>(pellet) % spread.pellet_pattern.size()];
    if (spread.pellet_jitter > 0.0) {
        const auto [u, v] = random_pair(key);
        const double away = spread.pellet_jitter * std::sqrt(u);
        point.left += away * cosine(2.0 * pi * v);
        point.up += away * sine(2.0 * pi * v);
    }
    const double radius = std::sqrt(point.left * point.left + point.up * point.up);
    if (radius == 0.0 || half_angle == 0.0) {
        return aim;
    }
    return tilted(aim, drop_of(half_angle * std::min(radius, 1.0)), point.left / radius, point.up / radius);
}

} // namespace avrek
