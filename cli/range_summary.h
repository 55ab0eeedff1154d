#pragma once
#include "range_compare.h"
#include <avrek/tuning/firing_range.h>

#include <nlohmann/json_fwd.hpp>

#include <string>
#include <vector>

namespace avrek::cli {

/// Returns the summary of a range trial, in a few lines: weapon and target, hits in each region, reloads,
/// death.
std::string range_summary(const WeaponSpec& weapon, const BodySpec& body, const RangeSeries& one);

/// "31 torso, 4 arms, 2 wall": what the shots of a trial hit, most first.
std::string hit_counts(const BodySpec& body, const RangeTrial& trial);

/// The reloads of a trial: when each started and when it ends.
nlohmann::ordered_json reload_json(const RangeTrial& trial);

} // namespace avrek::cli
