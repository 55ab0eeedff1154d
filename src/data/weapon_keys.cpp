#include "key_making.h"

namespace avrek::detail {

namespace {

using WeaponKey = Key<WeaponSpec>;

void add_firing(WeaponRows& rows) {
    rows.words("trigger",
               {std::string{to_string(TriggerMode::single)}, std::string{to_string(TriggerMode::automatic)},
                std::string{to_string(TriggerMode::burst)}, std::string{to_string(TriggerMode::charge)},
                std::string{to_string(TriggerMode::spin_up)}},
               {1.0, 8.0, false}, "\"automatic\"",
               "Trigger modes of the weapon; the first is set at the start.",
               [](WeaponSpec& spec, const std::vector<std::size_t>& words) {
                   spec.modes.clear();
                   for (const std::size_t word : words) {
                       spec.modes.push_back(static_cast<TriggerMode>(word));
                   }
               });
    rows.number("rate_of_fire", {0.0, 6000.0, true}, "rounds/min", "",
                "Maximum shots per minute; the interval between shots is 60 s divided by it.",
                [](WeaponSpec& spec, double value) { spec.rounds_per_minute = value; });
    rows.seconds("press_buffer", "0", "A press this much too early fires as soon as the weapon is ready.",
                 [](WeaponSpec& spec, double value) { spec.press_buffer = from_seconds(value); });
}

void add_ammunition(WeaponRows& rows) {
    rows.word(
        "feed", {"magazine", "reserve", "heat", "cell"}, "\"magazine\"",
        "Source of the shots: a magazine, the reserve itself, heat alone, or a cell that refills itself.",
        [](WeaponSpec& spec, std::size_t word) { spec.feed = static_cast<AmmoFeed>(word); });
    rows.word("supply", {"counted", "endless-reserve", "endless"}, "\"counted\"",
              "What never runs out, for testing: nothing, the reserve, or everything.",
              [](WeaponSpec& spec, std::size_t word) { spec.supply = static_cast<AmmoSupply>(word); });
    rows.integer("magazine", {1.0, 10000.0, false}, "rounds", "1, but feed magazine and cell need it",
                 "Capacity of the magazine or cell; it starts full.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.magazine = value; });
    rows.flag("chamber", "false", "A chambered round comes on top of a full magazine.",
              [](WeaponSpec& spec, bool value) { spec.chamber = value; });
    rows.integer("reserve", {0.0, 100000.0, false}, "rounds", "0",
                 "Rounds carried beside the magazine at the start.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.reserve = value; });
    rows.integer("rounds_per_shot", {1.0, 1000.0, false}, "rounds", "1", "Rounds that one shot uses.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.rounds_per_shot = value; });
    rows.integer("pellets", {1.0, 64.0, false}, "pellets", "1", "Pellets per shot.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.pellets = value; });
}

void add_effect(WeaponRows& rows) {
    rows.number("range", {0.0, 10000.0, true}, "m", "",
                "Maximum reach of a shot; for a projectile weapon, its intended range.",
                [](WeaponSpec& spec, double value) { spec.range = value; });
    rows.number("damage", {0.0, 100000.0, false}, "health", "",
                "Damage of one pellet, before falloff and region.",
                [](WeaponSpec& spec, double value) { spec.damage = value; });
    rows.curve("falloff", {0.0, 10.0, false}, "m, share", "always 1",
               "Share of the damage that remains, over the distance flown; constant beyond its ends.",
               [](WeaponSpec& spec, Curve curve) { spec.falloff = std::move(curve); });
    rows.number("spray", {0.0, 60.0, false}, "degrees", "0",
                "Half-angle of a cone as long as the range: each shot hits everything visible in it.",
                [](WeaponSpec& spec, double value) { spec.spray = from_degrees(value); });
    rows.number("tracer_speed", {0.0, 100000.0, true}, "m/s", "400", "Drawn speed of a hitscan shot.",
                [](WeaponSpec& spec, double value) { spec.tracer_speed = value; });
}

} // namespace

const std::vector<WeaponKey>& weapon_keys() {
    static const std::vector<WeaponKey> keys = [] {
        WeaponRows rows{"weapon"};
        rows.like();
        add_firing(rows);
        add_ammunition(rows);
        rows.other("ammo", "ammo", "one of its own",
                   "Ammunition type; weapons with the same type share their reserve.",
                   [](WeaponSpec& spec, const std::string& id) { spec.ammo = id; });
        add_effect(rows);
        rows.rows.push_back(region_multipliers_key<WeaponSpec>("weapon"));
        rows.other("projectile", "projectile", "none: hitscan",
                   "Projectile that each pellet launches; it does the weapon's damage where it hits.",
                   [](WeaponSpec& spec, const std::string& id) { spec.projectile = id; });
        for (const Group<WeaponSpec>& group : weapon_groups()) {
            rows.group(group);
        }
        return rows.rows;
    }();
    return keys;
}

const std::vector<Key<AmmoSpec>>& ammo_keys() {
    static const std::vector<Key<AmmoSpec>> keys = [] {
        Rows<AmmoSpec> rows{"ammo"};
        rows.like();
        rows.integer("carry_limit", {0.0, 100000.0, false}, "rounds", "100000",
                     "Maximum rounds in a reserve of this type.",
                     [](AmmoSpec& ammo, std::int32_t value) { ammo.carry_limit = value; });
        return rows.rows;
    }();
    return keys;
}

} // namespace avrek::detail
