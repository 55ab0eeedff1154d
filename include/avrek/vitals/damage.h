#pragma once
#include <avrek/arsenal/melee_spec.h>
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/arsenal/weapon_spec.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <string_view>

/// How much a hit takes, and why: every number is explained by the steps that multiply out to it.
namespace avrek {

/// The steps of a damage application, in the order in which they are taken.
enum class DamageStepKind : std::uint8_t {
    base,       ///< the weapon's damage, of one pellet; of a condition, that of a tick
    charge,     ///< the power that a charge had gathered
    pierce,     ///< the share that is left after what it has gone through
    strength,   ///< of a condition, times how often it counts
    falloff,    ///< the share that is left at this distance
    exposure,   ///< the share of a blast that nothing blocks
    region,     ///< the weapon's multiplier for the region that was hit
    side,       ///< the share that counts against the own side, or oneself
    attacker,   ///< what conditions of the attacker make of it
    target,     ///< what conditions of the target make of it
    guard,      ///< the share that a guard lets through
    resistance, ///< the share that the body takes of this kind of damage
    defence,    ///< the share that a layer leaves; `index` says which
    clamp,      ///< the share that there was health for; of healing, that there was room for
};

/// The word for a step.
std::string_view to_string(DamageStepKind kind);

/// One step: `total` is the total before it times `factor`, to the last bit; before the first it is 1.
struct DamageStep {
    DamageStepKind kind = DamageStepKind::base;
    double factor = 1.0;
    double total = 1.0;
    std::uint8_t index = 0; ///< of `layer`: in BodySpec::layers
};

/// A damage application with its explanation.
struct Damage {
    static constexpr std::size_t max_steps = 16;

    std::array<DamageStep, max_steps> steps{};
    std::size_t step_count = 0;

    /// The number that the steps multiply out to; 0 without steps.
    double amount() const;
    /// Takes one more step. Preconditions (asserted): fewer than `max_steps` so far, a finite factor of at
    /// least 0.
    void multiply(DamageStepKind kind, double factor, std::uint8_t index = 0);
    /// The same for a step that would change nothing: a factor of 1 is no step.
    void multiply_unless_one(DamageStepKind kind, double factor);
};

/// What one hit of one pellet of `spec` is worth: base, charge, pierce, falloff over `distance`, region.
/// `power` is WeaponEvent::power of the shot, `pierced` the share that is left of it, such as
/// PathSegment::power. A factor of 1 for either, a weapon without a falloff curve or without any region
/// multiplier has no such step. Precondition (asserted): `power` and `pierced` finite and at least 0.
Damage hit_damage(const WeaponSpec& spec, Metres distance, std::string_view region, double power = 1.0,
                  double pierced = 1.0);

/// What one hit of a blade is worth: base, region; as above.
Damage strike_damage(const MeleeSpec& spec, const MeleeAttackSpec& attack, std::string_view region);

/// How a blast reaches a body, as BlastHit says.
struct BlastReach {
    Metres distance = 0.0; ///< of the nearest exposed point
    double exposure = 1.0; ///< in [0, 1]
    double power = 1.0;
    double team_share = 1.0; ///< share that counts against the source or its team
};

/// What a blast is worth to a body: base, charge, falloff, exposure, side; the same as BlastHit::damage.
/// Precondition (asserted): a radius over 0.
Damage blast_damage(const BlastSpec& spec, const BlastReach& reach);

} // namespace avrek
