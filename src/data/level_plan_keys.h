#pragma once
#include "faults.h"
#include <avrek/arsenal/arsenal.h>
#include <avrek/skirmish/level_plan.h>

#include <toml++/toml.h>

#include <string>

namespace avrek::detail {

/// Reads what a key of a level file says of its plan; returns whether it is one of these keys.
bool read_plan(const std::string& key, const toml::node& node, const Arsenal& arsenal, LevelPlan& plan,
               Faults& faults);

} // namespace avrek::detail
