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

/// Values of a spec that do not go together.
struct SpecFault {
    std::string key;                     ///< the key to look at, as in a file: "spread.aimed"
    std::string message;                 ///< what is the case
    std::string allowed;                 ///< what would be right
    Severity severity = Severity::error; ///< a warning: it works, but hardly as it was meant
};

/// What in `weapon` contradicts itself. A weapon made in code is worth this check as much as one from a file:
/// every precondition of the weapon layer on a spec is in it, non-finite numbers too.
std::vector<SpecFault> validate(const WeaponSpec& weapon);

/// The same for what flies and for one way to strike: every precondition of the ballistics layer on their
/// specs is in it.
std::vector<SpecFault> validate(const ProjectileSpec& projectile);
std::vector<SpecFault> validate(const MeleeAttackSpec& attack);

/// The same for what hits meet and leave: every precondition of the vitals and skirmish layers on their specs
/// is in it.
std::vector<SpecFault> validate(const BodySpec& body);
std::vector<SpecFault> validate(const ConditionSpec& condition);
std::vector<SpecFault> validate(const HazardSpec& hazard);
std::vector<SpecFault> validate(const PickupSpec& pickup);
std::vector<SpecFault> validate(const MatchSpec& match);

} // namespace avrek
