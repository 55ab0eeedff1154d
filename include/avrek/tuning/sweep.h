#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_values.h>
#include <avrek/tuning/kill_distribution.h>

#include <cstddef>
#include <span>
#include <string>
#include <string_view>
#include <vector>

/// Sweeps: many arsenals that differ in a few numbers. Points are numbered, and a point's result depends on
/// its number alone, so any machine can compute any point in any order.
namespace avrek {

/// A varied number.
struct SweepAxis {
    std::string path{}; ///< see ArsenalValues::find()
    double from = 0.0;
    double to = 0.0;
    double step = 0.0; ///< over 0: from, from + step, ... up to `to`
};

/// The axes of a sweep, and how its points are chosen.
struct SweepPlan {
    std::vector<SweepAxis> axes{}; ///< at least one
    std::size_t samples = 0;       ///< low-discrepancy points, rounded to the steps; 0: the grid
};

/// Parses an axis "PATH=FROM:TO:STEP". Returns a diagnostic if it is malformed, or the arsenal does not allow
/// it.
Loaded<SweepAxis> parse_axis(const ArsenalValues& values, std::string_view text);

/// Returns the number of values of an axis.
std::size_t value_count(const SweepAxis& axis);

/// Returns the number of points of a plan.
std::size_t point_count(const SweepPlan& plan);

/// Returns the values of a point, axis by axis. In a grid the last axis is the fastest. Samples are multiples
/// of the powers of a generalised golden ratio, modulo 1 (Kronecker, 1884). Precondition (asserted): the
/// point exists.
std::vector<double> values_at(const SweepPlan& plan, std::size_t point);

/// Returns the arsenal of a point; diagnostics if its values contradict each other.
Loaded<Arsenal> arsenal_at(const ArsenalValues& arsenal, const SweepPlan& plan, std::size_t point);

/// Measures of each arsenal: times to kill, or duels.
struct SweepQuestion {
    std::vector<std::string> armaments{};
    std::vector<Metres> distances{};
    std::string shooter{};
    std::string body{};
    bool duels = false; ///< win rates of each pair, instead of times
    DistributionSettings settings{128};
    EngagementOverrides overrides{};
};

/// Returns the names of sweep_row()'s values, such as "thorn-rifle_20m_median_ms".
std::vector<std::string> sweep_columns(const SweepQuestion& question);

/// Returns the values for an arsenal; a time that is never reached is nan. Thread-safe.
std::vector<double> sweep_row(const Arsenal& arsenal, const SweepQuestion& question);

} // namespace avrek
