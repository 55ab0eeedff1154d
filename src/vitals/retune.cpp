#include "../core/shares.h"
#include "living.h"
#include <avrek/vitals/guard.h>
#include <avrek/vitals/retune.h>

#include <algorithm>
#include <cassert>
#include <string_view>
#include <utility>

namespace avrek {

namespace {

using detail::end_with_share;
using detail::part_of;
using detail::share_of;

// The class of `is` whose reaction has the name that a class has in `was`; none if there is no such.
ReactionClass same_reaction(const BodySpec& was, const BodySpec& is, ReactionClass reaction) {
    const auto number = static_cast<std::size_t>(reaction);
    if (number <= static_cast<std::size_t>(ReactionClass::heavy)) {
        return reaction;
    }
    const ReactionSpec* before = reaction_of(was, reaction);
    for (std::size_t own = 0; before != nullptr && own < max_own_reactions; ++own) {
        const auto candidate = static_cast<ReactionClass>(first_own_reaction + own);
        const ReactionSpec* now = reaction_of(is, candidate);
        if (now != nullptr && now->name == before->name) {
            return candidate;
        }
    }
    return ReactionClass::none;
}

bool same_points(const DefenceLayerSpec& one, const DefenceLayerSpec& other) {
    return one.max == other.max && one.refill == other.refill && one.decay == other.decay &&
           one.delay == other.delay;
}

/// One call of retune(): each function takes one part of the vitals over.
struct Retuning {
    const LivingSpecs& was;
    const LivingSpecs& is;
    detail::Living living; ///< by the new values
    RetunedHealth rule;
    Time now = living.vitals.now;
    bool changed = false;
    double lost = 0.0;

    template <class Value>
    void set(Value& to, const std::type_identity_t<Value>& value) {
        changed |= to != value;
        to = value;
    }

    // Points by the rule. Notes those that are lost.
    double points_by_rule(double points, double before, double maximum) {
        if (before == maximum) {
            return points;
        }
        const double scaled = points == before ? maximum : points * (maximum / before);
        const double kept = std::min(rule == RetunedHealth::share && before > 0.0 ? scaled : points, maximum);
        lost += std::max(0.0, points - kept);
        return kept;
    }

    void take_health() {
        Vitals& vitals = living.vitals;
        if (was.body.health != is.body.health) {
            set(vitals.health, points_by_rule(vitals.health, vitals.maximum, is.body.health));
            set(vitals.maximum, is.body.health);
        }
        const RegenerationSpec& before = was.body.regeneration;
        const RegenerationSpec& after = is.body.regeneration;
        const Time hurt = vitals.last_hurt == Time::min() ? Time{} : vitals.last_hurt;
        if (before.period != after.period && vitals.last_return >= hurt + before.delay) {
            const Time next =
                end_with_share(vitals.last_return + before.period, now, before.period, after.period);
            set(vitals.last_return, std::max(next - after.period, hurt + after.delay));
        }
    }

    void take_defence() {
        Vitals& vitals = living.vitals;
        std::array<DefenceLayerState, max_defence_layers> layers{};
        const std::vector<DefenceLayerSpec>& before = was.body.defence;
        for (std::size_t index = 0; index < is.body.defence.size(); ++index) {
            const DefenceLayerSpec& spec = is.body.defence[index];
            const auto same =
                std::find_if(before.begin(), before.end(),
                             [&spec](const DefenceLayerSpec& layer) { return layer.name == spec.name; });
            if (same == before.end()) {
                layers[index] = {spec.start, now};
                continue;
            }
            const DefenceLayerState& state = vitals.defence[static_cast<std::size_t>(same - before.begin())];
            const double points = points_at(*same, state, vitals.last_hurt, now);
            layers[index] = same_points(*same, spec)
                                ? state
                                : DefenceLayerState{points_by_rule(points, same->max, spec.max), now};
        }
        for (std::size_t index = 0; index < before.size(); ++index) {
            if (std::none_of(
                    is.body.defence.begin(), is.body.defence.end(),
                    [&](const DefenceLayerSpec& layer) { return layer.name == before[index].name; })) {
                lost += points_at(before[index], vitals.defence[index], vitals.last_hurt, now);
            }
        }
        for (std::size_t index = 0; index < layers.size(); ++index) {
            set(vitals.defence[index].points, layers[index].points);
            set(vitals.defence[index].at, layers[index].at);
        }
    }

    void take_guard() {
        GuardState& guard = living.vitals.guard;
        if (!is.body.guard || !was.body.guard) {
            if (was.body.guard && guard.up) {
                living.events.emplace_back(GuardEvent{.at = now, .change = GuardChange::lowered});
            }
            const bool gets_one = is.body.guard.has_value();
            changed |= gets_one != was.body.guard.has_value();
            guard = gets_one || was.body.guard ? GuardState{} : guard;
            guard.stamina = gets_one ? is.body.guard->stamina : 0.0;
            guard.stamina_at = gets_one ? now : guard.stamina_at;
            return;
        }
        const GuardSpec& before = *was.body.guard;
        const GuardSpec& after = *is.body.guard;
        if (guard.perfect_until > now) {
            set(guard.perfect_until, end_with_share(guard.perfect_until, now, before.perfect, after.perfect));
        }
        if (guard.broken_until != Time::min() && guard.broken_until > now) {
            set(guard.broken_until, end_with_share(guard.broken_until, now, before.broken, after.broken));
        }
        if (before.stamina != after.stamina || before.refill != after.refill || before.delay != after.delay) {
            const double stamina = stamina_at(before, guard, now);
            const Time refills = std::max(guard.stamina_at + before.delay, now);
            set(guard.stamina,
                before.stamina > 0.0 ? after.stamina * (stamina / before.stamina) : after.stamina);
            set(guard.stamina_at,
                now + part_of(after.delay, share_of(refills - now, before.delay)) - after.delay);
        }
    }

    // A reaction that is gone, or lasts no time, ends at once.
    void take_reaction() {
        Vitals& vitals = living.vitals;
        std::array<ReactionCount, reaction_count> counts{};
        for (std::size_t index = 0; index < counts.size(); ++index) {
            const auto reaction = static_cast<ReactionClass>(index + 1);
            const ReactionSpec* before = reaction_of(was.body, reaction);
            const ReactionClass same = same_reaction(was.body, is.body, reaction);
            const ReactionSpec* after = reaction_of(is.body, same);
            if (before == nullptr || after == nullptr) {
                continue;
            }
            ReactionCount& count = counts[static_cast<std::size_t>(same) - 1];
            count = vitals.reactions[index];
            count.until = end_with_share(count.until, now, before->window, after->window);
        }
        for (std::size_t index = 0; index < counts.size(); ++index) {
            set(vitals.reactions[index].count, counts[index].count);
            set(vitals.reactions[index].until, counts[index].until);
        }
        if (vitals.reaction == ReactionClass::none || vitals.life == LifeState::dead) {
            return;
        }
        const ReactionSpec* before = reaction_of(was.body, vitals.reaction);
        const ReactionClass same = same_reaction(was.body, is.body, vitals.reaction);
        const ReactionSpec* after = reaction_of(is.body, same);
        const bool rises = vitals.state == BodyState::rising;
        const bool falls_by_game = vitals.state == BodyState::ragdoll;
        const Duration length = after == nullptr ? Duration{} : rises ? after->rise : after->lasts;
        if (length <= Duration::zero() && !falls_by_game) {
            changed = true;
            vitals.state = BodyState::active;
            vitals.state_until = Time::max();
            vitals.on_back = false;
            emit_body(living, {.at = now,
                               .change = BodyChange::recovered,
                               .reaction = std::exchange(vitals.reaction, ReactionClass::none)});
            return;
        }
        set(vitals.reaction, after != nullptr ? same : ReactionClass::heavy);
        if (!falls_by_game && before != nullptr) {
            set(vitals.state, rises || before->shows == after->shows ? vitals.state : after->shows);
            set(vitals.state_until,
                end_with_share(vitals.state_until, now, rises ? before->rise : before->lasts, length));
        }
    }

    void take_conditions() {
        Vitals& vitals = living.vitals;
        for (std::size_t index = vitals.condition_count; index > 0; --index) {
            ConditionState& state = vitals.conditions[index - 1];
            const ConditionSpec& before = was.conditions[to_index(state.spec)];
            const ConditionSpec& after = is.conditions[to_index(state.spec)];
            if (is_instant(after) || is.body.immune_set.contains(state.spec)) {
                changed = true;
                end_condition(living, index - 1, ConditionReason::new_values, now);
                continue;
            }
            const bool counts = after.stacking == Stacking::count;
            const auto most = counts ? static_cast<std::uint32_t>(after.max_count) : 1U;
            set(state.count, std::min(state.count, most));
            set(state.until, end_with_share(state.until, now, before.lasts, after.lasts));
            if (after.stacking == Stacking::extend && state.until != Time::max() &&
                before.lasts != after.lasts) {
                set(state.until, std::min(state.until, now + std::max(after.max_time, after.lasts)));
            }
            const bool ticked = before.period > Duration::zero() && before.amount > 0.0;
            const bool ticks = after.period > Duration::zero() && after.amount > 0.0;
            if (!ticks || !ticked) {
                set(state.next_tick, !ticks ? Time::max() : now + after.period);
            } else {
                set(state.next_tick, end_with_share(state.next_tick, now, before.period, after.period));
            }
        }
    }
};

} // namespace

void retune(const LivingSpecs& was, const LivingSpecs& is, Vitals& vitals, RetunedHealth rule,
            std::vector<VitalsEvent>& events) {
    assert(was.conditions.size() <= is.conditions.size());
    Retuning retuning{was, is, {{is.conditions, is.body, vitals}, events}, rule};
    retuning.take_health();
    retuning.take_defence();
    retuning.take_guard();
    retuning.take_reaction();
    retuning.take_conditions();
    const std::size_t before = events.size();
    const Time due = vitals.due;
    if (vitals.life == LifeState::alive) {
        catch_up(retuning.living, vitals.now);
    }
    if (retuning.changed || events.size() > before || vitals.due != due) {
        events.emplace_back(RetunedEvent{.at = vitals.now,
                                         .health_left = vitals.health,
                                         .maximum = vitals.maximum,
                                         .lost = retuning.lost});
    }
}

} // namespace avrek
