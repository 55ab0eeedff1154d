#include "match_parts.h"

#include <algorithm>
#include <cassert>
#include <tuple>

namespace avrek::detail {

namespace {

bool runs_after(const Due& one, const Due& other) {
    return std::tie(one.at, one.kind, one.key) > std::tie(other.at, other.kind, other.key);
}

Time next_touch(const MatchParts& match) {
    const Duration::rep since = match.looked_until.time_since_epoch().count();
    const Duration::rep step = touch_step.count();
    return Time{Duration{(since + step - 1) / step * step}};
}

Time limit(const MatchParts& match) {
    return match.rules->time_limit == Duration::max() ? Time::max() : Time{} + match.rules->time_limit;
}

Time next_due(const MatchParts& match) {
    Time next = limit(match);
    for (const Time due : match.schedule.dues) {
        next = std::min(next, due);
    }
    for (const HazardState& hazard : match.hazards) {
        next = std::min(next, due_of(hazard));
    }
    for (const PickupState& pickup : match.pickups) {
        next = std::min(next, pickup.back_at);
    }
    return has_touches(match) ? std::min(next, next_touch(match)) : next;
}

void vanish(MatchParts& match, Combatant& who, Time at) {
    who.vanish_at = Time::max();
    who.vitals.state = BodyState::gone;
    match.events.emplace_back(
        BodyEvent{.at = at, .who = who.id, .change = BodyChange::vanished, .state = BodyState::gone});
}

// An entry is stale if something else came first; it is left out.
void do_due(MatchParts& match, const Due& due) {
    const auto index = static_cast<std::size_t>(due.key);
    if (due.kind == DueKind::touches) {
        match.looked_until = due.at + Duration{1};
        check_touches(match, due.at);
        match.schedule.push({next_touch(match), DueKind::touches, 0});
        return;
    }
    if (due.kind == DueKind::hazard) {
        if (due_of(match.hazards[index]) == due.at) {
            do_hazard(match, index, due.at);
            match.schedule.push({due_of(match.hazards[index]), DueKind::hazard, due.key});
        }
        return;
    }
    if (due.kind == DueKind::pickup) {
        PickupState& pickup = match.pickups[index];
        if (pickup.back_at == due.at) {
            pickup.there = true;
            pickup.back_at = Time::max();
            match.events.emplace_back(
                PickupEvent{.at = due.at, .change = PickupChange::back, .index = index});
        }
        return;
    }
    Combatant* who = match.find(static_cast<BodyId>(due.key));
    if (who == nullptr || due_of(*who) != due.at) {
        return;
    }
    if (who->vitals.due == due.at) {
        change_vitals(match, *who, [&](const LivingBody& body, auto& felt) {
            avrek::advance(body, due.at + Duration{1}, felt);
            body.vitals.now = due.at; // more may come at this moment
            return 0;
        });
    } else if (who->vanish_at == due.at) {
        vanish(match, *who, due.at);
        push_due_of(match, *who);
    } else {
        respawn(match, *who, due.at);
        push_due_of(match, *who);
    }
}

// Does everything that is due before `until`, in order.
void run(MatchParts& match, Time until) {
    match.schedule.doing_until = until;
    match.schedule.heap.clear();
    if (match.schedule.quiet_until == Time::min()) {
        refresh_dues(match);
    }
    for (std::size_t index = 0; index < match.schedule.dues.size(); ++index) {
        if (match.schedule.dues[index] < until) {
            push_due_of(match, match.combatants[index]);
        }
    }
    for (std::size_t index = 0; index < match.hazards.size(); ++index) {
        match.schedule.push(
            {due_of(match.hazards[index]), DueKind::hazard, static_cast<std::uint32_t>(index)});
    }
    for (std::size_t index = 0; index < match.pickups.size(); ++index) {
        match.schedule.push(
            {match.pickups[index].back_at, DueKind::pickup, static_cast<std::uint32_t>(index)});
    }
    if (has_touches(match)) {
        match.schedule.push({next_touch(match), DueKind::touches, 0});
    }
    while (!match.schedule.heap.empty() && !match.over) {
        std::pop_heap(match.schedule.heap.begin(), match.schedule.heap.end(), runs_after);
        const Due due = match.schedule.heap.back();
        match.schedule.heap.pop_back();
        match.now = std::max(match.now, due.at);
        do_due(match, due);
    }
    match.schedule.doing_until = Time::min();
}

} // namespace

Time due_of(const Combatant& who) {
    return std::min({who.vitals.due, who.respawn_at, who.vanish_at});
}

Time due_of(const HazardState& hazard) {
    return !hazard.spec ? Time::max() : std::min(hazard.due, hazard.ends);
}

void Schedule::push(const Due& due) {
    quiet_until = std::min(quiet_until, due.at);
    if (due.at < doing_until) {
        heap.push_back(due);
        std::push_heap(heap.begin(), heap.end(), runs_after);
    }
}

void push_due_of(MatchParts& match, const Combatant& who) {
    const auto place = place_by_id(match.combatants, who.id);
    match.schedule.dues[static_cast<std::size_t>(std::distance(match.combatants.begin(), place))] =
        due_of(who);
    const Time due = due_of(who);
    const bool comes_back = due == who.respawn_at && due < std::min(who.vitals.due, who.vanish_at);
    match.schedule.push(
        {due, comes_back ? DueKind::respawn : DueKind::combatant, static_cast<std::uint32_t>(who.id)});
}

// After something else than time has changed the combatants.
void refresh_dues(MatchParts& match) {
    match.schedule.dues.resize(match.combatants.size());
    for (std::size_t index = 0; index < match.combatants.size(); ++index) {
        match.schedule.dues[index] = due_of(match.combatants[index]);
    }
}

Time due(MatchParts& match) {
    if (match.schedule.quiet_until == Time::min()) {
        refresh_dues(match);
        match.schedule.quiet_until = next_due(match);
    }
    return match.schedule.quiet_until;
}

void advance_to(MatchParts& match, Time at) {
    if (at <= match.schedule.quiet_until && !match.over) {
        match.now = std::max(match.now, at);
    } else {
        advance(match, at);
    }
}

void do_next(MatchParts& match) {
    const Time at = due(match);
    if (match.over || at == Time::max()) {
        return;
    }
    if (at >= limit(match)) {
        end_match(match, limit(match));
        return;
    }
    run(match, at + Duration{1});
    match.now = match.over ? match.now : std::max(match.now, at);
    match.schedule.quiet_until = next_due(match);
}

void advance(MatchParts& match, Time until) {
    assert(match.over || until >= match.now);
    if (match.over || until <= match.now) {
        return;
    }
    const Time last = std::min(until, limit(match));
    if (last > match.now) {
        run(match, last);
    }
    if (!match.over) {
        match.now = last;
        match.looked_until = std::max(match.looked_until, match.now);
        for (Combatant& who : match.combatants) {
            who.vitals.now = std::max(who.vitals.now, match.now); // nothing was due before
        }
    }
    if (!match.over && limit(match) < until) {
        end_match(match, limit(match));
    }
    match.schedule.quiet_until = next_due(match);
}

} // namespace avrek::detail
