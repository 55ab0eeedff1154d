#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/arsenal/condition_spec.h>
#include <avrek/arsenal/hazard_spec.h>
#include <avrek/arsenal/match_spec.h>
#include <avrek/arsenal/melee_spec.h>
#include <avrek/arsenal/pickup_spec.h>
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/core/diagnostics.h>

#include <string>
#include <vector>

namespace avrek {

/// A fault in a spec: values that contradict each other or are out of range.
struct SpecFault {
    std::string key;                     ///< the key as in a file: "spread.aimed"
    std::string message;                 ///< the fault
    std::string allowed;                 ///< allowed values
    Severity severity = Severity::error; ///< a warning: it works, but hardly as intended
};

/// Returns the faults of a weapon, non-finite numbers included. A weapon without errors meets every
/// precondition of the weapon layer. Call it for weapons made in code; the loader calls it for files.
std::vector<SpecFault> validate(const WeaponSpec& weapon);

/// The same for projectiles and melee attacks: every precondition of the ballistics layer.
std::vector<SpecFault> validate(const ProjectileSpec& projectile);
/// The same for melee attacks.
std::vector<SpecFault> validate(const MeleeAttackSpec& attack);

/// The same for bodies, conditions, hazards, pickups and rules: every precondition of the vitals and skirmish
/// layers.
std::vector<SpecFault> validate(const BodySpec& body);
/// The same for conditions.
std::vector<SpecFault> validate(const ConditionSpec& condition);
/// The same for hazards.
std::vector<SpecFault> validate(const HazardSpec& hazard);
/// The same for pickups.
std::vector<SpecFault> validate(const PickupSpec& pickup);
/// The same for match rules.
std::vector<SpecFault> validate(const MatchSpec& match);

} // namespace avrek
