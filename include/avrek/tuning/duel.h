#pragma once
#include <avrek/tuning/kill_distribution.h>

#include <array>
#include <span>
#include <string>
#include <vector>

/// Duels, from the kill distributions of both sides.
///
/// Both fire until one is dead. A shot counts even if its shooter dies before it arrives, if
/// LagCompensationSpec::trades says so. Distributions do not include stagger, which keeps a shooter from
/// firing: a DuelTrial does.
namespace avrek {

/// One side of a duel.
struct DuelSide {
    const KillDistribution* kills = nullptr; ///< its kills of the other; never null
    Duration view_delay{};                   ///< extra delay until it sees the other: link, or corner
    Duration reaction_spread{};              ///< ShooterSpec::reaction_spread
};

/// Chances of the outcomes; they add up to 1.
struct DuelOutcome {
    std::array<double, 2> wins{};        ///< one side is left
    double trades = 0.0;                 ///< both die
    double neither = 0.0;                ///< both live to the limit
    std::array<double, 2> health_left{}; ///< mean of the winner's, as a share of its maximum
    double error = 0.0;                  ///< maximum error of each chance

    /// Returns the win rate: wins and half of the trades, as a share of all duels with a death.
    double win_rate(std::size_t side) const;
};

/// Computes the outcome of a duel.
DuelOutcome duel(const DuelSide& one, const DuelSide& other, bool trades = true);

/// Every armament against every other, at several distances.
struct DuelMatrix {
    std::vector<std::string> names{};
    std::vector<Metres> distances{};
    std::vector<KillDistribution> kills{}; ///< [distance][name], row after row
    std::vector<DuelOutcome> outcomes{};   ///< [distance][row][column]: the row's side is 0

    /// Returns an outcome: the row's side is 0.
    const DuelOutcome& at(std::size_t distance, std::size_t row, std::size_t column) const {
        return outcomes[(distance * names.size() + row) * names.size() + column];
    }
};

/// Settings of all duels of a matrix.
struct DuelSetup {
    std::array<std::string, 2> shooters{}; ///< profiles of the rows and of the columns
    std::string body{};                    ///< body of both sides
    std::array<Duration, 2> view_delays{};
    bool trades = true;
    DistributionSettings settings{};
    EngagementOverrides overrides{}; ///< for both sides
};

/// Computes a matrix. Preconditions (asserted): names as for engagement_of(); the profiles and the body
/// exist.
DuelMatrix duel_matrix(const Arsenal& arsenal, std::span<const std::string> names,
                       std::span<const Metres> distances, const DuelSetup& setup);

/// Summary of one armament in a matrix.
struct DuelStanding {
    std::vector<double> win_rates{};      ///< by distance: mean win rate against all others
    std::vector<std::string> dominates{}; ///< armaments that it beats wherever either of them kills
    std::vector<std::size_t> best_at{};   ///< distances at which no other does better
};
/// Returns the summary of each armament of a matrix, in order.
std::vector<DuelStanding> standings(const DuelMatrix& matrix);

/// Returns the change of side 0's win rate if it sees the other `later`: negative for a loss.
double win_rate_moved(const DuelSide& one, const DuelSide& other, Duration later, bool trades = true);

} // namespace avrek
