#pragma once
#include <avrek/data/telemetry_kills.h>
#include <avrek/tuning/kill_distribution.h>

#include <cstddef>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// Times to kill in telemetry, compared with computed ones.
namespace avrek {

/// The kills of one weapon in one distance band.
struct ObservedLine {
    std::string weapon{};
    std::string shooter{}; ///< profile of most kills, or the requested one
    std::string body{};    ///< body of most victims
    Metres from = 0.0;
    Metres to = 0.0;
    Metres distance = 0.0; ///< mean
    std::size_t kills = 0;
    Duration median{}; ///< observed, from the first hit to the death
    Duration low{};    ///< confidence interval of the median, by order statistics
    Duration high{};
    /// Median of time_from_first_hit(); none if the arsenal lacks the weapon or it does not kill there.
    std::optional<Duration> computed{};
    /// `computed` is outside of the interval, widened for the number of lines
    bool differs = false;
};

/// Settings of a comparison.
struct ObserveSetup {
    std::vector<Metres> bands{0, 5, 10, 15, 25, 40, 100}; ///< limits, rising, at least two
    double confidence = 0.95;
    std::string shooter{}; ///< profile to compare with; empty: the one that played
    double target_speed = 0.0;
    DistributionSettings settings{};
};

/// Returns the lines with at least one kill, by weapon and distance. With fewer than six kills, the interval
/// spans all of them.
std::vector<ObservedLine> observe(const Arsenal& arsenal, std::span<const ObservedKill> kills,
                                  const ObserveSetup& setup);

} // namespace avrek
