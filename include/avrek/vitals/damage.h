#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/arsenal/melee_spec.h>
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/arsenal/weapon_spec.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <string_view>

/// Damage with its explanation: the steps multiply out to the number that is applied.
namespace avrek {

/// Steps of a damage application, in their order.
enum class DamageStepKind : std::uint8_t {
    base,       ///< damage of one pellet, or of a tick of a condition
    charge,     ///< power of a charge
    pierce,     ///< share that remains after piercing
    strength,   ///< strength and count of a condition
    falloff,    ///< share that remains at this distance
    exposure,   ///< unblocked share of an explosion
    region,     ///< multiplier for the region
    side,       ///< share for damage to one's own team or oneself
    attacker,   ///< factor from the attacker's conditions
    target,     ///< factor from the target's conditions
    guard,      ///< share that a guard lets through
    resistance, ///< share of this damage type that the body takes
    defence,    ///< share that a defence layer leaves; `index` says which
    clamp,      ///< share for which there was health, or room for healing
};

/// The words for the steps, in their order.
inline constexpr auto damage_step_words = std::to_array<std::string_view>(
    {"base", "charge", "pierce", "strength", "falloff", "exposure", "region", "side", "attacker", "target",
     "guard", "resistance", "defence", "clamp"});

/// Returns the word for a step.
std::string_view to_string(DamageStepKind kind);

/// One step: a factor, and what it stands for.
struct DamageStep {
    DamageStepKind kind = DamageStepKind::base;
    std::uint8_t index = 0; ///< index in BodySpec::defence, for `defence`
    double factor = 1.0;
};

/// A damage application with its explanation.
struct Damage {
    static constexpr std::size_t max_steps = 16;

    std::array<DamageStep, max_steps> steps{};
    std::size_t step_count = 0;
    double product = 1.0; ///< product of the factors so far

    /// Returns the product of the steps; 0 without steps.
    double amount() const { return step_count == 0 ? 0.0 : product; }
    /// Returns the product of the steps down to `step`, that one included, to the last bit. Precondition
    /// (asserted): there is such a step.
    double amount_after(std::size_t step) const;
    /// Appends a step. Preconditions (asserted): fewer than `max_steps` so far; a finite factor of at least
    /// 0.
    void multiply(DamageStepKind kind, double factor, std::uint8_t index = 0);
    /// Appends a step unless the factor is 1.
    void multiply_unless_one(DamageStepKind kind, double factor);
};

/// Returns the damage of one pellet of `spec`: base, charge, pierce, falloff over `distance`, region. `power`
/// is WeaponEvent::power of the shot; `pierced` is the share that remains, such as PathSegment::power. A
/// factor of 1 for either, a weapon without a falloff curve, or one without region multipliers has no such
/// step. Precondition (asserted): `power` and `pierced` finite and at least 0.
Damage hit_damage(const WeaponSpec& spec, Metres distance, const RigSpec& rig, RegionId region,
                  double power = 1.0, double pierced = 1.0);
/// The same by the name of a region, for a game with bodies of its own.
Damage hit_damage(const WeaponSpec& spec, Metres distance, std::string_view region, double power = 1.0,
                  double pierced = 1.0);

/// Returns the damage of one melee hit: base, region.
Damage strike_damage(const MeleeSpec& spec, const MeleeAttackSpec& attack, const RigSpec& rig,
                     RegionId region);
/// The same by the name of a region.
Damage strike_damage(const MeleeSpec& spec, const MeleeAttackSpec& attack, std::string_view region);

/// How an explosion reaches a body, as in BlastHit.
struct BlastReach {
    Metres distance = 0.0; ///< distance of the nearest exposed point
    double exposure = 1.0; ///< in [0, 1]
    double power = 1.0;
    double team_share = 1.0; ///< share for the attacker or its team
};

/// Returns the damage of an explosion to a body: base, charge, falloff, exposure, side; the same as
/// BlastHit::damage. Precondition (asserted): a radius over 0.
Damage blast_damage(const BlastSpec& spec, const BlastReach& reach);

} // namespace avrek
