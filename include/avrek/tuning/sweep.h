#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_values.h>
#include <avrek/tuning/kill_distribution.h>

#include <cstddef>
#include <span>
#include <string>
#include <string_view>
#include <vector>

/// Many arsenals that differ in a few numbers, and what comes of each. Points are numbered, and what one
/// gives depends on nothing else: they can be computed in any order, on any number of machines.
namespace avrek {

/// One number that is varied.
struct SweepAxis {
    std::string path{}; ///< see find_number()
    double from = 0.0;
    double to = 0.0;
    double step = 0.0; ///< over 0: values are from, from + step, ... up to `to`
};

struct SweepPlan {
    std::vector<SweepAxis> axes{}; ///< at least one
    std::size_t samples = 0;       ///< points of low discrepancy, rounded to the steps; 0: the whole grid
};

/// An axis out of "PATH=FROM:TO:STEP"; says what is wrong with it, or what the arsenal does not allow.
Loaded<SweepAxis> parse_axis(std::span<const ArsenalText> texts, std::string_view text);

/// How many values an axis has.
std::size_t value_count(const SweepAxis& axis);

/// How many points a plan has.
std::size_t point_count(const SweepPlan& plan);

/// The values of a point, axis by axis. Of a grid the last axis is the fastest. Samples are multiples of the
/// powers of a generalised golden ratio, modulo 1 (Kronecker, 1884). Precondition (asserted): `point` is one.
std::vector<double> values_at(const SweepPlan& plan, std::size_t point);

/// The arsenal of a point; its diagnostics when the values contradict each other.
Loaded<Arsenal> arsenal_at(std::span<const ArsenalText> texts, const SweepPlan& plan, std::size_t point);

/// What is asked of each arsenal by time to kill or by duels.
struct SweepQuestion {
    std::vector<std::string> armaments{};
    std::vector<Metres> distances{};
    std::string shooter{};
    std::string body{};
    bool duels = false; ///< win rates of each of them against each later one, instead of times
    DistributionSettings settings{128};
    EngagementOverrides overrides{};
};

/// The names of what sweep_row() gives, such as "thorn-rifle_20m_median_ms".
std::vector<std::string> sweep_columns(const SweepQuestion& question);

/// The answers; a time that is never reached is nan. May be called by several threads at once.
std::vector<double> sweep_row(const Arsenal& arsenal, const SweepQuestion& question);

} // namespace avrek
