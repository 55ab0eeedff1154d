#include "match_parts.h"

#include <algorithm>

namespace avrek {

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

void Match::follow(const World& world, Combatant& who, Events& events) {
    for (std::size_t index = 0; index < vitals_events_.size() && !over_; ++index) {
        const VitalsEvent& felt = vitals_events_[index];
        MatchEvent& event = emit(MatchEventKind::vitals, who.id, felt.at, events);
        event.by = felt.source;
        event.vitals = felt;
        if (felt.kind == VitalsEventKind::damaged) {
            const double lost = felt.damage.amount() + felt.absorbed;
            who.stats.damage_taken += lost;
            Combatant* source = find_any(felt.source);
            if (source != nullptr && are_hostile(*source, who)) {
                source->stats.damage_dealt += lost;
            }
        } else if (felt.kind == VitalsEventKind::died) {
            follow_death(world, who, felt, events);
        }
    }
    push_due_of(who);
}

void Match::follow_death(const World& world, Combatant& who, const VitalsEvent& death, Events& events) {
    const Time at = death.at;
    const BodyId killer =
        death.source != nobody ? death.source : last_source(who.vitals.credits, at - rules_->assist.within);
    MatchEvent& event = emit(MatchEventKind::killed, who.id, at, events);
    event.by = killer;
    event.vitals = death;
    forget_touches(who.id, at, events);
    clear_alerts(who, at, events);
    who.vanish_at = at + rules_->corpse_lifetime;
    if (who.role == Role::prop) {
        who.out = true;
        return;
    }
    ++who.stats.deaths;
    credit_kill(who, killer, at, events);
    add_score(who, rules_->score.death, at, events);
    if (rules_->drops_weapon) {
        drop_weapon_of(world, who, at, events);
    }
    who.respawn_at = at + rules_->respawn.delay;
    if (who.lives >= 0) {
        set_lives(who, std::int64_t{who.lives} - 1, at, events);
    }
    check_over(at, events);
}

void Match::credit_kill(Combatant& who, BodyId killer, Time at, Events& events) {
    Combatant* by = find_any(killer);
    if (by != nullptr && are_hostile(*by, who)) {
        ++by->stats.kills;
        add_score(*by, rules_->score.kill, at, events);
    } else if (by != nullptr) {
        add_score(*by, rules_->score.team_kill, at, events);
    }
    for (const Credit& credit : who.vitals.credits) {
        Combatant* helper = find_any(credit.source);
        if (helper == nullptr || helper == by || !are_hostile(*helper, who) ||
            credit.damage < rules_->assist.min_damage || credit.last < at - rules_->assist.within) {
            continue;
        }
        ++helper->stats.assists;
        MatchEvent& event = emit(MatchEventKind::assisted, helper->id, at, events);
        event.by = who.id;
        event.amount = credit.damage;
        add_score(*helper, rules_->score.assist, at, events);
    }
}

void Match::add_score(Combatant& who, std::int32_t points, Time at, Events& events) {
    if (points != 0 && who.role == Role::combatant) {
        who.stats.score += points;
        team_scores_[static_cast<std::size_t>(who.team) % team_scores_.size()] += points;
        emit(MatchEventKind::score_changed, who.id, at, events).count = who.stats.score;
    }
}

void Match::emit_weapon_events(BodyId who, Events& events) {
    for (const WeaponEvent& weapon : weapon_events_) {
        emit(MatchEventKind::weapon, who, weapon.at, events).weapon = weapon;
    }
    weapon_events_.clear();
}

void Match::drop_weapon_of(const World& world, Combatant& who, Time at, Events& events) {
    const std::optional<Pose> pose = world.body_pose(who.id, at);
    weapon_events_.clear();
    const auto dropped = drop_weapon(*arsenal_, who.loadout, who.loadout.in_hand,
                                     pose ? pose->position : Vector3::Zero(), weapon_events_);
    weapon_events_.clear(); // what the dead take in hand next is nothing to see
    if (!dropped) {
        return;
    }
    const bool fits = dropped_.size() < limits_.dropped;
    MatchEvent& event =
        emit(fits ? MatchEventKind::weapon_dropped : MatchEventKind::drop_lost, who.id, at, events);
    event.dropped = *dropped;
    event.count = static_cast<std::int64_t>(dropped_.size());
    if (fits) {
        dropped_.push_back(*dropped);
    }
}

void Match::set_lives(Combatant& who, std::int64_t lives, Time at, Events& events) {
    const std::int64_t allowed = std::clamp<std::int64_t>(lives, rules_->lives.min, rules_->lives.max);
    if (allowed != who.lives) {
        who.lives = static_cast<std::int32_t>(allowed);
        emit(MatchEventKind::lives_changed, who.id, at, events).count = allowed;
    }
    const bool dead = who.vitals.life == LifeState::dead;
    if (dead && who.lives == 0 && !who.out) {
        who.out = true;
        who.respawn_at = Time::max();
        emit(MatchEventKind::out, who.id, at, events);
    } else if (dead && who.lives > 0 && who.out) {
        who.out = false;
        who.respawn_at = at + rules_->respawn.delay;
        push_due_of(who);
    }
}

void Match::respawn(Combatant& who, Time at, Events& events) {
    who.respawn_at = Time::max();
    who.vanish_at = Time::max();
    who.vitals = full_vitals(body_of(who), at);
    if (rules_->respawn.protection > Duration::zero()) {
        protect(who.vitals, at + rules_->respawn.protection);
    }
    const std::uint32_t kick_seed =
        static_cast<std::uint32_t>(who.id) + 0x9e3779b9U * static_cast<std::uint32_t>(who.stats.deaths);
    who.loadout = make_loadout(*arsenal_, std::span{who.kit}.first(who.kit_size), at, kick_seed);
    MatchEvent& event = emit(MatchEventKind::respawned, who.id, at, events);
    event.until = who.vitals.protected_until;
    event.count = who.lives;
}

void Match::clear_alerts(const Combatant& who, Time at, Events& events) {
    for (const Combatant& other : combatants_) {
        const bool before = is_alert(other);
        std::uint64_t& word = noticed_[other.slot * row_words_ + who.slot / 64];
        word &= ~(std::uint64_t{1} << (who.slot % 64));
        if (other.id == who.id) {
            const auto row = noticed_.begin() + static_cast<std::ptrdiff_t>(who.slot * row_words_);
            std::fill(row, row + static_cast<std::ptrdiff_t>(row_words_), 0);
        }
        if (before && !is_alert(other)) {
            emit(MatchEventKind::alert_cleared, other.id, at, events);
        }
    }
}

Match::Sides Match::count_sides() const {
    Sides sides;
    std::int64_t first = -1;
    for (const Combatant& who : combatants_) {
        if (who.role == Role::prop) {
            continue;
        }
        const auto side =
            rules_->teams ? static_cast<std::int64_t>(who.team) : static_cast<std::int64_t>(who.id);
        const std::int64_t score = rules_->teams ? team_score(who.team) : who.stats.score;
        sides.several |= first >= 0 && side != first;
        if (first < 0 || score > sides.best) {
            sides.leader = side;
            sides.best = score;
        } else if (score == sides.best && side != sides.leader) {
            sides.leader = -1;
        }
        first = side;
        if (!who.out) {
            sides.several_left |= sides.left >= 0 && side != sides.left;
            sides.left = side;
        }
    }
    return sides;
}

void Match::check_over(Time at, Events& events) {
    const Sides sides = count_sides();
    const bool won = rules_->score_to_win > 0 && sides.best >= rules_->score_to_win;
    if (!over_ && (won || (rules_->last_one_wins && sides.several && !sides.several_left))) {
        end(at, events);
    }
}

void Match::end(Time at, Events& events) {
    for (const Combatant& who : combatants_) {
        if (is_alert(who)) {
            emit(MatchEventKind::alert_cleared, who.id, at, events);
        }
    }
    std::fill(noticed_.begin(), noticed_.end(), 0);
    const Sides sides = count_sides();
    const bool by_lives = rules_->last_one_wins && sides.several && !sides.several_left && sides.left >= 0;
    emit(MatchEventKind::match_over, nobody, at, events).count = by_lives ? sides.left : sides.leader;
    now_ = at;
    over_ = true;
}

} // namespace avrek
