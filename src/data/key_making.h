#pragma once
#include "keys.h"
#include "values.h"
#include <avrek/core/units.h>

#include <string>
#include <utility>

/// Makes keys out of their rule and of what to do with a value that it allows.
namespace avrek::data {

inline KeyRule rule(std::string section, std::string name, KeyType type, KeyRange range, std::string unit,
                    std::string fallback, std::string meaning) {
    const bool required = fallback.empty();
    return {std::move(section),  std::move(name),    type, range, std::move(unit), required,
            std::move(fallback), std::move(meaning), {}};
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

/// The rows of one section of a weapon's keys.
struct WeaponRows {
    using Row = Key<WeaponSpec>;

    std::string section;
    std::vector<Row> rows{};

    void number(const std::string& name, KeyRange range, const std::string& unit, const std::string& fallback,
                const std::string& meaning, void (*set)(WeaponSpec&, double)) {
        rows.push_back(key<WeaponSpec>(rule(section, name, KeyType::number, range, unit, fallback, meaning),
                                       read_number, set));
    }
    void integer(const std::string& name, KeyRange range, const std::string& unit,
                 const std::string& fallback, const std::string& meaning,
                 void (*set)(WeaponSpec&, std::int32_t)) {
        rows.push_back(key<WeaponSpec>(rule(section, name, KeyType::integer, range, unit, fallback, meaning),
                                       read_integer, set));
    }
    void flag(const std::string& name, const std::string& fallback, const std::string& meaning,
              void (*set)(WeaponSpec&, bool)) {
        rows.push_back(
            key<WeaponSpec>(rule(section, name, KeyType::flag, {}, "", fallback, meaning), read_flag, set));
    }
    void curve(const std::string& name, KeyRange range, const std::string& unit, const std::string& fallback,
               const std::string& meaning, void (*set)(WeaponSpec&, Curve)) {
        rows.push_back(key<WeaponSpec>(rule(section, name, KeyType::curve, range, unit, fallback, meaning),
                                       read_curve, set));
    }
    void pairs(const std::string& name, KeyRange range, const std::string& unit, const std::string& fallback,
               const std::string& meaning, void (*set)(WeaponSpec&, const std::vector<CurvePoint>&)) {
        rows.push_back(key<WeaponSpec>(rule(section, name, KeyType::pairs, range, unit, fallback, meaning),
                                       read_pairs, set));
    }
    void word(const std::string& name, const std::vector<std::string>& words, const std::string& fallback,
              const std::string& meaning, void (*set)(WeaponSpec&, std::size_t)) {
        KeyRule made = rule(section, name, KeyType::word, {}, "", fallback, meaning);
        made.words = words;
        rows.push_back(key<WeaponSpec>(made, read_word, set));
    }
    void words(const std::string& name, const std::vector<std::string>& words, KeyRange count,
               const std::string& fallback, const std::string& meaning,
               void (*set)(WeaponSpec&, const std::vector<std::size_t>&)) {
        KeyRule made = rule(section, name, KeyType::words, count, "", fallback, meaning);
        made.words = words;
        rows.push_back(key<WeaponSpec>(made, read_words, set));
    }
    /// A time in seconds.
    void seconds(const std::string& name, const std::string& fallback, const std::string& meaning,
                 void (*set)(WeaponSpec&, double), bool over_zero = false) {
        number(name, {0.0, 60.0, over_zero}, "s", fallback, meaning, set);
    }
};

} // namespace avrek::data
