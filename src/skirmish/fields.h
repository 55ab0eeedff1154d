#pragma once
#include <avrek/core/state_hash.h>
#include <avrek/skirmish/skirmish.h>

#include <concepts>
#include <cstdint>
#include <string_view>
#include <type_traits>

/// The one list of everything that a state consists of, by name: hashes, differences and replays go by it.
///
/// A sink is called with names and numbers, `sink(name, std::int64_t)` or `sink(name, double)`, and is told
/// where they are by `sink.enter(name, number)` and `sink.leave()`; a number below 0 is none.
namespace avrek::fields {

template <class Sink, class Value>
requires std::integral<Value> || std::is_enum_v<Value>
void add(Sink& sink, std::string_view name, Value value) {
    sink(name, static_cast<std::int64_t>(value));
}

template <class Sink>
void add(Sink& sink, std::string_view name, double value) {
    sink(name, value);
}

template <class Sink>
void add(Sink& sink, std::string_view name, Time at) {
    sink(name, static_cast<std::int64_t>(at.time_since_epoch().count()));
}

template <class Sink>
void add(Sink& sink, std::string_view name, Duration length) {
    sink(name, static_cast<std::int64_t>(length.count()));
}

template <class Sink>
void add(Sink& sink, std::string_view name, const Vector3& vector) {
    sink.enter(name, -1);
    sink("x", vector.x());
    sink("y", vector.y());
    sink("z", vector.z());
    sink.leave();
}

template <class Sink>
void add(Sink& sink, std::string_view name, const Look& look) {
    sink.enter(name, -1);
    sink("yaw", look.yaw);
    sink("pitch", look.pitch);
    sink.leave();
}

template <class Sink>
void add_weapon(Sink& sink, const WeaponState& state) {
    const auto field = [&sink](std::string_view name, auto value) { add(sink, name, value); };
    field("now", state.now);
    field("next_shot", state.next_shot);
    field("activity_end", state.activity_end);
    field("cadence_shots", state.cadence_shots);
    field("speed_to", double{state.speed_to});
    field("mode", state.mode);
    field("burst_left", state.burst_left);
    field("activity", state.activity);
    // As one word: buttons as last stated, and what came of them.
    field("stated", std::uint32_t{state.trigger_held} | std::uint32_t{state.reload_held} << 1U |
                        std::uint32_t{state.aim_held} << 2U | std::uint32_t{state.mode_held} << 3U |
                        std::uint32_t{state.in_hand} << 4U | std::uint32_t{state.sprinting} << 5U |
                        std::uint32_t{state.striking} << 6U | std::uint32_t{state.stunned} << 7U |
                        std::uint32_t{state.fire_forbidden} << 8U |
                        std::uint32_t{state.reload_forbidden} << 9U | std::uint32_t{state.crouching} << 10U |
                        std::uint32_t{state.airborne} << 11U);
    field("under_way", std::uint32_t{state.aim_wanted} | std::uint32_t{state.aiming} << 1U |
                           std::uint32_t{state.winding} << 2U | std::uint32_t{state.reload_wanted} << 3U |
                           std::uint32_t{state.from_empty} << 4U | std::uint32_t{state.press_waits} << 5U |
                           std::uint32_t{state.answered} << 6U | std::uint32_t{state.spent} << 7U |
                           std::uint32_t{state.dry} << 8U | std::uint32_t{state.locked} << 9U);
    field("rounds", state.rounds);
    field("shots", state.shots);
    field("last_shot", state.last_shot);
    field("rate_share", double{state.rate_share});
    field("bloom", double{state.bloom});
    field("cadence_start", state.cadence_start);
    field("refill_left", state.refill_left);
    field("windup_since", state.windup_since);
    field("aim_since", state.aim_since);
    field("speed_since", state.speed_since);
    field("speed_from", double{state.speed_from});
    field("return_yaw", double{state.return_yaw});
    field("return_pitch", double{state.return_pitch});
    field("kick_seed", state.kick_seed);
    field("recoil_step", state.recoil_step);
    field("reload_loaded", state.reload_loaded);
}

template <class Sink>
void add_stated(Sink& sink, const WeaponIntent& stated) {
    add(sink, "held",
        std::uint32_t{stated.trigger} | std::uint32_t{stated.reload} << 1U | std::uint32_t{stated.aim} << 2U |
            std::uint32_t{stated.next_mode} << 3U | std::uint32_t{stated.in_hand} << 4U |
            std::uint32_t{stated.sprint} << 5U | std::uint32_t{stated.strike} << 6U |
            std::uint32_t{stated.stunned} << 7U | std::uint32_t{stated.forbids_fire} << 8U |
            std::uint32_t{stated.forbids_reload} << 9U | std::uint32_t{stated.crouching} << 10U |
            std::uint32_t{stated.airborne} << 11U);
    add(sink, "speed", stated.speed);
}

template <class Sink>
void add_loadout(Sink& sink, const Loadout& loadout, std::size_t ammo_kinds) {
    add(sink, "now", loadout.now);
    add(sink, "in_hand", loadout.in_hand);
    add(sink, "wanted", loadout.wanted);
    add(sink, "last_used", loadout.last_used);
    add(sink, "slot_stated", loadout.slot_stated);
    sink.enter("stated", -1);
    add_stated(sink, loadout.stated);
    sink.leave();
    add(sink, "held", std::uint32_t{loadout.next_held} | std::uint32_t{loadout.last_held} << 1U);
    for (std::size_t slot = 0; slot < loadout.slots.size(); ++slot) {
        sink.enter("slot", static_cast<std::int64_t>(slot));
        add(sink, "weapon", loadout.slots[slot].weapon);
        if (loadout.slots[slot].weapon >= 0) {
            add_weapon(sink, loadout.slots[slot].state);
        }
        sink.leave();
    }
    for (std::size_t kind = 0; kind < ammo_kinds; ++kind) {
        sink.enter("ammo", static_cast<std::int64_t>(kind));
        add(sink, "rounds", loadout.ammo[kind].rounds);
        sink.leave();
    }
}

template <class Sink>
void add_condition(Sink& sink, const ConditionState& condition) {
    add(sink, "spec", condition.spec);
    add(sink, "count", condition.count);
    add(sink, "strength", condition.strength);
    add(sink, "until", condition.until);
    add(sink, "next_tick", condition.next_tick);
    add(sink, "source", condition.source);
}

template <class Sink>
void add_vitals(Sink& sink, const Vitals& vitals, std::size_t layers) {
    const auto field = [&sink](std::string_view name, auto value) { add(sink, name, value); };
    field("now", vitals.now);
    field("due", vitals.due);
    field("health", vitals.health);
    field("maximum", vitals.maximum);
    field("life", vitals.life);
    field("state", vitals.state);
    field("reaction", vitals.reaction);
    field("on_back", vitals.on_back);
    field("state_until", vitals.state_until);
    field("protected_until", vitals.protected_until);
    field("last_hurt", vitals.last_hurt);
    for (std::size_t layer = 0; layer < layers; ++layer) {
        sink.enter("defence", static_cast<std::int64_t>(layer));
        field("points", vitals.defence[layer].points);
        field("at", vitals.defence[layer].at);
        sink.leave();
    }
    sink.enter("guard", -1);
    field("stamina", vitals.guard.stamina);
    field("stamina_at", vitals.guard.stamina_at);
    field("perfect_until", vitals.guard.perfect_until);
    field("broken_until", vitals.guard.broken_until);
    field("held", std::uint32_t{vitals.guard.wanted} | std::uint32_t{vitals.guard.up} << 1U);
    sink.leave();
    for (std::size_t index = 0; index < vitals.reactions.size(); ++index) {
        sink.enter("reactions", static_cast<std::int64_t>(index));
        field("count", vitals.reactions[index].count);
        field("until", vitals.reactions[index].until);
        sink.leave();
    }
    for (std::size_t index = 0; index < vitals.condition_count; ++index) {
        sink.enter("condition", static_cast<std::int64_t>(index));
        add_condition(sink, vitals.conditions[index]);
        sink.leave();
    }
    std::int64_t place = 0;
    for (const Credit& credit : vitals.credits) {
        if (credit.source != nobody) {
            sink.enter("credit", place);
            field("source", credit.source);
            field("damage", credit.damage);
            field("last", credit.last);
            sink.leave();
        }
        ++place;
    }
}

template <class Sink>
void add_tally(Sink& sink, const PlayerStats& stats) {
    add(sink, "score", stats.score);
    add(sink, "kills", stats.kills);
    add(sink, "deaths", stats.deaths);
    add(sink, "assists", stats.assists);
    add(sink, "shots", stats.shots);
    add(sink, "shots_hit", stats.shots_hit);
    add(sink, "damage_dealt", stats.damage_dealt);
    add(sink, "damage_taken", stats.damage_taken);
    add(sink, "recent_hits", stats.recent_hits);
    add(sink, "newest_hit", stats.newest_hit);
}

template <class Sink>
void add_combatant(Sink& sink, const Combatant& who, const Arsenal& arsenal) {
    add(sink, "slot", who.slot);
    add(sink, "team", who.team);
    add(sink, "role", who.role);
    add(sink, "body", who.body);
    add(sink, "lives", who.lives);
    add(sink, "out", who.out);
    add(sink, "respawn_at", who.respawn_at);
    add(sink, "vanish_at", who.vanish_at);
    sink.enter("vitals", -1);
    add_vitals(sink, who.vitals, arsenal.bodies[static_cast<std::size_t>(who.body)].defence.size());
    sink.leave();
    sink.enter("loadout", -1);
    add_loadout(sink, who.loadout, arsenal.ammo.size());
    sink.leave();
    sink.enter("stated", -1);
    add_stated(sink, who.stated.weapon);
    add(sink, "slot", who.stated.slot);
    add(sink, "swaps", std::uint32_t{who.stated.next} | std::uint32_t{who.stated.last} << 1U);
    sink.leave();
    for (std::size_t slot = 0; slot < who.kit_size; ++slot) {
        sink.enter("kit", static_cast<std::int64_t>(slot));
        add(sink, "weapon", who.kit[slot]);
        sink.leave();
    }
    sink.enter("stats", -1);
    add_tally(sink, who.stats);
    sink.leave();
}

template <class Sink>
void add_fighter(Sink& sink, const Fighter& fighter) {
    add(sink, "position", fighter.position);
    add(sink, "velocity", fighter.velocity);
    add(sink, "look", fighter.look);
    add(sink, "facing", fighter.facing);
    add(sink, "kick", fighter.kick);
    add(sink, "airborne", fighter.airborne);
    add(sink, "in_scene", fighter.in_scene);
    add(sink, "stance", fighter.stance);
    add(sink, "to_place", fighter.to_place);
    add(sink, "buttons", fighter.intent.buttons.bits());
    add(sink, "ahead", double{fighter.intent.ahead});
    add(sink, "left", double{fighter.intent.left});
    add(sink, "wanted_slot", fighter.intent.slot);
    add(sink, "wanted_yaw", double{fighter.intent.yaw});
    add(sink, "wanted_pitch", double{fighter.intent.pitch});
    add(sink, "behind", fighter.intent.view_delay);
    add(sink, "alive_since", fighter.alive_since);
    add(sink, "strike", fighter.strike_before);
    add(sink, "swing", fighter.swing.attack);
    add(sink, "swing_started", fighter.swing.started);
    add(sink, "swings", fighter.swing.swings);
    add(sink, "swing_ended", fighter.swing_ended);
    add(sink, "struck", static_cast<std::int64_t>(fighter.swing.struck.end() - fighter.swing.struck.begin()));
    for (const BodyId body : fighter.swing.struck) {
        add(sink, "struck_body", body);
    }
    add(sink, "melee", fighter.melee);
    add(sink, "shots", fighter.shots);
    add(sink, "spawned", fighter.spawned);
    for (std::size_t spawn = 0; spawn < fighter.spawn_count; ++spawn) {
        add(sink, "spawn", fighter.spawns[spawn]);
    }
}

template <class Sink>
void add_places(Sink& sink, const Match& match) {
    for (std::size_t index = 0; index < match.hazards().size(); ++index) {
        const HazardState& hazard = match.hazards()[index];
        sink.enter("hazard", static_cast<std::int64_t>(index));
        add(sink, "spec", hazard.spec);
        add(sink, "position", hazard.pose.position);
        sink.enter("rotation", -1);
        add(sink, "x", hazard.pose.rotation.x());
        add(sink, "y", hazard.pose.rotation.y());
        add(sink, "z", hazard.pose.rotation.z());
        add(sink, "w", hazard.pose.rotation.w());
        sink.leave();
        add(sink, "team", hazard.team);
        add(sink, "source", hazard.source);
        add(sink, "carrier", hazard.carrier);
        add(sink, "ends", hazard.ends);
        add(sink, "due", hazard.due);
        for (std::size_t touch = 0; touch < hazard.touched_count; ++touch) {
            sink.enter("touch", static_cast<std::int64_t>(touch));
            add(sink, "body", hazard.touched[touch].body);
            add(sink, "next", hazard.touched[touch].next);
            add(sink, "inside", hazard.touched[touch].inside);
            sink.leave();
        }
        sink.leave();
    }
    for (std::size_t index = 0; index < match.pickups().size(); ++index) {
        sink.enter("pickup", static_cast<std::int64_t>(index));
        add(sink, "spec", match.pickups()[index].spec);
        add(sink, "position", match.pickups()[index].position);
        add(sink, "there", match.pickups()[index].there);
        add(sink, "back_at", match.pickups()[index].back_at);
        sink.leave();
    }
    for (std::size_t index = 0; index < match.dropped().size(); ++index) {
        const DroppedWeapon& dropped = match.dropped()[index];
        sink.enter("dropped", static_cast<std::int64_t>(index));
        add(sink, "weapon", dropped.weapon);
        add(sink, "position", dropped.position);
        add_weapon(sink, dropped.state);
        sink.leave();
    }
}

/// All of a match.
template <class Sink>
void add_match(Sink& sink, const Match& match) {
    add(sink, "now", match.now());
    add(sink, "over", match.is_over());
    for (std::uint8_t team = 0; team < 32; ++team) {
        if (match.team_score(TeamId{team}) != 0) {
            sink.enter("team", team);
            add(sink, "score", match.team_score(TeamId{team}));
            sink.leave();
        }
    }
    for (const Combatant& who : match.combatants()) {
        sink.enter("combatant", static_cast<std::int64_t>(who.id));
        add_combatant(sink, who, match.arsenal());
        add(sink, "alert", match.is_alert(who.id));
        sink.leave();
    }
    add_places(sink, match);
}

/// All of a skirmish.
template <class Sink>
void add_skirmish(Sink& sink, const Skirmish& skirmish) {
    add(sink, "tick", skirmish.tick());
    sink.enter("match", -1);
    add_match(sink, skirmish.match());
    sink.leave();
    for (const Fighter& fighter : skirmish.fighters()) {
        sink.enter("fighter", static_cast<std::int64_t>(fighter.id));
        add_fighter(sink, fighter);
        sink.leave();
    }
    for (std::size_t pool = 0; pool < skirmish.projectiles().size(); ++pool) {
        sink.enter("projectiles", static_cast<std::int64_t>(pool));
        add(sink, "flying", skirmish.projectiles()[pool].size());
        add(sink, "states", skirmish.projectiles()[pool].state_hash());
        sink.leave();
    }
}

/// A sink that makes one number of it all.
class Hashing {
  public:
    explicit Hashing(StateHash& hash) : hash_(hash) {}
    void operator()(std::string_view, std::int64_t value) { hash_.add(static_cast<std::uint64_t>(value)); }
    void operator()(std::string_view, double value) { hash_.add(value); }
    void enter(std::string_view, std::int64_t number) { hash_.add(static_cast<std::uint64_t>(number)); }
    void leave() {}

  private:
    StateHash& hash_;
};

} // namespace avrek::fields
