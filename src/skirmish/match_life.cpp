#include "match_parts.h"

#include <algorithm>

/// Hits, deaths and lives.
namespace avrek::detail {

void add_score(MatchParts& match, Combatant& who, std::int32_t points, Time at) {
    if (points != 0 && who.role == Role::combatant) {
        who.stats.score += points;
        match.team_scores[static_cast<std::size_t>(who.team) % match.team_scores.size()] += points;
        match.events.emplace_back(ScoreEvent{at, who.id, who.stats.score});
    }
}

namespace {

// Counts a hit of a shot, once for each shot of the last 64.
void count_hit(PlayerStats& stats, std::uint32_t shot) {
    if (stats.recent_hits == 0 || shot > stats.newest_hit) {
        const std::uint32_t step = stats.recent_hits == 0 ? 64 : shot - stats.newest_hit;
        stats.recent_hits = step < 64 ? stats.recent_hits << step : 0;
        stats.newest_hit = shot;
    }
    const std::uint32_t back = stats.newest_hit - shot;
    const std::uint64_t bit = back < 64 ? std::uint64_t{1} << back : 0;
    if (bit != 0 && (stats.recent_hits & bit) == 0) {
        stats.recent_hits |= bit;
        ++stats.shots_hit;
    }
}

void credit_kill(MatchParts& match, Combatant& who, BodyId killer, Time at) {
    Combatant* by = match.find(killer);
    if (by != nullptr && match.are_hostile(*by, who)) {
        ++by->stats.kills;
        add_score(match, *by, match.rules->score.kill, at);
    } else if (by != nullptr) {
        add_score(match, *by, match.rules->score.team_kill, at);
    }
    for (const Credit& credit : who.vitals.credits) {
        Combatant* helper = match.find(credit.source);
        if (helper == nullptr || helper == by || !match.are_hostile(*helper, who) ||
            credit.damage < match.rules->assist.min_damage || credit.last < at - match.rules->assist.within) {
            continue;
        }
        ++helper->stats.assists;
        match.events.emplace_back(AssistEvent{at, helper->id, who.id, credit.damage});
        add_score(match, *helper, match.rules->score.assist, at);
    }
}

void drop_weapon_of(MatchParts& match, Combatant& who, Time at) {
    const std::optional<Pose> pose = match.world->body_pose(who.id, at);
    match.weapon_events.clear();
    const auto dropped = drop_weapon(*match.arsenal, who.loadout, who.loadout.in_hand,
                                     pose ? pose->position : Vector3::Zero(), match.weapon_events);
    match.weapon_events.clear(); // what the dead take in hand next is nothing to see
    if (!dropped) {
        return;
    }
    const bool fits = match.dropped.size() < match.limits.dropped;
    match.events.emplace_back(DropEvent{at, who.id, !fits, match.dropped.size(), dropped->weapon,
                                        dropped->state.rounds, dropped->position});
    if (fits) {
        match.dropped.push_back(*dropped);
    }
}

// One of the dead waits for its respawn, if its side has one left.
void await_respawn(MatchParts& match, Combatant& who, Time at) {
    const std::int32_t left = respawns_left(match, who.team);
    who.out = left == 0;
    who.respawn_at = who.out ? Time::max() : at + match.rules->respawn.delay;
    if (who.out) {
        match.events.emplace_back(OutEvent{at, who.id});
    } else if (left > 0) {
        ++match.team_respawns[static_cast<std::size_t>(who.team)];
        match.events.emplace_back(RespawnsEvent{at, who.id, who.team, left - 1});
    }
}

void follow_death(MatchParts& match, Combatant& who, const DeathEvent& death) {
    const Time at = death.at;
    const BodyId killer = death.source != nobody
                              ? death.source
                              : last_source(who.vitals.credits, at - match.rules->assist.within);
    match.events.emplace_back(KillEvent{at, who.id, killer});
    forget_touches(match, who.id, at);
    clear_alerts(match, who, at);
    who.vanish_at = at + match.rules->corpse_lifetime;
    if (who.role == Role::prop) {
        who.out = true;
        return;
    }
    ++who.stats.deaths;
    credit_kill(match, who, killer, at);
    add_score(match, who, match.rules->score.death, at);
    if (match.rules->drops_weapon) {
        drop_weapon_of(match, who, at);
    }
    if (who.lives >= 0) {
        set_lives(match, who, std::int64_t{who.lives} - 1, at);
    }
    if (!who.out) {
        await_respawn(match, who, at);
    }
    check_over(match, at);
}

} // namespace

void follow(MatchParts& match, Combatant& who) {
    for (std::size_t index = 0; index < match.vitals_events.size() && !match.over; ++index) {
        const VitalsEvent& felt = match.vitals_events[index];
        std::visit(
            [&](auto event) {
                event.who = who.id;
                match.events.emplace_back(event);
            },
            felt);
        if (const auto* hurt = std::get_if<DamageEvent>(&felt)) {
            const double lost = points_of(*hurt);
            who.stats.damage_taken += lost;
            Combatant* source = match.find(hurt->source);
            if (source != nullptr && match.are_hostile(*source, who)) {
                source->stats.damage_dealt += lost;
            }
        } else if (const auto* death = std::get_if<DeathEvent>(&felt)) {
            follow_death(match, who, *death);
        }
    }
    push_due_of(match, who);
}

HitResult hit_now(MatchParts& match, Combatant& target, IncomingHit hit, Time at) {
    Combatant* attacker = match.find(hit.source);
    const bool heals = hit.effect != nullptr && hit.effect->heals;
    if (attacker != nullptr && target.vitals.life == LifeState::alive) {
        const bool itself = attacker->id == target.id;
        if (!heals && itself) {
            hit.side *= match.rules->self_share;
        } else if (!heals && !match.are_hostile(*attacker, target)) {
            if (match.rules->friendly_fire == FriendlyFire::off) {
                return HitResult::nothing;
            }
            if (match.rules->friendly_fire == FriendlyFire::reflected) {
                hit.side *= match.rules->team_share;
                hit.region.reset();
                hit.direction = Vector3::Zero();
                hit.push = Vector3::Zero();
                hit.shot = -1;
                change_vitals(match, *attacker, [&](const LivingBody& body, auto& felt) {
                    return take_hit(body, hit, at, felt);
                });
                return HitResult::nothing;
            }
            hit.side *= match.rules->friendly_fire == FriendlyFire::reduced ? match.rules->team_share : 1.0;
        }
        hit.dealt *= factors_of(match.arsenal->conditions, attacker->vitals).damage_dealt;
    }
    const HitResult result = change_vitals(match, target, [&](const LivingBody& body, auto& felt) {
        const HitResult met = take_hit(body, hit, at, felt);
        const bool hurts = std::any_of(felt.begin(), felt.end(), [&](const VitalsEvent& event) {
            const auto* hurt = std::get_if<DamageEvent>(&event);
            return hurt != nullptr && !hurt->condition && hurt->source == hit.source;
        });
        if (hurts && hit.shot >= 0 && attacker != nullptr && match.are_hostile(*attacker, target)) {
            count_hit(attacker->stats, static_cast<std::uint32_t>(hit.shot));
        }
        return met;
    });
    const bool staggers = result == HitResult::guarded_perfectly && hit.melee && attacker != nullptr &&
                          match.body_of(target).guard->perfect_staggers;
    if (staggers && !match.over) {
        IncomingHit back;
        back.source = target.id;
        back.direction = -hit.direction;
        back.off_front = 0.0; // who strikes looks there
        change_vitals(match, *attacker, [&](const LivingBody& body, auto& felt) {
            react(body, ReactionClass::heavy, back, at, felt);
            return 0;
        });
    }
    return result;
}

std::int32_t respawns_left(const MatchParts& match, TeamId team) {
    const SideSpec* side = side_of(*match.rules, team);
    return side == nullptr || side->respawns < 0
               ? -1
               : std::max(0, side->respawns - match.team_respawns[static_cast<std::size_t>(team)]);
}

void emit_weapon_events(MatchParts& match, const Combatant& who) {
    for (const WeaponEvent& event : match.weapon_events) {
        const bool armed = event.slot >= 0 && event.slot < Loadout::slot_count;
        match.events.emplace_back(HandlingEvent{
            who.id, armed ? who.loadout.slots[static_cast<std::size_t>(event.slot)].weapon : std::nullopt,
            event});
    }
    match.weapon_events.clear();
}

void set_lives(MatchParts& match, Combatant& who, std::int64_t lives, Time at) {
    const std::int64_t allowed =
        std::clamp<std::int64_t>(lives, match.rules->lives.min, match.rules->lives.max);
    if (allowed != who.lives) {
        who.lives = static_cast<std::int32_t>(allowed);
        match.events.emplace_back(LivesEvent{at, who.id, allowed});
    }
    const bool dead = who.vitals.life == LifeState::dead;
    if (dead && who.lives == 0 && !who.out) {
        who.out = true;
        who.respawn_at = Time::max();
        match.events.emplace_back(OutEvent{at, who.id});
    } else if (dead && who.lives > 0 && who.out) {
        await_respawn(match, who, at);
        push_due_of(match, who);
    }
}

void give_first_conditions(MatchParts& match, Combatant& who, Time at) {
    for (const SpecRef<ConditionId>& condition : match.body_of(who).first_conditions) {
        change_vitals(match, who, [&](const LivingBody& body, auto& felt) {
            return add_condition(body, {*condition.spec, 1.0, who.id}, at, felt);
        });
    }
}

void respawn(MatchParts& match, Combatant& who, Time at) {
    who.respawn_at = Time::max();
    who.vanish_at = Time::max();
    who.vitals = full_vitals(match.body_of(who), at);
    if (match.rules->respawn.protection > Duration::zero()) {
        protect(who.vitals, at + match.rules->respawn.protection);
    }
    const std::uint32_t kick_seed =
        static_cast<std::uint32_t>(who.id) + 0x9e3779b9U * static_cast<std::uint32_t>(who.stats.deaths);
    who.loadout = make_loadout(*match.arsenal, std::span{who.kit}.first(who.kit_size), at, kick_seed);
    match.events.emplace_back(RespawnEvent{at, who.id, who.vitals.protected_until, who.lives});
    give_first_conditions(match, who, at);
}

} // namespace avrek::detail
