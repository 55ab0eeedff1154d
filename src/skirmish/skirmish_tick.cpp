#include "skirmish_impl.h"

#include <algorithm>

/// The steps of a tick.
namespace avrek {

using detail::QueuedAction;
using detail::QueuedKind;

void Skirmish::Impl::advance(std::span<const Intent> intents, std::span<const BodyUpdate> updates,
                             std::span<const GameAction> acts) {
    begin_tick();
    if (!fight.match.is_over()) {
        actions.begin(acts);
        planning.take_intents(intents);
        report_sightings();
        place_respawned();
        bodies.move(updates);
        lag.record_snapshot();
        shots.swing_blades();
        shots.advance_projectiles();
        planning.plan_all();
        resolve_actions();
    }
    end_tick();
}

void Skirmish::Impl::begin_tick() {
    fight.span = tick_span(fight.tick, fight.settings.rate);
    fight.disregarded = 0;
    fight.queue.clear();
    std::vector<Event>& events = fight.events();
    events.erase(events.begin(), events.begin() + static_cast<std::ptrdiff_t>(event_count));
    event_count = 0;
    consequences.begin();
    shots.begin();
}

void Skirmish::Impl::report_sightings() {
    for (const Fighter& fighter : fight.fighters) {
        if (fighter.intent.spotted != nobody) {
            fight.match.notice(fighter.intent.spotted, fighter.id, true, fight.span.begin);
        }
        if (fighter.intent.lost_sight_of != nobody) {
            fight.match.notice(fighter.intent.lost_sight_of, fighter.id, false, fight.span.begin);
        }
    }
}

// Those who have been given a new life get a place.
void Skirmish::Impl::place_respawned() {
    for (std::size_t index = 0; index < fight.fighters.size(); ++index) {
        Fighter& fighter = fight.fighters[index];
        if (fighter.to_place) {
            fighter.to_place = false;
            bodies.place(fighter, false);
            fighter.position_before = fighter.motion.position;
            fighter.look_before = fighter.look;
            fighter.alive_since = fight.span.begin;
            planning.keep_intent(index);
            fight.events().emplace_back(
                SpawnEvent{fight.span.begin, fighter.id, fighter.motion.position, fighter.look.yaw});
        }
    }
}

// Everything in order of time, until the tick is over.
void Skirmish::Impl::resolve_actions() {
    detail::MatchParts& match = fight.parts();
    consequences.apply();
    while (!match.over) {
        if (detail::due(match) < fight.queue.next_at(fight.span.end)) {
            detail::do_next(match); // and perhaps something else is next now
        } else if (fight.queue.empty()) {
            fight.match.advance(fight.span.end);
            consequences.apply();
            break;
        } else {
            do_action(fight.queue.pop());
        }
        consequences.apply();
    }
    if (!match.over) {
        planning.finish();
    }
}

void Skirmish::Impl::do_action(const QueuedAction& action) {
    switch (action.kind) {
    case QueuedKind::flight:
        shots.do_flight(action.index);
        return;
    case QueuedKind::press:
        do_press(action.index, action.at);
        return;
    case QueuedKind::weapon:
        if (const detail::PlannedEvent* planned = planning.come_to(action)) {
            if (planned->event.kind == WeaponEventKind::shot) {
                shots.fire(*planned);
            } else {
                fight.events().emplace_back(HandlingEvent{planned->who, planned->weapon, planned->event});
            }
        }
        return;
    case QueuedKind::swing:
        shots.do_swing(action.index);
        return;
    case QueuedKind::game:
        actions.act(action.index, action.at);
        return;
    }
}

void Skirmish::Impl::do_press(std::size_t index, Time at) {
    const BodyId id = fight.fighters[index].id;
    const Buttons pressed = planning.plan_of(index).pressed;
    if (fight.fighters[index].to_place) {
        return;
    }
    if (pressed.has(Button::guard) || planning.plan_of(index).released.has(Button::guard)) {
        fight.match.hold_guard(id, pressed.has(Button::guard), at);
        consequences.apply();
    }
    if (pressed.has(Button::take) && fight.match.combatants()[index].vitals.life == LifeState::alive) {
        planning.commit_until(index, at);
        constexpr Metres reach = 1.5;
        if (!fight.match.request_pickup(id, at)) {
            fight.match.take_dropped(id, reach, at);
        }
        consequences.apply();
        planning.replan_after(index, at);
    }
}

void Skirmish::Impl::end_tick() {
    std::size_t conditions = most[4];
    for (const Combatant& who : fight.match.combatants()) {
        conditions = std::max<std::size_t>(conditions, who.vitals.condition_count);
    }
    const auto hazards = fight.match.hazards();
    const std::size_t now[] = {fight.fighters.size(),
                               static_cast<std::size_t>(std::count_if(
                                   hazards.begin(), hazards.end(),
                                   [](const HazardState& hazard) { return hazard.spec.has_value(); })),
                               fight.match.pickups().size(), fight.match.dropped().size(), conditions};
    for (std::size_t pool = 0; pool < std::size(now); ++pool) {
        most[pool] = std::max(most[pool], now[pool]);
    }
    ++fight.tick;
    stand_between_ticks();
    event_count = fight.events().size();
}

} // namespace avrek
