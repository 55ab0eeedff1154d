#include "../core/words.h"
#include <avrek/vitals/damage.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

std::string_view to_string(DamageStepKind kind) {
    return detail::word_of(damage_step_words, kind);
}

double Damage::amount_after(std::size_t step) const {
    assert(step < step_count);
    double total = 1.0;
    for (std::size_t index = 0; index <= step; ++index) {
        total *= steps[index].factor;
    }
    return total;
}

void Damage::multiply(DamageStepKind kind, double factor, std::uint8_t index) {
    assert(step_count < max_steps && std::isfinite(factor) && factor >= 0.0);
    steps[step_count++] = {kind, index, factor};
    product *= factor;
}

void Damage::multiply_unless_one(DamageStepKind kind, double factor) {
    if (factor != 1.0) {
        multiply(kind, factor);
    }
}

Damage hit_damage(const WeaponSpec& spec, Metres distance, std::string_view region, double power,
                  double pierced) {
    Damage damage;
    damage.multiply(DamageStepKind::base, spec.damage);
    damage.multiply_unless_one(DamageStepKind::charge, power);
    damage.multiply_unless_one(DamageStepKind::pierce, pierced);
    if (!spec.falloff.points.empty()) {
        damage.multiply(DamageStepKind::falloff, value_at(spec.falloff, distance));
    }
    if (!spec.region_multipliers.empty()) {
        damage.multiply(DamageStepKind::region, region_multiplier(spec.region_multipliers, region));
    }
    return damage;
}

Damage hit_damage(const WeaponSpec& spec, Metres distance, const RigSpec& rig, RegionId region, double power,
                  double pierced) {
    return hit_damage(spec, distance, region_of(rig, region).name, power, pierced);
}

Damage strike_damage(const MeleeSpec& spec, const MeleeAttackSpec& attack, const RigSpec& rig,
                     RegionId region) {
    return strike_damage(spec, attack, region_of(rig, region).name);
}

Damage strike_damage(const MeleeSpec& spec, const MeleeAttackSpec& attack, std::string_view region) {
    Damage damage;
    damage.multiply(DamageStepKind::base, attack.damage);
    if (!spec.region_multipliers.empty()) {
        damage.multiply(DamageStepKind::region, region_multiplier(spec.region_multipliers, region));
    }
    return damage;
}

Damage blast_damage(const BlastSpec& spec, const BlastReach& reach) {
    assert(spec.radius > 0.0);
    Damage damage;
    damage.multiply(DamageStepKind::base, spec.damage);
    damage.multiply_unless_one(DamageStepKind::charge, reach.power);
    damage.multiply(DamageStepKind::falloff,
                    value_at(spec.falloff, std::min(1.0, std::max(0.0, reach.distance) / spec.radius)));
    damage.multiply_unless_one(DamageStepKind::exposure, reach.exposure);
    damage.multiply_unless_one(DamageStepKind::side, reach.team_share);
    return damage;
}

} // namespace avrek
