#include "living.h"
#include <avrek/vitals/conditions.h>

#include <algorithm>
#include <cassert>
#include <utility>

namespace avrek {

namespace {

Time end_of(const ConditionSpec& spec, Time at) {
    return spec.lasts == lasting ? Time::max() : at + spec.lasts;
}

void emit_of(detail::Living& living, ConditionChange change, const ConditionState& condition, Time at,
             ConditionReason why = ConditionReason::none) {
    living.events.emplace_back(ConditionEvent{.at = at,
                                              .source = condition.source,
                                              .condition = condition.spec,
                                              .change = change,
                                              .why = why,
                                              .count = condition.count,
                                              .strength = condition.strength,
                                              .until = condition.until});
}

bool refuse(detail::Living& living, const NewCondition& condition, ConditionReason why, Time at) {
    emit_of(living, ConditionChange::refused,
            {condition.spec, 0, condition.strength, Time{}, Time{}, condition.source}, at, why);
    return false;
}

bool is_prevented(const detail::Living& living, ConditionId condition) {
    for (std::size_t index = 0; index < living.vitals.condition_count; ++index) {
        if (living.spec_of(living.vitals.conditions[index].spec).prevents_set.contains(condition)) {
            return true;
        }
    }
    return false;
}

void cancel(detail::Living& living, const ConditionSet& cancelled, Time at) {
    for (std::size_t index = living.vitals.condition_count; index > 0; --index) {
        if (cancelled.contains(living.vitals.conditions[index - 1].spec)) {
            end_condition(living, index - 1, ConditionReason::cancelled, at);
        }
    }
}

// Applies a tick, or an instant condition, to the health.
void apply_amount(detail::Living& living, const ConditionState& condition, Time at) {
    const ConditionSpec& spec = living.spec_of(condition.spec);
    if (!(spec.amount > 0.0)) {
        return;
    }
    detail::Harm harm{
        .heals = spec.heals, .type = spec.type.spec, .condition = condition.spec, .source = condition.source};
    harm.damage.multiply(DamageStepKind::base, spec.amount);
    harm.damage.multiply_unless_one(DamageStepKind::strength, condition.strength * condition.count);
    if (!spec.heals) {
        harm.damage.multiply_unless_one(DamageStepKind::target,
                                        factors_of(living.conditions, living.vitals).damage_taken);
    }
    suffer(living, harm, at);
}

// One comes that is there already. Returns whether it counts.
bool stack(detail::Living& living, ConditionState& present, const NewCondition& coming, Time at) {
    const ConditionSpec& spec = living.spec_of(coming.spec);
    switch (spec.stacking) {
    case Stacking::ignore:
        return refuse(living, coming, ConditionReason::ignored, at);
    case Stacking::strongest:
        if (coming.strength < present.strength) {
            return refuse(living, coming, ConditionReason::weaker, at);
        }
        [[fallthrough]];
    case Stacking::refresh:
        present.strength = coming.strength;
        present.until = end_of(spec, at);
        break;
    case Stacking::count:
        present.strength = coming.strength;
        present.count = std::min(present.count + 1, static_cast<std::uint32_t>(spec.max_count));
        present.until = end_of(spec, at);
        break;
    case Stacking::extend:
        if (present.until != Time::max()) {
            present.until = std::max(present.until, std::min(present.until + spec.lasts, at + spec.max_time));
        }
        break;
    }
    present.source = coming.source;
    emit_of(living, ConditionChange::stacked, present, at);
    return true;
}

void begin(detail::Living& living, const NewCondition& coming, Time at) {
    const ConditionSpec& spec = living.spec_of(coming.spec);
    ConditionState state{coming.spec, 1, coming.strength, end_of(spec, at), Time::max(), coming.source};
    emit_of(living, ConditionChange::began, state, at);
    grant_points(living, spec.grants_defence, spec.grants_points * coming.strength, at);
    if (is_instant(spec)) {
        apply_amount(living, state, at);
        return;
    }
    const bool ticks = spec.period > Duration::zero() && spec.amount > 0.0;
    if (ticks) {
        state.next_tick = spec.ticks_at_once ? at : at + spec.period;
    }
    const std::size_t index = living.vitals.condition_count;
    living.vitals.conditions[index] = state;
    ++living.vitals.condition_count;
    if (ticks && spec.ticks_at_once) {
        tick_condition(living, index, at);
    }
}

} // namespace

void detail::end_condition(Living& living, std::size_t index, ConditionReason why, Time at) {
    auto& conditions = living.vitals.conditions;
    const ConditionState ended = conditions[index];
    std::copy(conditions.begin() + static_cast<std::ptrdiff_t>(index) + 1,
              conditions.begin() + living.vitals.condition_count,
              conditions.begin() + static_cast<std::ptrdiff_t>(index));
    --living.vitals.condition_count;
    conditions[living.vitals.condition_count] = {};
    emit_of(living, ConditionChange::ended, ended, at, why);
}

void detail::end_conditions_by(Living& living, ConditionEnd end, std::optional<ConditionId> spared, Time at) {
    // The reasons stand in the order of the ends.
    const auto why = static_cast<ConditionReason>(static_cast<std::uint8_t>(ConditionReason::hurt) +
                                                  static_cast<std::uint8_t>(end));
    for (std::size_t index = living.vitals.condition_count; index > 0; --index) {
        const ConditionId spec = living.vitals.conditions[index - 1].spec;
        if (spec != spared && ends_when(living.spec_of(spec), end)) {
            end_condition(living, index - 1, why, at);
        }
    }
}

void detail::tick_condition(Living& living, std::size_t index, Time at) {
    ConditionState& state = living.vitals.conditions[index];
    state.next_tick += living.spec_of(state.spec).period;
    const ConditionState ticking = state; // the tick may end it, or all
    apply_amount(living, ticking, at);
}

bool add_condition(const LivingBody& body, const NewCondition& condition, Time at,
                   std::vector<VitalsEvent>& events) {
    Vitals& vitals = body.vitals;
    assert(at >= vitals.now && condition.strength > 0.0);
    assert(to_index(condition.spec) < body.conditions.size());
    advance(body, at, events);
    if (vitals.life == LifeState::dead) {
        return false;
    }
    detail::Living living{body, events};
    if (body.spec.immune_set.contains(condition.spec)) {
        return refuse(living, condition, ConditionReason::immune, at);
    }
    if (is_prevented(living, condition.spec)) {
        return refuse(living, condition, ConditionReason::prevented, at);
    }
    cancel(living, living.spec_of(condition.spec).cancels_set, at);
    const auto end = vitals.conditions.begin() + vitals.condition_count;
    const auto present = std::find_if(vitals.conditions.begin(), end, [&](const ConditionState& state) {
        return state.spec == condition.spec;
    });
    bool comes = true;
    if (present != end) {
        comes = stack(living, *present, condition, at);
    } else if (vitals.condition_count == Vitals::max_conditions &&
               !is_instant(living.spec_of(condition.spec))) {
        comes = refuse(living, condition, ConditionReason::full, at);
    } else {
        begin(living, condition, at);
    }
    catch_up(living, at);
    return comes;
}

void end_conditions(const LivingBody& body, ConditionEnd end, Time at, std::vector<VitalsEvent>& events) {
    Vitals& vitals = body.vitals;
    advance(body, std::max(at, vitals.now), events);
    detail::Living living{body, events};
    end_conditions_by(living, end, std::nullopt, vitals.now);
    catch_up(living, vitals.now);
}

bool end_condition(const LivingBody& body, ConditionId condition, Time at, std::vector<VitalsEvent>& events) {
    Vitals& vitals = body.vitals;
    advance(body, std::max(at, vitals.now), events);
    const ConditionState* state = find_condition(vitals, condition);
    if (state == nullptr) {
        return false;
    }
    detail::Living living{body, events};
    const auto index =
        static_cast<std::size_t>(std::distance(std::as_const(vitals.conditions).data(), state));
    end_condition(living, index, ConditionReason::none, vitals.now);
    catch_up(living, vitals.now);
    return true;
}

ConditionFactors factors_of(std::span<const ConditionSpec> conditions, const Vitals& vitals) {
    ConditionFactors factors;
    for (std::size_t index = 0; index < vitals.condition_count; ++index) {
        const ConditionState& state = vitals.conditions[index];
        const ConditionSpec& spec = conditions[to_index(state.spec)];
        const double times = state.strength * state.count;
        const auto factor = [times](double full) { return std::max(0.0, 1.0 + (full - 1.0) * times); };
        factors.damage_taken *= factor(spec.damage_taken);
        factors.damage_dealt *= factor(spec.damage_dealt);
        factors.speed *= factor(spec.speed);
        factors.spread *= factor(spec.spread);
        factors.forbids.add(spec.forbids);
    }
    return factors;
}

const ConditionState* find_condition(const Vitals& vitals, ConditionId condition) {
    for (std::size_t index = 0; index < vitals.condition_count; ++index) {
        if (vitals.conditions[index].spec == condition) {
            return &vitals.conditions[index];
        }
    }
    return nullptr;
}

} // namespace avrek
