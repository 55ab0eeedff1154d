#pragma once
#include "shooting_options.h"

#include <string>
#include <vector>

namespace avrek::cli {

/// Options of `avrek ttk --distribution`.
struct DistributionOptions {
    bool wanted = false;
    bool curves = false;
    bool sensitivity = false;
    double fights = 0;
    ShootingOptions shooting;
};

/// Adds --distribution and what goes with it.
void add_distribution(Command& command, DistributionOptions& options);

/// Where, at what and where to of that command.
struct DistributionAsked {
    std::vector<std::string> ids;
    std::vector<double> distances;
    std::string region; ///< empty: the one that is aimed at
    std::string plot;
    OutputOptions output;
    TimeBase base = TimeBase::pull;
};

/// Prints how much each number of one weapon changes the time to kill, at the first distance.
void run_sensitivity(const std::vector<std::string>& files, const Target& target,
                     const DistributionAsked& asked, const DistributionOptions& options);

/// Computes, and where asked fights, all of them, and prints.
void run_distribution(const Arsenal& arsenal, const Target& target, const DistributionAsked& asked,
                      const DistributionOptions& options);

} // namespace avrek::cli
