#pragma once
#include <avrek/arsenal/condition_spec.h>
#include <avrek/vitals/vitals.h>

#include <span>
#include <vector>

/// Conditions: what lasts for a while on a body.
namespace avrek {

/// A condition on its way to a body.
struct NewCondition {
    std::int32_t spec = -1; ///< index into Arsenal::conditions
    double strength = 1.0;  ///< over 0
    BodyId source = nobody; ///< who gets credit
};

/// Gives `vitals` a condition at `at`, or does what an instant one does: in order, it ends what it cancels,
/// grants points, takes or heals (instant ones, and those that tick at once). Immune and dead bodies refuse,
/// and so do those that a present condition protects. Returns whether it came. Preconditions (asserted):
/// `at >= vitals.now`; `spec` is one of `conditions`; strength over 0.
bool add_condition(std::span<const ConditionSpec> conditions, const BodySpec& body, Vitals& vitals,
                   const NewCondition& condition, Time at, std::vector<VitalsEvent>& events);

/// Ends every condition that `end` ends.
void end_conditions(std::span<const ConditionSpec> conditions, const BodySpec& body, Vitals& vitals,
                    ConditionEnd end, Time at, std::vector<VitalsEvent>& events);

/// What the present conditions make of a body: the products of their factors, and all that they forbid.
struct ConditionFactors {
    double damage_taken = 1.0;
    double damage_dealt = 1.0;
    double speed = 1.0;
    double spread = 1.0;
    ActSet forbids{};
};
ConditionFactors factors_of(std::span<const ConditionSpec> conditions, const Vitals& vitals);

/// The state of a condition that the body has, or null.
const ConditionState* find_condition(const Vitals& vitals, std::int32_t condition);

} // namespace avrek
