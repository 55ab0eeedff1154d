#pragma once
#include "keys.h"
#include "toml_file.h"
#include "values.h"
#include <avrek/core/units.h>

#include <string>
#include <utility>

/// Makes keys out of their rule and of what to do with a value that it allows.
namespace avrek::detail {

/// Ranges that many keys have.
inline constexpr KeyRange share{0.0, 1.0, false};
inline constexpr KeyRange factor{0.0, 100.0, false};

inline KeyRule rule(std::string section, std::string name, KeyType type, KeyRange range, std::string unit,
                    std::string fallback, std::string meaning) {
    const bool required = fallback.empty();
    return {std::move(section),  std::move(name),    type, range, std::move(unit), required,
            std::move(fallback), std::move(meaning), {},   {}};
}

/// The words for the first `count` values of an enumeration.
template <class Enum>
std::vector<std::string> words_of(std::size_t count) {
    std::vector<std::string> words;
    for (std::size_t value = 0; value < count; ++value) {
        words.emplace_back(to_string(static_cast<Enum>(value)));
    }
    return words;
}

inline ActSet act_set(const std::vector<std::size_t>& words) {
    ActSet set;
    for (const std::size_t word : words) {
        set.add(static_cast<Act>(word));
    }
    return set;
}

inline std::vector<SpecRef> entry_names(const std::vector<std::string>& ids) {
    std::vector<SpecRef> names;
    names.reserve(ids.size());
    for (const std::string& id : ids) {
        names.push_back({id});
    }
    return names;
}

/// A key whose value `reader` reads and `set` puts into the spec.
template <class Spec, class Reader, class Set>
Key<Spec> key(KeyRule rule, Reader reader, Set set) {
    return {rule, [=](const toml::node& node, const std::string& where, Spec& spec, Faults& faults) {
                if (auto value = reader(node, where, rule, faults)) {
                    set(spec, std::move(*value));
                }
            }};
}

/// The rows of one section's keys.
template <class Spec>
struct Rows {
    using Row = Key<Spec>;

    std::string section;
    std::vector<Row> rows{};

    void number(const std::string& name, KeyRange range, const std::string& unit, const std::string& fallback,
                const std::string& meaning, void (*set)(Spec&, double)) {
        rows.push_back(key<Spec>(rule(section, name, KeyType::number, range, unit, fallback, meaning),
                                 read_number, set));
    }
    void integer(const std::string& name, KeyRange range, const std::string& unit,
                 const std::string& fallback, const std::string& meaning, void (*set)(Spec&, std::int32_t)) {
        rows.push_back(key<Spec>(rule(section, name, KeyType::integer, range, unit, fallback, meaning),
                                 read_integer, set));
    }
    void flag(const std::string& name, const std::string& fallback, const std::string& meaning,
              void (*set)(Spec&, bool)) {
        rows.push_back(
            key<Spec>(rule(section, name, KeyType::flag, {}, "", fallback, meaning), read_flag, set));
    }
    void curve(const std::string& name, KeyRange range, const std::string& unit, const std::string& fallback,
               const std::string& meaning, void (*set)(Spec&, Curve)) {
        rows.push_back(
            key<Spec>(rule(section, name, KeyType::curve, range, unit, fallback, meaning), read_curve, set));
    }
    void pairs(const std::string& name, KeyRange range, const std::string& unit, const std::string& fallback,
               const std::string& meaning, void (*set)(Spec&, const std::vector<CurvePoint>&)) {
        rows.push_back(
            key<Spec>(rule(section, name, KeyType::pairs, range, unit, fallback, meaning), read_pairs, set));
    }
    void word(const std::string& name, const std::vector<std::string>& words, const std::string& fallback,
              const std::string& meaning, void (*set)(Spec&, std::size_t)) {
        KeyRule made = rule(section, name, KeyType::word, {}, "", fallback, meaning);
        made.words = words;
        rows.push_back(key<Spec>(made, read_word, set));
    }
    void words(const std::string& name, const std::vector<std::string>& words, KeyRange count,
               const std::string& fallback, const std::string& meaning,
               void (*set)(Spec&, const std::vector<std::size_t>&)) {
        KeyRule made = rule(section, name, KeyType::words, count, "", fallback, meaning);
        made.words = words;
        rows.push_back(key<Spec>(made, read_words, set));
    }
    /// A name of the writer's choosing.
    void name(const std::string& name, const std::string& fallback, const std::string& meaning,
              void (*set)(Spec&, const std::string&)) {
        rows.push_back(
            key<Spec>(rule(section, name, KeyType::text, {}, "", fallback, meaning), read_name, set));
    }
    /// The id of an entry of the section `refers`.
    void other(const std::string& name, const std::string& refers, const std::string& fallback,
               const std::string& meaning, void (*set)(Spec&, const std::string&)) {
        KeyRule made = rule(section, name, KeyType::other_id, {}, "", fallback, meaning);
        made.refers = refers;
        rows.push_back(key<Spec>(made, read_other, set));
    }
    void others(const std::string& name, const std::string& refers, const std::string& fallback,
                const std::string& meaning, void (*set)(Spec&, const std::vector<std::string>&)) {
        KeyRule made = rule(section, name, KeyType::other_ids, {}, "", fallback, meaning);
        made.refers = refers;
        rows.push_back(key<Spec>(made, read_others, set));
    }
    void factors(const std::string& name, const std::string& refers, KeyRange range,
                 const std::string& fallback, const std::string& meaning,
                 void (*set)(Spec&, const std::vector<std::pair<std::string, double>>&)) {
        KeyRule made = rule(section, name, KeyType::factors, range, "", fallback, meaning);
        made.refers = refers;
        rows.push_back(key<Spec>(made, read_factors, set));
    }
    /// The id of another entry of the section.
    void like() {
        rows.push_back(
            {rule(section, "like", KeyType::entry_id, {}, "", "none",
                  "Another " + section + ", whose values hold for every key that is not given here."),
             [](const toml::node&, const std::string&, Spec&, Faults&) {}}); // the loader follows it
    }
    /// The keys that stand in a table of their own.
    void group(const Group<Spec>& group) {
        const KeyRule made = rule(section, group.name, KeyType::group, {}, "", "as below",
                                  "See " + section + '.' + group.name + '.');
        rows.push_back(
            {made, [=](const toml::node& node, const std::string& where, Spec& spec, Faults& faults) {
                 if (const toml::table* table = node.as_table()) {
                     std::set<std::string> seen;
                     read_keys(*table, where, group.keys, spec, seen, faults);
                 } else {
                     refuse(node, where, made, faults);
                 }
             }});
    }
    /// A time in seconds.
    void seconds(const std::string& name, const std::string& fallback, const std::string& meaning,
                 void (*set)(Spec&, double), bool over_zero = false) {
        number(name, {0.0, 60.0, over_zero}, "s", fallback, meaning, set);
    }
};

using WeaponRows = Rows<WeaponSpec>;

/// A key whose value is a table of at most `most` named tables, each read by `read_entry`.
template <class Spec, class ReadEntry>
Key<Spec> named_tables(const KeyRule& rule, std::size_t most, const ReadEntry& read_entry) {
    return {rule, [=](const toml::node& node, const std::string& where, Spec& spec, Faults& faults) {
                const toml::table* table = node.as_table();
                if (table == nullptr || table->empty() || table->size() > most) {
                    refuse(node, where, rule, faults);
                    return;
                }
                for (const auto& [key, value] : in_file_order(*table)) {
                    const std::string name{key->str()};
                    read_entry(*value, name, where + '.' + printable(name), spec, faults);
                }
            }};
}

/// Reports an entry of named_tables() that is no table, or whose name is no id.
inline void refuse_named(const toml::node& node, const std::string& name, const std::string& where,
                         const char* no_name, const char* allowed, Faults& faults) {
    const bool named = is_id(name);
    faults.add(node.source(),
               {where, named ? "is " + describe(node) : no_name, named ? allowed : id_allowed, {}});
}

/// The key `region`: how much hits in regions count.
template <class Spec>
Key<Spec> region_multipliers_key(const std::string& section) {
    const KeyRule region = rule(section, "region", KeyType::multipliers, {0.0, 100.0, false}, "", "each 1",
                                "Damage multiplier for each hit region.");
    return {region, [=](const toml::node& node, const std::string& where, Spec& spec, Faults& faults) {
                read_multipliers(node, where, region, spec.region_multipliers, faults);
            }};
}

/// How it bounces, for specs with such a member.
template <class Spec>
Group<Spec> bounce_group(const std::string& section) {
    Rows<Spec> rows{section + ".bounce"};
    rows.integer("count", {0.0, 1000.0, false}, "bounces", "0", "Maximum number of bounces.",
                 [](Spec& spec, std::int32_t value) { spec.bounce.count = value; });
    rows.number(
        "restitution", {0.0, 10.0, false}, "", "1",
        "Multiplies the surface's restitution: the share of the normal speed that a bounce keeps, at most 1.",
        [](Spec& spec, double value) { spec.bounce.restitution = value; });
    rows.number("friction", {0.0, 10.0, false}, "", "1",
                "Multiplies the surface's friction: the share of the tangential speed that a bounce loses, "
                "at most 1.",
                [](Spec& spec, double value) { spec.bounce.friction = value; });
    rows.number("distance", {0.0, 100000.0, false}, "m", "no limit",
                "Maximum distance after the first bounce.",
                [](Spec& spec, double value) { spec.bounce.distance = value; });
    rows.number("min_speed", {0.0, 100000.0, false}, "m/s", "1",
                "A projectile that would bounce off slower stops.",
                [](Spec& spec, double value) { spec.bounce.min_speed = value; });
    return {"bounce", rows.rows};
}

/// Keys of piercing, for specs with such a member.
template <class Spec>
Group<Spec> pierce_group(const std::string& section) {
    Rows<Spec> rows{section + ".pierce"};
    rows.number(
        "energy", {0.0, 1e6, false}, "energy", "0",
        "Energy to spend on bodies and on metres of surfaces; damage falls with it. 0: it pierces nothing.",
        [](Spec& spec, double value) { spec.pierce.energy = value; });
    rows.number("per_body", {0.0, 1e6, false}, "energy", "0", "Energy that a body costs.",
                [](Spec& spec, double value) { spec.pierce.per_body = value; });
    return {"pierce", rows.rows};
}

} // namespace avrek::detail
