#pragma once
#include <avrek/skirmish/skirmish.h>

#include <string>

namespace avrek::cli {

/// Everything that happened in the last tick, a line for each event: time, who, what.
std::string events_text(const Skirmish& skirmish);

} // namespace avrek::cli
