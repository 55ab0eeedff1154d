#include "match_parts.h"
#include <avrek/core/state_hash.h>

#include <algorithm>
#include <cassert>
#include <tuple>

namespace avrek {

bool Match::DueLater::operator()(const Due& one, const Due& other) const {
    return std::tie(one.at, one.kind, one.key) > std::tie(other.at, other.kind, other.key);
}

Time Match::due_of(const Combatant& who) {
    return std::min({who.vitals.due, who.respawn_at, who.vanish_at});
}

Time Match::due_of(const HazardState& hazard) {
    return hazard.spec < 0 ? Time::max() : std::min(hazard.due, hazard.ends);
}

void Match::push_due(const Due& due) {
    if (due.at < doing_until_) {
        heap_.push_back(due);
        std::push_heap(heap_.begin(), heap_.end(), DueLater{});
    }
}

void Match::push_due_of(const Combatant& who) {
    push_due({due_of(who), DueKind::combatant, static_cast<std::uint32_t>(who.id)});
}

bool Match::has_touches() const {
    return std::any_of(hazards_.begin(), hazards_.end(),
                       [](const HazardState& hazard) { return hazard.spec >= 0; }) ||
           std::any_of(pickups_.begin(), pickups_.end(), [&](const PickupState& pickup) {
               return !arsenal_->pickups[static_cast<std::size_t>(pickup.spec)].on_request;
           });
}

Time Match::next_touch() const {
    const Duration::rep since = looked_until_.time_since_epoch().count();
    const Duration::rep step = touch_step.count();
    return Time{Duration{(since + step - 1) / step * step}};
}

void Match::advance(const World& world, Time until, Events& events) {
    assert(over_ || until >= now_);
    if (over_ || until <= now_) {
        return;
    }
    const Time limit = rules_->time_limit == Duration::max() ? Time::max() : Time{} + rules_->time_limit;
    doing_until_ = std::min(until, limit);
    heap_.clear();
    for (const Combatant& who : combatants_) {
        push_due_of(who);
    }
    for (std::size_t place = 0; place < hazards_.size(); ++place) {
        push_due({due_of(hazards_[place]), DueKind::hazard, static_cast<std::uint32_t>(place)});
    }
    for (std::size_t place = 0; place < pickups_.size(); ++place) {
        push_due({pickups_[place].back_at, DueKind::pickup, static_cast<std::uint32_t>(place)});
    }
    if (has_touches()) {
        push_due({next_touch(), DueKind::touches, 0});
    }
    while (!heap_.empty() && !over_) {
        std::pop_heap(heap_.begin(), heap_.end(), DueLater{});
        const Due due = heap_.back();
        heap_.pop_back();
        now_ = std::max(now_, due.at);
        do_due(world, due, events);
    }
    if (!over_) {
        now_ = doing_until_;
        looked_until_ = std::max(looked_until_, now_);
        for (Combatant& who : combatants_) {
            who.vitals.now = std::max(who.vitals.now, now_); // nothing was due before
        }
    }
    doing_until_ = Time::min();
    if (!over_ && limit < until) {
        end(limit, events);
    }
}

// What is stale, because something else came first, is not due any more then, and is left out.
void Match::do_due(const World& world, const Due& due, Events& events) {
    const auto place = static_cast<std::size_t>(due.key);
    if (due.kind == DueKind::touches) {
        looked_until_ = due.at + Duration{1};
        look_at_touches(world, due.at, events);
        push_due({next_touch(), DueKind::touches, 0});
        return;
    }
    if (due.kind == DueKind::hazard) {
        if (due_of(hazards_[place]) == due.at) {
            do_hazard(world, place, due.at, events);
            push_due({due_of(hazards_[place]), DueKind::hazard, due.key});
        }
        return;
    }
    if (due.kind == DueKind::pickup) {
        PickupState& pickup = pickups_[place];
        if (pickup.back_at == due.at) {
            pickup.there = true;
            pickup.back_at = Time::max();
            tell(MatchEventKind::pickup_back, nobody, due.at, events).place =
                static_cast<std::int32_t>(place);
        }
        return;
    }
    Combatant* who = find(static_cast<BodyId>(due.key));
    if (who == nullptr || due_of(*who) != due.at) {
        return;
    }
    if (who->vitals.due == due.at) {
        change_vitals(world, *who, events, [&](Vitals& vitals, auto& felt) {
            avrek::advance(arsenal_->conditions, body_of(*who), vitals, due.at + Duration{1}, felt);
            vitals.now = due.at; // more may come at this moment
            return 0;
        });
    } else if (who->vanish_at == due.at) {
        who->vanish_at = Time::max();
        who->vitals.state = BodyState::gone;
        VitalsEvent& gone = tell(MatchEventKind::vitals, who->id, due.at, events).vitals;
        gone.at = due.at;
        gone.kind = VitalsEventKind::vanished;
        gone.state = BodyState::gone;
        push_due_of(*who);
    } else {
        respawn(*who, due.at, events);
        push_due_of(*who);
    }
}

namespace {

void add(StateHash& hash, const Vitals& vitals) {
    hash.add(vitals.now);
    hash.add(vitals.health);
    hash.add(vitals.maximum);
    hash.add(static_cast<std::uint64_t>(vitals.life) | static_cast<std::uint64_t>(vitals.state) << 8U |
             static_cast<std::uint64_t>(vitals.reaction) << 16U | std::uint64_t{vitals.on_back} << 24U |
             std::uint64_t{vitals.guard.up} << 25U | std::uint64_t{vitals.guard.wanted} << 26U);
    for (const Time at : {vitals.state_until, vitals.protected_until, vitals.last_hurt,
                          vitals.guard.stamina_at, vitals.guard.perfect_until, vitals.guard.broken_until}) {
        hash.add(at);
    }
    hash.add(vitals.guard.stamina);
    for (const LayerState& layer : vitals.layers) {
        hash.add(layer.points);
        hash.add(layer.at);
    }
    for (const ReactionCount& reactions : vitals.reactions) {
        hash.add(std::uint64_t{reactions.count});
        hash.add(reactions.until);
    }
    for (std::size_t place = 0; place < vitals.condition_count; ++place) {
        const ConditionState& condition = vitals.conditions[place];
        hash.add(static_cast<std::uint64_t>(condition.spec) << 32U | condition.count);
        hash.add(condition.strength);
        hash.add(condition.until);
        hash.add(condition.next_tick);
        hash.add(static_cast<std::uint64_t>(condition.source));
    }
    for (const Credit& credit : vitals.credits) {
        hash.add(static_cast<std::uint64_t>(credit.source));
        hash.add(credit.damage);
        hash.add(credit.last);
    }
}

void add(StateHash& hash, const WeaponState& state) {
    hash.add(state.now);
    hash.add(state.next_shot);
    hash.add(state.activity_end);
    hash.add(static_cast<std::uint64_t>(state.rounds) << 32U | state.shots);
    hash.add(static_cast<std::uint64_t>(state.activity) << 32U | state.cadence_shots);
}

void add(StateHash& hash, const Combatant& who) {
    hash.add(static_cast<std::uint64_t>(who.id) << 32U | static_cast<std::uint64_t>(who.team));
    hash.add(static_cast<std::uint64_t>(static_cast<std::uint32_t>(who.lives)) << 1U |
             std::uint64_t{who.out});
    hash.add(who.respawn_at);
    hash.add(who.vanish_at);
    add(hash, who.vitals);
    for (const LoadoutSlot& slot : who.loadout.slots) {
        hash.add(static_cast<std::uint64_t>(static_cast<std::uint32_t>(slot.weapon)));
        if (slot.weapon >= 0) {
            add(hash, slot.state);
        }
    }
    for (const AmmoReserve& reserve : who.loadout.ammo) {
        hash.add(static_cast<std::uint64_t>(reserve.rounds));
    }
    for (const std::int32_t count : {who.tally.score, who.tally.kills, who.tally.deaths, who.tally.assists}) {
        hash.add(static_cast<std::uint64_t>(static_cast<std::uint32_t>(count)));
    }
    hash.add(std::uint64_t{who.tally.shots} << 32U | who.tally.shots_hit);
    hash.add(who.tally.damage_dealt);
    hash.add(who.tally.damage_taken);
}

} // namespace

std::uint64_t Match::state_hash() const {
    StateHash hash;
    hash.add(now_);
    hash.add(std::uint64_t{over_});
    for (const Combatant& who : combatants_) {
        add(hash, who);
    }
    for (const HazardState& hazard : hazards_) {
        hash.add(static_cast<std::uint64_t>(static_cast<std::uint32_t>(hazard.spec)) << 32U |
                 hazard.touched_count);
        hash.add(hazard.due);
        hash.add(hazard.ends);
        hash.add(hazard.pose.position);
        for (std::size_t touch = 0; touch < hazard.touched_count; ++touch) {
            hash.add(static_cast<std::uint64_t>(hazard.touched[touch].body) << 1U |
                     std::uint64_t{hazard.touched[touch].inside});
            hash.add(hazard.touched[touch].next);
        }
    }
    for (const PickupState& pickup : pickups_) {
        hash.add(std::uint64_t{pickup.there});
        hash.add(pickup.back_at);
    }
    for (const DroppedWeapon& dropped : dropped_) {
        hash.add(static_cast<std::uint64_t>(dropped.weapon));
        hash.add(dropped.position);
    }
    for (const std::uint64_t noticed : noticed_) {
        hash.add(noticed);
    }
    return hash.value();
}

} // namespace avrek
