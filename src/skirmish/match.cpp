#include "match_parts.h"
#include <avrek/skirmish/match.h>
#include <avrek/vitals/guard.h>

#include <algorithm>
#include <cassert>
#include <type_traits>
#include <utility>

namespace avrek {

static_assert(std::is_trivially_copyable_v<Combatant>);

double PlayerStats::accuracy() const {
    return shots == 0 ? 0.0 : std::min(1.0, static_cast<double>(shots_hit) / shots);
}

Match::Match(const Arsenal& arsenal, const MatchSpec& rules, const MatchLimits& limits)
    : arsenal_(&arsenal), rules_(&rules), limits_(limits), row_words_((limits.combatants + 63) / 64) {
    combatants_.reserve(limits.combatants);
    dues_.reserve(limits.combatants);
    hazards_.reserve(limits.hazards);
    pickups_.reserve(limits.pickups);
    dropped_.reserve(limits.dropped);
    noticed_.resize(limits.combatants * row_words_);
    heap_.reserve(4 * (limits.combatants + limits.hazards + limits.pickups) + 64);
    vitals_events_.reserve(64);
    weapon_events_.reserve(64);
}

const Combatant* Match::find(BodyId id) const {
    const auto found = std::lower_bound(combatants_.begin(), combatants_.end(), id,
                                        [](const Combatant& one, BodyId wanted) { return one.id < wanted; });
    return found != combatants_.end() && found->id == id ? &*found : nullptr;
}

Combatant* Match::edit(BodyId id) {
    quiet_until_ = Time::min(); // whatever is changed, it will be looked at
    return find_any(id);
}

Combatant* Match::find_any(BodyId id) {
    return const_cast<Combatant*>(find(id)); // this is not const
}

const BodySpec& Match::body_of(const Combatant& who) const {
    return (*arsenal_)[who.body];
}

bool Match::are_hostile(const Combatant& one, const Combatant& other) const {
    return one.id != other.id && (!rules_->teams || one.team != other.team);
}

MatchEvent& Match::emit(MatchEventKind kind, BodyId who, Time at, Events& events) const {
    MatchEvent& event = events.emplace_back();
    event.at = at;
    event.kind = kind;
    event.who = who;
    return event;
}

Outcome Match::join(const Joining& joining) {
    assert(joining.weapons.size() <= Loadout::slot_count && joining.id != nobody);
    if (over_) {
        return Outcome::refused("the match is over");
    }
    if (find(joining.id) != nullptr) {
        return Outcome::refused("the id is taken");
    }
    if (combatants_.size() >= limits_.combatants) {
        return Outcome::refused("there is no room: MatchLimits::combatants are in");
    }
    if (static_cast<std::uint32_t>(joining.team) >= team_count) {
        return Outcome::refused("the team is none: allowed are 0 to 31");
    }
    Combatant who;
    const auto taken = [&](std::uint32_t slot) {
        return std::any_of(combatants_.begin(), combatants_.end(),
                           [slot](const Combatant& other) { return other.slot == slot; });
    };
    while (taken(who.slot)) {
        ++who.slot;
    }
    who.id = joining.id;
    who.team = joining.team;
    who.role = joining.role;
    who.body = joining.body;
    who.lives = joining.role == Role::combatant ? rules_->lives.start : -1;
    who.kit_size = joining.weapons.size();
    std::copy(joining.weapons.begin(), joining.weapons.end(), who.kit.begin());
    who.vitals = full_vitals(body_of(who), now_);
    who.loadout = make_loadout(*arsenal_, joining.weapons, now_, static_cast<std::uint32_t>(joining.id));
    combatants_.insert(std::lower_bound(combatants_.begin(), combatants_.end(), joining.id,
                                        [](const Combatant& one, BodyId id) { return one.id < id; }),
                       who);
    refresh_dues();
    return Outcome::done();
}

bool Match::leave(BodyId id, Events& events) {
    Combatant* who = find_any(id);
    if (over_ || who == nullptr) {
        return false;
    }
    forget_touches(id, now_, events);
    clear_alerts(*who, now_, events);
    combatants_.erase(combatants_.begin() + (who - combatants_.data()));
    quiet_until_ = Time::min();
    refresh_dues();
    check_over(now_, events);
    return true;
}

HitResult Match::hit(const World& world, BodyId target, IncomingHit hit, Time at, Events& events) {
    advance_to(world, at, events);
    Combatant* who = find_any(target);
    return over_ || who == nullptr ? HitResult::nothing : hit_now(world, *who, hit, at, events);
}

HitResult Match::hit_now(const World& world, Combatant& target, IncomingHit hit, Time at, Events& events) {
    Combatant* attacker = find_any(hit.source);
    const bool heals = hit.effect != nullptr && hit.effect->heals;
    if (attacker != nullptr && target.vitals.life == LifeState::alive) {
        const bool itself = attacker->id == target.id;
        if (!heals && itself) {
            hit.side *= rules_->self_share;
        } else if (!heals && !are_hostile(*attacker, target)) {
            if (rules_->friendly_fire == FriendlyFire::off) {
                return HitResult::nothing;
            }
            if (rules_->friendly_fire == FriendlyFire::reflected) {
                hit.side *= rules_->team_share;
                hit.region.reset();
                hit.direction = Vector3::Zero();
                hit.push = Vector3::Zero();
                hit.shot = -1;
                change_vitals(world, *attacker, events, [&](Vitals& vitals, auto& felt) {
                    return take_hit({arsenal_->conditions, body_of(*attacker), vitals}, hit, at, felt);
                });
                return HitResult::nothing;
            }
            hit.side *= rules_->friendly_fire == FriendlyFire::reduced ? rules_->team_share : 1.0;
        }
        hit.dealt *= factors_of(arsenal_->conditions, attacker->vitals).damage_dealt;
    }
    const HitResult result = change_vitals(world, target, events, [&](Vitals& vitals, auto& felt) {
        const HitResult met = take_hit({arsenal_->conditions, body_of(target), vitals}, hit, at, felt);
        const bool hurts = std::any_of(felt.begin(), felt.end(), [&](const VitalsEvent& event) {
            return event.kind == VitalsEventKind::damaged && !event.condition && event.source == hit.source;
        });
        if (hurts && hit.shot >= 0 && attacker != nullptr && are_hostile(*attacker, target)) {
            count_hit(attacker->stats, static_cast<std::uint32_t>(hit.shot));
        }
        return met;
    });
    const bool staggers = result == HitResult::guarded_perfectly && hit.melee && attacker != nullptr &&
                          body_of(target).guard->perfect_staggers;
    if (staggers && !over_) {
        IncomingHit back;
        back.source = target.id;
        back.direction = -hit.direction;
        back.off_front = 0.0; // who strikes looks there
        change_vitals(world, *attacker, events, [&](Vitals& vitals, auto& felt) {
            react({arsenal_->conditions, body_of(*attacker), vitals}, ReactionClass::heavy, back, at, felt);
            return 0;
        });
    }
    return result;
}

bool Match::give_condition(const World& world, BodyId target, const NewCondition& condition, Time at,
                           Events& events) {
    advance_to(world, at, events);
    Combatant* who = find_any(target);
    return !over_ && who != nullptr && change_vitals(world, *who, events, [&](Vitals& vitals, auto& felt) {
        return add_condition({arsenal_->conditions, body_of(*who), vitals}, condition, at, felt);
    });
}

bool Match::hold_guard(const World& world, BodyId id, bool held, Time at, Events& events) {
    advance_to(world, at, events);
    Combatant* who = find_any(id);
    if (over_ || who == nullptr) {
        return false;
    }
    change_vitals(world, *who, events, [&](Vitals& vitals, auto& felt) {
        avrek::hold_guard({arsenal_->conditions, body_of(*who), vitals}, held, at, felt);
        return 0;
    });
    return true;
}

bool Match::report_action(const World& world, BodyId id, Act act, std::uint32_t shots, Time at,
                          Events& events) {
    advance_to(world, at, events);
    Combatant* who = find_any(id);
    if (over_ || who == nullptr) {
        return false;
    }
    who->stats.shots += shots;
    if (who->vitals.life == LifeState::dead) {
        return true;
    }
    change_vitals(world, *who, events, [&](Vitals& vitals, auto& felt) {
        if (rules_->respawn.ends_on_fire && (act == Act::fire || act == Act::strike)) {
            end_protection(vitals, at, felt);
        }
        if (act == Act::fire || act == Act::strike) {
            end_conditions({arsenal_->conditions, body_of(*who), vitals},
                           act == Act::fire ? ConditionEnd::fired : ConditionEnd::struck, at, felt);
        }
        return 0;
    });
    return true;
}

bool Match::notice(const World& world, BodyId target, BodyId hostile, bool sees, Time at, Events& events) {
    advance_to(world, at, events);
    const Combatant* who = find_any(target);
    const Combatant* by = find_any(hostile);
    if (over_ || who == nullptr || by == nullptr) {
        return false;
    }
    if (!are_hostile(*who, *by) ||
        (sees && (who->vitals.life == LifeState::dead || by->vitals.life == LifeState::dead))) {
        return true;
    }
    const bool before = is_alert(*who);
    std::uint64_t& word = noticed_[who->slot * row_words_ + by->slot / 64];
    const std::uint64_t bit = std::uint64_t{1} << (by->slot % 64);
    word = sees ? word | bit : word & ~bit;
    if (is_alert(*who) != before) {
        emit(sees ? MatchEventKind::alert_raised : MatchEventKind::alert_cleared, target, at, events).by =
            hostile;
    }
    return true;
}

bool Match::change_lives(const World& world, BodyId id, std::int32_t by, Time at, Events& events) {
    advance_to(world, at, events);
    Combatant* who = find_any(id);
    if (over_ || who == nullptr) {
        return false;
    }
    if (who->lives >= 0) {
        set_lives(*who, std::int64_t{who->lives} + by, at, events);
        check_over(at, events);
    }
    return true;
}

void Match::act(BodyId id, Time until, std::span<const LoadoutIntent> intents,
                std::vector<WeaponEvent>& events) {
    Combatant* who = find_any(id);
    if (over_ || who == nullptr || who->vitals.life == LifeState::dead || until <= who->loadout.now) {
        return;
    }
    advance_gated(*arsenal_, who->loadout, who->stated, planned_gates(id, who->loadout.now, until), until,
                  intents, events);
}

Gates Match::planned_gates(BodyId id, Time from, Time until) {
    Gates gates;
    const Combatant* who = find(id);
    assert(who != nullptr);
    const BodySpec& body = body_of(*who);
    const auto add = [&](const Vitals& vitals, Time at) {
        const ActSet forbidden = forbidden_acts(arsenal_->conditions, body, vitals);
        const double spread = factors_of(arsenal_->conditions, vitals).spread;
        if (gates.count > 0) {
            const Gate& last = gates.gates[gates.count - 1];
            if (gates.count == Gates::max_gates || (last.forbidden == forbidden && last.spread == spread)) {
                return;
            }
        }
        gates.gates[gates.count] = {at, forbidden, spread};
        ++gates.count;
    };
    if (who->vitals.due >= until) {
        add(who->vitals, from);
        return gates;
    }
    Vitals ahead = who->vitals; // to know what will be allowed again
    for (Time at = from; at < until; at = std::max(ahead.due, at + Duration{1})) {
        vitals_events_.clear();
        if (ahead.due <= at) {
            avrek::advance({arsenal_->conditions, body, ahead}, at + Duration{1}, vitals_events_);
        }
        add(ahead, at);
    }
    vitals_events_.clear();
    return gates;
}

ConditionFactors Match::factors(BodyId id) const {
    const Combatant* who = find(id);
    return who != nullptr ? factors_of(arsenal_->conditions, who->vitals) : ConditionFactors{};
}

bool Match::can_act(BodyId id, Act act) const {
    const Combatant* who = find(id);
    return !over_ && who != nullptr &&
           !forbidden_acts(arsenal_->conditions, body_of(*who), who->vitals).contains(act);
}

bool Match::stops_shots(BodyId id) const {
    const Combatant* who = find(id);
    return who != nullptr && who->vitals.state != BodyState::gone &&
           (who->vitals.life == LifeState::alive || rules_->corpses_stop_shots);
}

std::int32_t Match::team_score(TeamId team) const {
    const auto number = static_cast<std::size_t>(team);
    return number < team_scores_.size() ? team_scores_[number] : 0;
}

bool Match::is_alert(BodyId id) const {
    const Combatant* who = find(id);
    return who != nullptr && is_alert(*who);
}

bool Match::is_alert(const Combatant& who) const {
    const auto row = noticed_.begin() + static_cast<std::ptrdiff_t>(who.slot * row_words_);
    return std::any_of(row, row + static_cast<std::ptrdiff_t>(row_words_),
                       [](std::uint64_t word) { return word != 0; });
}

Combatant& Match::combatant_at(std::size_t index) {
    return combatants_[index];
}

void Match::save(StateWriter& to) const {
    to.value(now_);
    to.value(looked_until_);
    to.value(std::uint64_t{over_});
    to.clean_list(combatants_);
    to.clean_list(hazards_);
    to.clean_list(pickups_);
    to.clean_list(dropped_);
    to.values(std::span<const std::uint64_t>{noticed_});
    to.values(std::span<const std::int32_t>{team_scores_});
}

bool Match::restore(StateReader& from) {
    std::uint64_t over = 0;
    from.value(now_);
    from.value(looked_until_);
    from.value(over);
    from.list(combatants_, limits_.combatants);
    from.list(hazards_, limits_.hazards);
    from.list(pickups_, limits_.pickups);
    from.list(dropped_, limits_.dropped);
    from.values(std::span<std::uint64_t>{noticed_});
    from.values(std::span<std::int32_t>{team_scores_});
    over_ = over != 0;
    quiet_until_ = Time::min();
    return from.is_sound();
}

} // namespace avrek
