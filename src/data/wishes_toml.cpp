#include "key_making.h"
#include "toml_file.h"
#include <avrek/data/arsenal_values.h>
#include <avrek/data/nearest_name.h>
#include <avrek/data/wishes_toml.h>

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace avrek {

namespace {

using detail::Faults;
using detail::rule;

constexpr const char* sections = "title, [change.\"PATH\"] and [[wish]]";
constexpr std::size_t measure_count = 6;

// A wish as it stands in the file.
struct Written {
    Wish wish{};
    std::optional<CurvePoint> between{};
    std::optional<double> value{};
    std::optional<double> within{};
    int measures = 0;
    std::vector<std::string> pair{};
};

KeyRule rule_of(const char* name, KeyType type, KeyRange range, const char* unit, const char* meaning) {
    return rule("wish", name, type, range, unit, "none", meaning);
}

// The value of a measure: one number, with `within`, or [least, most].
detail::Key<Written> measure(WishMeasure of, KeyRange range, const char* unit) {
    const KeyRule made =
        rule_of(std::string{to_string(of)}.c_str(), KeyType::number, range, unit, "The wish itself.");
    return {made, [=](const toml::node& node, const std::string& where, Written& written, Faults& faults) {
                written.wish.measure = of;
                ++written.measures;
                if (node.is_array()) {
                    KeyRule pair = made;
                    pair.type = KeyType::pairs;
                    written.between = detail::read_pair(node, where, pair, faults);
                } else {
                    written.value = detail::read_number(node, where, made, faults);
                }
            }};
}

detail::Key<Written> number(const char* name, KeyRange range, const char* unit, const char* meaning,
                            void (*set)(Written&, double)) {
    return detail::key<Written>(rule_of(name, KeyType::number, range, unit, meaning), detail::read_number,
                                set);
}

detail::Key<Written> other(const char* name, const char* refers, const char* meaning,
                           void (*set)(Written&, const std::string&)) {
    KeyRule made = rule_of(name, KeyType::other_id, {}, "", meaning);
    made.refers = refers;
    return detail::key<Written>(made, detail::read_other, set);
}

const std::vector<detail::Key<Written>>& wish_keys() {
    static const std::vector<detail::Key<Written>> keys = [] {
        constexpr KeyRange seconds{0.0, 600.0, false};
        std::vector<detail::Key<Written>> all{
            measure(WishMeasure::ideal_time, seconds, "s"),
            measure(WishMeasure::ideal_shots, {1.0, 100'000.0, false}, "shots"),
            measure(WishMeasure::median_time, seconds, "s"),
            measure(WishMeasure::kill_chance, detail::share, ""),
            measure(WishMeasure::magazine_chance, detail::share, ""),
            measure(WishMeasure::win_rate, detail::share, ""),
            number("within", {0.0, 600.0, false}, "", "How far off it may be, to both sides.",
                   [](Written& written, double value) { written.within = value; }),
            number("at", {0.0, 10'000.0, true}, "m", "How far away the target is.",
                   [](Written& written, double value) { written.wish.at = value; }),
            number("weight", {0.0, 1000.0, true}, "", "How much it counts beside the others.",
                   [](Written& written, double value) { written.wish.weight = value; }),
            other("weapon", "armament", "Whose wish it is.",
                  [](Written& written, const std::string& id) { written.wish.weapons[0] = id; }),
            other("against", "armament", "The other's weapon, of a win rate.",
                  [](Written& written, const std::string& id) { written.wish.weapons[1] = id; }),
            other("shooter", "shooter", "The profile that fires it.",
                  [](Written& written, const std::string& id) { written.wish.shooter = id; }),
            other("body", "body", "Whom it is fired at.",
                  [](Written& written, const std::string& id) { written.wish.body = id; }),
            detail::key<Written>(
                rule_of("region", KeyType::text, {}, "", "The region that is aimed at."), detail::read_name,
                [](Written& written, const std::string& name) { written.wish.region = name; }),
        };
        return all;
    }();
    return keys;
}

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
    read_keys(*table, where, wish_keys(), written, seen, faults);
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
    if (written.measures != 1) {
        faults.add(table->source(),
                   {where,
                    written.measures == 0 ? "wishes for nothing" : "wishes for several things",
                    "one of " + measures,
                    {}});
        return;
    }
    Wish& wish = written.wish;
    if (wish.weapons[0].empty()) {
        missing("weapon", "a weapon, or a blade and its attack");
    }
    if (wish.measure == WishMeasure::win_rate && wish.weapons[1].empty()) {
        missing("against", "a weapon, or a blade and its attack");
    }
    if (wish.at <= 0.0) {
        missing("at", "over 0 to 10000 m");
    }
    wish.min = written.between ? written.between->x : written.value.value_or(0.0);
    wish.max = written.between ? written.between->y : wish.min;
    if (written.within) {
        wish.min -= *written.within;
        wish.max += *written.within;
    }
    if (wish.min > wish.max) {
        faults.add(table->source(), {where, "its least value is over its greatest", "[least, most]", {}});
    }
    wishes.wishes.push_back(wish);
}

void read_change(const toml::node& node, const std::string& path, std::span<const ArsenalText> arsenal,
                 Wishes& wishes, Faults& faults) {
    const std::string where = "change.\"" + detail::printable(path) + '"';
    const toml::table* table = node.as_table();
    Loaded<ArsenalNumber> found = find_number(arsenal, path);
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
    const KeyRange allowed{found.value->min, found.value->max, false};
    const auto key = [&](const char* name, KeyRange values, void (*set)(WishRange&, double)) {
        return detail::key<WishRange>(
            rule("change", name, KeyType::number, values, found.value->unit, "as its key allows", ""),
            detail::read_number, set);
    };
    const std::vector<detail::Key<WishRange>> keys{
        key("from", allowed, [](WishRange& to, double value) { to.from = value; }),
        key("to", allowed, [](WishRange& to, double value) { to.to = value; }),
        key("step", {0.0, 1e6, true}, [](WishRange& to, double value) { to.step = value; })};
    std::set<std::string> seen;
    read_keys(*table, where, keys, range, seen, faults);
    for (const char* name : {"from", "to"}) {
        if (!seen.contains(name)) {
            faults.add(table->source(),
                       {where + '.' + name, "is missing", allowed_text(keys.front().rule), {}});
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
    switch (measure) {
    case WishMeasure::ideal_time:
        return "ideal_time_to_kill";
    case WishMeasure::ideal_shots:
        return "ideal_shots";
    case WishMeasure::median_time:
        return "time_to_kill";
    case WishMeasure::kill_chance:
        return "kill_chance";
    case WishMeasure::magazine_chance:
        return "magazine_chance";
    case WishMeasure::win_rate:
        return "win_rate";
    }
    return "unknown";
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
                read_change(*change, std::string{path->str()}, arsenal, wishes, faults);
            }
        } else {
            faults.add(key->source(),
                       {detail::printable(section), "does not belong here", sections,
                        nearest_name(section, std::vector<std::string>{"title", "wish", "change"})});
        }
    }
    const BodySpec* first = parsed.value->bodies.empty() ? nullptr : &parsed.value->bodies.front();
    for (const Wish& wish : wishes.wishes) {
        const BodySpec* body = wish.body.empty() ? first : find_body(*parsed.value, wish.body);
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
