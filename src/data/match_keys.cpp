#include "effect_keys.h"
#include "key_making.h"
#include <avrek/scene/filter.h>

namespace avrek::detail {

namespace {

constexpr KeyRange scores{-1000.0, 1000.0, false};

std::vector<std::string> layer_names() {
    std::vector<std::string> names;
    for (std::size_t layer = 0; layer < collision_layer_count; ++layer) {
        names.emplace_back(to_string(static_cast<CollisionLayer>(layer)));
    }
    return names;
}

Group<MatchSpec> lives_group() {
    Rows<MatchSpec> rows{"match.lives"};
    rows.integer("start", {0.0, 1000.0, false}, "lives", "not counted", "Lives at the start.",
                 [](MatchSpec& spec, std::int32_t value) { spec.lives.start = value; });
    rows.integer("min", {0.0, 1000.0, false}, "lives", "0", "Minimum lives.",
                 [](MatchSpec& spec, std::int32_t value) { spec.lives.min = value; });
    rows.integer("max", {0.0, 1000.0, false}, "lives", "99", "Maximum lives.",
                 [](MatchSpec& spec, std::int32_t value) { spec.lives.max = value; });
    return {"lives", rows.rows};
}

Group<MatchSpec> respawn_group() {
    Rows<MatchSpec> rows{"match.respawn"};
    rows.number("delay", {0.0, 3600.0, false}, "s", "3", "Time from death to respawn.",
                [](MatchSpec& spec, double value) { spec.respawn.delay = from_seconds(value); });
    rows.number("protection", {0.0, 3600.0, false}, "s", "0",
                "Time after a respawn in which nothing harms the combatant.",
                [](MatchSpec& spec, double value) { spec.respawn.protection = from_seconds(value); });
    rows.flag("ends_on_fire", "true", "Firing or striking ends the protection.",
              [](MatchSpec& spec, bool value) { spec.respawn.ends_on_fire = value; });
    return {"respawn", rows.rows};
}

Group<MatchSpec> assist_group() {
    Rows<MatchSpec> rows{"match.assist"};
    rows.number("min_damage", {0.0, 1e6, true}, "health", "20", "Minimum damage for an assist.",
                [](MatchSpec& spec, double value) { spec.assist.min_damage = value; });
    rows.number("within", {0.0, 3600.0, false}, "s", "10", "Maximum time from the last damage to the death.",
                [](MatchSpec& spec, double value) { spec.assist.within = from_seconds(value); });
    return {"assist", rows.rows};
}

Group<MatchSpec> score_group() {
    Rows<MatchSpec> rows{"match.score"};
    rows.integer("kill", scores, "", "1", "Points for a kill.",
                 [](MatchSpec& spec, std::int32_t value) { spec.score.kill = value; });
    rows.integer("assist", scores, "", "0", "Points for an assist.",
                 [](MatchSpec& spec, std::int32_t value) { spec.score.assist = value; });
    rows.integer("death", scores, "", "0", "Points for dying.",
                 [](MatchSpec& spec, std::int32_t value) { spec.score.death = value; });
    rows.integer("team_kill", scores, "", "-1", "Points for killing a team member, or oneself.",
                 [](MatchSpec& spec, std::int32_t value) { spec.score.team_kill = value; });
    return {"score", rows.rows};
}

Group<MatchSpec> lag_compensation_group() {
    Rows<MatchSpec> rows{"match.lag_compensation"};
    rows.number(
        "max_rewind", {0.0, 1.0, false}, "s", "0.25",
        "Maximum time by which the server rewinds targets for a shot.",
        [](MatchSpec& spec, double value) { spec.lag_compensation.max_rewind = from_seconds(value); });
    rows.number(
        "cover_grace", {0.0, 1.0, false}, "s", "0.1",
        "A target hidden from the shooter for longer than this is not hit.",
        [](MatchSpec& spec, double value) { spec.lag_compensation.cover_grace = from_seconds(value); });
    rows.flag("trades", "true",
              "Shots still count when their shooter has died by the time they are validated.",
              [](MatchSpec& spec, bool value) { spec.lag_compensation.trades = value; });
    return {"lag_compensation", rows.rows};
}

void add_dead(Rows<MatchSpec>& rows) {
    rows.flag("corpses_stop_shots", "true", "Shots still hit the bodies of the dead.",
              [](MatchSpec& spec, bool value) { spec.corpses_stop_shots = value; });
    rows.flag("drops_weapon", "true", "The weapon in hand drops where its bearer dies.",
              [](MatchSpec& spec, bool value) { spec.drops_weapon = value; });
    rows.number("corpse_lifetime", {0.0, 3600.0, false}, "s", "8",
                "Time until the body of the dead is removed.",
                [](MatchSpec& spec, double value) { spec.corpse_lifetime = from_seconds(value); });
}

} // namespace

const std::vector<Key<HazardSpec>>& hazard_keys() {
    static const std::vector<Key<HazardSpec>> keys = [] {
        Rows<HazardSpec> rows{"hazard"};
        rows.like();
        const KeyRule shape =
            rule("hazard", "shape", KeyType::shape, {}, "", "a ball of 1 m", "Volume, in its own axes.");
        rows.rows.push_back(
            {shape, [=](const toml::node& node, const std::string& where, HazardSpec& spec, Faults& faults) {
                 const toml::table* table = node.as_table();
                 if (table == nullptr) {
                     refuse(node, where, shape, faults);
                 } else if (const auto volume = read_volume(*table, where, faults)) {
                     spec.volume = *volume;
                 }
             }});
        rows.number("damage", {0.0, 100000.0, false}, "health", "0", "Damage, or healing, per period.",
                    [](HazardSpec& spec, double value) { spec.damage = value; });
        rows.seconds(
            "period", "0.5", "Time between two hits on the same body, as long as it touches.",
            [](HazardSpec& spec, double value) { spec.period = from_seconds(value); }, true);
        rows.number("lasts", {0.0, 86400.0, true}, "s", "until it is taken away",
                    "Lifetime after it was placed.",
                    [](HazardSpec& spec, double value) { spec.lasts = from_seconds(value); });
        rows.word("side", words_of<HazardSide>(3), "\"all\"",
                  "Bodies that it touches, seen from the team that placed it.",
                  [](HazardSpec& spec, std::size_t word) { spec.side = static_cast<HazardSide>(word); });
        rows.words("layers", layer_names(), {1.0, 8.0, false}, "\"bodies\"",
                   "Collision layers of the bodies that it touches.",
                   [](HazardSpec& spec, const std::vector<std::size_t>& words) {
                       spec.layers = 0;
                       for (const std::size_t word : words) {
                           spec.layers |= 1U << word;
                       }
                   });
        for (const Group<HazardSpec>& group : hazard_groups()) {
            rows.group(group);
        }
        return rows.rows;
    }();
    return keys;
}

const std::vector<Group<HazardSpec>>& hazard_groups() {
    static const std::vector<Group<HazardSpec>> groups{
        effect_group<HazardSpec, [](HazardSpec& spec) -> EffectSpec& { return spec.effect; }>("hazard")};
    return groups;
}

const std::vector<Key<PickupSpec>>& pickup_keys() {
    static const std::vector<Key<PickupSpec>> keys = [] {
        Rows<PickupSpec> rows{"pickup"};
        rows.like();
        rows.number("radius", {0.0, 100.0, true}, "m", "0.8", "Radius of the sphere in which it is touched.",
                    [](PickupSpec& spec, double value) { spec.radius = value; });
        rows.word("taken", {"touch", "request"}, "\"touch\"", "Whether a touch takes it, or a request.",
                  [](PickupSpec& spec, std::size_t word) { spec.on_request = word == 1; });
        rows.flag("only_when_useful", "true", "A combatant with no use for it leaves it there.",
                  [](PickupSpec& spec, bool value) { spec.only_when_useful = value; });
        rows.number("respawn_delay", {0.0, 86400.0, true}, "s", "never",
                    "Time from being taken to its return.",
                    [](PickupSpec& spec, double value) { spec.respawn_delay = from_seconds(value); });
        rows.number("health", {0.0, 1e6, false}, "health", "0", "Health that it restores.",
                    [](PickupSpec& spec, double value) { spec.health = value; });
        rows.other("ammo", "ammo", "none", "Type of its rounds.",
                   [](PickupSpec& spec, const std::string& id) { spec.ammo.id = id; });
        rows.integer("rounds", {0.0, 100000.0, false}, "rounds", "0", "Number of rounds.",
                     [](PickupSpec& spec, std::int32_t value) { spec.rounds = value; });
        rows.other("weapon", "weapon", "none", "Weapon that it gives, full.",
                   [](PickupSpec& spec, const std::string& id) { spec.weapon.id = id; });
        rows.other("condition", "condition", "none", "Condition that it gives.",
                   [](PickupSpec& spec, const std::string& id) { spec.condition.id = id; });
        rows.number("strength", {0.0, 1000.0, true}, "", "1", "Strength of that condition.",
                    [](PickupSpec& spec, double value) { spec.strength = value; });
        rows.integer("lives", {0.0, 1000.0, false}, "lives", "0", "Lives that it gives.",
                     [](PickupSpec& spec, std::int32_t value) { spec.lives = value; });
        return rows.rows;
    }();
    return keys;
}

const std::vector<Group<MatchSpec>>& match_groups() {
    static const std::vector<Group<MatchSpec>> groups{lives_group(), respawn_group(), assist_group(),
                                                      score_group(), lag_compensation_group()};
    return groups;
}

const std::vector<Key<MatchSpec>>& match_keys() {
    static const std::vector<Key<MatchSpec>> keys = [] {
        Rows<MatchSpec> rows{"match"};
        rows.like();
        rows.flag("teams", "true", "Scores count by team; otherwise every combatant is alone.",
                  [](MatchSpec& spec, bool value) { spec.teams = value; });
        rows.integer("score_to_win", {0.0, 1e6, false}, "", "0: no limit", "Score that ends the match.",
                     [](MatchSpec& spec, std::int32_t value) { spec.score_to_win = value; });
        rows.flag("last_one_wins", "false", "The match ends when only one side is left.",
                  [](MatchSpec& spec, bool value) { spec.last_one_wins = value; });
        rows.number("time_limit", {0.0, 86400.0, true}, "s", "none", "Time after which the match ends.",
                    [](MatchSpec& spec, double value) { spec.time_limit = from_seconds(value); });
        rows.word(
            "friendly_fire", words_of<FriendlyFire>(4), "\"full\"", "Rule for damage to one's own team.",
            [](MatchSpec& spec, std::size_t word) { spec.friendly_fire = static_cast<FriendlyFire>(word); });
        rows.number("team_share", share, "", "0.5", "Share of that damage, reduced or reflected.",
                    [](MatchSpec& spec, double value) { spec.team_share = value; });
        rows.number("self_share", share, "", "1", "Share of the damage to oneself.",
                    [](MatchSpec& spec, double value) { spec.self_share = value; });
        add_dead(rows);
        for (const Group<MatchSpec>& group : match_groups()) {
            rows.group(group);
        }
        return rows.rows;
    }();
    return keys;
}

} // namespace avrek::detail
