#include "key_making.h"

#include <algorithm>

namespace avrek::data {

namespace {

using WeaponKey = Key<WeaponSpec>;

constexpr std::size_t most_multipliers = 64;

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
    const KeyRule region = rule("weapon", "region", KeyType::multipliers, {0.0, 100.0, false}, "", "each 1",
                                "Multiplier of the damage for each region of the body that is hit.");
    return {region, [=](const toml::node& node, const std::string& where, WeaponSpec& spec, Faults& faults) {
                const toml::table* table = node.as_table();
                if (table == nullptr || table->size() > most_multipliers) {
                    refuse(node, where, region, faults);
                    return;
                }
                for (const auto& [name_key, value] : *table) {
                    const std::string name{name_key.str()};
                    if (const std::optional<double> number =
                            read_number(value, where + '.' + printable(name), region, faults)) {
                        set_multiplier(spec, name, *number);
                    }
                }
            }};
}

WeaponKey like_key() {
    return {rule("weapon", "like", KeyType::entry_id, {}, "", "none",
                 "Another weapon, whose values hold for every key that is not given here."),
            [](const toml::node&, const std::string&, WeaponSpec&, Faults&) {}}; // the loader has followed it
}

WeaponKey ammo_key() {
    const KeyRule ammo = rule("weapon", "ammo", KeyType::ammo_id, {}, "", "one of its own",
                              "The kind of ammunition; weapons of one kind share their reserve.");
    return {ammo, [=](const toml::node& node, const std::string& where, WeaponSpec& spec, Faults& faults) {
                if (const auto* text = node.as_string()) {
                    spec.ammo = text->get(); // the loader looks whether there is such a kind
                } else {
                    refuse(node, where, ammo, faults);
                }
            }};
}

WeaponKey group_key(const WeaponGroup& group) {
    const KeyRule made =
        rule("weapon", group.name, KeyType::group, {}, "", "as below", "See weapon." + group.name + '.');
    return {made, [=](const toml::node& node, const std::string& where, WeaponSpec& spec, Faults& faults) {
                if (const toml::table* table = node.as_table()) {
                    std::set<std::string> seen;
                    read_keys(*table, where, group.keys, spec, seen, faults);
                } else {
                    refuse(node, where, made, faults);
                }
            }};
}

void add_firing(WeaponRows& rows) {
    rows.words("trigger",
               {std::string{to_string(TriggerMode::single)}, std::string{to_string(TriggerMode::automatic)},
                std::string{to_string(TriggerMode::burst)}, std::string{to_string(TriggerMode::charge)},
                std::string{to_string(TriggerMode::spin_up)}},
               {1.0, 8.0, false}, "\"automatic\"",
               "What the trigger does: the modes of the weapon, the first set at the start.",
               [](WeaponSpec& spec, const std::vector<std::size_t>& words) {
                   spec.modes.clear();
                   for (const std::size_t word : words) {
                       spec.modes.push_back(static_cast<TriggerMode>(word));
                   }
               });
    rows.number("rate_of_fire", {0.0, 6000.0, true}, "rounds/min", "",
                "Most shots in a minute; the interval between shots is 60 s divided by it.",
                [](WeaponSpec& spec, double value) { spec.rounds_per_minute = value; });
    rows.seconds("press_buffer", "0", "A press that is this much too early fires when the weapon is ready.",
                 [](WeaponSpec& spec, double value) { spec.press_buffer = from_seconds(value); });
}

void add_ammunition(WeaponRows& rows) {
    rows.word(
        "feed", {"magazine", "reserve", "heat", "cell"}, "\"magazine\"",
        "Where shots come from: a magazine, the reserve itself, nothing but heat, or a magazine that refills "
        "itself.",
        [](WeaponSpec& spec, std::size_t word) { spec.feed = static_cast<AmmoFeed>(word); });
    rows.word("supply", {"counted", "endless-reserve", "endless"}, "\"counted\"",
              "What never ends, for trying things out: nothing, the reserve, or all of it.",
              [](WeaponSpec& spec, std::size_t word) { spec.supply = static_cast<AmmoSupply>(word); });
    rows.integer("magazine", {1.0, 10000.0, false}, "rounds", "1, but feed magazine and cell need it",
                 "Rounds that the magazine or the cell holds; it starts full.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.magazine = value; });
    rows.flag("chamber", "false", "A round in the chamber comes on top of a full magazine.",
              [](WeaponSpec& spec, bool value) { spec.chamber = value; });
    rows.integer("reserve", {0.0, 100000.0, false}, "rounds", "0",
                 "Rounds carried apart from the magazine at the start.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.reserve = value; });
    rows.integer("rounds_per_shot", {1.0, 1000.0, false}, "rounds", "1", "Rounds that one shot takes.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.rounds_per_shot = value; });
    rows.integer("pellets", {1.0, 64.0, false}, "pellets", "1", "Pellets that leave with each shot.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.pellets = value; });
}

void add_effect(WeaponRows& rows) {
    rows.number("range", {0.0, 10000.0, true}, "m", "", "How far a shot reaches.",
                [](WeaponSpec& spec, double value) { spec.range = value; });
    rows.number("damage", {0.0, 100000.0, false}, "health", "",
                "What a hit of one pellet takes, before falloff and region.",
                [](WeaponSpec& spec, double value) { spec.damage = value; });
    rows.curve("falloff", {0.0, 10.0, false}, "m, share", "always 1",
               "Share of the damage that is left, over distance; level beyond its ends.",
               [](WeaponSpec& spec, Curve curve) { spec.falloff = std::move(curve); });
}

} // namespace

const std::vector<WeaponKey>& weapon_keys() {
    static const std::vector<WeaponKey> keys = [] {
        WeaponRows rows{"weapon"};
        rows.rows.push_back(like_key());
        add_firing(rows);
        add_ammunition(rows);
        rows.rows.push_back(ammo_key());
        add_effect(rows);
        rows.rows.push_back(region_key());
        for (const WeaponGroup& group : weapon_groups()) {
            rows.rows.push_back(group_key(group));
        }
        return rows.rows;
    }();
    return keys;
}

const std::vector<Key<AmmoSpec>>& ammo_keys() {
    static const std::vector<Key<AmmoSpec>> keys{
        {rule("ammo", "like", KeyType::entry_id, {}, "", "none",
              "Another ammo, whose values hold for every key that is not given here."),
         [](const toml::node&, const std::string&, AmmoSpec&, Faults&) {}}, // the loader has followed it
        key<AmmoSpec>(rule("ammo", "carry_limit", KeyType::integer, {0.0, 100000.0, false}, "rounds",
                           "100000", "Rounds that a reserve of this kind holds at most."),
                      read_integer, [](AmmoSpec& ammo, std::int32_t value) { ammo.carry_limit = value; }),
    };
    return keys;
}

} // namespace avrek::data
