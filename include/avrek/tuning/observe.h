#pragma once
#include <avrek/data/telemetry_kills.h>
#include <avrek/tuning/kill_distribution.h>

#include <cstddef>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// What was observed in play beside what is computed.
namespace avrek {

/// The kills of one weapon in one band of distances.
struct ObservedLine {
    std::string weapon{};
    std::string shooter{}; ///< the profile that most of them were played by, or the one that was asked for
    std::string body{};    ///< of most of the victims
    Metres from = 0.0;
    Metres to = 0.0;
    Metres distance = 0.0; ///< mean
    std::size_t kills = 0;
    Duration median{}; ///< observed, from the first hit to the death
    Duration low{};    ///< ends of the interval that holds the median of all such kills, by order statistics,
    Duration high{};   ///< as surely as was asked for
    std::optional<Duration> computed{}; ///< the median of time_from_first_hit(); none where the arsenal has
                                        ///< no such weapon or it does not kill there
    bool differs = false; ///< `computed` is outside of the interval, widened for the number of lines
};

struct ObserveSetup {
    std::vector<Metres> bands{0, 5, 10, 15, 25, 40, 100}; ///< ends, rising, at least two
    double confidence = 0.95;
    std::string shooter{}; ///< whom to compare with; empty: the profile that played
    double target_speed = 0.0;
    DistributionSettings settings{};
};

/// The lines with at least one kill, by weapon and distance. An interval with fewer than six kills reaches
/// from the least to the greatest.
std::vector<ObservedLine> observe(const Arsenal& arsenal, std::span<const ObservedKill> kills,
                                  const ObserveSetup& setup);

} // namespace avrek
