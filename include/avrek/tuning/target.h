#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/time.h>
#include <avrek/vitals/conditions.h>
#include <avrek/vitals/hits.h>

#include <optional>
#include <span>
#include <vector>

namespace avrek {

/// Target of shots, as of the first hit.
struct Target {
    const BodySpec* body = nullptr;              ///< never null
    std::span<const ConditionSpec> conditions{}; ///< the arsenal's; without them hits leave no condition
    std::vector<NewCondition> with{};            ///< conditions of the target, by index into `conditions`
    std::vector<NewCondition> attacker_with{};   ///< conditions of the attacker
    std::optional<Radians> guard{};              ///< guard held for long; hits come this far off its front
};

/// Returns the vitals of a target at the first hit, at `at`: unhurt, with its conditions, its guard raised.
Vitals vitals_of(const Target& target, Time at);

/// Returns the damage factor of the attacker's conditions at `at`, if they began at `began`.
double dealt_at(const Target& target, Time began, Time at);

/// Returns a hit on a target with `damage` and `effect`, from the target's direction.
IncomingHit hit_on(const Target& target, const Damage& damage, const EffectSpec& effect, double dealt);

} // namespace avrek
