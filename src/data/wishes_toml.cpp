#include "../core/words.h"
#include "key_reading.h"
#include <avrek/data/arsenal_values.h>
#include <avrek/data/nearest_name.h>
#include <avrek/data/wishes_toml.h>

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace avrek::detail {

namespace {

// The value of a measure: one number, with `within`, or [least, most].
struct WishValue {
    int measures = 0;
    WishMeasure measure{};
    std::optional<CurvePoint> between{};
    std::optional<double> number{};
};

// One of the measures that a wish can be about.
struct Measure {
    WishMeasure measure;
    WishValue& value;
};

// A number in the unit of the file, whatever it stands for.
struct AsWritten {
    double& value;
};

// A wish as it stands in the file.
struct Written {
    Wish wish{};
    WishValue value{};
    std::optional<double> within{};
};

} // namespace

static void read_into(const KeySource& from, const AsWritten& member) {
    member.value = read_number(from.node, from.where, from.rule, from.faults).value_or(member.value);
}

static void read_into(const KeySource& from, const Measure& member) {
    member.value.measure = member.measure;
    ++member.value.measures;
    if (from.node.is_array()) {
        KeyRule pair = from.rule;
        pair.type = KeyType::pairs;
        member.value.between = read_pair(from.node, from.where, pair, from.faults);
    } else {
        member.value.number = read_number(from.node, from.where, from.rule, from.faults);
    }
}

static void visit_keys(KeyReading& key, Written& written) {
    const auto measure = [&](WishMeasure of, const KeyRow& row) {
        const std::string name{to_string(of)};
        key(name.c_str(), Measure{of, written.value}, row, "The wish itself.");
    };
    constexpr KeyRow up_to_600_s{.unit = "s", .range = {0.0, 600.0}};
    Wish& wish = written.wish;
    measure(WishMeasure::ideal_time, up_to_600_s);
    measure(WishMeasure::ideal_shots, {.unit = "shots", .range = {1.0, 1e5}});
    measure(WishMeasure::median_time, up_to_600_s);
    measure(WishMeasure::kill_chance, share);
    measure(WishMeasure::magazine_chance, share);
    measure(WishMeasure::win_rate, share);
    key("within", written.within, {.range = {0.0, 600.0}}, "How far off it may be, to both sides.");
    key("at", wish.at, {.unit = "m", .range = {0.0, 1e4, true}}, "Distance of the target.");
    key("weight", wish.weight, {.range = {0.0, 1000.0, true}}, "How much it counts beside the others.");
    key("weapon", wish.weapons[0], {.refers = "armament"}, "Weapon of the wish.");
    key("against", wish.weapons[1], {.refers = "armament"}, "Weapon of the opponent, of a win rate.");
    key("shooter", wish.shooter, {.refers = "shooter"}, "Profile that fires it.");
    key("body", wish.body, {.refers = "body"}, "Body of the target.");
    key("region", wish.region, {}, "Aimed region.");
}

} // namespace avrek::detail

namespace avrek {

namespace {

using detail::AsWritten;
using detail::Faults;
using detail::WishValue;
using detail::Written;

constexpr const char* sections = "title, [change.\"PATH\"] and [[wish]]";
constexpr std::size_t measure_count = 6;

void read_wish(const toml::node& node, std::size_t index, Wishes& wishes, Faults& faults) {
    const std::string where = "wish[" + std::to_string(index + 1) + ']';
    const toml::table* table = node.as_table();
    if (table == nullptr) {
        faults.add(node.source(), {where, "is " + detail::describe(node), "a table", {}});
        return;
    }
    Written written;
    std::set<std::string> seen;
    const std::size_t before = faults.count();
    detail::KeyReading reading{*table, "wish", where, seen, faults};
    visit_keys(reading, written);
    reading.report_unknown();
    if (faults.count() > before) {
        return;
    }
    const auto missing = [&](const char* key, const std::string& allowed) {
        faults.add(table->source(), {where + '.' + key, "is missing", allowed, {}});
    };
    std::string measures;
    for (std::size_t measure = 0; measure < measure_count; ++measure) {
        measures += (measure == 0 ? "" : ", ") + std::string{to_string(static_cast<WishMeasure>(measure))};
    }
    const WishValue& value = written.value;
    if (value.measures != 1) {
        faults.add(table->source(), {where,
                                     value.measures == 0 ? "wishes for nothing" : "wishes for several things",
                                     "one of " + measures,
                                     {}});
        return;
    }
    Wish& wish = written.wish;
    wish.measure = value.measure;
    if (wish.weapons[0].empty()) {
        missing("weapon", "a weapon, or a blade and its attack");
    }
    if (wish.measure == WishMeasure::win_rate && wish.weapons[1].empty()) {
        missing("against", "a weapon, or a blade and its attack");
    }
    if (wish.at <= 0.0) {
        missing("at", "over 0 to 10000 m");
    }
    wish.min = value.between ? value.between->x : value.number.value_or(0.0);
    wish.max = value.between ? value.between->y : wish.min;
    if (written.within) {
        wish.min -= *written.within;
        wish.max += *written.within;
    }
    if (wish.min > wish.max) {
        faults.add(table->source(), {where, "its least value is over its greatest", "[least, most]", {}});
    }
    wishes.wishes.push_back(wish);
}

void read_change(const toml::node& node, const std::string& path, const ArsenalValues& arsenal,
                 Wishes& wishes, Faults& faults) {
    const std::string where = "change.\"" + detail::printable(path) + '"';
    const toml::table* table = node.as_table();
    Loaded<ArsenalNumber> found = arsenal.find(path);
    if (!found) {
        const Diagnostic& fault = found.diagnostics.front();
        faults.add(node.source(), {where, fault.message, fault.allowed, fault.suggestion});
        return;
    }
    if (table == nullptr) {
        faults.add(node.source(), {where, "is " + detail::describe(node), "a table with from and to", {}});
        return;
    }
    WishRange range{path, found.value->min, found.value->max, 0.0};
    const detail::KeyRow limit{.unit = found.value->unit.c_str(),
                               .range = {found.value->min, found.value->max},
                               .otherwise = "as its key allows"};
    std::set<std::string> seen;
    detail::KeyReading reading{*table, "change", where, seen, faults};
    reading("from", AsWritten{range.from}, limit, "Least value.");
    reading("to", AsWritten{range.to}, limit, "Greatest value.");
    reading("step", range.step, {.range = {0.0, 1e6, true}}, "Step of the values.");
    reading.report_unknown();
    for (const char* name : {"from", "to"}) {
        if (!seen.contains(name)) {
            faults.add(table->source(), {where + '.' + name,
                                         "is missing",
                                         allowed_text(detail::rule_of<double>("change", name, limit, "")),
                                         {}});
        }
    }
    if (range.from > range.to) {
        faults.add(table->source(), {where, "its from is over its to", "from at most to", {}});
    }
    if (found.value->whole) {
        range.step = std::max(1.0, std::round(range.step));
    }
    wishes.ranges.push_back(range);
}

std::string number_text(double value) {
    char text[32];
    std::snprintf(text, sizeof text, "%.4g", value);
    return text;
}

} // namespace

std::string_view to_string(WishMeasure measure) {
    static constexpr auto words = std::to_array<std::string_view>(
        {"ideal_time_to_kill", "ideal_shots", "time_to_kill", "kill_chance", "magazine_chance", "win_rate"});
    return detail::word_of(words, measure);
}

std::string to_string(const Wish& wish) {
    const bool percent = wish.measure >= WishMeasure::kill_chance;
    const double factor = percent ? 100.0 : 1.0;
    const std::string least = number_text(factor * wish.min);
    const std::string most = number_text(factor * wish.max);
    const std::string value = least == most ? least : least + " to " + most;
    std::string text = wish.weapons[0];
    switch (wish.measure) {
    case WishMeasure::ideal_time:
        text += " kills in " + value + " s from the pull, when all hits";
        break;
    case WishMeasure::ideal_shots:
        text += " kills with " + value + " shots when all hit";
        break;
    case WishMeasure::median_time:
        text += " kills half in " + value + " s from the pull";
        break;
    case WishMeasure::kill_chance:
        text += " kills " + value + " %";
        break;
    case WishMeasure::magazine_chance:
        text += " kills " + value + " % with a magazine";
        break;
    case WishMeasure::win_rate:
        text += " wins " + value + " % against " + wish.weapons[1];
        break;
    }
    text += " at " + number_text(wish.at) + " m";
    text += wish.shooter.empty() ? "" : ", " + wish.shooter;
    text += wish.region.empty() ? "" : ", " + wish.region;
    return text + (wish.body.empty() ? "" : ", " + wish.body);
}

Loaded<Wishes> parse_wishes(std::string_view text, std::string_view name,
                            std::span<const ArsenalText> arsenal) {
    Loaded<Arsenal> parsed = parse_arsenal(arsenal);
    if (!parsed) {
        return {std::nullopt, std::move(parsed.diagnostics)};
    }
    Faults faults;
    std::vector<std::string> armaments;
    std::vector<std::string> shooters;
    std::vector<std::string> bodies;
    for (const WeaponSpec& weapon : parsed.value->weapons) {
        armaments.push_back(weapon.id);
    }
    for (const MeleeSpec& melee : parsed.value->melee) {
        for (const MeleeAttackSpec& attack : melee.attacks) {
            armaments.push_back(melee.id + ' ' + attack.name);
        }
    }
    for (const ShooterSpec& shooter : parsed.value->shooters) {
        shooters.push_back(shooter.id);
    }
    for (const BodySpec& body : parsed.value->bodies) {
        bodies.push_back(body.id);
    }
    faults.know("armament", armaments);
    faults.know("shooter", shooters);
    faults.know("body", bodies);
    Wishes wishes;
    const ArsenalValues values{arsenal};
    const toml::table root = detail::parse_toml(text, name, faults);
    for (const auto& [key, node] : detail::in_file_order(root)) {
        const std::string section{key->str()};
        if (section == "title" && node->is_string()) {
            wishes.title = detail::printable(*node->value<std::string>(), 200);
        } else if (section == "wish" && node->is_array()) {
            const toml::array& list = *node->as_array();
            for (std::size_t index = 0; index < list.size(); ++index) {
                read_wish(*list.get(index), index, wishes, faults);
            }
        } else if (section == "change" && node->is_table()) {
            for (const auto& [path, change] : detail::in_file_order(*node->as_table())) {
                read_change(*change, std::string{path->str()}, values, wishes, faults);
            }
        } else {
            faults.add(key->source(),
                       {detail::printable(section), "does not belong here", sections,
                        nearest_name(section, std::vector<std::string>{"title", "wish", "change"})});
        }
    }
    const BodySpec* first = parsed.value->bodies.empty() ? nullptr : &parsed.value->bodies.front();
    for (const Wish& wish : wishes.wishes) {
        const BodySpec* body = wish.body.empty() ? first : find(parsed.value->bodies, wish.body);
        if (body != nullptr && !wish.region.empty() && !find_region(body->rig, wish.region)) {
            faults.add(name, {1, 1},
                       {"wish", body->id + " has no region '" + wish.region + "'", "one of its regions", {}});
        }
    }
    if (!faults.has_errors() && (wishes.wishes.empty() || wishes.ranges.empty())) {
        faults.add(name, {1, 1},
                   {{},
                    wishes.wishes.empty() ? "there is no wish in this file" : "nothing may be changed",
                    sections,
                    {}});
    }
    Loaded<Wishes> loaded;
    if (!faults.has_errors()) {
        loaded.value = std::move(wishes);
    }
    loaded.diagnostics = faults.take();
    return loaded;
}

Loaded<Wishes> load_wishes(const std::string& file, std::span<const ArsenalText> arsenal) {
    Loaded<ArsenalText> text = read_arsenal_text(file);
    if (!text) {
        return {std::nullopt, std::move(text.diagnostics)};
    }
    return parse_wishes(text->text, text->name, arsenal);
}

} // namespace avrek
