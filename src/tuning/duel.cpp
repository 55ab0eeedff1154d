#include <avrek/tuning/duel.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

// A distribution as sums over time, for quick looks.
struct Sums {
    std::vector<std::pair<Duration, double>> fired{};  // chance that the deadly shot has left by then
    std::vector<std::pair<Duration, double>> dead{};   // and that the other is dead by then
    std::vector<std::pair<Duration, double>> health{}; // mean health of the other then

    explicit Sums(const KillDistribution& kills) {
        std::vector<Kill> ordered = kills.kills;
        std::sort(ordered.begin(), ordered.end(),
                  [](const Kill& a, const Kill& b) { return a.fired < b.fired; });
        double sum = 0.0;
        for (const Kill& kill : ordered) {
            sum += kill.chance;
            fired.emplace_back(kill.fired, sum);
        }
        for (const KillPoint& point : kills.points) {
            dead.emplace_back(point.at, point.killed);
            health.emplace_back(point.at, point.health);
        }
    }
};

// The last value up to `at`.
double value_by(const std::vector<std::pair<Duration, double>>& sums, Duration at, double otherwise) {
    const auto after = std::upper_bound(sums.begin(), sums.end(), at,
                                        [](Duration t, const auto& one) { return t < one.first; });
    return after == sums.begin() ? otherwise : (after - 1)->second;
}

struct Half {
    double wins = 0.0;
    double health = 0.0;
};

// The chance that one side kills while the other has not yet fired its own deadly shot, or, without trades,
// has not killed. `ahead` is by how much the other is later.
Half wins_of(const KillDistribution& kills, const Sums& others, Duration ahead, bool trades) {
    Half half;
    for (const Kill& kill : kills.kills) {
        const Duration at = kill.at - ahead; // on the other's clock
        const double gone = value_by(trades ? others.fired : others.dead, at, 0.0);
        half.wins += kill.chance * (1.0 - gone);
        half.health += kill.chance * value_by(others.health, at, 1.0);
    }
    return half;
}

// The difference of two reactions, each even within its spread: a trapezium, by its middles.
std::vector<std::pair<Duration, double>> differences(Duration one, Duration other) {
    const double wide = to_seconds(one) + to_seconds(other);
    if (wide <= 0.0) {
        return {{Duration{}, 1.0}};
    }
    constexpr int parts = 24;
    const double narrow = std::abs(to_seconds(one) - to_seconds(other));
    std::vector<std::pair<Duration, double>> all;
    double sum = 0.0;
    for (int part = 0; part < parts; ++part) {
        const double at = wide * ((2.0 * part + 1.0) / parts - 1.0);
        const double weight = std::abs(at) <= narrow ? 1.0 : (wide - std::abs(at)) / (wide - narrow);
        all.emplace_back(from_seconds(at), weight);
        sum += weight;
    }
    for (auto& [at, weight] : all) {
        weight /= sum;
    }
    return all;
}

} // namespace

double DuelOutcome::win_rate(std::size_t side) const {
    const double decided = wins[0] + wins[1] + trades;
    return decided > 0.0 ? (wins[side] + 0.5 * trades) / decided : 0.5;
}

DuelOutcome duel(const DuelSide& one, const DuelSide& other, bool trades) {
    assert(one.kills != nullptr && other.kills != nullptr);
    const Sums of_one{*one.kills};
    const Sums of_other{*other.kills};
    DuelOutcome outcome;
    std::array<double, 2> health{};
    for (const auto& [difference, weight] : differences(one.reaction_spread, other.reaction_spread)) {
        // By how much the other is later than this one.
        const Duration ahead = other.view_delay - one.view_delay + difference;
        const Half first = wins_of(*one.kills, of_other, ahead, trades);
        const Half second = wins_of(*other.kills, of_one, -ahead, trades);
        outcome.wins[0] += weight * first.wins;
        outcome.wins[1] += weight * second.wins;
        health[0] += weight * first.health;
        health[1] += weight * second.health;
    }
    for (double& wins : outcome.wins) {
        wins = std::clamp(wins, 0.0, 1.0); // sums of shares may be off by a last digit
    }
    outcome.neither = (1.0 - one.kills->killed()) * (1.0 - other.kills->killed());
    outcome.trades = std::max(0.0, 1.0 - outcome.wins[0] - outcome.wins[1] - outcome.neither);
    for (std::size_t side = 0; side < 2; ++side) {
        outcome.health_left[side] =
            outcome.wins[side] > 0.0 ? std::min(1.0, health[side] / outcome.wins[side]) : 0.0;
    }
    outcome.error = std::min(1.0, one.kills->error + other.kills->error);
    return outcome;
}

DuelMatrix duel_matrix(const Arsenal& arsenal, std::span<const std::string> names,
                       std::span<const Metres> distances, const DuelSetup& setup) {
    DuelMatrix matrix;
    matrix.names.assign(names.begin(), names.end());
    matrix.distances.assign(distances.begin(), distances.end());
    const bool same = setup.shooters[0] == setup.shooters[1];
    std::vector<Engagement> engagements;
    for (std::size_t side = 0; side < (same ? 1U : 2U); ++side) {
        for (const Metres distance : distances) {
            for (const std::string& name : names) {
                auto engagement = engagement_of(arsenal, name, setup.shooters[side], setup.body, distance);
                assert(engagement);
                apply(setup.overrides, *engagement);
                engagements.push_back(*engagement);
            }
        }
    }
    std::vector<KillDistribution> all = kill_distributions(engagements, setup.settings);
    const std::size_t count = names.size();
    const std::size_t second = same ? 0 : distances.size() * count;
    const auto spread = [&](std::size_t side) {
        return find(arsenal.shooters, setup.shooters[side])->reaction_spread;
    };
    for (std::size_t distance = 0; distance < distances.size(); ++distance) {
        for (std::size_t row = 0; row < count; ++row) {
            for (std::size_t column = 0; column < count; ++column) {
                matrix.outcomes.push_back(
                    duel({&all[distance * count + row], setup.view_delays[0], spread(0)},
                         {&all[second + distance * count + column], setup.view_delays[1], spread(1)},
                         setup.trades));
            }
        }
    }
    all.resize(distances.size() * count);
    matrix.kills = std::move(all);
    return matrix;
}

std::vector<DuelStanding> standings(const DuelMatrix& matrix) {
    const std::size_t count = matrix.names.size();
    std::vector<DuelStanding> all(count);
    for (std::size_t row = 0; row < count; ++row) {
        for (std::size_t distance = 0; distance < matrix.distances.size(); ++distance) {
            double sum = 0.0;
            for (std::size_t column = 0; column < count; ++column) {
                sum += column != row ? matrix.at(distance, row, column).win_rate(0) : 0.0;
            }
            all[row].win_rates.push_back(count > 1 ? sum / static_cast<double>(count - 1) : 0.5);
        }
        for (std::size_t column = 0; column < count; ++column) {
            bool ever = false;
            bool always = column != row;
            for (std::size_t distance = 0; distance < matrix.distances.size(); ++distance) {
                const DuelOutcome& outcome = matrix.at(distance, row, column);
                const bool decided = outcome.neither < 0.999;
                ever |= decided;
                always &= !decided || outcome.win_rate(0) > 0.5 + outcome.error;
            }
            if (always && ever) {
                all[row].dominates.push_back(matrix.names[column]);
            }
        }
    }
    for (std::size_t distance = 0; distance < matrix.distances.size(); ++distance) {
        double best = 0.0;
        for (const DuelStanding& standing : all) {
            best = std::max(best, standing.win_rates[distance]);
        }
        for (DuelStanding& standing : all) {
            if (standing.win_rates[distance] >= best - 1e-9) {
                standing.best_at.push_back(distance);
            }
        }
    }
    return all;
}

double win_rate_moved(const DuelSide& one, const DuelSide& other, Duration later, bool trades) {
    DuelSide late = one;
    late.view_delay += later;
    return duel(late, other, trades).win_rate(0) - duel(one, other, trades).win_rate(0);
}

} // namespace avrek
