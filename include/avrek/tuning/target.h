#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/time.h>
#include <avrek/vitals/conditions.h>
#include <avrek/vitals/hits.h>

#include <optional>
#include <span>
#include <vector>

namespace avrek {

/// Whom shots are meant for, and how it is when the first one comes.
struct Target {
    const BodySpec* body = nullptr;              ///< never null
    std::span<const ConditionSpec> conditions{}; ///< the arsenal's; without them hits leave no condition
    std::vector<NewCondition> with{};            ///< what the target has then, of `conditions`
    std::vector<NewCondition> attacker_with{};   ///< and what the attacker has
    std::optional<Radians> guard{}; ///< its guard is held, long since, and hits come this far off its front
};

/// The vitals of a target as the first hit comes, at `at`: unhurt, with its conditions, its guard raised.
Vitals vitals_of(const Target& target, Time at);

/// What conditions of the attacker make of damage at `at`, when they began at `began`.
double dealt_at(const Target& target, Time began, Time at);

/// A hit on a target: worth `damage`, with `effect`, from where the target says.
IncomingHit hit_on(const Target& target, const Damage& damage, const EffectSpec& effect, double dealt);

} // namespace avrek
