#pragma once
#include "range_compare.h"

#include <string>

namespace avrek::cli {

/// The gnuplot script that draws a range trial: the board with the rig's outline, the spread circle and the
/// hits, to scale, and beside it the health of the body over time.
std::string range_plot(const WeaponSpec& weapon, const BodySpec& body, const RangeSeries& one);

} // namespace avrek::cli
