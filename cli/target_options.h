#pragma once
#include "command_line.h"
#include <avrek/arsenal/arsenal.h>
#include <avrek/tuning/target.h>

#include <optional>
#include <string>
#include <vector>

/// From the words of a command line to the target of shots.
namespace avrek::cli {

struct TargetOptions {
    std::string body;
    std::vector<std::string> with;          ///< CONDITION or CONDITION:STRENGTH
    std::vector<std::string> attacker_with; ///< the same
    std::optional<double> guard;            ///< degrees off its front
};

/// Adds --target, --with, --attacker-with and --guard.
void add_target(Command& command, TargetOptions& options);

/// The target that the options say. Throws WrongCall for unknown names, for strengths that are none, and for
/// a guard of a body without one.
Target target_of(const Arsenal& arsenal, const TargetOptions& options);

/// The target in words: "warden (110 health, sap 35, bark 50), with pollen, guard held 30 degrees off".
std::string target_text(const Arsenal& arsenal, const Target& target);

} // namespace avrek::cli
