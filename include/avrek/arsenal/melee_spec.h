#pragma once
#include <avrek/arsenal/effect_spec.h>
#include <avrek/arsenal/region_multiplier.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>
#include <avrek/core/vectors.h>

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

/// One attack of a melee weapon. The blade is a capsule that turns about a point of the wielder, its hand or
/// shoulder, along a path of look directions.
struct MeleeAttackSpec {
    std::string name{};
    Duration windup{};                                ///< time before the blade hits, at least 0
    Duration active = std::chrono::milliseconds{150}; ///< time during which the blade hits, over 0
    Duration recovery{};                              ///< time from then to the next attack, at least 0
    double damage = 0.0;                              ///< damage of a hit before region, at least 0
    double push = 0.0;      ///< m/s that a hit gives along the blade's motion, at least 0
    double push_away = 0.0; ///< m/s over the ground, away from the wielder, at least 0
    Metres grip = 0.0;      ///< turning point to the near end, at least 0
    Metres reach = 1.0;     ///< turning point to the far end, over grip
    Metres radius = 0.05;   ///< radius of the blade, over 0
    Metres thrust = 0.0;    ///< distance moved outwards while active, at least 0
    /// Directions relative to the wielder's look, passed at an even pace while active. At least one; steps of
    /// at most 120 degrees.
    std::vector<Look> path{{}};
    EffectSpec effect{};
};

/// One melee weapon and its attacks, such as light and heavy.
struct MeleeSpec {
    std::string id{};
    std::vector<MeleeAttackSpec> attacks{};             ///< 1 to `max_melee_attacks`; unique names
    std::vector<RegionMultiplier> region_multipliers{}; ///< at most one per region
};

/// Maximum number of attacks of a melee weapon.
inline constexpr std::size_t max_melee_attacks = 16;

/// Returns the index in MeleeSpec::attacks of the attack with this name, or none.
std::optional<std::size_t> find_attack(const MeleeSpec& spec, std::string_view name);

/// Returns the time from the press to the end of the recovery.
Duration length_of(const MeleeAttackSpec& attack);

} // namespace avrek
