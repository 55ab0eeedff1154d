#include "feet_world.h"
#include <avrek/skirmish/skirmish.h>

#include <algorithm>
#include <cmath>
#include <tuple>
#include <utility>

/// Planning of weapons within a tick, and the order of all events.
///
/// Weapons are moved to the tick's end on a copy, which gives their events as actions; `loadout` itself is
/// moved on as these come to pass. When something comes between, what is left of the plan is dropped and made
/// anew from there.
namespace avrek {

bool Skirmish::RunsAfter::operator()(const Action& one, const Action& other) const {
    return std::tie(one.at, one.who, one.kind, one.index) >
           std::tie(other.at, other.who, other.kind, other.index);
}

void Skirmish::push(const Action& action) {
    actions_.push_back(action);
    std::push_heap(actions_.begin(), actions_.end(), RunsAfter{});
}

void Skirmish::emit(EventKind kind, Time at, std::size_t index) {
    events_.order.push_back({at, kind, static_cast<std::uint32_t>(index)});
}

// While a fighter's hands are busy with the blow under way; an empty span without one.
Span Skirmish::swing_span_of(const Fighter& fighter) const {
    if (!fighter.melee || fighter.swing.attack < 0) {
        return {};
    }
    const MeleeSpec& melee = (*arsenal_)[*fighter.melee];
    const auto attack = static_cast<std::size_t>(fighter.swing.attack);
    return {fighter.swing.started, fighter.swing.started + length_of(melee.attacks[attack])};
}

// The buttons that a weapon and a loadout know.
void Skirmish::state_buttons(Buttons held, LoadoutIntent& intent) {
    intent.weapon.trigger = held.has(Button::trigger);
    intent.weapon.reload = held.has(Button::reload);
    intent.weapon.aim = held.has(Button::aim);
    intent.weapon.next_mode = held.has(Button::next_mode);
    intent.weapon.crouching = held.has(Button::crouch);
    intent.next = held.has(Button::next_weapon);
    intent.last = held.has(Button::last_weapon);
}

// The statements of a combatant about its weapons in this tick: how it moves at the begin, what it holds
// from its press on, and that its hands are free again when its blade is.
void Skirmish::state_intents(std::size_t index) {
    const Fighter& fighter = fighters_[index];
    WeaponPlan& hands = weapon_plans_[index];
    const Intent& intent = fighter.intent;
    const Vector3 over_ground{fighter.velocity.x(), 0.0, fighter.velocity.z()};
    const auto strikes = [&hands](Time at) {
        return std::any_of(hands.blows.begin(), hands.blows.end(),
                           [at](const Span& blow) { return blow.begin <= at && at < blow.end; });
    };
    LoadoutIntent said = match_.combatants()[index].stated;
    const auto say = [&](Time at) {
        said.weapon.at = at;
        said.weapon.strike = strikes(at);
        said.weapon.speed = std::sqrt(over_ground.squaredNorm());
        said.weapon.airborne = fighter.airborne;
        hands.intents[hands.intent_count] = said;
        ++hands.intent_count;
    };
    const Time press = span_.begin + Duration{intent.press_offset};
    // The hands are free again when a blow is over, before the press or after it.
    const auto say_ends = [&](Time after, Time before) {
        for (const Span& blow : hands.blows) {
            if (blow.end > after && blow.end < before && blow.begin < blow.end) {
                say(blow.end);
            }
        }
    };
    if (press > span_.begin) {
        say(span_.begin);
        say_ends(span_.begin, press);
    }
    const auto has = [&](Button button) { return intent.buttons.has(button); };
    state_buttons(intent.buttons, said);
    said.weapon.sprint = has(Button::sprint) && !has(Button::crouch) && over_ground.squaredNorm() > 1e-4;
    said.slot = intent.slot;
    say(press);
    say_ends(press, span_.end);
}

void Skirmish::plan_weapons() {
    for (std::size_t index = 0; index < fighters_.size(); ++index) {
        if (match_.combatants()[index].role == Role::prop) {
            continue;
        }
        state_intents(index);
        const WeaponPlan& hands = weapon_plans_[index];
        const bool presses = hands.pressed.has(Button::guard) || hands.released.has(Button::guard) ||
                             hands.pressed.has(Button::take);
        if (presses) {
            push({span_.begin + Duration{fighters_[index].intent.press_offset}, fighters_[index].id,
                  ActionKind::press, static_cast<std::uint32_t>(index), 0});
        }
        plan(index, span_.begin);
    }
}

// Lets a copy of the loadout run to the end of the tick, and makes actions of its events.
void Skirmish::plan(std::size_t index, Time from) {
    const Combatant& who = match_.combatants()[index];
    WeaponPlan& hands = weapon_plans_[index];
    hands.plan_from = from;
    if (who.vitals.life == LifeState::dead || fighters_[index].to_place || who.loadout.now >= span_.end) {
        hands.gates.count = 0;
        return;
    }
    hands.gates = match_.planned_gates(who.id, who.loadout.now, span_.end);
    hands.ahead = who.loadout;
    hands.ahead_stated = who.stated;
    weapon_events_.clear();
    const auto intents = std::span{hands.intents}.first(hands.intent_count);
    const auto past = std::partition_point(intents.begin(), intents.end(), [&](const LoadoutIntent& intent) {
        return intent.weapon.at < from && intent.weapon.at < who.loadout.now;
    });
    advance_gated(*arsenal_, hands.ahead, hands.ahead_stated, hands.gates, span_.end,
                  intents.subspan(static_cast<std::size_t>(past - intents.begin())), weapon_events_);
    for (const WeaponEvent& event : weapon_events_) {
        const bool armed = event.slot >= 0 && event.slot < Loadout::slot_count;
        planned_events_.push_back(
            {who.id, armed ? hands.ahead.slots[static_cast<std::size_t>(event.slot)].weapon : std::nullopt,
             event});
        push({event.at, who.id, ActionKind::weapon, static_cast<std::uint32_t>(planned_events_.size() - 1),
              hands.version});
    }
}

// Moves the loadout itself to just after `at`, as planned; its events are actions already.
void Skirmish::commit_until(std::size_t index, Time at) {
    Combatant& who = match_.combatant_at(index);
    const WeaponPlan& hands = weapon_plans_[index];
    if (who.vitals.life == LifeState::dead || who.loadout.now > at || hands.gates.count == 0 ||
        at < hands.plan_from) {
        return;
    }
    weapon_events_.clear();
    const auto intents = std::span{hands.intents}.first(hands.intent_count);
    const auto begin = std::partition_point(intents.begin(), intents.end(), [&](const LoadoutIntent& intent) {
        return intent.weapon.at < who.loadout.now;
    });
    const auto end = std::partition_point(
        begin, intents.end(), [&](const LoadoutIntent& intent) { return intent.weapon.at <= at; });
    advance_gated(*arsenal_, who.loadout, who.stated, hands.gates, at + Duration{1}, {begin, end},
                  weapon_events_);
}

// Something has come between: what was planned after `at` will not be.
void Skirmish::replan_after(std::size_t index, Time at) {
    if (match_.combatants()[index].role == Role::prop) {
        return;
    }
    commit_until(index, at);
    ++weapon_plans_[index].version;
    plan(index, std::max(at + Duration{1}, span_.begin));
}

// Takes in what the match has told: who may do what, who is pushed, who is back.
void Skirmish::apply_match_events() {
    for (; absorbed_ < events_.match.size(); ++absorbed_) {
        const MatchEvent event = events_.match[absorbed_];
        emit(EventKind::match, event.at, absorbed_);
        const std::size_t index = event.who == nobody ? fighters_.size() : index_of(event.who);
        if (index == fighters_.size()) {
            continue;
        }
        Fighter& fighter = fighters_[index];
        if (event.kind == MatchEventKind::respawned) {
            begin_life(index);
            continue;
        }
        if (event.kind != MatchEventKind::vitals) {
            continue;
        }
        switch (event.vitals.kind) {
        case VitalsEventKind::pushed:
            apply_push(index, event.vitals.push);
            break;
        case VitalsEventKind::died:
            if (fighter.in_scene && !match_.stops_shots(fighter.id)) {
                leave_scene(index); // at once: what comes later in the tick passes
            }
            [[fallthrough]];
        case VitalsEventKind::reacted:
            cancel_swing(fighter, event.at);
            apply_push(index, event.vitals.push);
            [[fallthrough]];
        case VitalsEventKind::condition_began:
        case VitalsEventKind::condition_stacked:
        case VitalsEventKind::condition_ended:
            replan_after(index, event.at);
            break;
        default:
            break;
        }
    }
}

// A new life begins at its spawn, in the next tick: until then it does nothing, and nothing meets it.
void Skirmish::begin_life(std::size_t index) {
    fighters_[index].to_place = true;
    if (fighters_[index].in_scene) {
        leave_scene(index);
    }
    ++weapon_plans_[index].version;
    weapon_plans_[index].gates.count = 0;
}

void Skirmish::apply_push(std::size_t index, const Vector3& push) {
    if (match_.combatants()[index].role == Role::combatant) {
        fighters_[index].velocity += push;
        fighters_[index].airborne |= push.y() > 0.5;
    }
}

// Everything in order of time, until the tick is over.
void Skirmish::resolve_actions() {
    apply_match_events();
    while (!match_.is_over()) {
        const Time next = actions_.empty() ? span_.end : actions_.front().at;
        if (const Time due = match_.due(); due < next) {
            match_.do_next(feet(), events_.match);
            apply_match_events(); // and perhaps something else is next now
            continue;
        }
        if (actions_.empty()) {
            match_.advance(feet(), span_.end, events_.match);
            apply_match_events();
            break;
        }
        const Action action = actions_.front();
        std::pop_heap(actions_.begin(), actions_.end(), RunsAfter{});
        actions_.pop_back();
        do_action(action);
        apply_match_events();
    }
    // Plans that held are what has happened.
    for (std::size_t index = 0; index < fighters_.size() && !match_.is_over(); ++index) {
        Combatant& who = match_.combatant_at(index);
        const WeaponPlan& hands = weapon_plans_[index];
        if (hands.gates.count > 0 && who.vitals.life == LifeState::alive && hands.ahead.now == span_.end &&
            who.loadout.now < span_.end) {
            who.loadout = hands.ahead;
            who.stated = hands.ahead_stated;
        }
    }
}

void Skirmish::do_action(const Action& action) {
    switch (action.kind) {
    case ActionKind::flight:
        do_flight(action.index);
        return;
    case ActionKind::press:
        do_press(action.index, action.at);
        return;
    case ActionKind::weapon: {
        const std::size_t index = index_of(action.who);
        const WeaponPlan& hands = weapon_plans_[index];
        if (action.version == hands.version || action.at < hands.plan_from) {
            commit_until(index, action.at);
            do_weapon(index, PlannedEvent{planned_events_[action.index]}); // more may be told meanwhile
        }
        return;
    }
    case ActionKind::swing:
        do_swing(index_of(action.who), swung_[action.index].event);
        return;
    }
}

void Skirmish::do_press(std::size_t index, Time at) {
    const BodyId id = fighters_[index].id;
    const WeaponPlan& hands = weapon_plans_[index];
    if (fighters_[index].to_place) {
        return;
    }
    if (hands.pressed.has(Button::guard) || hands.released.has(Button::guard)) {
        match_.hold_guard(feet(), id, hands.pressed.has(Button::guard), at, events_.match);
        apply_match_events();
    }
    if (hands.pressed.has(Button::take) && match_.combatants()[index].vitals.life == LifeState::alive) {
        commit_until(index, at);
        constexpr Metres reach = 1.5;
        if (!match_.request_pickup(feet(), id, at, events_.match)) {
            match_.take_dropped(feet(), id, reach, at, events_.match);
        }
        apply_match_events();
        replan_after(index, at);
    }
}

void Skirmish::do_weapon(std::size_t index, const PlannedEvent& told) {
    if (told.event.kind == WeaponEventKind::shot) {
        fire(index, told);
        return;
    }
    events_.weapons.push_back({told.who, told.weapon, told.event});
    emit(EventKind::weapon, told.event.at, events_.weapons.size() - 1);
}

// A blow that is under way ends when its wielder may not strike any more.
void Skirmish::cancel_swing(Fighter& fighter, Time at) {
    if (fighter.swing.attack < 0 || fighter.swing.started > at || match_.can_act(fighter.id, Act::strike)) {
        return;
    }
    MeleeEvent event;
    event.kind = MeleeEventKind::cancelled;
    event.at = at;
    event.attack = static_cast<std::size_t>(fighter.swing.attack);
    event.swing = fighter.swing.swings - 1;
    fighter.swing_ended = fighter.swing.swings;
    fighter.swing.attack = -1;
    events_.swings.push_back({fighter.id, event});
    emit(EventKind::swing, at, events_.swings.size() - 1);
}

void Skirmish::do_swing(std::size_t index, const MeleeEvent& event) {
    Fighter& fighter = fighters_[index];
    const bool over = fighter.swing_ended > event.swing; // it was cancelled
    if (over && event.kind != MeleeEventKind::started) {
        return;
    }
    MeleeEvent happened = event;
    if (event.kind != MeleeEventKind::refused && !match_.can_act(fighter.id, Act::strike)) {
        happened.kind = MeleeEventKind::cancelled;
        happened.hit = {};
        fighter.swing_ended = event.swing + 1;
        fighter.swing.attack = -1;
    }
    events_.swings.push_back({fighter.id, happened});
    const std::size_t told = events_.swings.size() - 1;
    emit(EventKind::swing, event.at, told);
    if (happened.kind == MeleeEventKind::started) {
        match_.report_action(feet(), fighter.id, Act::strike, 0, event.at, events_.match);
        return;
    }
    if (happened.kind == MeleeEventKind::struck && event.hit.body) {
        const MeleeSpec& melee = (*arsenal_)[*fighter.melee];
        const MeleeAttackSpec& attack = melee.attacks[event.attack];
        const RigSpec* rig = rig_of(*event.hit.body);
        if (rig == nullptr) {
            return;
        }
        IncomingHit hit;
        hit.damage = strike_damage(melee, attack, region_of(*rig, *event.hit.region).name);
        hit.effect = &attack.effect;
        hit.source = fighter.id;
        hit.push = event.push;
        const double speed = std::sqrt(event.push.squaredNorm());
        hit.direction =
            speed > 1e-9 ? Vector3(event.push / speed) : direction_of({look_at(fighter, event.at).yaw, 0.0});
        hit.melee = true;
        const Vector3 from = aim_of(fighter, look_at(fighter, event.at), position_at(fighter, event.at),
                                    fighter.intent.buttons.has(Button::crouch), false)
                                 .grip;
        events_.swings[told].verdict =
            apply_hit(*event.hit.body, {event.hit, event.at, event.at - view_delay_of(fighter), from}, hit)
                .verdict;
    }
}

} // namespace avrek
