#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_values.h>
#include <avrek/data/wishes_toml.h>
#include <avrek/tuning/kill_distribution.h>

#include <functional>
#include <span>
#include <string>
#include <vector>

/// Finds weapon values that meet a designer's targets: an overlay that meets wishes, or comes closest.
///
/// NLopt does the continuous part: DIRECT-L over all ranges (Gablonsky and Kelley, 2001), then Subplex from
/// the best point (Rowan, 1990). Then values are rounded to ones that a designer would write, and checked
/// again. Among those that meet all wishes it picks the smallest change that is not at a breakpoint.
///
///     const auto wishes = load_wishes("wishes.toml", texts);
///     const auto solution = solve(texts, *wishes);   // solution->overlay.text
namespace avrek {

/// Settings of a search.
struct SolveSettings {
    DistributionSettings search{64};   ///< during the search
    DistributionSettings finish{1024}; ///< for the final values
    std::size_t max_tries = 240;
    std::function<bool()> goes_on{}; ///< asked before each try; empty: never stops early
};

/// Result of a wish.
struct WishResult {
    double before = 0.0;
    double after = 0.0;
    /// Distance of `after` from the wished range, in its unit; met up to `error`.
    double miss = 0.0;
    double error = 0.0; ///< maximum error of `after`
    double alone = 0.0; ///< smallest miss in all tries, regardless of other wishes
};

/// Two wishes that no try met together, though each was met. They can contradict each other, or the search
/// was too short.
struct WishesApart {
    std::size_t one = 0;
    std::size_t other = 0;
    double one_miss = 0.0; ///< in the try that came closest to both
    double other_miss = 0.0;
};

/// Result of a search.
struct Solution {
    bool met = false;                     ///< all wishes are met, each within its error
    bool was_cut = false;                 ///< `goes_on` ended the search
    std::vector<ArsenalChange> changes{}; ///< one for each of Wishes::ranges, in order
    std::vector<double> before{};         ///< their old values
    std::vector<WishResult> results{};    ///< one for each wish
    std::vector<WishesApart> apart{};
    std::size_t tries = 0; ///< 0: all wishes were met from the start
    ArsenalText overlay{};
};

/// Solves wishes about an arsenal. Returns diagnostics if the arsenal has faults, or lacks a value that a
/// wish needs.
Loaded<Solution> solve(std::span<const ArsenalText> arsenal, const Wishes& wishes,
                       const SolveSettings& settings = {});

/// Returns the step of values that a designer would write in a range: 1, 2 or 5 times a power of ten, about
/// twenty or more steps.
double presentable_step(double from, double to);

} // namespace avrek
