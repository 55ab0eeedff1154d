#include "match_parts.h"

#include <algorithm>
#include <cassert>
#include <tuple>

namespace avrek {

bool Match::DueRunsAfter::operator()(const Due& one, const Due& other) const {
    return std::tie(one.at, one.kind, one.key) > std::tie(other.at, other.kind, other.key);
}

Time Match::due_of(const Combatant& who) {
    return std::min({who.vitals.due, who.respawn_at, who.vanish_at});
}

Time Match::due_of(const HazardState& hazard) {
    return !hazard.spec ? Time::max() : std::min(hazard.due, hazard.ends);
}

void Match::push_due(const Due& due) {
    quiet_until_ = std::min(quiet_until_, due.at);
    if (due.at < doing_until_) {
        heap_.push_back(due);
        std::push_heap(heap_.begin(), heap_.end(), DueRunsAfter{});
    }
}

void Match::push_due_of(const Combatant& who) {
    dues_[static_cast<std::size_t>(&who - combatants_.data())] = due_of(who);
    const Time due = due_of(who);
    const bool comes_back = due == who.respawn_at && due < std::min(who.vitals.due, who.vanish_at);
    push_due({due, comes_back ? DueKind::respawn : DueKind::combatant, static_cast<std::uint32_t>(who.id)});
}

bool Match::has_touches() const {
    return std::any_of(hazards_.begin(), hazards_.end(),
                       [](const HazardState& hazard) { return hazard.spec.has_value(); }) ||
           std::any_of(pickups_.begin(), pickups_.end(),
                       [&](const PickupState& pickup) { return !(*arsenal_)[pickup.spec].on_request; });
}

Time Match::next_touch() const {
    const Duration::rep since = looked_until_.time_since_epoch().count();
    const Duration::rep step = touch_step.count();
    return Time{Duration{(since + step - 1) / step * step}};
}

// After something else than time has changed the combatants.
void Match::refresh_dues() {
    dues_.resize(combatants_.size());
    for (std::size_t index = 0; index < combatants_.size(); ++index) {
        dues_[index] = due_of(combatants_[index]);
    }
}

Time Match::due() {
    if (quiet_until_ == Time::min()) {
        refresh_dues();
        quiet_until_ = next_due();
    }
    return quiet_until_;
}

Time Match::next_due() const {
    Time next = limit();
    for (const Time due : dues_) {
        next = std::min(next, due);
    }
    for (const HazardState& hazard : hazards_) {
        next = std::min(next, due_of(hazard));
    }
    for (const PickupState& pickup : pickups_) {
        next = std::min(next, pickup.back_at);
    }
    return has_touches() ? std::min(next, next_touch()) : next;
}

void Match::advance_to(const World& world, Time at, Events& events) {
    if (at <= quiet_until_ && !over_) {
        now_ = std::max(now_, at);
    } else {
        advance(world, at, events);
    }
}

// Does everything that is due before `until`, in order.
void Match::run(const World& world, Time until, Events& events) {
    doing_until_ = until;
    heap_.clear();
    if (quiet_until_ == Time::min()) {
        refresh_dues();
    }
    for (std::size_t index = 0; index < dues_.size(); ++index) {
        if (dues_[index] < until) {
            push_due_of(combatants_[index]);
        }
    }
    for (std::size_t index = 0; index < hazards_.size(); ++index) {
        push_due({due_of(hazards_[index]), DueKind::hazard, static_cast<std::uint32_t>(index)});
    }
    for (std::size_t index = 0; index < pickups_.size(); ++index) {
        push_due({pickups_[index].back_at, DueKind::pickup, static_cast<std::uint32_t>(index)});
    }
    if (has_touches()) {
        push_due({next_touch(), DueKind::touches, 0});
    }
    while (!heap_.empty() && !over_) {
        std::pop_heap(heap_.begin(), heap_.end(), DueRunsAfter{});
        const Due due = heap_.back();
        heap_.pop_back();
        now_ = std::max(now_, due.at);
        do_due(world, due, events);
    }
    doing_until_ = Time::min();
}

Time Match::limit() const {
    return rules_->time_limit == Duration::max() ? Time::max() : Time{} + rules_->time_limit;
}

void Match::do_next(const World& world, Events& events) {
    const Time at = due();
    if (over_ || at == Time::max()) {
        return;
    }
    if (at >= limit()) {
        end(limit(), events);
        return;
    }
    run(world, at + Duration{1}, events);
    now_ = over_ ? now_ : std::max(now_, at);
    quiet_until_ = next_due();
}

void Match::advance(const World& world, Time until, Events& events) {
    assert(over_ || until >= now_);
    if (over_ || until <= now_) {
        return;
    }
    const Time last = std::min(until, limit());
    if (last > now_) {
        run(world, last, events);
    }
    if (!over_) {
        now_ = last;
        looked_until_ = std::max(looked_until_, now_);
        for (Combatant& who : combatants_) {
            who.vitals.now = std::max(who.vitals.now, now_); // nothing was due before
        }
    }
    if (!over_ && limit() < until) {
        end(limit(), events);
    }
    quiet_until_ = next_due();
}

// An entry is stale if something else came first; it is left out.
void Match::do_due(const World& world, const Due& due, Events& events) {
    const auto index = static_cast<std::size_t>(due.key);
    if (due.kind == DueKind::touches) {
        looked_until_ = due.at + Duration{1};
        check_touches(world, due.at, events);
        push_due({next_touch(), DueKind::touches, 0});
        return;
    }
    if (due.kind == DueKind::hazard) {
        if (due_of(hazards_[index]) == due.at) {
            do_hazard(world, index, due.at, events);
            push_due({due_of(hazards_[index]), DueKind::hazard, due.key});
        }
        return;
    }
    if (due.kind == DueKind::pickup) {
        PickupState& pickup = pickups_[index];
        if (pickup.back_at == due.at) {
            pickup.there = true;
            pickup.back_at = Time::max();
            emit(MatchEventKind::pickup_back, nobody, due.at, events).index =
                static_cast<std::int32_t>(index);
        }
        return;
    }
    Combatant* who = find_any(static_cast<BodyId>(due.key));
    if (who == nullptr || due_of(*who) != due.at) {
        return;
    }
    if (who->vitals.due == due.at) {
        change_vitals(world, *who, events, [&](Vitals& vitals, auto& felt) {
            avrek::advance({arsenal_->conditions, body_of(*who), vitals}, due.at + Duration{1}, felt);
            vitals.now = due.at; // more may come at this moment
            return 0;
        });
    } else if (who->vanish_at == due.at) {
        who->vanish_at = Time::max();
        who->vitals.state = BodyState::gone;
        VitalsEvent& gone = emit(MatchEventKind::vitals, who->id, due.at, events).vitals;
        gone.at = due.at;
        gone.kind = VitalsEventKind::vanished;
        gone.state = BodyState::gone;
        push_due_of(*who);
    } else {
        respawn(*who, due.at, events);
        push_due_of(*who);
    }
}

} // namespace avrek
