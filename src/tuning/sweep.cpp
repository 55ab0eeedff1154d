#include <avrek/tuning/duel.h>
#include <avrek/tuning/sweep.h>

#include <algorithm>
#include <cassert>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <limits>
#include <optional>

namespace avrek {

namespace {

constexpr const char* axis_allowed = "PATH=FROM:TO:STEP, such as weapon.thorn-rifle.damage=18:26:2";
constexpr double max_points = 1e9;

std::optional<double> number_of(std::string_view text) {
    double value = 0.0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    return error == std::errc{} && end == text.data() + text.size() && std::isfinite(value)
               ? std::optional{value}
               : std::nullopt;
}

Diagnostic fault(std::string_view text, std::string message, std::string allowed) {
    return {Severity::error, "", 0, 0, std::string{text}, std::move(message), std::move(allowed), {}};
}

// The nearest value of an axis, without the dust of the multiplication.
double value_of(const SweepAxis& axis, std::size_t index) {
    const double value = axis.from + static_cast<double>(index) * axis.step;
    const double digits = std::pow(10.0, std::clamp(std::ceil(-std::log10(axis.step)), 0.0, 9.0) + 3.0);
    return std::min(axis.to, std::round(value * digits) / digits);
}

std::string distance_text(Metres distance) {
    char text[32];
    std::snprintf(text, sizeof text, "%gm", distance);
    return text;
}

// The root of x^(dimensions + 1) = x + 1 over 1.
double golden_root(std::size_t dimensions) {
    double root = 1.5;
    for (int round = 0; round < 60; ++round) {
        root = std::pow(1.0 + root, 1.0 / static_cast<double>(dimensions + 1));
    }
    return root;
}

double milliseconds_of(const std::optional<Duration>& time) {
    return time ? to_milliseconds(*time) : std::numeric_limits<double>::quiet_NaN();
}

} // namespace

Loaded<SweepAxis> parse_axis(const ArsenalValues& values, std::string_view text) {
    const std::size_t equals = text.rfind('=');
    if (equals == std::string_view::npos) {
        return {std::nullopt, {fault(text, "is no axis", axis_allowed)}};
    }
    std::vector<std::string_view> parts;
    for (std::string_view rest = text.substr(equals + 1); parts.size() < 4;) {
        const std::size_t colon = rest.find(':');
        parts.push_back(rest.substr(0, colon));
        if (colon == std::string_view::npos) {
            break;
        }
        rest = rest.substr(colon + 1);
    }
    Loaded<ArsenalNumber> number = values.find(text.substr(0, equals));
    if (!number) {
        return {std::nullopt, std::move(number.diagnostics)};
    }
    const auto from = number_of(parts.front());
    const auto to = parts.size() == 3 ? number_of(parts[1]) : std::nullopt;
    const auto step = parts.size() == 3 ? number_of(parts[2]) : std::nullopt;
    if (!from || !to || !step || *step <= 0.0 || *from > *to) {
        return {std::nullopt, {fault(text, "is no axis", axis_allowed)}};
    }
    const ArsenalNumber& found = *number.value;
    char range[96];
    std::snprintf(range, sizeof range, "%g to %g %s", found.min, found.max, found.unit.c_str());
    if (*from < found.min || *to > found.max) {
        return {std::nullopt, {fault(text, "goes beyond what is allowed", range)}};
    }
    if (found.whole && (*from != std::floor(*from) || *step != std::floor(*step))) {
        return {std::nullopt, {fault(text, "has values that are no whole numbers", "whole numbers")}};
    }
    return {SweepAxis{found.path, *from, *to, *step}, {}};
}

std::size_t value_count(const SweepAxis& axis) {
    return 1 + static_cast<std::size_t>(std::floor((axis.to - axis.from) / axis.step + 1e-9));
}

std::size_t point_count(const SweepPlan& plan) {
    if (plan.samples > 0) {
        return plan.samples;
    }
    double count = 1.0;
    for (const SweepAxis& axis : plan.axes) {
        count *= static_cast<double>(value_count(axis));
    }
    return static_cast<std::size_t>(std::min(count, max_points));
}

std::vector<double> values_at(const SweepPlan& plan, std::size_t point) {
    assert(!plan.axes.empty() && point < point_count(plan));
    std::vector<double> values(plan.axes.size());
    if (plan.samples > 0) {
        const double root = golden_root(plan.axes.size());
        double power = 1.0;
        for (std::size_t axis = 0; axis < plan.axes.size(); ++axis) {
            power /= root;
            const double share = 0.5 + power * static_cast<double>(point + 1);
            const std::size_t count = value_count(plan.axes[axis]);
            const auto index =
                static_cast<std::size_t>((share - std::floor(share)) * static_cast<double>(count));
            values[axis] = value_of(plan.axes[axis], std::min(index, count - 1));
        }
        return values;
    }
    for (std::size_t axis = plan.axes.size(); axis-- > 0;) {
        const std::size_t count = value_count(plan.axes[axis]);
        values[axis] = value_of(plan.axes[axis], point % count);
        point /= count;
    }
    return values;
}

Loaded<Arsenal> arsenal_at(const ArsenalValues& arsenal, const SweepPlan& plan, std::size_t point) {
    const std::vector<double> values = values_at(plan, point);
    std::vector<ArsenalChange> changes;
    for (std::size_t axis = 0; axis < values.size(); ++axis) {
        changes.push_back({plan.axes[axis].path, values[axis]});
    }
    return arsenal.with(changes);
}

std::vector<std::string> sweep_columns(const SweepQuestion& question) {
    std::vector<std::string> columns;
    for (const Metres distance : question.distances) {
        const std::string at = distance_text(distance);
        for (std::size_t one = 0; one < question.armaments.size(); ++one) {
            if (!question.duels) {
                for (const char* what : {"_killed", "_tenth_ms", "_median_ms", "_ninetieth_ms", "_shots"}) {
                    columns.push_back(question.armaments[one] + '_' + at + what);
                }
                continue;
            }
            for (std::size_t other = one + 1; other < question.armaments.size(); ++other) {
                columns.push_back(question.armaments[one] + "_over_" + question.armaments[other] + '_' + at +
                                  "_win_rate");
            }
        }
    }
    return columns;
}

std::vector<double> sweep_row(const Arsenal& arsenal, const SweepQuestion& question) {
    std::vector<double> row;
    if (question.duels) {
        const DuelMatrix matrix = duel_matrix(arsenal, question.armaments, question.distances,
                                              {{question.shooter, question.shooter},
                                               question.body,
                                               {},
                                               true,
                                               question.settings,
                                               question.overrides});
        for (std::size_t distance = 0; distance < question.distances.size(); ++distance) {
            for (std::size_t one = 0; one < question.armaments.size(); ++one) {
                for (std::size_t other = one + 1; other < question.armaments.size(); ++other) {
                    row.push_back(matrix.at(distance, one, other).win_rate(0));
                }
            }
        }
        return row;
    }
    std::vector<Engagement> engagements;
    for (const Metres distance : question.distances) {
        for (const std::string& armament : question.armaments) {
            engagements.push_back(
                engagement_of(arsenal, armament, question.shooter, question.body, distance).value());
            apply(question.overrides, engagements.back());
        }
    }
    for (const KillDistribution& kills : kill_distributions(engagements, question.settings)) {
        row.push_back(kills.killed());
        for (const double share : {0.1, 0.5, 0.9}) {
            row.push_back(milliseconds_of(time_of_share(kills, share)));
        }
        row.push_back(mean_shots(kills));
    }
    return row;
}

} // namespace avrek
