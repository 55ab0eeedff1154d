#include "keys.h"
#include "values.h"
#include <avrek/core/units.h>

#include <algorithm>

namespace avrek::data {

namespace {

using WeaponKey = Key<WeaponSpec>;

constexpr std::size_t most_multipliers = 64;

KeyRule rule(std::string name, KeyType type, KeyRange range, std::string unit, std::string fallback,
             std::string meaning) {
    const bool required = fallback.empty();
    return {"weapon",
            std::move(name),
            type,
            range,
            std::move(unit),
            required,
            std::move(fallback),
            std::move(meaning),
            {}};
}

// Keys that put one number, converted, into one member.
template <class Member, class Convert>
WeaponKey number_key(const KeyRule& rule, Member WeaponSpec::*member, Convert convert) {
    return {rule, [=](const toml::node& node, const std::string& where, WeaponSpec& spec, Faults& faults) {
                if (const std::optional<double> value = read_number(node, where, rule, faults)) {
                    spec.*member = convert(*value);
                }
            }};
}

WeaponKey number_key(const KeyRule& rule, double WeaponSpec::*member) {
    return number_key(rule, member, [](double value) { return value; });
}

WeaponKey integer_key(const KeyRule& rule, std::int32_t WeaponSpec::*member) {
    return {rule, [=](const toml::node& node, const std::string& where, WeaponSpec& spec, Faults& faults) {
                if (const std::optional<std::int32_t> value = read_integer(node, where, rule, faults)) {
                    spec.*member = *value;
                }
            }};
}

WeaponKey trigger_key() {
    KeyRule trigger = rule("trigger", KeyType::word, {}, "", "\"automatic\"", "What a held trigger does.");
    for (const TriggerMode mode : {TriggerMode::single, TriggerMode::automatic}) {
        trigger.words.emplace_back(to_string(mode));
    }
    return {trigger, [=](const toml::node& node, const std::string& where, WeaponSpec& spec, Faults& faults) {
                if (const std::optional<std::size_t> word = read_word(node, where, trigger, faults)) {
                    spec.trigger = static_cast<TriggerMode>(*word);
                }
            }};
}

WeaponKey falloff_key() {
    const KeyRule falloff = rule("falloff", KeyType::curve, {0.0, 10.0, false}, "m, share", "always 1",
                                 "Share of the damage that is left, over distance; level beyond its ends.");
    return {falloff, [=](const toml::node& node, const std::string& where, WeaponSpec& spec, Faults& faults) {
                if (std::optional<Curve> curve = read_curve(node, where, falloff, faults)) {
                    spec.falloff = std::move(*curve);
                }
            }};
}

void set_multiplier(WeaponSpec& spec, const std::string& region, double multiplier) {
    auto& entries = spec.region_multipliers;
    const auto found = std::find_if(entries.begin(), entries.end(),
                                    [&](const RegionMultiplier& entry) { return entry.region == region; });
    if (found != entries.end()) {
        found->multiplier = multiplier;
    } else {
        entries.push_back({region, multiplier});
    }
}

WeaponKey region_key() {
    const KeyRule region = rule("region", KeyType::multipliers, {0.0, 100.0, false}, "", "each 1",
                                "Multiplier of the damage for each region of the body that is hit.");
    return {region, [=](const toml::node& node, const std::string& where, WeaponSpec& spec, Faults& faults) {
                const toml::table* table = node.as_table();
                if (table == nullptr || table->size() > most_multipliers) {
                    refuse(node, where, region, faults);
                    return;
                }
                for (const auto& [key, value] : *table) {
                    const std::string name{key.str()};
                    if (const std::optional<double> number =
                            read_number(value, where + '.' + printable(name), region, faults)) {
                        set_multiplier(spec, name, *number);
                    }
                }
            }};
}

WeaponKey like_key() {
    KeyRule like = rule("like", KeyType::entry_id, {}, "", "none",
                        "Another weapon, whose values hold for every key that is not given here.");
    return {like,
            [](const toml::node&, const std::string&, WeaponSpec&, Faults&) {}}; // the loader has followed it
}

} // namespace

const std::vector<WeaponKey>& weapon_keys() {
    using enum KeyType;
    static const std::vector<WeaponKey> keys{
        like_key(),
        trigger_key(),
        number_key(rule("rate_of_fire", number, {0.0, 6000.0, true}, "rounds/min", "",
                        "Most shots in a minute; the interval between shots is 60 s divided by it."),
                   &WeaponSpec::rounds_per_minute),
        integer_key(rule("magazine", integer, {1.0, 10000.0, false}, "rounds", "",
                         "Rounds that the magazine holds; it starts full."),
                    &WeaponSpec::magazine),
        integer_key(rule("reserve", integer, {0.0, 100000.0, false}, "rounds", "0",
                         "Rounds carried apart from the magazine at the start."),
                    &WeaponSpec::reserve),
        number_key(rule("reload_time", number, {0.0, 60.0, false}, "s", "",
                        "From the start of a reload to the rounds being in."),
                   &WeaponSpec::reload_time, from_seconds),
        number_key(rule("spread", number, {0.0, 60.0, false}, "degrees", "0",
                        "Half-angle of the round cone that shots leave in."),
                   &WeaponSpec::spread, from_degrees),
        number_key(rule("range", number, {0.0, 10000.0, true}, "m", "", "How far a shot reaches."),
                   &WeaponSpec::range),
        number_key(rule("damage", number, {0.0, 100000.0, false}, "health", "",
                        "What a hit takes, before falloff and region."),
                   &WeaponSpec::damage),
        falloff_key(),
        region_key(),
    };
    return keys;
}

} // namespace avrek::data
