#include "living.h"
#include <avrek/vitals/guard.h>
#include <avrek/vitals/hits.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

bool has_room(const Damage& damage) {
    return damage.step_count < Damage::max_steps;
}

std::optional<DamageTypeId> type_of(const IncomingHit& hit) {
    return hit.effect != nullptr ? hit.effect->type.spec : std::nullopt;
}

// Takes damage through the layers: each absorbs its share, as long as it has points.
double absorb(detail::Living& living, Damage& damage, std::optional<DamageTypeId> type,
              std::array<bool, max_defence_layers>& broken, Time at) {
    Vitals& vitals = living.vitals;
    double absorbed = 0.0;
    for (std::size_t index = 0; index < living.spec.defence.size(); ++index) {
        const DefenceLayerSpec& layer = living.spec.defence[index];
        double& points = vitals.defence[index].points;
        const auto passes = [type](const SpecRef<DamageTypeId>& name) { return type && name.spec == type; };
        const double amount = damage.amount();
        const double share = amount * layer.share;
        if (!(points > 0.0) || !(share > 0.0) ||
            std::any_of(layer.passes.begin(), layer.passes.end(), passes)) {
            continue;
        }
        const bool breaks = share * layer.wear >= points;
        const double taken = breaks ? points / layer.wear : share;
        const double left = layer.carries_over ? amount - taken : amount - share;
        damage.multiply(DamageStepKind::defence, std::max(0.0, left / amount),
                        static_cast<std::uint8_t>(index));
        absorbed += taken;
        points = breaks ? 0.0 : points - taken * layer.wear;
        broken[index] = breaks;
        vitals.defence[index].at = at;
    }
    return absorbed;
}

// Brings the layers up to date, before something happens to them.
void rebase_layers(detail::Living& living, Time at) {
    for (std::size_t index = 0; index < living.spec.defence.size(); ++index) {
        DefenceLayerState& state = living.vitals.defence[index];
        state.points = points_at(living.spec.defence[index], state, living.vitals.last_hurt, at);
        state.at = at;
    }
}

void heal(detail::Living& living, detail::Harm harm, Time at) {
    Vitals& vitals = living.vitals;
    const double offered = harm.damage.amount();
    const double room = vitals.maximum - vitals.health;
    const double given = std::min(offered, room);
    double absorbed = 0.0;
    rebase_layers(living, at);
    for (std::size_t index = 0; index < living.spec.defence.size(); ++index) {
        const DefenceLayerSpec& layer = living.spec.defence[index];
        DefenceLayerState& state = vitals.defence[index];
        if (layer.takes_healing) {
            const double more = std::clamp(offered - given - absorbed, 0.0, layer.max - state.points);
            state.points += more;
            absorbed += more;
        }
    }
    if (given < offered) {
        harm.damage.multiply(DamageStepKind::clamp, given / offered);
    }
    vitals.health = given == room ? vitals.maximum : std::min(vitals.maximum, vitals.health + given);
    if (given > 0.0 || absorbed > 0.0) {
        living.events.emplace_back(HealEvent{.at = at,
                                             .source = harm.source,
                                             .healing = harm.damage,
                                             .absorbed = absorbed,
                                             .health_left = vitals.health,
                                             .type = harm.type,
                                             .condition = harm.condition});
        end_conditions_by(living, ConditionEnd::healed, harm.condition, at);
    }
}

// Outcome of a guard.
enum class GuardOutcome { not_at_all, in_part, whole, perfectly };

GuardOutcome meet_with_guard(detail::Living& living, const IncomingHit& hit, Damage& damage, bool& breaks,
                             Time at) {
    GuardState& guard = living.vitals.guard;
    const bool guardable = hit.effect == nullptr || hit.effect->guardable;
    if (!guard.up || !guardable || hit.direction.isZero(0.0)) {
        return GuardOutcome::not_at_all;
    }
    const GuardSpec& spec = *living.spec.guard;
    if (hit.off_front > 0.5 * spec.arc) {
        return GuardOutcome::not_at_all;
    }
    if (at < guard.perfect_until) {
        damage.multiply(DamageStepKind::guard, 0.0);
        return GuardOutcome::perfectly;
    }
    double share = guard_share(spec, hit.off_front, type_of(hit));
    const double stopped = damage.amount() * (1.0 - share);
    if (spec.stamina > 0.0) {
        const double has = stamina_at(spec, guard, at);
        const double needs = std::max(0.0, stopped * spec.cost);
        if (needs > has) {
            share = 1.0 - has / spec.cost / damage.amount();
            breaks = true;
        }
        guard.stamina = breaks ? 0.0 : has - needs;
        guard.stamina_at = at;
    }
    damage.multiply(DamageStepKind::guard, std::max(0.0, share));
    return share <= 0.0 && !breaks ? GuardOutcome::whole : GuardOutcome::in_part;
}

void emit_stopped(detail::Living& living, HitStop by, const IncomingHit& hit, const Damage& damage, Time at) {
    const std::optional<GuardSpec>& guard = living.spec.guard;
    living.events.emplace_back(
        StoppedHitEvent{.at = at,
                        .source = hit.source,
                        .by = by,
                        .damage = damage,
                        .stamina = guard ? stamina_at(*guard, living.vitals.guard, at) : 0.0,
                        .type = type_of(hit),
                        .region = hit.region});
}

void break_guard(detail::Living& living, const IncomingHit& hit, Time at) {
    living.vitals.guard.broken_until = at + living.spec.guard->broken;
    living.events.emplace_back(GuardEvent{.at = at,
                                          .source = hit.source,
                                          .change = GuardChange::broken,
                                          .until = living.vitals.guard.broken_until});
    catch_up(living, at);
}

void leave_condition(detail::Living& living, const IncomingHit& hit, Time at) {
    const auto condition = hit.effect != nullptr ? hit.effect->condition.spec : std::nullopt;
    if (condition && to_index(*condition) < living.conditions.size()) {
        add_condition(living, {*condition, hit.effect->strength, hit.source}, at, living.events);
    }
}

HitResult take(detail::Living& living, const IncomingHit& hit, Time at) {
    detail::Harm harm{.damage = hit.damage, .source = hit.source, .region = hit.region, .push = hit.push};
    harm.heals = hit.effect != nullptr && hit.effect->heals;
    harm.type = type_of(hit);
    if (harm.damage.step_count == 0) {
        harm.damage.multiply(DamageStepKind::base, 0.0);
    }
    harm.damage.multiply_unless_one(DamageStepKind::side, hit.side);
    if (harm.heals) {
        suffer(living, harm, at);
        leave_condition(living, hit, at);
        return HitResult::taken;
    }
    harm.damage.multiply_unless_one(DamageStepKind::attacker, hit.dealt);
    harm.damage.multiply_unless_one(DamageStepKind::target,
                                    factors_of(living.conditions, living.vitals).damage_taken);
    if (at >= living.vitals.protected_until) {
        end_protection(living.vitals, at, living.events); // it is due, and comes first
    } else {
        emit_stopped(living, HitStop::protection, hit, harm.damage, at);
        return HitResult::protected_hit;
    }
    bool breaks = false;
    const GuardOutcome met = meet_with_guard(living, hit, harm.damage, breaks, at);
    if (met == GuardOutcome::whole || met == GuardOutcome::perfectly) {
        const bool perfect = met == GuardOutcome::perfectly;
        emit_stopped(living, perfect ? HitStop::perfect_guard : HitStop::guard, hit, harm.damage, at);
        end_conditions_by(living, ConditionEnd::guarded, std::nullopt, at);
        return perfect ? HitResult::guarded_perfectly : HitResult::guarded;
    }
    if (breaks) {
        break_guard(living, hit, at);
    }
    suffer(living, harm, at);
    leave_condition(living, hit, at);
    if (living.vitals.life == LifeState::alive && !hit.push.isZero(0.0)) {
        living.events.emplace_back(
            PushEvent{.at = at, .source = hit.source, .region = hit.region, .push = hit.push});
    }
    const ReactionClass reaction =
        hit.effect != nullptr ? hit.effect->reaction.spec.value_or(ReactionClass::none) : ReactionClass::none;
    react(living, breaks ? ReactionClass::heavy : reaction, hit, at, living.events);
    return HitResult::taken;
}

} // namespace

void detail::suffer(Living& living, const Harm& coming, Time at) {
    Vitals& vitals = living.vitals;
    detail::Harm harm = coming;
    if (vitals.life == LifeState::dead) {
        return;
    }
    harm.damage.multiply_unless_one(DamageStepKind::resistance, factor_of(living.spec.resists, harm.type));
    if (!(harm.damage.amount() > 0.0)) {
        if (harm.damage.step_count > 0 && harm.damage.steps[0].factor > 0.0) { // some factor is 0
            living.events.emplace_back(StoppedHitEvent{.at = at,
                                                       .source = harm.source,
                                                       .by = HitStop::resistance,
                                                       .damage = harm.damage,
                                                       .type = harm.type,
                                                       .condition = harm.condition,
                                                       .region = harm.region});
        }
        return;
    }
    if (harm.heals) {
        heal(living, harm, at);
        return;
    }
    rebase_layers(living, at);
    std::array<bool, max_defence_layers> broken{};
    const double absorbed = absorb(living, harm.damage, harm.type, broken, at);
    const double wanted = harm.damage.amount();
    const bool lethal = vitals.health - wanted < vitals.maximum * 1e-9;
    if (lethal && wanted != vitals.health && has_room(harm.damage)) {
        harm.damage.multiply(DamageStepKind::clamp, vitals.health / wanted);
    }
    vitals.health = lethal ? 0.0 : vitals.health - wanted;
    vitals.last_hurt = at;
    add_credit(vitals.credits, harm.source, harm.damage.amount() + absorbed, at);
    living.events.emplace_back(DamageEvent{.at = at,
                                           .source = harm.source,
                                           .damage = harm.damage,
                                           .absorbed = absorbed,
                                           .overkill = std::max(0.0, wanted - harm.damage.amount()),
                                           .health_left = vitals.health,
                                           .type = harm.type,
                                           .condition = harm.condition,
                                           .region = harm.region,
                                           .push = harm.push});
    for (std::size_t index = 0; index < living.spec.defence.size(); ++index) {
        if (broken[index]) {
            living.events.emplace_back(DefenceEvent{.at = at, .layer = index});
        }
    }
    if (lethal) {
        detail::lie_dead(vitals);
        living.events.emplace_back(DeathEvent{.at = at,
                                              .source = harm.source,
                                              .type = harm.type,
                                              .condition = harm.condition,
                                              .region = harm.region,
                                              .push = harm.push});
    } else {
        end_conditions_by(living, ConditionEnd::hurt, harm.condition, at);
    }
}

void detail::grant_points(Living& living, std::string_view layer, double points, Time at) {
    for (std::size_t index = 0; index < living.spec.defence.size(); ++index) {
        if (living.spec.defence[index].name == layer && points > 0.0) {
            rebase_layers(living, at);
            double& present = living.vitals.defence[index].points;
            present = std::min(living.spec.defence[index].max, present + points);
        }
    }
}

HitResult take_hit(const LivingBody& body, const IncomingHit& hit, Time at,
                   std::vector<VitalsEvent>& events) {
    Vitals& vitals = body.vitals;
    assert(at >= vitals.now && hit.side >= 0.0 && hit.dealt >= 0.0);
    advance(body, at, events);
    if (vitals.life == LifeState::dead) {
        return HitResult::nothing;
    }
    detail::Living living{body, events};
    const HitResult result = take(living, hit, at);
    if (vitals.life == LifeState::dead) {
        vitals.on_back = hit.off_front < 0.5 * pi && !hit.direction.isZero(0.0);
        for (std::size_t last = events.size(); last > 0; --last) {
            if (auto* death = std::get_if<DeathEvent>(&events[last - 1])) {
                death->on_back = vitals.on_back;
                break;
            }
        }
    }
    catch_up(living, at);
    return result;
}

void react(const LivingBody& body, ReactionClass reaction, const IncomingHit& hit, Time at,
           std::vector<VitalsEvent>& events) {
    Vitals& vitals = body.vitals;
    advance(body, std::max(at, vitals.now), events);
    const ReactionSpec* found = reaction_of(body.spec, reaction);
    if (found == nullptr || vitals.life == LifeState::dead || found->lasts <= Duration::zero() ||
        reaction_weight(body.spec, reaction) < reaction_weight(body.spec, vitals.reaction)) {
        return;
    }
    if (vitals.state == BodyState::ragdoll && reaction != ReactionClass::heavy) {
        return; // it lies already
    }
    const ReactionSpec& spec = *found;
    ReactionCount& before = vitals.reactions[static_cast<std::size_t>(reaction) - 1];
    if (at >= before.until) {
        before.count = 0;
    }
    const double share = value_at(spec.repeats, before.count);
    ++before.count;
    before.until = at + spec.window;
    const Time until = at + from_seconds(to_seconds(spec.lasts) * share);
    const bool same = reaction == vitals.reaction;
    if (until <= at || (same && (until <= vitals.state_until || vitals.state == BodyState::rising))) {
        return;
    }
    detail::Living living{body, events};
    vitals.reaction = reaction;
    vitals.state = spec.shows;
    vitals.state_until = until;
    vitals.on_back = spec.shows == BodyState::down && hit.off_front < 0.5 * pi && !hit.direction.isZero(0.0);
    emit_body(living, {.at = at,
                       .source = hit.source,
                       .change = BodyChange::reacted,
                       .reaction = reaction,
                       .until = until,
                       .push = spec.push * hit.direction});
    catch_up(living, at);
}

} // namespace avrek
