#pragma once
#include <avrek/tuning/measures.h>
#include <avrek/tuning/solve.h>

#include <span>
#include <vector>

/// How well values meet a designer's wishes.
namespace avrek::detail {

inline constexpr double not_allowed = 1e6; ///< cost of values that contradict each other
inline constexpr double of_changes = 1e-3; ///< cost of a change of the whole range

/// One set of values that was tried.
struct TriedValues {
    std::vector<double> values{};
    std::vector<Measured> measured{}; ///< by wish; empty: the values are not allowed
    double cost = not_allowed;        ///< cost in the search
    double missed = not_allowed;      ///< without the margin and the changes: 0 when all are met
};

/// Returns how far a value is outside of a wish; 0 inside. The wish is narrower by `margin` on both sides.
double miss_of(const Wish& wish, double value, double margin = 0.0);

/// Computes the cost and the miss of values from what has been measured with them. The search keeps inside of
/// the wishes by a margin; without one, a wish is met within the error of its value.
void assess(TriedValues& one, const Wishes& wishes, std::span<const double> before, bool with_margin);

/// Returns the cost of wishes about numbers of shots whose weapon's damage sits on an edge.
double cost_of_edges(const Wishes& wishes, const Arsenal& arsenal);

/// Returns for each wish its value before and with the best values, and its smallest miss in any try.
std::vector<WishResult> wish_results(const Wishes& wishes, std::span<const Measured> now,
                                     const TriedValues& best, std::span<const TriedValues> tries);

/// Returns pairs of wishes that were met alone, but never together.
std::vector<WishesApart> wishes_apart(const Wishes& wishes, std::span<const WishResult> results,
                                      std::span<const TriedValues> tries);

} // namespace avrek::detail
