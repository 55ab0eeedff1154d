#include <avrek/vitals/damage.h>

#include <cassert>
#include <cmath>

namespace avrek {

std::string_view to_string(DamageStepKind kind) {
    switch (kind) {
    case DamageStepKind::base:
        return "base";
    case DamageStepKind::charge:
        return "charge";
    case DamageStepKind::falloff:
        return "falloff";
    case DamageStepKind::region:
        return "region";
    case DamageStepKind::clamp:
        return "clamp";
    }
    return "unknown";
}

double Damage::amount() const {
    return step_count == 0 ? 0.0 : steps[step_count - 1].total;
}

void Damage::multiply(DamageStepKind kind, double factor) {
    assert(step_count < most_steps && std::isfinite(factor) && factor >= 0.0);
    const double before = step_count == 0 ? 1.0 : amount();
    steps[step_count++] = {kind, factor, before * factor};
}

Damage hit_damage(const WeaponSpec& spec, Metres distance, std::string_view region, double power) {
    Damage damage;
    damage.multiply(DamageStepKind::base, spec.damage);
    if (power != 1.0) {
        damage.multiply(DamageStepKind::charge, power);
    }
    if (!spec.falloff.points.empty()) {
        damage.multiply(DamageStepKind::falloff, value_at(spec.falloff, distance));
    }
    if (!spec.region_multipliers.empty()) {
        damage.multiply(DamageStepKind::region, region_multiplier(spec.region_multipliers, region));
    }
    return damage;
}

Damage strike_damage(const MeleeSpec& spec, const MeleeAttackSpec& attack, std::string_view region) {
    Damage damage;
    damage.multiply(DamageStepKind::base, attack.damage);
    if (!spec.region_multipliers.empty()) {
        damage.multiply(DamageStepKind::region, region_multiplier(spec.region_multipliers, region));
    }
    return damage;
}

Damage blast_damage(double worth) {
    Damage damage;
    damage.multiply(DamageStepKind::base, worth);
    return damage;
}

} // namespace avrek
