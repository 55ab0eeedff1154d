#include <avrek/core/elementary.h>
#include <avrek/weapon/aim.h>
#include <avrek/weapon/cone.h>

#include <algorithm>

namespace avrek {

namespace {

double stance_factor(const SpreadSpec& spread, const Stance& stance) {
    return (stance.crouching ? spread.crouching : 1.0) * (stance.airborne ? spread.airborne : 1.0) *
           value_at(spread.moving, stance.speed);
}

Radians still_cone(const SpreadSpec& spread, double aim_blend) {
    return blended(spread.hip, spread.aimed.value_or(spread.hip), aim_blend);
}

double tangent(Radians angle) {
    return sine(angle) / cosine(angle);
}

} // namespace

Radians cone_of(const SpreadSpec& spread, double aim_blend, const Stance& stance, Radians bloom) {
    const Radians cone = still_cone(spread, aim_blend) * stance_factor(spread, stance) + bloom;
    return std::min(cone, widest_spread);
}

Radians first_shot_cone(const SpreadSpec& spread, double aim_blend, const Stance& stance) {
    const double surplus = std::max(stance_factor(spread, stance) - 1.0, 0.0);
    return std::min(still_cone(spread, aim_blend) * surplus, widest_spread);
}

Stance stance_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    double speed = state.speed_to;
    if (state.speed_from != state.speed_to && spec.spread.speed_half_life > Duration::zero()) {
        const double halves = to_seconds(at - state.speed_since) / to_seconds(spec.spread.speed_half_life);
        speed += (static_cast<double>(state.speed_from) - speed) * power_of_two(-halves);
    }
    return {speed, state.crouching, state.airborne};
}

Radians bloom_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    return state.bloom == 0.0F ? 0.0
                               : state.bloom * share_left(spec.spread.bloom.recovery, at - state.last_shot);
}

namespace {

bool is_first_shot(const WeaponSpec& spec, const WeaponState& state, Time at) {
    const Duration rest = spec.spread.first_shot_rest;
    return rest > Duration::zero() && (state.shots == 0 || at - state.last_shot >= rest);
}

} // namespace

ConeParts cone_parts_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    const double blend = aim_blend_at(spec, state, at);
    const Stance stance = stance_at(spec, state, at);
    if (is_first_shot(spec, state, at)) {
        return {.movement = first_shot_cone(spec.spread, blend, stance)};
    }
    const Radians base = still_cone(spec.spread, blend);
    return {base, base * (stance_factor(spec.spread, stance) - 1.0), bloom_at(spec, state, at)};
}

Radians cone_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    const double blend = aim_blend_at(spec, state, at);
    const Stance stance = stance_at(spec, state, at);
    if (is_first_shot(spec, state, at)) {
        return first_shot_cone(spec.spread, blend, stance);
    }
    return cone_of(spec.spread, blend, stance, bloom_at(spec, state, at));
}

ConeRange cone_range(const SpreadSpec& spread) {
    double slowest = 1.0;
    double fastest = 1.0;
    if (!spread.moving.points.empty()) {
        const auto [least, most] =
            std::minmax_element(spread.moving.points.begin(), spread.moving.points.end(),
                                [](const CurvePoint& a, const CurvePoint& b) { return a.y < b.y; });
        slowest = least->y;
        fastest = most->y;
    }
    const Radians aimed = spread.aimed.value_or(spread.hip);
    const double least = std::min(spread.crouching, 1.0) * std::min(spread.airborne, 1.0) * slowest;
    const double most = std::max(spread.crouching, 1.0) * std::max(spread.airborne, 1.0) * fastest;
    const Radians bloom = spread.bloom.per_shot.points.empty() ? 0.0 : spread.bloom.max;
    return {spread.first_shot_rest > Duration::zero() ? 0.0 : std::min(spread.hip, aimed) * least,
            std::min(std::max(spread.hip, aimed) * most + bloom, widest_spread)};
}

double accuracy_of(const SpreadSpec& spread, Radians cone) {
    const ConeRange range = cone_range(spread);
    return range.max > range.min ? std::clamp((range.max - cone) / (range.max - range.min), 0.0, 1.0) : 1.0;
}

double crosshair_gap(Radians cone, const Screen& screen) {
    return 0.5 * screen.height * tangent(cone) / tangent(0.5 * screen.field_of_view);
}

} // namespace avrek
