#include "effect_keys.h"
#include "key_making.h"
#include <avrek/scene/filter.h>

namespace avrek::data {

namespace {

constexpr KeyRange scores{-1000.0, 1000.0, false};

std::vector<std::string> layer_names() {
    std::vector<std::string> names;
    for (std::size_t layer = 0; layer < layer_count; ++layer) {
        names.emplace_back(to_string(static_cast<Layer>(layer)));
    }
    return names;
}

Group<MatchSpec> lives_group() {
    Rows<MatchSpec> rows{"match.lives"};
    rows.integer("start", {0.0, 1000.0, false}, "lives", "not counted", "That everybody has at the start.",
                 [](MatchSpec& spec, std::int32_t value) { spec.lives.start = value; });
    rows.integer("least", {0.0, 1000.0, false}, "lives", "0", "Nobody ever has fewer.",
                 [](MatchSpec& spec, std::int32_t value) { spec.lives.least = value; });
    rows.integer("most", {0.0, 1000.0, false}, "lives", "99", "Nobody ever has more.",
                 [](MatchSpec& spec, std::int32_t value) { spec.lives.most = value; });
    return {"lives", rows.rows};
}

Group<MatchSpec> respawn_group() {
    Rows<MatchSpec> rows{"match.respawn"};
    rows.number("delay", {0.0, 3600.0, false}, "s", "3", "After a death.",
                [](MatchSpec& spec, double value) { spec.respawn.delay = from_seconds(value); });
    rows.number("protection", {0.0, 3600.0, false}, "s", "0", "In which nothing touches who came back.",
                [](MatchSpec& spec, double value) { spec.respawn.protection = from_seconds(value); });
    rows.flag("ends_on_fire", "true", "Firing or striking ends the protection.",
              [](MatchSpec& spec, bool value) { spec.respawn.ends_on_fire = value; });
    return {"respawn", rows.rows};
}

Group<MatchSpec> assist_group() {
    Rows<MatchSpec> rows{"match.assist"};
    rows.number("least", {0.0, 1e6, true}, "health", "20", "Damage that makes an assist.",
                [](MatchSpec& spec, double value) { spec.assist.least = value; });
    rows.number("within", {0.0, 3600.0, false}, "s", "10", "Before the death, of the last damage.",
                [](MatchSpec& spec, double value) { spec.assist.within = from_seconds(value); });
    return {"assist", rows.rows};
}

Group<MatchSpec> score_group() {
    Rows<MatchSpec> rows{"match.score"};
    rows.integer("kill", scores, "", "1", "For a kill.",
                 [](MatchSpec& spec, std::int32_t value) { spec.score.kill = value; });
    rows.integer("assist", scores, "", "0", "For an assist.",
                 [](MatchSpec& spec, std::int32_t value) { spec.score.assist = value; });
    rows.integer("death", scores, "", "0", "For one's own death.",
                 [](MatchSpec& spec, std::int32_t value) { spec.score.death = value; });
    rows.integer("own_kill", scores, "", "-1", "For killing one's own side, or oneself.",
                 [](MatchSpec& spec, std::int32_t value) { spec.score.own_kill = value; });
    return {"score", rows.rows};
}

Group<MatchSpec> judging_group() {
    Rows<MatchSpec> rows{"match.judging"};
    rows.number("rewind", {0.0, 1.0, false}, "s", "0.25", "Shots look no farther back than this.",
                [](MatchSpec& spec, double value) { spec.judging.rewind = from_seconds(value); });
    rows.number("cover", {0.0, 1.0, false}, "s", "0.1",
                "Who has been out of the shooter's sight for longer than this is not hit.",
                [](MatchSpec& spec, double value) { spec.judging.cover = from_seconds(value); });
    rows.flag("trades", "true", "What somebody fired counts when its shooter is dead by then.",
              [](MatchSpec& spec, bool value) { spec.judging.trades = value; });
    return {"judging", rows.rows};
}

void add_dead(Rows<MatchSpec>& rows) {
    rows.flag("dead_are_hit", "true", "What is fired still meets the bodies of the dead.",
              [](MatchSpec& spec, bool value) { spec.dead_are_hit = value; });
    rows.flag("drops_weapon", "true", "The weapon in hand lies where its bearer died.",
              [](MatchSpec& spec, bool value) { spec.drops_weapon = value; });
    rows.number("body_stays", {0.0, 3600.0, false}, "s", "8", "Before the body of the dead is gone.",
                [](MatchSpec& spec, double value) { spec.body_stays = from_seconds(value); });
}

} // namespace

const std::vector<Key<HazardSpec>>& hazard_keys() {
    static const std::vector<Key<HazardSpec>> keys = [] {
        Rows<HazardSpec> rows{"hazard"};
        rows.like();
        const KeyRule shape = rule("hazard", "shape", KeyType::shape, {}, "", "a ball of 1 m",
                                   "What it fills, in its own axes.");
        rows.rows.push_back(
            {shape, [=](const toml::node& node, const std::string& where, HazardSpec& spec, Faults& faults) {
                 const toml::table* table = node.as_table();
                 if (table == nullptr) {
                     refuse(node, where, shape, faults);
                 } else if (const auto volume = read_volume(*table, where, faults)) {
                     spec.volume = *volume;
                 }
             }});
        rows.number("damage", {0.0, 100000.0, false}, "health", "0", "What it takes, or heals, each time.",
                    [](HazardSpec& spec, double value) { spec.damage = value; });
        rows.seconds(
            "period", "0.5", "Between two times for the same body, as long as it touches.",
            [](HazardSpec& spec, double value) { spec.period = from_seconds(value); }, true);
        rows.number("lasts", {0.0, 86400.0, true}, "s", "until it is taken away", "After it was laid.",
                    [](HazardSpec& spec, double value) { spec.lasts = from_seconds(value); });
        rows.word("side", words_of<HazardSide>(3), "\"all\"",
                  "Whom it touches, seen from the team that laid it.",
                  [](HazardSpec& spec, std::size_t word) { spec.side = static_cast<HazardSide>(word); });
        rows.words("layers", layer_names(), {1.0, 8.0, false}, "\"bodies\"",
                   "What kinds of bodies it touches.",
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
        rows.number("radius", {0.0, 100.0, true}, "m", "0.8", "Of the ball in which it is touched.",
                    [](PickupSpec& spec, double value) { spec.radius = value; });
        rows.word("taken", {"touch", "request"}, "\"touch\"", "How it is taken.",
                  [](PickupSpec& spec, std::size_t word) { spec.on_request = word == 1; });
        rows.flag("only_when_useful", "true", "It stays for whom nothing of it would be of use.",
                  [](PickupSpec& spec, bool value) { spec.only_when_useful = value; });
        rows.number("returns", {0.0, 86400.0, true}, "s", "never", "After it was taken.",
                    [](PickupSpec& spec, double value) { spec.returns = from_seconds(value); });
        rows.number("health", {0.0, 1e6, false}, "health", "0", "That it heals.",
                    [](PickupSpec& spec, double value) { spec.health = value; });
        rows.other("ammo", "ammo", "none", "The kind of its rounds.",
                   [](PickupSpec& spec, const std::string& id) { spec.ammo.id = id; });
        rows.integer("rounds", {0.0, 100000.0, false}, "rounds", "0", "How many.",
                     [](PickupSpec& spec, std::int32_t value) { spec.rounds = value; });
        rows.other("weapon", "weapon", "none", "The weapon that it is, full.",
                   [](PickupSpec& spec, const std::string& id) { spec.weapon.id = id; });
        rows.other("condition", "condition", "none", "The condition that it gives.",
                   [](PickupSpec& spec, const std::string& id) { spec.condition.id = id; });
        rows.number("strength", {0.0, 1000.0, true}, "", "1", "The strength of that condition.",
                    [](PickupSpec& spec, double value) { spec.strength = value; });
        rows.integer("lives", {0.0, 1000.0, false}, "lives", "0", "That it gives.",
                     [](PickupSpec& spec, std::int32_t value) { spec.lives = value; });
        return rows.rows;
    }();
    return keys;
}

const std::vector<Group<MatchSpec>>& match_groups() {
    static const std::vector<Group<MatchSpec>> groups{lives_group(), respawn_group(), assist_group(),
                                                      score_group(), judging_group()};
    return groups;
}

const std::vector<Key<MatchSpec>>& match_keys() {
    static const std::vector<Key<MatchSpec>> keys = [] {
        Rows<MatchSpec> rows{"match"};
        rows.like();
        rows.flag("teams", "true", "Scores count by team; otherwise everybody is alone.",
                  [](MatchSpec& spec, bool value) { spec.teams = value; });
        rows.integer("score_to_win", {0.0, 1e6, false}, "", "0: no limit", "That ends it.",
                     [](MatchSpec& spec, std::int32_t value) { spec.score_to_win = value; });
        rows.flag("last_one_wins", "false", "It ends when only one side has anybody left.",
                  [](MatchSpec& spec, bool value) { spec.last_one_wins = value; });
        rows.number("time_limit", {0.0, 86400.0, true}, "s", "none", "That ends it.",
                    [](MatchSpec& spec, double value) { spec.time_limit = from_seconds(value); });
        rows.word("own_side", words_of<OwnSide>(4), "\"full\"", "What damage to the own side comes to.",
                  [](MatchSpec& spec, std::size_t word) { spec.own_side = static_cast<OwnSide>(word); });
        rows.number("own_share", share, "", "0.5", "Share of it that counts, reduced or reflected.",
                    [](MatchSpec& spec, double value) { spec.own_share = value; });
        rows.number("self_share", share, "", "1", "Share of the damage to oneself that counts.",
                    [](MatchSpec& spec, double value) { spec.self_share = value; });
        add_dead(rows);
        for (const Group<MatchSpec>& group : match_groups()) {
            rows.group(group);
        }
        return rows.rows;
    }();
    return keys;
}

} // namespace avrek::data
