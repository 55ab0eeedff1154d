#pragma once
#include <avrek/core/diagnostics.h>

#include <string>
#include <vector>

namespace avrek {

/// One kill out of telemetry that was the work of one attacker with one weapon.
struct ObservedKill {
    std::string weapon{};
    std::string shooter{}; ///< the profile that it was played by; empty for people
    std::string body{};    ///< of the victim
    double distance = 0.0; ///< metres, mean of the hits
    double seconds = 0.0;  ///< from the first hit to the death
};

/// The kills of all matches of a telemetry database, but for those in which somebody else hurt the victim in
/// the meantime. Hits more than three seconds apart are not of one engagement. Says what is wrong with a file
/// that is none.
Loaded<std::vector<ObservedKill>> read_kills(const std::string& database);

} // namespace avrek
