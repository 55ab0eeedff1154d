#pragma once
#include <avrek/arsenal/effect_spec.h>
#include <avrek/vitals/vitals.h>

#include <optional>
#include <span>
#include <vector>

/// What a hit does to a body.
namespace avrek {

/// A hit on its way to a body.
struct IncomingHit {
    Damage damage{};                    ///< what it is worth so far, such as hit_damage()
    const EffectSpec* effect = nullptr; ///< what else it is and does; null: nothing
    BodyId source = nobody;             ///< who gets credit
    double side = 1.0;                  ///< share that counts, when it comes from the own side
    double dealt = 1.0;                 ///< what conditions of the attacker make of it
    Radians off_front = pi; ///< how far off the body's front it comes, see off_front(); in [0, pi]
    Vector3 direction = Vector3::Zero(); ///< the way it goes, of unit length; zero: it has none
    Vector3 push = Vector3::Zero();      ///< m/s that it gives
    std::optional<RegionId> region{};
    bool melee = false;     ///< of a blade
    std::int64_t shot = -1; ///< number of the source's shot, for its accuracy; -1: it was none
};

/// What became of a hit.
enum class HitResult : std::uint8_t {
    nothing,           ///< the body is dead, or the rules spare it
    protected_hit,     ///< it is protected
    guarded,           ///< its guard stopped the hit whole
    guarded_perfectly, ///< and had just been raised
    taken,
};

/// Lets a hit meet a body at `at`. Damage takes its steps in the order of DamageStepKind: side, attacker,
/// target, guard, resistance, layers (outermost first), clamp; what would not change it is no step. Of a kind
/// that heals, only side, target (no factor) and resistance count: it fills health, then the layers that take
/// healing, and never raises the dead.
///
/// A hit that protection or a guard stops whole has no consequences: no damage, no condition, no reaction, no
/// push; a guard pays its stamina. What a guard's stamina does not cover goes through, and breaks it, which
/// shakes its bearer as a heavy reaction. Every other hit leaves its condition and its reaction, also when
/// its damage is 0; a condition that `conditions` lacks is not left. Preconditions (asserted): `at >=
/// vitals.now`, factors at least 0.
HitResult take_hit(std::span<const ConditionSpec> conditions, const BodySpec& body, Vitals& vitals,
                   const IncomingHit& hit, Time at, std::vector<VitalsEvent>& events);

/// Makes the body react as to a hit of this class; see ReactionSpec. A reaction replaces a lighter one, and
/// one of its own class that ends before it; a lighter one does nothing.
void react(std::span<const ConditionSpec> conditions, const BodySpec& body, Vitals& vitals,
           ReactionClass reaction, const IncomingHit& hit, Time at, std::vector<VitalsEvent>& events);

} // namespace avrek
