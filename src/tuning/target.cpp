#include <avrek/tuning/target.h>
#include <avrek/vitals/guard.h>

#include <cassert>

namespace avrek {

Vitals vitals_of(const Target& target, Time at) {
    assert(target.body != nullptr);
    std::vector<VitalsEvent> events;
    Vitals vitals = full_vitals(*target.body, at);
    for (const SpecRef<ConditionId>& condition : target.body->first_conditions) {
        add_condition({target.conditions, *target.body, vitals}, {*condition.spec}, at, events);
    }
    for (const NewCondition& condition : target.with) {
        add_condition({target.conditions, *target.body, vitals}, condition, at, events);
    }
    if (target.guard) {
        hold_guard({target.conditions, *target.body, vitals}, true, at, events);
        vitals.guard.perfect_until = at;
    }
    return vitals;
}

double dealt_at(const Target& target, Time began, Time at) {
    if (target.attacker_with.empty()) {
        return 1.0;
    }
    static const BodySpec plain{.health = 1e300};
    std::vector<VitalsEvent> events;
    Vitals vitals = full_vitals(plain, began);
    for (const NewCondition& condition : target.attacker_with) {
        add_condition({target.conditions, plain, vitals}, condition, began, events);
    }
    advance({target.conditions, plain, vitals}, at, events);
    return factors_of(target.conditions, vitals).damage_dealt;
}

IncomingHit hit_on(const Target& target, const Damage& damage, const EffectSpec& effect, double dealt) {
    IncomingHit hit;
    hit.damage = damage;
    hit.effect = &effect;
    hit.dealt = dealt;
    hit.direction = world_forward();
    hit.off_front = target.guard.value_or(pi);
    return hit;
}

} // namespace avrek
