#pragma once
#include <avrek/data/arsenal_values.h>
#include <avrek/tuning/kill_distribution.h>

#include <optional>
#include <span>
#include <string>
#include <vector>

/// What each number of a weapon does to its time to kill and to its duels: which ones matter, and which only
/// beyond some edge.
namespace avrek {

/// One number's effect, at one distance.
struct Sensitivity {
    ArsenalNumber number{};
    /// Percent by which the mean time to kill grows for each percent of the number; of those who live to the
    /// limit, the limit counts. From five percent to both sides.
    double of_time = 0.0;
    /// Points of percent by which the win rate against all others grows for each percent of the number.
    double of_wins = 0.0;
    /// The least change, of 5, 10, 20 and 40 percent up and down, that does anything at all, as a share with
    /// its sign; none for a number that does not matter here.
    std::optional<double> acts_from{};
};

struct SensitivitySetup {
    std::string armament{}; ///< a weapon, or a blade and its attack
    std::string shooter{};
    std::string body{};
    Metres distance = 20.0;
    DistributionSettings settings{256};
};

/// For every number that the arsenal gives for the armament, and for what it fires. Those that do not let the
/// arsenal be changed by five percent, whole ones for example, are changed by as little as they allow. Left
/// out are what an engagement does not depend on: handling, the way to the aim, tracers. Preconditions
/// (asserted): the names are there, and the texts have no faults.
std::vector<Sensitivity> sensitivities(std::span<const ArsenalText> texts, const SensitivitySetup& setup);

} // namespace avrek
