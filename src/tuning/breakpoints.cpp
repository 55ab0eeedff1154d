#include "kill_in_flight.h"
#include <avrek/ballistics/lead.h>
#include <avrek/tuning/breakpoints.h>

#include <algorithm>

namespace avrek {

namespace {

constexpr int distance_samples = 200;
constexpr Metres exact_enough = 1e-3;

// The point between `low` and `high`, which differ in `same_as_low`, where it changes, within `within`.
template <class Same>
double find_change(double low, double high, double within, const Same& same_as_low) {
    while (high - low > within) {
        const double middle = 0.5 * (low + high);
        (same_as_low(middle) ? low : high) = middle;
    }
    return high;
}

// How far a projectile gets, up to `most`.
Metres flown_to(const ProjectileSpec& projectile, Metres most) {
    if (flight_time(projectile, most)) {
        return most;
    }
    return find_change(0.0, most, exact_enough,
                       [&](Metres distance) { return flight_time(projectile, distance).has_value(); }) -
           exact_enough;
}

} // namespace

std::vector<ShotsStretch> shots_over_distance(const WeaponSpec& weapon, const Target& target, RegionId region,
                                              const ProjectileSpec* projectile) {
    ShotCourse course;
    const Metres reach = projectile != nullptr ? flown_to(*projectile, weapon.range) : weapon.range;
    // How long a flight takes does not change the number of shots: it is the same for each.
    const auto shots_at = [&](Metres distance) {
        const auto flight = distance <= reach ? std::optional{Duration::zero()} : std::nullopt;
        return detail::kill_by_holding({weapon, target, distance, region, projectile, flight}, course,
                                       max_breakpoint_shots)
            .shots;
    };
    std::vector<Metres> distances;
    for (int sample = 0; sample <= distance_samples; ++sample) {
        distances.push_back(weapon.range * sample / distance_samples);
    }
    for (const CurvePoint& point : weapon.falloff.points) {
        if (point.x < weapon.range) {
            distances.push_back(point.x);
        }
    }
    std::sort(distances.begin(), distances.end());
    std::vector<ShotsStretch> stretches{{0.0, 0.0, shots_at(0.0)}};
    Metres before = 0.0;
    for (const Metres distance : distances) {
        const std::int32_t shots = shots_at(distance);
        // More than one change may lie between two samples.
        for (Metres from = before; shots != stretches.back().shots;) {
            const std::int32_t present = stretches.back().shots;
            from = find_change(from, distance, exact_enough,
                               [&](Metres middle) { return shots_at(middle) == present; });
            stretches.back().to = from;
            stretches.push_back({from, from, shots_at(from)});
        }
        before = distance;
    }
    stretches.back().to = weapon.range;
    return stretches;
}

DamageBreakpoints damage_breakpoints(const WeaponSpec& weapon, const Target& target, Metres distance,
                                     RegionId region, const ProjectileSpec* projectile) {
    constexpr double max_times = 64.0;
    ShotCourse course;
    WeaponSpec tried = weapon;
    const std::optional<Duration> flight =
        projectile != nullptr ? flight_time(*projectile, distance) : std::optional{Duration::zero()};
    DamageBreakpoints found;
    const auto shots_with = [&](double damage) {
        tried.damage = damage;
        const std::size_t looked_at =
            found.shots > 0 ? static_cast<std::size_t>(found.shots) : max_breakpoint_shots;
        return detail::kill_by_holding({tried, target, distance, region, projectile, flight}, course,
                                       looked_at)
            .shots;
    };
    found.shots = shots_with(weapon.damage);
    if (found.shots == 0 || weapon.damage <= 0.0) {
        return found;
    }
    const double within = 1e-6 * weapon.damage;
    const auto fewer = [&](double damage) {
        const std::int32_t shots = shots_with(damage);
        return shots > 0 && shots < found.shots;
    };
    const auto more = [&](double damage) {
        const std::int32_t shots = shots_with(damage);
        return shots == 0 || shots > found.shots;
    };
    if (fewer(max_times * weapon.damage)) {
        double high = 1.25 * weapon.damage;
        while (!fewer(high)) {
            high *= 1.25;
        }
        found.fewer_from =
            find_change(weapon.damage, high, within, [&](double damage) { return !fewer(damage); });
    }
    if (more(0.0)) {
        found.more_below = find_change(0.0, weapon.damage, within, more);
    }
    return found;
}

} // namespace avrek
