#include "wish_costs.h"
#include <avrek/data/arsenal_digest.h>

#include <nlopt.h>

#include <algorithm>
#include <cmath>
#include <optional>

namespace avrek {

namespace {

using detail::miss_of;
using detail::not_allowed;
using detail::of_changes;
using detail::TriedValues;

class Solving {
  public:
    Solving(std::span<const ArsenalText> arsenal, const Wishes& wishes, const SolveSettings& settings)
        : values_(arsenal), wishes_(wishes), settings_(settings),
          search_(wishes.wishes, paths(), settings.search), finish_(wishes.wishes, paths(), settings.finish) {
    }

    Loaded<Solution> run() {
        Solution solution;
        for (const WishRange& range : wishes_.ranges) {
            Loaded<ArsenalNumber> number = values_.find(range.path);
            if (!number) {
                return {std::nullopt, std::move(number.diagnostics)};
            }
            solution.before.push_back(number.value->value);
        }
        before_ = solution.before;
        Loaded<Arsenal> base = parse_arsenal(values_.texts());
        if (!base) {
            return {std::nullopt, std::move(base.diagnostics)};
        }
        const std::vector<Measured> now = finish_.of(*base.value);
        std::vector<double> start;
        for (std::size_t index = 0; index < before_.size(); ++index) {
            start.push_back(std::clamp(before_[index], wishes_.ranges[index].from, wishes_.ranges[index].to));
        }
        if (is_met_now(now)) {
            return {as_it_is(now), {}};
        }
        try_out(start);
        try_neighbours(start);
        search(NLOPT_GN_DIRECT_L, settings_.max_tries / 2);
        search(NLOPT_LN_SBPLX, settings_.max_tries * 3 / 4);
        round();
        const TriedValues best = finish();
        solution.met = best.missed <= 0.0;
        solution.was_cut = cut_;
        solution.tries = tries_.size();
        for (std::size_t index = 0; index < best.values.size(); ++index) {
            solution.changes.push_back({wishes_.ranges[index].path, best.values[index]});
        }
        solution.results = detail::wish_results(wishes_, now, best, tries_);
        if (!solution.met) {
            solution.apart = detail::wishes_apart(wishes_, solution.results, tries_);
        }
        Loaded<ArsenalText> overlay = values_.overlay(solution.changes, "overlay.toml", wishes_.title);
        if (!overlay) {
            return {std::nullopt, std::move(overlay.diagnostics)};
        }
        solution.overlay = std::move(*overlay.value);
        return {std::move(solution), {}};
    }

  private:
    // Paths that may change: the ranges' own numbers, and those of entries that are like theirs.
    std::vector<std::string> paths() const {
        std::vector<std::string> all;
        for (const WishRange& range : wishes_.ranges) {
            all.push_back(range.path);
            const std::size_t dot = range.path.find('.');
            const std::size_t end = range.path.find('.', dot + 1);
            const std::string section = range.path.substr(0, dot);
            const double other = 0.5 * (range.from + range.to) + 0.25 * (range.to - range.from);
            const ArsenalChange change{range.path, other};
            std::vector<ArsenalText> texts(values_.texts().begin(), values_.texts().end());
            if (Loaded<ArsenalText> overlay = values_.overlay({&change, 1}, "likeness")) {
                texts.push_back(std::move(*overlay.value));
            }
            const ArsenalValues changed{texts};
            for (const EntryDigest& entry : digest_of(values_.texts()).entries) {
                const std::string path = entry.name + range.path.substr(std::min(end, range.path.size()));
                if (entry.name.rfind(section + '.', 0) != 0 || path == range.path) {
                    continue;
                }
                const auto before = values_.find(path);
                const auto after = changed.find(path);
                if (before && after && before.value->value != after.value->value) {
                    all.push_back(path);
                }
            }
        }
        return all;
    }

    double step_of(std::size_t index) const {
        const WishRange& range = wishes_.ranges[index];
        return range.step > 0.0 ? range.step : presentable_step(range.from, range.to);
    }

    // The arsenal with these values; none when they contradict each other.
    std::optional<Arsenal> arsenal_with(const std::vector<double>& values) const {
        std::vector<ArsenalChange> changes;
        for (std::size_t index = 0; index < values.size(); ++index) {
            changes.push_back({wishes_.ranges[index].path, values[index]});
        }
        return values_.with(changes).value;
    }

    // A wish is met when it is within the stated error of its value.
    bool is_met_now(const std::vector<Measured>& now) const {
        for (std::size_t wish = 0; wish < wishes_.wishes.size(); ++wish) {
            if (miss_of(wishes_.wishes[wish], now[wish].value) > now[wish].error) {
                return false;
            }
        }
        for (std::size_t index = 0; index < before_.size(); ++index) {
            const WishRange& range = wishes_.ranges[index];
            if (before_[index] < range.from || before_[index] > range.to) {
                return false;
            }
        }
        return true;
    }

    // Nothing has to change.
    Solution as_it_is(const std::vector<Measured>& now) const {
        Solution solution;
        solution.met = true;
        solution.before = before_;
        solution.overlay = {"overlay.toml", "# Nothing has to change.\n"};
        for (std::size_t index = 0; index < before_.size(); ++index) {
            solution.changes.push_back({wishes_.ranges[index].path, before_[index]});
        }
        for (std::size_t wish = 0; wish < wishes_.wishes.size(); ++wish) {
            const double miss = miss_of(wishes_.wishes[wish], now[wish].value);
            solution.results.push_back({now[wish].value, now[wish].value, miss, now[wish].error, miss});
        }
        return solution;
    }

    // One step of one number often does.
    void try_neighbours(const std::vector<double>& start) {
        for (std::size_t index = 0; index < start.size(); ++index) {
            for (const double way : {-1.0, 1.0}) {
                std::vector<double> next = start;
                next[index] = on_grid(index, next[index] + way * step_of(index));
                if (may_go_on()) {
                    try_out(next);
                }
            }
        }
    }

    bool may_go_on() {
        cut_ = cut_ || (settings_.goes_on && !settings_.goes_on());
        return !cut_ && tries_.size() < settings_.max_tries;
    }

    const TriedValues& try_out(const std::vector<double>& values) {
        for (const TriedValues& known : tries_) {
            if (known.values == values) {
                return known;
            }
        }
        TriedValues one{values};
        if (const auto arsenal = arsenal_with(values)) {
            one.measured = search_.of(*arsenal);
            assess(one, wishes_, before_, true);
            one.cost += detail::cost_of_edges(wishes_, *arsenal);
        }
        tries_.push_back(std::move(one));
        return tries_.back();
    }

    const TriedValues& best_try() const {
        return *std::min_element(tries_.begin(), tries_.end(),
                                 [](const TriedValues& a, const TriedValues& b) { return a.cost < b.cost; });
    }

    static double asked(unsigned count, const double* shares, double*, void* data) {
        auto& solving = *static_cast<Solving*>(data);
        if (!solving.may_go_on() || solving.tries_.size() >= solving.until_) {
            nlopt_force_stop(solving.optimizer_);
            return not_allowed;
        }
        std::vector<double> values;
        for (unsigned index = 0; index < count; ++index) {
            const WishRange& range = solving.wishes_.ranges[index];
            values.push_back(range.from + shares[index] * (range.to - range.from));
        }
        const double cost = solving.try_out(values).cost;
        // Good enough: what is left is the size of the changes.
        if (cost < 0.1 * of_changes * static_cast<double>(count) + 1e-9) {
            nlopt_force_stop(solving.optimizer_);
        }
        return cost;
    }

    void search(nlopt_algorithm algorithm, std::size_t until) {
        const auto count = static_cast<unsigned>(wishes_.ranges.size());
        until_ = until;
        optimizer_ = nlopt_create(algorithm, count);
        nlopt_set_lower_bounds1(optimizer_, 0.0);
        nlopt_set_upper_bounds1(optimizer_, 1.0);
        nlopt_set_min_objective(optimizer_, asked, this);
        nlopt_set_maxeval(optimizer_, static_cast<int>(settings_.max_tries));
        nlopt_set_ftol_abs(optimizer_, 1e-6);
        nlopt_set_xtol_rel(optimizer_, 1e-3);
        std::vector<double> shares;
        const std::vector<double> from = best_try().values;
        for (unsigned index = 0; index < count; ++index) {
            const WishRange& range = wishes_.ranges[index];
            shares.push_back(range.to > range.from ? (from[index] - range.from) / (range.to - range.from)
                                                   : 0.0);
        }
        double cost = 0.0;
        nlopt_optimize(optimizer_, shares.data(), &cost);
        nlopt_destroy(optimizer_);
        optimizer_ = nullptr;
    }

    double on_grid(std::size_t index, double value) const {
        const WishRange& range = wishes_.ranges[index];
        const double step = step_of(index);
        double rounded = step * std::round(value / step);
        rounded = rounded < range.from ? step * std::ceil(range.from / step) : rounded;
        rounded = rounded > range.to ? step * std::floor(range.to / step) : rounded;
        // Without the dust of the multiplication.
        const double digits = std::pow(10.0, std::ceil(-std::log10(step)) + 2.0);
        return std::clamp(std::round(rounded * digits) / digits, range.from, range.to);
    }

    bool is_on_grid(const TriedValues& one) const {
        for (std::size_t index = 0; index < one.values.size(); ++index) {
            if (on_grid(index, one.values[index]) != one.values[index]) {
                return false;
            }
        }
        return true;
    }

    // From the best continuous values to presentable ones, and from there step by step to better ones.
    void round() {
        const std::size_t count = wishes_.ranges.size();
        std::vector<TriedValues> known = tries_;
        std::sort(known.begin(), known.end(),
                  [](const TriedValues& a, const TriedValues& b) { return a.cost < b.cost; });
        for (std::size_t from = 0; from < std::min<std::size_t>(3, known.size()) && may_go_on(); ++from) {
            const std::size_t corners = std::size_t{1} << std::min<std::size_t>(count, 4);
            for (std::size_t corner = 0; corner < corners && may_go_on(); ++corner) {
                std::vector<double> values = known[from].values;
                for (std::size_t index = 0; index < count; ++index) {
                    const double half = (corner >> std::min<std::size_t>(index, 4) & 1U) != 0 ? 0.5 : -0.5;
                    values[index] = on_grid(index, values[index] + half * step_of(index));
                }
                try_out(values);
            }
        }
        for (bool better = true; better && may_go_on();) {
            better = false;
            const TriedValues* best = best_on_grid();
            if (best == nullptr) {
                return;
            }
            const double cost = best->cost;
            const std::vector<double> values = best->values;
            for (std::size_t index = 0; index < count && may_go_on(); ++index) {
                for (const double way : {-1.0, 1.0}) {
                    std::vector<double> next = values;
                    next[index] = on_grid(index, next[index] + way * step_of(index));
                    better |= try_out(next).cost < cost - 1e-12;
                }
            }
        }
    }

    const TriedValues* best_on_grid() const {
        const TriedValues* best = nullptr;
        for (const TriedValues& one : tries_) {
            if (is_on_grid(one) && (best == nullptr || one.cost < best->cost)) {
                best = &one;
            }
        }
        return best;
    }

    // The best presentable values, looked at finely: the first of the five best that meet all, or the best.
    TriedValues finish() {
        std::vector<TriedValues> good;
        for (const TriedValues& one : tries_) {
            if (is_on_grid(one) && !one.measured.empty()) {
                good.push_back(one);
            }
        }
        if (good.empty()) {
            good.push_back(best_try());
            for (std::size_t index = 0; index < good.front().values.size(); ++index) {
                good.front().values[index] = on_grid(index, good.front().values[index]);
            }
        }
        std::sort(good.begin(), good.end(),
                  [](const TriedValues& a, const TriedValues& b) { return a.cost < b.cost; });
        good.resize(std::min<std::size_t>(5, good.size()));
        TriedValues best;
        for (TriedValues& one : good) {
            const auto arsenal = arsenal_with(one.values);
            if (!arsenal) {
                continue;
            }
            one.measured = finish_.of(*arsenal);
            assess(one, wishes_, before_, false);
            if (best.measured.empty() || one.missed < best.missed) {
                best = one;
            }
            if (best.missed <= 0.0) {
                break;
            }
        }
        if (best.measured.empty()) { // nothing that was tried is allowed: as it was
            best.values = before_;
            best.measured = finish_.of(*parse_arsenal(values_.texts()).value);
            assess(best, wishes_, before_, false);
        }
        return best;
    }

    ArsenalValues values_;
    const Wishes& wishes_;
    const SolveSettings& settings_;
    Measures search_;
    Measures finish_;
    std::vector<double> before_{};
    std::vector<TriedValues> tries_{};
    std::size_t until_ = 0;
    nlopt_opt optimizer_ = nullptr;
    bool cut_ = false;
};

} // namespace

double presentable_step(double from, double to) {
    const double rough = (to - from) / 20.0;
    if (!(rough > 0.0)) {
        return 1.0;
    }
    const double power = std::pow(10.0, std::floor(std::log10(rough)));
    const double share = rough / power;
    return (share >= 5.0 ? 5.0 : share >= 2.0 ? 2.0 : 1.0) * power;
}

Loaded<Solution> solve(std::span<const ArsenalText> arsenal, const Wishes& wishes,
                       const SolveSettings& settings) {
    return Solving{arsenal, wishes, settings}.run();
}

} // namespace avrek
