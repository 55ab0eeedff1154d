#include "wish_costs.h"

#include <avrek/tuning/breakpoints.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace avrek::detail {

namespace {

constexpr double inwards = 0.15;   // the search keeps inside by this share of a wish's width
constexpr double of_edges = 2e-3;  // what it counts to sit on an edge
constexpr double near_edge = 0.02; // share of the damage that counts as sitting on it

double width_of(const Wish& wish) {
    const double middle = 0.5 * std::abs(wish.min + wish.max);
    return std::max({0.5 * (wish.max - wish.min), 0.02 * middle, 1e-6});
}

// How much of the whole ranges the values change.
double changed(const Wishes& wishes, std::span<const double> before, const std::vector<double>& values) {
    double sum = 0.0;
    for (std::size_t index = 0; index < values.size(); ++index) {
        const WishRange& range = wishes.ranges[index];
        const double share = (values[index] - before[index]) / std::max(1e-12, range.to - range.from);
        sum += share * share;
    }
    return sum;
}

} // namespace

double miss_of(const Wish& wish, double value, double margin) {
    const double least = wish.min + margin;
    const double most = std::max(least, wish.max - margin);
    return std::max({0.0, least - value, value - most});
}

double cost_of_edges(const Wishes& wishes, const Arsenal& arsenal) {
    double sum = 0.0;
    for (const Wish& wish : wishes.wishes) {
        const WeaponSpec* weapon = find(arsenal.weapons, wish.weapons[0]);
        if (weapon == nullptr || weapon->damage <= 0.0 || wish.measure == WishMeasure::win_rate) {
            continue;
        }
        const BodySpec& body = wish.body.empty() ? arsenal.bodies.front() : *find(arsenal.bodies, wish.body);
        const RegionId aim = wish.region.empty() ? usual_aim(body) : *find_region(body.rig, wish.region);
        const DamageBreakpoints found =
            damage_breakpoints(*weapon, Target{.body = &body, .conditions = arsenal.conditions}, wish.at, aim,
                               find(arsenal.projectiles, weapon->projectile.id));
        const double below = found.more_below.value_or(0.0);
        sum += weapon->damage - below < near_edge * weapon->damage ? 1.0 : 0.0;
    }
    return of_edges * sum;
}

void assess(TriedValues& one, const Wishes& wishes, std::span<const double> before, bool with_margin) {
    one.missed = 0.0;
    double sum = 0.0;
    for (std::size_t wish = 0; wish < wishes.wishes.size(); ++wish) {
        const Wish& wished = wishes.wishes[wish];
        const double width = width_of(wished);
        const double value = one.measured[wish].value;
        const double beyond = with_margin ? 0.0 : one.measured[wish].error;
        const double exact = std::max(0.0, miss_of(wished, value) - beyond) / width;
        const double miss =
            miss_of(wished, value, with_margin ? inwards * 0.5 * (wished.max - wished.min) : 0.0) / width;
        // Far off, distances count, not their squares.
        sum += wished.weight * (miss < 2.0 ? miss * miss : 4.0 * (miss - 1.0));
        one.missed += wished.weight * exact;
    }
    one.cost = sum + of_changes * changed(wishes, before, one.values);
}

std::vector<WishResult> wish_results(const Wishes& wishes, std::span<const Measured> now,
                                     const TriedValues& best, std::span<const TriedValues> tries) {
    std::vector<WishResult> results;
    for (std::size_t wish = 0; wish < wishes.wishes.size(); ++wish) {
        WishResult result;
        result.before = now[wish].value;
        result.after = best.measured[wish].value;
        result.error = best.measured[wish].error;
        result.miss = miss_of(wishes.wishes[wish], result.after);
        result.alone = result.miss;
        for (const TriedValues& one : tries) {
            if (!one.measured.empty()) {
                result.alone = std::min(result.alone, miss_of(wishes.wishes[wish], one.measured[wish].value));
            }
        }
        results.push_back(result);
    }
    return results;
}

std::vector<WishesApart> wishes_apart(const Wishes& wishes, std::span<const WishResult> results,
                                      std::span<const TriedValues> tries) {
    std::vector<WishesApart> pairs;
    const std::size_t count = wishes.wishes.size();
    for (std::size_t one = 0; one < count; ++one) {
        for (std::size_t other = one + 1; other < count; ++other) {
            if (results[one].alone > 0.0 || results[other].alone > 0.0) {
                continue;
            }
            WishesApart apart{one, other};
            double least = std::numeric_limits<double>::infinity();
            for (const TriedValues& tried : tries) {
                if (tried.measured.empty()) {
                    continue;
                }
                const double first = miss_of(wishes.wishes[one], tried.measured[one].value);
                const double second = miss_of(wishes.wishes[other], tried.measured[other].value);
                const double both =
                    first / width_of(wishes.wishes[one]) + second / width_of(wishes.wishes[other]);
                if (both < least) {
                    least = both;
                    apart.one_miss = first;
                    apart.other_miss = second;
                }
            }
            if (least > 0.0 && std::isfinite(least)) {
                pairs.push_back(apart);
            }
        }
    }
    return pairs;
}

} // namespace avrek::detail
