#pragma once
#include <avrek/tuning/firing_plan.h>

#include <string>

/// Firing plans as they are written on a command line.
namespace avrek::cli {

/// Values that plan_named() accepts, for a help text.
inline constexpr const char* plans_allowed =
    "hold, taps:SECONDS, bursts:SHOTS,SECONDS or a file of timed intents ending in .toml";

/// The plan that `text` names; a file of intents begins with `posture` and goes on with what it changes.
/// Throws WrongCall when it is none, or its file has faults.
FiringPlan plan_named(const std::string& text, const Posture& posture);

} // namespace avrek::cli
