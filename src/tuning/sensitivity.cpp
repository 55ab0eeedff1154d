#include "shared_maps.h"
#include <avrek/tuning/duel.h>
#include <avrek/tuning/sensitivity.h>

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

constexpr double usual_change = 0.05;
constexpr double no_effect = 1e-6;

// Measures that a number is assessed by.
struct Assessment {
    double seconds = 0.0; // mean time to kill, up to the limit
    double win_rate = 0.5;
};

double mean_up_to_limit(const KillDistribution& kills, Duration limit) {
    double sum = 0.0;
    double before = 0.0;
    for (const KillPoint& point : kills.points) {
        sum += (point.killed - before) * to_seconds(point.at - kills.pulled);
        before = point.killed;
    }
    return sum + (1.0 - before) * to_seconds(limit);
}

class Assessor {
  public:
    Assessor(std::span<const ArsenalText> texts, const SensitivitySetup& setup)
        : values_(texts), setup_(setup), base_(*parse_arsenal(texts).value) {
        for (const std::string& name : armament_names(base_)) {
            if (name != setup.armament) {
                engagements_.push_back(
                    engagement_of(base_, name, setup.shooter, setup.body, setup.distance).value());
            }
        }
        others_ = kill_distributions(engagements_, setup.settings, maps_);
        now_ = *assess(base_);
    }

    const Assessment& now() const { return now_; }
    const ArsenalValues& values() const { return values_; }
    const Arsenal& base() const { return base_; }

    // With one number changed; none when that is not allowed.
    std::optional<Assessment> with(const std::string& path, double value) {
        const ArsenalChange change{path, value};
        const Loaded<Arsenal> arsenal = values_.with({&change, 1});
        return arsenal ? assess(*arsenal.value) : std::nullopt;
    }

  private:
    std::optional<Assessment> assess(const Arsenal& arsenal) {
        const auto engagement =
            engagement_of(arsenal, setup_.armament, setup_.shooter, setup_.body, setup_.distance);
        if (!engagement) {
            return std::nullopt;
        }
        const KillDistribution kills = kill_distributions({&*engagement, 1}, setup_.settings, maps_).front();
        const Duration spread = engagement->shooter.reaction_spread;
        Assessment assessed{mean_up_to_limit(kills, engagement->limit), 0.0};
        for (const KillDistribution& other : others_) {
            assessed.win_rate += duel({&kills, {}, spread}, {&other, {}, spread}).win_rate(0);
        }
        assessed.win_rate = others_.empty() ? 0.5 : assessed.win_rate / static_cast<double>(others_.size());
        return assessed;
    }

    ArsenalValues values_;
    const SensitivitySetup& setup_;
    Arsenal base_;
    detail::SharedMaps maps_{}; // most numbers change none
    std::vector<Engagement> engagements_{};
    std::vector<KillDistribution> others_{};
    Assessment now_{};
};

// Tells whether an engagement with a weapon in hand and aimed can depend on a value.
bool is_looked_at(const std::string& path) {
    constexpr std::array parts{".handling.", ".aim.", ".tracer_speed", ".carry_limit", ".press_buffer"};
    return std::none_of(parts.begin(), parts.end(),
                        [&](const char* part) { return path.find(part) != std::string::npos; });
}

double within(const ArsenalNumber& number, double value) {
    const double rounded = number.whole ? std::round(value) : value;
    return std::clamp(rounded, number.min, number.max);
}

bool has_effect(const Assessment& one, const Assessment& other) {
    return std::abs(one.seconds - other.seconds) > no_effect ||
           std::abs(one.win_rate - other.win_rate) > no_effect;
}

Sensitivity sensitivity_of(Assessor& assessor, const ArsenalNumber& number) {
    Sensitivity found{number};
    const double step = std::max(std::abs(number.value) * usual_change, number.whole ? 1.0 : 0.0);
    const double up = within(number, number.value + step);
    const double down = within(number, number.value - step);
    const auto above = assessor.with(number.path, up);
    const auto below = assessor.with(number.path, down);
    const Assessment& high = above ? *above : assessor.now();
    const Assessment& low = below ? *below : assessor.now();
    const double width = (above ? up : number.value) - (below ? down : number.value);
    if (width > 0.0 && number.value != 0.0) {
        const double percent = width / std::abs(number.value);
        found.of_time = assessor.now().seconds > 0.0
                            ? (high.seconds - low.seconds) / assessor.now().seconds / percent
                            : 0.0;
        found.of_wins = (high.win_rate - low.win_rate) / percent;
    }
    if ((above && has_effect(*above, assessor.now())) || (below && has_effect(*below, assessor.now()))) {
        const bool rises = above && has_effect(*above, assessor.now());
        found.acts_from = (rises ? up : down) / number.value - 1.0;
    }
    // Those that do nothing are mostly those that never do: the largest change first.
    const auto acts = [&](double share) {
        const double value = within(number, number.value * (1.0 + share));
        const auto changed = value != number.value ? assessor.with(number.path, value) : std::nullopt;
        return changed && has_effect(*changed, assessor.now());
    };
    for (const double way : {1.0, -1.0}) {
        if (!found.acts_from && acts(0.4 * way)) {
            found.acts_from = acts(0.1 * way) ? 0.1 * way : acts(0.2 * way) ? 0.2 * way : 0.4 * way;
        }
    }
    return found;
}

} // namespace

std::vector<Sensitivity> sensitivities(std::span<const ArsenalText> texts, const SensitivitySetup& setup) {
    Assessor assessor{texts, setup};
    const WeaponSpec* weapon = find(assessor.base().weapons, setup.armament);
    std::vector<ArsenalNumber> numbers;
    if (weapon != nullptr) {
        numbers = assessor.values().numbers_of("weapon." + setup.armament);
        const auto more = assessor.values().numbers_of("projectile." + weapon->projectile.id);
        numbers.insert(numbers.end(), more.begin(), more.end());
    } else {
        numbers = assessor.values().numbers_of("melee." + setup.armament.substr(0, setup.armament.find(' ')));
    }
    std::vector<Sensitivity> all;
    for (const ArsenalNumber& number : numbers) {
        if (number.value != 0.0 && is_looked_at(number.path)) {
            all.push_back(sensitivity_of(assessor, number));
        }
    }
    std::stable_sort(all.begin(), all.end(), [](const Sensitivity& a, const Sensitivity& b) {
        return std::abs(a.of_time) + std::abs(a.of_wins) > std::abs(b.of_time) + std::abs(b.of_wins);
    });
    return all;
}

} // namespace avrek
