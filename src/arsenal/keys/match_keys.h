#pragma once
#include "key_row.h"
#include <avrek/arsenal/link_spec.h>
#include <avrek/arsenal/match_spec.h>
#include <avrek/arsenal/shooter_spec.h>

namespace avrek::detail {

inline constexpr KeyRow up_to_an_hour{.unit = "s", .range = {0.0, 3600.0}};

template <class Keys>
void visit_keys(Keys& key, LivesSpec& spec) {
    key("start", spec.start, {.unit = "lives", .range = {0.0, 1000.0}, .otherwise = "not counted"},
        "Lives at the start.");
    key("min", spec.min, {.unit = "lives", .range = {0.0, 1000.0}}, "Minimum lives.");
    key("max", spec.max, {.unit = "lives", .range = {0.0, 1000.0}}, "Maximum lives.");
}

template <class Keys>
void visit_keys(Keys& key, RespawnSpec& spec) {
    key("delay", spec.delay, up_to_an_hour, "Time from death to respawn.");
    key("protection", spec.protection, up_to_an_hour,
        "Time after a respawn in which nothing harms the combatant.");
    key("ends_on_fire", spec.ends_on_fire, {}, "Firing or striking ends the protection.");
}

template <class Keys>
void visit_keys(Keys& key, AssistSpec& spec) {
    key("min_damage", spec.min_damage, {.unit = "health", .range = {0.0, 1e6, true}},
        "Minimum damage for an assist.");
    key("within", spec.within, up_to_an_hour, "Maximum time from the last damage to the death.");
}

template <class Keys>
void visit_keys(Keys& key, ScoreSpec& spec) {
    constexpr KeyRow score{.range = {-1000.0, 1000.0}};
    key("kill", spec.kill, score, "Points for a kill.");
    key("assist", spec.assist, score, "Points for an assist.");
    key("death", spec.death, score, "Points for dying.");
    key("team_kill", spec.team_kill, score, "Points for killing a team member, or oneself.");
}

template <class Keys>
void visit_keys(Keys& key, LagCompensationSpec& spec) {
    key("max_rewind", spec.max_rewind, {.unit = "s", .range = {0.0, 1.0}},
        "Maximum time by which the server rewinds targets for a shot.");
    key("cover_grace", spec.cover_grace, {.unit = "s", .range = {0.0, 1.0}},
        "A target hidden from the shooter for longer than this is not hit.");
    key("trades", spec.trades, {},
        "Shots still count when their shooter has died by the time they are validated.");
}

template <class Keys>
void visit_keys(Keys& key, SideSpec& spec) {
    key("team", spec.team, {.range = {0.0, 31.0}, .required = true}, "Number of its team.");
    key("lives", spec.lives, {.unit = "lives", .range = {0.0, 1000.0}, .otherwise = "lives.start"},
        "Lives of each at the start.");
    key("respawns", spec.respawns, {.range = {0.0, 1e6}, .otherwise = "any number"},
        "Respawns that the side shares. When there are none left, those who die are out.");
    key("score_to_win", spec.score_to_win, {.range = {0.0, 1e6}, .otherwise = "that of the match"},
        "Score with which the side wins.");
    key("alert_spreads", spec.alert_spreads, {}, "A foe that notices one of the side makes all of it alert.");
}

template <class Keys>
void visit_keys(Keys& key, MatchSpec& spec) {
    key("teams", spec.teams, {}, "Scores count by team; otherwise every combatant is alone.");
    key("score_to_win", spec.score_to_win, {.range = {0.0, 1e6}}, "Score that ends the match; 0: no limit.");
    key("last_one_wins", spec.last_one_wins, {}, "The match ends when only one side is left.");
    key("time_limit", spec.time_limit, {.unit = "s", .range = {0.0, 86400.0, true}, .otherwise = "none"},
        "Time after which the match ends.");
    key("friendly_fire", spec.friendly_fire, {.words = words_of<FriendlyFire>(4)},
        "Rule for damage to one's own team.");
    key("team_share", spec.team_share, share, "Share of that damage, reduced or reflected.");
    key("self_share", spec.self_share, share, "Share of the damage to oneself.");
    key("corpses_stop_shots", spec.corpses_stop_shots, {}, "Shots still hit the bodies of the dead.");
    key("drops_weapon", spec.drops_weapon, {}, "The weapon in hand drops where its bearer dies.");
    key("corpse_lifetime", spec.corpse_lifetime, up_to_an_hour,
        "Time until the body of the dead is removed.");
    key("retuned_health", spec.retuned_health, {.words = words_of<RetunedHealth>(2)},
        "What health and defence points keep when their maximum changes in a running fight.");
    key.group("lives", spec.lives);
    key.group("respawn", spec.respawn);
    key.group("assist", spec.assist);
    key.group("score", spec.score);
    key.tables("side", spec.sides, {"side", max_sides},
               "Rules for single teams: one table each, under a name; at most 8.");
    key.group("lag_compensation", spec.lag_compensation);
}

template <class Keys>
void visit_keys(Keys& key, ShooterSpec& spec) {
    key("reaction", spec.reaction, seconds, "Time from seeing a target to acting on it.");
    key("reaction_spread", spec.reaction_spread, seconds,
        "Maximum deviation of the reaction time, in duels.");
    key("error", spec.error, {.unit = "degrees", .range = {0.0, 45.0}}, "Typical error of the first aim.");
    key("min_error", spec.min_error, {.unit = "degrees", .range = {0.0, 45.0}}, "Error that always remains.");
    key("recovery", spec.recovery, some_seconds,
        "Time scale of aiming: after h times this, 1 / (1 + h + h^2) of the first error remains.");
    key("tracking", spec.tracking, seconds, "Typical lag of the aim behind a moving target.");
    key("turn", spec.turn, {.unit = "degrees/s", .range = {0.0, 3600.0, true}}, "Maximum turn rate.");
    key("field", spec.field, {.unit = "degrees", .range = {0.0, 360.0, true}},
        "Angle in which it notices targets.");
    key("sight", spec.sight, {.unit = "m", .range = {0.0, 1000.0, true}},
        "Distance at which it sees targets.");
    key("control", spec.control, share, "Share of the recoil that it pulls back.");
    key("near", spec.near, {.unit = "m", .range = {0.0, 1000.0}},
        "Distance within which it holds the trigger.");
    key("burst", spec.burst, some_seconds, "Length of its bursts beyond that distance.");
    key("pause", spec.pause, some_seconds, "Pause between bursts.");
    key("memory", spec.memory, seconds, "Time for which it keeps turning to a target out of sight.");
    key("takes_cover", spec.takes_cover, share, "Share of its health below which it looks for cover.");
}

template <class Keys>
void visit_keys(Keys& key, LinkSpec& spec) {
    constexpr KeyRow bandwidth{.unit = "bytes/s", .range = {0.0, 1e9}};
    key("latency", spec.latency, {.unit = "s", .range = {0.0, 5.0}}, "Round trip; half of it each way.");
    key("jitter", spec.jitter, {.unit = "s", .range = {0.0, 5.0}}, "Maximum extra delay of a packet.");
    key("loss", spec.loss, {.range = {0.0, 0.95}}, "Share of packets lost.");
    key("loss_run", spec.loss_run, {.unit = "packets", .range = {1.0, 1000.0}},
        "Typical number of packets lost in a row.");
    key("duplicated", spec.duplicated, share, "Share of packets that arrive twice.");
    key("reordered", spec.reordered, share, "Share of packets that later ones can overtake.");
    key("up", spec.up, bandwidth, "Bandwidth to the server; 0: no ceiling.");
    key("down", spec.down, bandwidth, "Bandwidth from the server; 0: no ceiling.");
}

} // namespace avrek::detail
