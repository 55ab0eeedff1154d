#pragma once
#include <avrek/core/diagnostics.h>

#include <string>
#include <vector>

namespace avrek {

/// A kill in telemetry by one attacker with one weapon.
struct ObservedKill {
    std::string weapon{};
    std::string shooter{}; ///< shooter profile; empty for people
    std::string body{};    ///< the victim's
    double distance = 0.0; ///< metres, mean over the hits
    double seconds = 0.0;  ///< from the first hit to the death
};

/// Returns the kills of all matches of a telemetry database, except those with damage by others in between.
/// Hits more than three seconds apart are separate engagements. Returns a diagnostic for other files.
Loaded<std::vector<ObservedKill>> read_kills(const std::string& database);

} // namespace avrek
