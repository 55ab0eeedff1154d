#pragma once
#include <avrek/tuning/kill_distribution.h>

#include <array>
#include <span>
#include <string>
#include <vector>

/// Two who shoot at each other, from the distributions of what each does to the other.
///
/// Either fires until it is dead. A shot that has left counts even when its shooter is dead by the time it
/// arrives, as LagCompensationSpec::trades says; without trades it does not. That hits shake a shooter, and
/// keep it from firing, is not in the distributions: a DuelTrial has it.
namespace avrek {

/// How one side comes into a duel.
struct DuelSide {
    const KillDistribution* kills = nullptr; ///< what it does to the other; never null
    Duration view_delay{}; ///< than the other would see it on an even footing: its link, or who comes round
                           ///< the corner
    Duration reaction_spread{}; ///< ShooterSpec::reaction_spread
};

/// Chances of how it ends; they add up to 1.
struct DuelOutcome {
    std::array<double, 2> wins{};        ///< one side is left
    double trades = 0.0;                 ///< both die
    double neither = 0.0;                ///< nobody does, up to the limit
    std::array<double, 2> health_left{}; ///< of the winner, as a share of its maximum, on average
    double error = 0.0;                  ///< of each of the chances, at most

    /// Its share of what is won: its wins, and half of the trades, of all duels in which somebody dies.
    double win_rate(std::size_t side) const;
};

DuelOutcome duel(const DuelSide& one, const DuelSide& other, bool trades = true);

/// Every armament against every other, at several distances.
struct DuelMatrix {
    std::vector<std::string> names{};
    std::vector<Metres> distances{};
    std::vector<KillDistribution> kills{}; ///< [distance][name], row after row
    std::vector<DuelOutcome> outcomes{};   ///< [distance][row][column]: the row's side is 0

    const DuelOutcome& at(std::size_t distance, std::size_t row, std::size_t column) const {
        return outcomes[(distance * names.size() + row) * names.size() + column];
    }
};

/// What holds for all duels of a matrix.
struct DuelSetup {
    std::array<std::string, 2> shooters{}; ///< profiles of the rows and of the columns
    std::string body{};                    ///< that both sides have
    std::array<Duration, 2> view_delays{};
    bool trades = true;
    DistributionSettings settings{};
    EngagementOverrides overrides{}; ///< of both sides
};

/// Preconditions (asserted): names as for engagement_of(), and the profiles and the body are there.
DuelMatrix duel_matrix(const Arsenal& arsenal, std::span<const std::string> names,
                       std::span<const Metres> distances, const DuelSetup& setup);

/// What a matrix says of one armament.
struct DuelStanding {
    std::vector<double> win_rates{};      ///< by distance: mean of its win rates against all others
    std::vector<std::string> dominates{}; ///< those that it beats at every distance at which either kills
    std::vector<std::size_t> best_at{};   ///< distances at which no other does better against the others
};
std::vector<DuelStanding> standings(const DuelMatrix& matrix);

/// How far the win rate of side 0 moves when it sees the other `later` than it does: negative for a loss.
double win_rate_moved(const DuelSide& one, const DuelSide& other, Duration later, bool trades = true);

} // namespace avrek
