#include "living.h"
#include <avrek/vitals/guard.h>
#include <avrek/vitals/vitals.h>

#include <algorithm>
#include <cassert>
#include <type_traits>
#include <utility>

namespace avrek {

static_assert(std::is_trivially_copyable_v<Vitals>);

namespace {

// The first condition that ticks, or ends, at `at`; the number of conditions when there is none.
template <class IsDue>
std::size_t first_due(const Vitals& vitals, IsDue is_due) {
    std::size_t index = 0;
    while (index < vitals.condition_count && !is_due(vitals.conditions[index])) {
        ++index;
    }
    return index;
}

Time tick_of(const ConditionState& condition) {
    return condition.next_tick <= condition.until ? condition.next_tick : Time::max();
}

bool restore_layer(detail::Living& living, Time at) {
    Vitals& vitals = living.vitals;
    for (std::size_t index = 0; index < living.spec.defence.size(); ++index) {
        if (full_at(living.spec.defence[index], vitals.defence[index], vitals.last_hurt) == at) {
            vitals.defence[index] = {living.spec.defence[index].max, at};
            living.events.emplace_back(DefenceEvent{.at = at, .layer = index, .restored = true});
            return true;
        }
    }
    return false;
}

// The next return of health: at the end of the delay, then once a period.
Time next_return(const RegenerationSpec& spec, const Vitals& vitals) {
    if (!(spec.points > 0.0) || vitals.health >= vitals.maximum || spec.period <= Duration::zero()) {
        return Time::max();
    }
    const Time first = (vitals.last_hurt == Time::min() ? Time{} : vitals.last_hurt) + spec.delay;
    const Time next =
        vitals.last_return < first ? first : vitals.last_return + spec.period; // min() is before all
    return std::max(next, vitals.now);
}

// Does the one thing that comes first of all that is due at `at`.
void do_due(detail::Living& living, Time at) {
    Vitals& vitals = living.vitals;
    const std::size_t ticks =
        first_due(vitals, [at](const ConditionState& state) { return tick_of(state) == at; });
    if (ticks < vitals.condition_count) {
        tick_condition(living, ticks, at);
        return;
    }
    const std::size_t ends =
        first_due(vitals, [at](const ConditionState& state) { return state.until == at; });
    if (ends < vitals.condition_count) {
        end_condition(living, ends, ConditionReason::none, at);
        return;
    }
    if (vitals.state_until == at) {
        end_state(living, at);
        return;
    }
    if (restore_layer(living, at)) {
        return;
    }
    if (next_return(living.spec.regeneration, vitals) == at) {
        vitals.last_return = at;
        Damage health;
        health.multiply(DamageStepKind::base, living.spec.regeneration.points);
        suffer(living, {.damage = health, .heals = true}, at);
        return;
    }
    if (living.vitals.guard.broken_until == at) {
        vitals.guard.broken_until = Time::min();
        vitals.guard.stamina = living.spec.guard->stamina;
        vitals.guard.stamina_at = at;
        living.events.emplace_back(
            GuardEvent{.at = at, .change = GuardChange::mended, .stamina = vitals.guard.stamina});
        return;
    }
    if (vitals.protected_until == at) {
        end_protection(vitals, at, living.events);
    } // otherwise what was due has come to nothing
}

void find_due(detail::Living& living) {
    Vitals& vitals = living.vitals;
    Time due = Time::max();
    if (vitals.life == LifeState::alive) {
        due = std::min(due, vitals.state_until);
        for (std::size_t index = 0; index < vitals.condition_count; ++index) {
            const ConditionState& condition = vitals.conditions[index];
            due = std::min({due, tick_of(condition), condition.until});
        }
        for (std::size_t index = 0; index < living.spec.defence.size(); ++index) {
            due = std::min(due, full_at(living.spec.defence[index], vitals.defence[index], vitals.last_hurt));
        }
        due = std::min(due, next_return(living.spec.regeneration, vitals));
        due = vitals.guard.broken_until != Time::min() ? std::min(due, vitals.guard.broken_until) : due;
        due = vitals.protected_until != Time{} ? std::min(due, vitals.protected_until) : due;
    }
    vitals.due = due;
}

} // namespace

double Vitals::fraction() const {
    return maximum > 0.0 ? std::clamp(health / maximum, 0.0, 1.0) : 0.0;
}

Vitals full_vitals(const BodySpec& spec, Time at) {
    assert(spec.defence.size() <= max_defence_layers);
    Vitals vitals;
    vitals.now = at;
    vitals.health = spec.health;
    vitals.maximum = spec.health;
    for (std::size_t index = 0; index < spec.defence.size(); ++index) {
        vitals.defence[index] = {spec.defence[index].start, at};
    }
    if (spec.guard) {
        vitals.guard.stamina = spec.guard->stamina;
        vitals.guard.stamina_at = at;
    }
    std::vector<VitalsEvent> none;
    detail::Living living{{{}, spec, vitals}, none};
    find_due(living);
    return vitals;
}

void apply_damage(Vitals& vitals, Damage damage, Time at, std::vector<VitalsEvent>& events) {
    static const BodySpec plain;
    detail::Living living{{{}, plain, vitals}, events};
    suffer(living, {.damage = damage}, at);
}

void detail::lie_dead(Vitals& vitals) {
    vitals.life = LifeState::dead;
    vitals.state = BodyState::ragdoll;
    vitals.state_until = Time::max();
    vitals.reaction = ReactionClass::none;
    vitals.condition_count = 0;
    vitals.conditions = {};
    vitals.guard.wanted = false;
    vitals.guard.up = false;
    vitals.protected_until = Time{};
    vitals.due = Time::max();
}

void detail::emit_body(Living& living, BodyEvent event) {
    event.state = living.vitals.state;
    event.on_back = living.vitals.on_back;
    living.events.emplace_back(event);
}

void detail::end_state(Living& living, Time at) {
    Vitals& vitals = living.vitals;
    const ReactionSpec* reaction = reaction_of(living.spec, vitals.reaction);
    const Duration rise = reaction != nullptr ? reaction->rise : Duration::zero();
    if ((vitals.state == BodyState::down || vitals.state == BodyState::ragdoll) && rise > Duration::zero()) {
        vitals.state = BodyState::rising;
        vitals.state_until = at + rise;
        emit_body(living, {.at = at,
                           .change = BodyChange::rising,
                           .reaction = vitals.reaction,
                           .until = vitals.state_until});
        return;
    }
    vitals.state = BodyState::active;
    vitals.state_until = Time::max();
    vitals.on_back = false;
    emit_body(living, {.at = at,
                       .change = BodyChange::recovered,
                       .reaction = std::exchange(vitals.reaction, ReactionClass::none)});
}

void detail::catch_up(Living& living, Time at) {
    Vitals& vitals = living.vitals;
    if (living.spec.guard) {
        // At one time, hits come before the mend: until then the guard stays down.
        const bool up = vitals.guard.wanted && vitals.guard.broken_until == Time::min() &&
                        !forbidden_acts(living.conditions, living.spec, vitals).contains(Act::guard);
        if (up != vitals.guard.up && vitals.life == LifeState::alive) {
            vitals.guard.up = up;
            living.events.emplace_back(
                GuardEvent{.at = at,
                           .change = up ? GuardChange::raised : GuardChange::lowered,
                           .stamina = stamina_at(*living.spec.guard, vitals.guard, at)});
        }
    }
    find_due(living);
}

void advance(const LivingBody& body, Time until, std::vector<VitalsEvent>& events) {
    Vitals& vitals = body.vitals;
    assert(until >= vitals.now);
    while (vitals.due < until) {
        detail::Living living{body, events};
        vitals.now = std::max(vitals.now, vitals.due);
        do_due(living, vitals.due);
        catch_up(living, vitals.now);
    }
    vitals.now = until;
}

void protect(Vitals& vitals, Time until) {
    vitals.protected_until = until;
    vitals.due = std::min(vitals.due, until);
}

void end_protection(Vitals& vitals, Time at, std::vector<VitalsEvent>& events) {
    if (vitals.protected_until != Time{}) {
        vitals.protected_until = Time{};
        events.emplace_back(ProtectionEndedEvent{.at = at});
    }
}

double defence_points(const BodySpec& spec, const Vitals& vitals, std::size_t layer) {
    return layer < spec.defence.size()
               ? points_at(spec.defence[layer], vitals.defence[layer], vitals.last_hurt, vitals.now)
               : 0.0;
}

ActSet forbidden_acts(std::span<const ConditionSpec> conditions, const BodySpec& spec, const Vitals& vitals) {
    if (vitals.life == LifeState::dead || vitals.state == BodyState::ragdoll) {
        return ActSet::all();
    }
    ActSet forbidden = factors_of(conditions, vitals).forbids;
    if (const ReactionSpec* reaction = reaction_of(spec, vitals.reaction)) {
        forbidden.add(reaction->forbids);
    }
    return forbidden;
}

} // namespace avrek
