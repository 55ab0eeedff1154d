#pragma once
#include "command_line.h"
#include "target_options.h"
#include <avrek/tuning/kill_distribution.h>

#include <optional>
#include <string>
#include <vector>

/// From the words of a command line to engagements.
namespace avrek::cli {

/// How those shoot whose engagements are computed.
struct ShootingOptions {
    std::vector<std::string> shooters; ///< none: the arsenal's first
    std::string plan;                  ///< empty: as the profile does
    std::string stance = "standing";
    double target_speed = 0.0;
    std::optional<double> seconds{}; ///< length of an engagement; 10 s by default
    std::optional<double> points;    ///< exactly so many, whatever the error
    std::string error = "1%";        ///< "1%" or "1": as many points as that needs
};

/// Adds --shooter, --plan, --stance, --target-speed, --for, --points and --error.
void add_shooting(Command& command, ShootingOptions& options);

/// The names of the profiles. Throws WrongCall for an unknown one, and when the arsenal has none.
std::vector<std::string> shooters_of(const Arsenal& arsenal, const ShootingOptions& options);

/// The names of the weapons, and of attacks of blades, that are named, or all. Throws WrongCall for an
/// unknown one.
std::vector<std::string> armaments_of(const Arsenal& arsenal, const std::vector<std::string>& ids);

/// The engagement with all that the options say.
/// Returns the parts of an engagement that the options override. Throws WrongCall.
EngagementOverrides overrides_of(const ShootingOptions& options);

Engagement engagement_of(const Arsenal& arsenal, const std::string& armament, const std::string& shooter,
                         const Target& target, Metres distance, const ShootingOptions& options);

/// Throws WrongCall unless --points is a power of two and --error over 0 and under 100 %.
DistributionSettings settings_of(const ShootingOptions& options);

} // namespace avrek::cli
