#include "key_making.h"
#include <avrek/arsenal/validate.h>

namespace avrek::detail {

namespace {

void read_attack(const toml::node& node, const std::string& name, const std::string& where, MeleeSpec& spec,
                 Faults& faults) {
    const toml::table* table = node.as_table();
    if (table == nullptr || !is_id(name)) {
        refuse_named(node, name, where, "is not a name for an attack",
                     "a table with the keys of melee.attack", faults);
        return;
    }
    std::optional<std::size_t> known = find_attack(spec, name);
    if (!known) {
        if (spec.attacks.size() == max_melee_attacks) {
            faults.add(node.source(), {where, "is one attack too many", "at most 16", {}});
            return;
        }
        known = spec.attacks.size();
        spec.attacks.push_back({.name = name});
    }
    std::set<std::string> seen;
    const std::size_t before = faults.count();
    read_keys(*table, where, melee_attack_keys(), spec.attacks[*known], seen, faults);
    if (faults.count() > before) {
        return; // a value that was refused would seem to contradict others
    }
    for (const SpecFault& found : validate(spec.attacks[*known])) {
        const toml::node* value = table->get(found.key);
        faults.add(value != nullptr ? value->source() : node.source(),
                   {where + '.' + found.key, found.message, found.allowed, {}, found.severity});
    }
}

} // namespace

const std::vector<Key<MeleeSpec>>& melee_keys() {
    static const std::vector<Key<MeleeSpec>> keys = [] {
        Rows<MeleeSpec> rows{"melee"};
        rows.like();
        rows.rows.push_back(region_multipliers_key<MeleeSpec>("melee"));
        rows.rows.push_back(
            named_tables<MeleeSpec>(rule("melee", "attack", KeyType::table, {}, "", "",
                                         "Attacks, such as light and heavy: one table each, under its name."),
                                    max_melee_attacks, read_attack));
        return rows.rows;
    }();
    return keys;
}

const std::vector<Key<MeleeAttackSpec>>& melee_attack_keys() {
    using Attack = MeleeAttackSpec;
    static const std::vector<Key<Attack>> keys = [] {
        Rows<Attack> rows{"melee.attack"};
        rows.seconds("windup", "0", "Time before the blade hits.",
                     [](Attack& attack, double value) { attack.windup = from_seconds(value); });
        rows.seconds(
            "active", "0.15", "Time during which the blade hits.",
            [](Attack& attack, double value) { attack.active = from_seconds(value); }, true);
        rows.seconds("recovery", "0", "Time from the end of the active span to the next attack.",
                     [](Attack& attack, double value) { attack.recovery = from_seconds(value); });
        rows.number("damage", {0.0, 100000.0, false}, "health", "0", "Damage of a hit, before region.",
                    [](Attack& attack, double value) { attack.damage = value; });
        rows.number("push", {0.0, 1000.0, false}, "m/s", "0",
                    "Speed that a hit gives, along the blade's motion.",
                    [](Attack& attack, double value) { attack.push = value; });
        rows.number("push_away", {0.0, 1000.0, false}, "m/s", "0",
                    "Speed that a hit gives over the ground, away from its wielder.",
                    [](Attack& attack, double value) { attack.push_away = value; });
        rows.number("grip", {0.0, 100.0, false}, "m", "0",
                    "Distance from the turning point to the blade's near end.",
                    [](Attack& attack, double value) { attack.grip = value; });
        rows.number("reach", {0.0, 100.0, true}, "m", "1",
                    "Distance from the turning point to the blade's far end.",
                    [](Attack& attack, double value) { attack.reach = value; });
        rows.number("radius", {0.001, 10.0, false}, "m", "0.05", "Radius of the blade.",
                    [](Attack& attack, double value) { attack.radius = value; });
        rows.number("thrust", {0.0, 100.0, false}, "m", "0",
                    "Distance that the blade moves outwards while active.",
                    [](Attack& attack, double value) { attack.thrust = value; });
        rows.pairs("path", {-180.0, 180.0, false}, "degrees", "[[0, 0]]",
                   "Directions [yaw, pitch] of the blade, relative to the look, passed at an even pace while "
                   "active; 1 to 64.",
                   [](Attack& attack, const std::vector<CurvePoint>& path) {
                       attack.path.clear();
                       for (const CurvePoint& look : path) {
                           attack.path.push_back({from_degrees(look.x), from_degrees(look.y)});
                       }
                   });
        rows.group({"effect", attack_effect_keys()});
        return rows.rows;
    }();
    return keys;
}

} // namespace avrek::detail
