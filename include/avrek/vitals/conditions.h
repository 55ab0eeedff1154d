#pragma once
#include <avrek/arsenal/condition_spec.h>
#include <avrek/core/ids.h>
#include <avrek/vitals/vitals.h>

#include <span>
#include <vector>

/// Conditions of a body.
namespace avrek {

/// A condition to give to a body.
struct NewCondition {
    ConditionId spec{};
    double strength = 1.0;  ///< over 0
    BodyId source = nobody; ///< combatant that gets credit
};

/// Gives a condition at `at`. In order, it ends the conditions that it cancels, grants points, and, if
/// instant or ticking at once, damages or heals. Immune and dead bodies refuse it, and so does a condition
/// that prevents it. Returns whether it took hold. Preconditions (asserted): `at >= vitals.now`; `spec` is
/// one of the body's conditions; strength over 0.
bool add_condition(const LivingBody& body, const NewCondition& condition, Time at,
                   std::vector<VitalsEvent>& events);

/// Ends a condition of the body. Returns false if the body does not have it.
bool end_condition(const LivingBody& body, ConditionId condition, Time at, std::vector<VitalsEvent>& events);

/// Ends every condition that `end` ends.
void end_conditions(const LivingBody& body, ConditionEnd end, Time at, std::vector<VitalsEvent>& events);

/// Combined effect of the present conditions: the products of their factors, and all forbidden acts.
struct ConditionFactors {
    double damage_taken = 1.0;
    double damage_dealt = 1.0;
    double speed = 1.0;
    double spread = 1.0;
    ActSet forbids{};
};
/// Returns the combined factors of all present conditions.
ConditionFactors factors_of(std::span<const ConditionSpec> conditions, const Vitals& vitals);

/// Returns the state of a condition that the body has, or null.
const ConditionState* find_condition(const Vitals& vitals, ConditionId condition);

} // namespace avrek
