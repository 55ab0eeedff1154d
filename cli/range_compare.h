#pragma once
#include "table.h"
#include <avrek/tuning/firing_range.h>

#include <string>
#include <vector>

/// Several trials of one weapon side by side.
namespace avrek::cli {

/// One way to fire the weapon, and what came of it.
struct RangeSeries {
    std::string plan;    ///< "bursts 3, 0.3 s"
    std::string posture; ///< "standing still"
    RangeSetup setup;
    RangeTrial trial;
};

/// "standing still", "crouching at 2 m/s, aimed": how a posture is called.
std::string posture_name(const Posture& posture);

/// A row for each trial.
Table comparison_table(const std::vector<RangeSeries>& series);

/// The table as text, under a line that says what it is of, and above one that says which is best.
std::string comparison_text(const WeaponSpec& weapon, const BodySpec& body,
                            const std::vector<RangeSeries>& series, bool colour);

/// Which trial holds the tightest group, and which hits most.
std::string verdict_of(const std::vector<RangeSeries>& series);

/// The boards next to each other at one scale, as a script for gnuplot.
std::string comparison_plot(const WeaponSpec& weapon, const BodySpec& body,
                            const std::vector<RangeSeries>& series);

} // namespace avrek::cli
