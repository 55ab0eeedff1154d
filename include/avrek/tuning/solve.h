#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_values.h>
#include <avrek/data/wishes_toml.h>
#include <avrek/tuning/kill_distribution.h>

#include <functional>
#include <span>
#include <string>
#include <vector>

/// Finds the numbers for what a designer wants: an overlay that meets wishes, or comes nearest to them.
///
/// The continuous part is NLopt's: DIRECT-L over all that may be changed (Gablonsky and Kelley, 2001), then
/// Subplex from the best found (Rowan, 1990). The rest is rounding: to values that a designer would write,
/// each checked again, and of several that meet all wishes the one that changes least and does not sit on an
/// edge beyond which it takes another number of shots.
namespace avrek {

struct SolveSettings {
    DistributionSettings search{64};   ///< while it looks
    DistributionSettings finish{1024}; ///< for what it says in the end
    std::size_t max_tries = 240;
    std::function<bool()> goes_on{}; ///< asked before each try; none: always
};

/// What became of a wish.
struct WishResult {
    double before = 0.0;
    double after = 0.0;
    double miss =
        0.0; ///< how far outside of what is wished it ends, in the measure's unit; met up to `error`
    double error = 0.0; ///< of `after`, at most
    double alone = 0.0; ///< the least miss of it in all tries, whatever became of the others
};

/// Two wishes of which no try met both, though each was met by some. They may contradict each other, or the
/// search may have been too short to meet both.
struct WishesApart {
    std::size_t one = 0;
    std::size_t other = 0;
    double one_miss = 0.0; ///< in the try that came nearest to both
    double other_miss = 0.0;
};

struct Solution {
    bool met = false;                     ///< all wishes, each within the error of its value
    bool was_cut = false;                 ///< `goes_on` ended it
    std::vector<ArsenalChange> changes{}; ///< of each of Wishes::ranges, in order
    std::vector<double> before{};         ///< their values until now
    std::vector<WishResult> results{};    ///< of each wish
    std::vector<WishesApart> apart{};
    std::size_t tries = 0; ///< 0 where all wishes were met from the start
    ArsenalText overlay{};
};

/// Solves wishes about an arsenal. Diagnostics when the arsenal has faults, or has no value for what a wish
/// is about.
Loaded<Solution> solve(std::span<const ArsenalText> arsenal, const Wishes& wishes,
                       const SolveSettings& settings = {});

/// The step of values that a designer would write within a range: 1, 2 or 5 times a power of ten, some twenty
/// or more of them in it.
double presentable_step(double from, double to);

} // namespace avrek
