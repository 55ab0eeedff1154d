#include "values.h"

#include "keys.h"
#include <avrek/data/nearest_name.h>

#include <algorithm>

namespace avrek::detail {

namespace {

constexpr std::size_t max_curve_points = 64;
constexpr double longest_curve = 1e5;
constexpr std::size_t max_pairs = 1000;

bool in_range(double value, const KeyRange& range) {
    // Both ends are finite, so nan and the infinities fail one of the two.
    return value <= range.max && (range.above_min ? value > range.min : value >= range.min);
}

std::optional<double> number_of(const toml::node& node) {
    return node.is_number() ? node.value<double>() : std::nullopt;
}

// Whether a curve's point is a pair of numbers in range whose x lies beyond `after`; the message otherwise.
std::string point_fault(const toml::node& node, const KeyRule& rule, double after) {
    const toml::array* pair = node.as_array();
    if (pair == nullptr || pair->size() != 2) {
        return "has a point that is " + describe(node) + ", not a pair";
    }
    const std::optional<double> x = number_of(*pair->get(0));
    const std::optional<double> y = number_of(*pair->get(1));
    if (!x || !in_range(*x, {0.0, longest_curve, false})) {
        return "has an x that is " + describe(*pair->get(0));
    }
    if (!y || !in_range(*y, rule.range)) {
        return "has a y that is " + describe(*pair->get(1));
    }
    return *x > after ? std::string{}
                      : "has an x of " + describe(*pair->get(0)) + " after one that is not less";
}

} // namespace

void refuse(const toml::node& node, const std::string& where, const KeyRule& rule, Faults& faults) {
    faults.add(node.source(), {where, "is " + describe(node), allowed_text(rule), {}});
}

std::optional<double> read_number(const toml::node& node, const std::string& where, const KeyRule& rule,
                                  Faults& faults) {
    const std::optional<double> value = number_of(node);
    if (!value || !in_range(*value, rule.range)) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    return value;
}

std::optional<std::int32_t> read_integer(const toml::node& node, const std::string& where,
                                         const KeyRule& rule, Faults& faults) {
    const auto* value = node.as_integer();
    if (value == nullptr || !in_range(static_cast<double>(value->get()), rule.range)) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    return static_cast<std::int32_t>(value->get());
}

std::optional<std::size_t> read_word(const toml::node& node, const std::string& where, const KeyRule& rule,
                                     Faults& faults) {
    const auto* text = node.as_string();
    if (text == nullptr) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    const auto found = std::find(rule.words.begin(), rule.words.end(), text->get());
    if (found == rule.words.end()) {
        faults.add(node.source(), {where, "is \"" + printable(text->get()) + "\"", allowed_text(rule),
                                   nearest_name(text->get(), rule.words)});
        return std::nullopt;
    }
    return static_cast<std::size_t>(found - rule.words.begin());
}

std::optional<bool> read_flag(const toml::node& node, const std::string& where, const KeyRule& rule,
                              Faults& faults) {
    const auto* value = node.as_boolean();
    if (value == nullptr) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    return value->get();
}

std::optional<std::vector<std::size_t>> read_words(const toml::node& node, const std::string& where,
                                                   const KeyRule& rule, Faults& faults) {
    const toml::array* list = node.as_array();
    if (list == nullptr) {
        const std::optional<std::size_t> word = read_word(node, where, rule, faults);
        return word ? std::optional{std::vector{*word}} : std::nullopt;
    }
    if (!in_range(static_cast<double>(list->size()), rule.range)) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    std::vector<std::size_t> places;
    for (const toml::node& entry : *list) {
        if (const std::optional<std::size_t> word = read_word(entry, where, rule, faults)) {
            places.push_back(*word);
        }
    }
    return places.size() == list->size() ? std::optional{places} : std::nullopt;
}

std::optional<CurvePoint> read_pair(const toml::node& node, const std::string& where, const KeyRule& rule,
                                    Faults& faults) {
    const toml::array* pair = node.as_array();
    if (pair == nullptr || pair->size() != 2) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    const std::optional<double> x = read_number(*pair->get(0), where, rule, faults);
    const std::optional<double> y = read_number(*pair->get(1), where, rule, faults);
    return x && y ? std::optional{CurvePoint{*x, *y}} : std::nullopt;
}

std::optional<std::vector<CurvePoint>> read_pairs(const toml::node& node, const std::string& where,
                                                  const KeyRule& rule, Faults& faults) {
    const toml::array* list = node.as_array();
    if (list == nullptr || list->size() > max_pairs) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    std::vector<CurvePoint> pairs;
    for (const toml::node& entry : *list) {
        if (const std::optional<CurvePoint> pair = read_pair(entry, where, rule, faults)) {
            pairs.push_back(*pair);
        }
    }
    return pairs.size() == list->size() ? std::optional{pairs} : std::nullopt;
}

std::optional<Vector3> read_point(const toml::node& node, const std::string& where, const KeyRule& rule,
                                  Faults& faults) {
    const toml::array* list = node.as_array();
    if (list == nullptr || list->size() != 3) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    Vector3 point = Vector3::Zero();
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const toml::node& coordinate = *list->get(axis);
        const std::optional<double> value = number_of(coordinate);
        if (!value || !in_range(*value, rule.range)) {
            refuse(coordinate, where, rule, faults);
            return std::nullopt;
        }
        point[static_cast<Eigen::Index>(axis)] = *value;
    }
    return point;
}

std::optional<Curve> read_curve(const toml::node& node, const std::string& where, const KeyRule& rule,
                                Faults& faults) {
    const toml::array* list = node.as_array();
    if (list == nullptr || list->empty() || list->size() > max_curve_points) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    Curve curve;
    bool sound = true;
    double after = -1.0;
    for (const toml::node& entry : *list) {
        const std::string fault = point_fault(entry, rule, after);
        if (!fault.empty()) {
            faults.add(entry.source(), {where, fault, allowed_text(rule), {}});
            sound = false;
            continue;
        }
        const toml::array& pair = *entry.as_array();
        curve.points.push_back({*number_of(*pair.get(0)), *number_of(*pair.get(1))});
        after = curve.points.back().x;
    }
    return sound ? std::optional{curve} : std::nullopt;
}

bool is_id(std::string_view id) {
    const auto is_letter = [](char c) { return c >= 'a' && c <= 'z'; };
    const auto is_allowed = [&](char c) { return is_letter(c) || (c >= '0' && c <= '9') || c == '-'; };
    return !id.empty() && id.size() <= 64 && is_letter(id.front()) && id.back() != '-' &&
           id.find("--") == std::string_view::npos && std::all_of(id.begin(), id.end(), is_allowed);
}

void read_multipliers(const toml::node& node, const std::string& where, const KeyRule& rule,
                      std::vector<RegionMultiplier>& multipliers, Faults& faults) {
    constexpr std::size_t most = 64;
    const toml::table* table = node.as_table();
    if (table == nullptr || table->size() > most) {
        refuse(node, where, rule, faults);
        return;
    }
    for (const auto& [key, value] : *table) {
        const std::string name{key.str()};
        const std::optional<double> number = read_number(value, where + '.' + printable(name), rule, faults);
        if (!number) {
            continue;
        }
        const auto found = std::find_if(multipliers.begin(), multipliers.end(),
                                        [&](const RegionMultiplier& entry) { return entry.region == name; });
        if (found != multipliers.end()) {
            found->multiplier = *number;
        } else {
            multipliers.push_back({name, *number});
        }
    }
}

} // namespace avrek::detail
