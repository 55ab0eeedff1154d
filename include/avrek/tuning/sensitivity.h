#pragma once
#include <avrek/data/arsenal_values.h>
#include <avrek/tuning/kill_distribution.h>

#include <optional>
#include <span>
#include <string>
#include <vector>

/// Sensitivities: the effect of each number of a weapon on its time to kill and its duels.
namespace avrek {

/// Effect of one number, at one distance.
struct Sensitivity {
    ArsenalNumber number{};
    /// Change of the mean time to kill in percent, per percent of the number. Engagements without a death
    /// count with the limit. Measured at five percent to both sides.
    double of_time = 0.0;
    /// Change of the win rate against all others in percentage points, per percent of the number.
    double of_wins = 0.0;
    /// Smallest change, of 5, 10, 20 and 40 percent up and down, that has any effect, as a signed share; none
    /// if the number has none here.
    std::optional<double> acts_from{};
};

/// Armament, shooter and target of sensitivities.
struct SensitivitySetup {
    std::string armament{}; ///< a weapon, or a blade and its attack
    std::string shooter{};
    std::string body{};
    Metres distance = 20.0;
    DistributionSettings settings{256};
};

/// Computes the sensitivities of every number that the arsenal gives for the armament and its projectile.
/// Numbers that cannot change by five percent, such as integers, change by as little as they can. Numbers
/// without an effect on engagements are left out: handling, aim times, tracers. Preconditions (asserted): the
/// names exist, and the texts have no faults.
std::vector<Sensitivity> sensitivities(std::span<const ArsenalText> texts, const SensitivitySetup& setup);

} // namespace avrek
