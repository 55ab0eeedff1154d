#pragma once
#include <avrek/arsenal/melee_spec.h>
#include <avrek/arsenal/weapon_spec.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <string_view>

/// How much a hit takes, and why: every number is explained by the steps that multiply out to it.
namespace avrek {

/// The steps of a damage application, in the order in which they are taken.
enum class DamageStepKind : std::uint8_t {
    base,    ///< the weapon's damage, of one pellet
    charge,  ///< the power that a charge had gathered
    falloff, ///< the share that is left at this distance
    region,  ///< the weapon's multiplier for the region that was hit
    clamp,   ///< the share that there was health for
};

/// The word for a step.
std::string_view to_string(DamageStepKind kind);

/// One step: `total` is the total before it times `factor`, to the last bit; before the first it is 1.
struct DamageStep {
    DamageStepKind kind = DamageStepKind::base;
    double factor = 1.0;
    double total = 1.0;
};

/// A damage application with its explanation.
struct Damage {
    static constexpr std::size_t most_steps = 8;

    std::array<DamageStep, most_steps> steps{};
    std::size_t step_count = 0;

    /// The number that the steps multiply out to; 0 without steps.
    double amount() const;
    /// Takes one more step. Preconditions (asserted): fewer than `most_steps` so far, a finite factor of at
    /// least 0.
    void multiply(DamageStepKind kind, double factor);
};

/// What one hit of one pellet of `spec` is worth: base, charge, falloff over `distance`, region. A `power` of
/// 1, a weapon without a falloff curve or without any region multiplier has no such step. Precondition
/// (asserted): `power` finite and at least 0; it is WeaponEvent::power of the shot.
Damage hit_damage(const WeaponSpec& spec, Metres distance, std::string_view region, double power = 1.0);

/// What one hit of a blade is worth: base, region; as above.
Damage strike_damage(const MeleeSpec& spec, const MeleeAttackSpec& attack, std::string_view region);

/// What a blast takes that is worth `worth`, such as BlastHit::damage: one step.
Damage blast_damage(double worth);

} // namespace avrek
