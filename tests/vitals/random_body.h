#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/vitals/hits.h>

#include <algorithm>
#include <random>
#include <string>

namespace avrek {

/// Random arsenals of kinds, conditions and bodies, and what happens to them.
struct RandomLife {
    std::mt19937_64 random;

    explicit RandomLife(std::uint64_t seed) : random(seed) {}

    double between(double least, double most) {
        return std::uniform_real_distribution<double>{least, most}(random);
    }
    std::int32_t below(std::int32_t count) {
        return std::uniform_int_distribution<std::int32_t>{0, count - 1}(random);
    }
    bool one_in(std::int32_t count) { return below(count) == 0; }
    Duration time(double most) { return from_seconds(between(0.001, most)); }

    static constexpr std::int32_t kinds = 4; // the last one heals, the one before cannot be guarded
    static constexpr std::int32_t conditions = 10;

    ConditionSpec condition(std::int32_t index) {
        ConditionSpec spec{.id = "c" + std::to_string(index)};
        spec.lasts = one_in(5) ? Duration::zero() : one_in(5) ? lasting : time(4);
        if (one_in(2)) {
            spec.period = from_seconds(0.05 * (1 + below(20)));
        }
        spec.ticks_at_once = one_in(3);
        spec.amount = one_in(3) ? 0.0 : between(0.1, 6);
        spec.type.id = "k" + std::to_string(below(kinds));
        spec.stacking = static_cast<Stacking>(below(5));
        spec.max_count = 1 + below(4);
        spec.damage_taken = one_in(2) ? between(0, 2) : 1.0;
        spec.damage_dealt = one_in(2) ? between(0, 2) : 1.0;
        for (const Act act : {Act::fire, Act::reload, Act::move, Act::guard, Act::strike}) {
            if (one_in(8)) {
                spec.forbids.add(act);
            }
        }
        spec.grants_defence = one_in(4) ? "l0" : "";
        spec.grants_points = between(0, 30);
        for (std::int32_t other = 0; other < conditions; ++other) {
            if (one_in(12)) {
                spec.cancels.push_back({"c" + std::to_string(other)});
            }
            if (one_in(20)) {
                spec.prevents.push_back({"c" + std::to_string(other)});
            }
        }
        for (std::size_t end = 0; end < condition_end_count; ++end) {
            if (one_in(8)) {
                spec.ends_when.push_back(static_cast<ConditionEnd>(end));
            }
        }
        return spec;
    }

    ReactionSpec reaction(BodyState shows) {
        ReactionSpec spec{.lasts = one_in(4) ? Duration::zero() : time(1), .shows = shows};
        spec.rise = shows == BodyState::down && one_in(2) ? time(0.5) : Duration::zero();
        spec.push = between(0, 3);
        spec.repeats = one_in(2) ? Curve{} : Curve{{{0, 1}, {1, 0.5}, {3, 0}}};
        spec.window = time(5);
        return spec;
    }

    BodySpec body() {
        BodySpec body{.id = "b", .health = between(20, 200)};
        body.rig.regions = {{"all", {Sphere{{0, 1, 0}, 0.5}}}};
        const std::int32_t count = below(5);
        for (std::int32_t index = 0; index < count; ++index) {
            DefenceLayerSpec& layer = body.defence.emplace_back();
            layer.name = "l" + std::to_string(index);
            layer.max = between(5, 80);
            layer.start = one_in(3) ? layer.max : between(0, layer.max);
            layer.share = one_in(2) ? 1.0 : between(0, 1);
            layer.wear = one_in(2) ? 1.0 : between(0, 3);
            layer.carries_over = !one_in(3);
            layer.delay = time(2);
            (one_in(2) ? layer.refill : layer.decay) = between(0, 40);
            layer.takes_healing = one_in(3);
            if (one_in(3)) {
                layer.passes.push_back({"k1"});
            }
        }
        if (one_in(2)) {
            body.resists = {{{"k0"}, between(0, 2)}, {{"k1"}, one_in(3) ? 0.0 : between(0, 2)}};
        }
        if (one_in(3)) {
            body.immune = {{"c1"}, {"c2"}};
        }
        if (!one_in(3)) {
            GuardSpec& guard = body.guard.emplace();
            guard.arc = between(0.5, 6);
            guard.lets_through = one_in(2) ? 0.0 : between(0, 1);
            guard.types = {{{"k1"}, between(0, 1)}};
            guard.stamina = one_in(2) ? 0.0 : between(10, 100);
            guard.cost = between(0.2, 2);
            guard.refill = between(0, 40);
            guard.delay = time(1);
            guard.broken = time(2);
            guard.perfect = one_in(2) ? Duration::zero() : time(0.4);
            guard.perfect_staggers = one_in(2);
        }
        if (one_in(2)) {
            body.regeneration = {between(0, 15), std::chrono::milliseconds{1} + time(1), time(1.5)};
        }
        body.light_reaction = reaction(BodyState::staggered);
        body.heavy_reaction = reaction(one_in(2) ? BodyState::stunned : BodyState::down);
        for (std::size_t own = 0; own < max_own_reactions && one_in(2); ++own) {
            body.reactions.push_back(reaction(one_in(2) ? BodyState::staggered : BodyState::down));
            body.reactions.back().name = "own" + std::to_string(own);
            body.reactions.back().weight = static_cast<double>(below(4));
            body.own_reactions[own] = static_cast<std::uint8_t>(own + 1);
        }
        return body;
    }

    Arsenal arsenal(std::int32_t bodies) {
        Arsenal arsenal;
        for (std::int32_t kind = 0; kind < kinds; ++kind) {
            arsenal.damage_types.push_back(
                {.id = "k" + std::to_string(kind), .heals = kind == 3, .guardable = kind != 2});
        }
        for (std::int32_t index = 0; index < conditions; ++index) {
            arsenal.conditions.push_back(condition(index));
        }
        for (std::int32_t index = 0; index < bodies; ++index) {
            arsenal.bodies.push_back(body());
            arsenal.bodies.back().id = "b" + std::to_string(index);
        }
        resolve_references(arsenal);
        return arsenal;
    }

    EffectSpec effect() {
        EffectSpec effect;
        const std::int32_t kind = below(kinds + 1) - 1;
        effect.type.spec = optional_id<DamageTypeId>(kind);
        effect.heals = kind == 3;
        effect.guardable = kind != 2;
        effect.condition.spec = optional_id<ConditionId>(one_in(2) ? below(conditions) : -1);
        effect.strength = between(0.2, 3);
        effect.reaction.spec = static_cast<ReactionClass>(below(reaction_count + 1));
        return effect;
    }

    /// `effect` must outlive the hit.
    IncomingHit hit(const EffectSpec& effect, std::uint32_t sources) {
        IncomingHit hit{.effect = &effect};
        hit.damage.multiply(DamageStepKind::base, one_in(10) ? 0.0 : between(0, 60));
        hit.damage.multiply(DamageStepKind::falloff, between(0, 1));
        hit.source = one_in(10)
                         ? nobody
                         : BodyId{static_cast<std::uint32_t>(below(static_cast<std::int32_t>(sources)))};
        hit.dealt = one_in(3) ? between(0, 2) : 1.0;
        hit.direction = one_in(4) ? Vector3(Vector3::Zero()) : Vector3(world_forward());
        hit.off_front = between(0, pi);
        hit.push = between(0, 5) * hit.direction;
        hit.melee = one_in(2);
        hit.shot = one_in(2) ? below(1000) : -1;
        return hit;
    }
};

/// Whether the steps multiply out to the damage, to the last bit.
inline bool multiplies_out(const Damage& damage) {
    double product = 1.0;
    for (std::size_t step = 0; step < damage.step_count; ++step) {
        product *= damage.steps[step].factor;
    }
    return damage.step_count == 0 || product == damage.amount();
}

} // namespace avrek
