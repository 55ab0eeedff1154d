#pragma once
#include <avrek/arsenal/effect_spec.h>
#include <avrek/vitals/vitals.h>

#include <optional>
#include <span>
#include <vector>

/// Hits on a body.
namespace avrek {

/// A hit to apply to a body.
struct IncomingHit {
    Damage damage{};                     ///< damage before the body's defences, such as hit_damage()
    const EffectSpec* effect = nullptr;  ///< effect besides damage; null: none
    BodyId source = nobody;              ///< combatant that gets credit
    double side = 1.0;                   ///< share for damage to one's own team
    double dealt = 1.0;                  ///< factor from the attacker's conditions
    Radians off_front = pi;              ///< angle off the body's front, see off_front(); in [0, pi]
    Vector3 direction = Vector3::Zero(); ///< direction of the hit, unit length; zero: none
    Vector3 push = Vector3::Zero();      ///< m/s that the hit gives
    std::optional<RegionId> region{};
    bool melee = false;     ///< a melee hit
    std::int64_t shot = -1; ///< number of the source's shot, for accuracy; -1: no shot
};

/// Result of a hit.
enum class HitResult : std::uint8_t {
    nothing,           ///< the body is dead, or the rules spare it
    protected_hit,     ///< the body is protected
    guarded,           ///< the guard stopped the hit whole
    guarded_perfectly, ///< a perfect guard stopped it
    taken,
};

/// Applies a hit to a body at `at`. Damage steps follow DamageStepKind: side, attacker, target, guard,
/// resistance, defence layers (outermost first), clamp. Steps that change nothing are left out. For healing,
/// only side, target (no factor) and resistance count: it fills health, then the layers that take healing,
/// and never revives the dead.
///
/// A hit that protection or a guard stops whole has no consequences: no damage, condition, reaction or push;
/// a guard pays its stamina. Damage beyond the guard's stamina goes through and breaks the guard, a heavy
/// reaction. Every other hit leaves its condition and reaction, also with damage 0. Conditions that
/// LivingBody::conditions lacks are skipped. Preconditions (asserted): `at >= vitals.now`, factors at least
/// 0.
HitResult take_hit(const LivingBody& body, const IncomingHit& hit, Time at, std::vector<VitalsEvent>& events);

/// Starts a reaction of this class, if the body has it; see ReactionSpec. It replaces one that weighs no
/// more, and one of its own class that ends earlier. During a heavier one it does nothing.
void react(const LivingBody& body, ReactionClass reaction, const IncomingHit& hit, Time at,
           std::vector<VitalsEvent>& events);

} // namespace avrek
