#include "consequences.h"

namespace avrek::detail {

void Consequences::apply() {
    for (; applied_ < fight_.events().size(); ++applied_) {
        const BodyId who = who_of(fight_.events()[applied_]);
        const std::size_t index = who == nobody ? fight_.fighters.size() : fight_.index_of(who);
        if (index < fight_.fighters.size()) {
            apply(fight_.events()[applied_], index);
        }
    }
}

// More events may be added meanwhile, so the parts of this one are passed on by value.
void Consequences::apply(const Event& event, std::size_t index) {
    std::visit(EventHandlers{[&](const RespawnEvent&) { begin_life(index); },
                             [&](const PushEvent& pushed) { push(index, pushed.push); },
                             [&](const DeathEvent& death) {
                                 const Fighter& fighter = fight_.fighters[index];
                                 if (fighter.in_scene && !fight_.match.stops_shots(fighter.id)) {
                                     fight_.leave_scene(index); // what comes later in the tick passes
                                 }
                                 interrupt(index, death.at, death.push);
                             },
                             [&](const BodyEvent& body) {
                                 if (body.change == BodyChange::reacted) {
                                     interrupt(index, body.at, body.push);
                                 }
                             },
                             [&](const ConditionEvent& condition) {
                                 if (condition.change != ConditionChange::refused) {
                                     planning_.replan_after(index, condition.at);
                                 }
                             },
                             [](const auto&) {}},
               event);
}

// A new life begins at its spawn, in the next tick: until then it does nothing, and nothing meets it.
void Consequences::begin_life(std::size_t index) {
    fight_.fighters[index].to_place = true;
    if (fight_.fighters[index].in_scene) {
        fight_.leave_scene(index);
    }
    planning_.drop(index);
}

void Consequences::push(std::size_t index, const Vector3& push) {
    if (fight_.match.combatants()[index].role == Role::combatant) {
        fight_.fighters[index].motion.velocity += push;
        fight_.fighters[index].motion.airborne |= push.y() > 0.5;
    }
}

void Consequences::interrupt(std::size_t index, Time at, Vector3 push_of_it) {
    cancel_swing(fight_.fighters[index], at);
    push(index, push_of_it);
    planning_.replan_after(index, at);
}

// A blow that is under way ends when its wielder may not strike any more.
void Consequences::cancel_swing(Fighter& fighter, Time at) {
    if (fighter.swing.attack < 0 || fighter.swing.started > at ||
        fight_.match.can_act(fighter.id, Act::strike)) {
        return;
    }
    MeleeEvent event;
    event.kind = MeleeEventKind::cancelled;
    event.at = at;
    event.attack = static_cast<std::size_t>(fighter.swing.attack);
    event.swing = fighter.swing.swings - 1;
    fighter.swing_ended = fighter.swing.swings;
    fighter.swing.attack = -1;
    fight_.events().emplace_back(SwingEvent{fighter.id, event});
}

} // namespace avrek::detail
