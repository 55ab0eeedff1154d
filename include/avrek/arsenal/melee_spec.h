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

/// One way to strike. The blade is a capsule that turns about a point of the wielder, its hand or shoulder,
/// along a path of look directions.
struct MeleeAttackSpec {
    std::string name{};
    Duration windup{};                                ///< before the blade touches anything, at least 0
    Duration active = std::chrono::milliseconds{150}; ///< while it does, over 0
    Duration recovery{};                              ///< after that, until the next attack, at least 0
    double damage = 0.0;                              ///< health points of one hit before region, at least 0
    double push = 0.0;      ///< speed that it gives along the blade's way, m/s, at least 0
    double push_away = 0.0; ///< and over the ground away from its wielder, m/s, at least 0
    Metres grip = 0.0;      ///< from the point it turns about to its near end, at least 0
    Metres reach = 1.0;     ///< and to its far end, over grip
    Metres radius = 0.05;   ///< over 0
    Metres thrust = 0.0;    ///< by which it moves outwards during the active span, at least 0
    /// Directions relative to the wielder's look, passed through at an even pace during the active span; at
    /// least one, each no more than 120 degrees from the one before.
    std::vector<Look> path{{}};
    EffectSpec effect{};
};

/// One kind of thing that is struck with, and its attacks, such as light and heavy.
struct MeleeSpec {
    std::string id{};
    std::vector<MeleeAttackSpec> attacks{};             ///< 1 to `max_melee_attacks`; names are unique
    std::vector<RegionMultiplier> region_multipliers{}; ///< at most one for each region
};

inline constexpr std::size_t max_melee_attacks = 16;

/// Where in MeleeSpec::attacks the attack with this name is, if there is one.
std::optional<std::size_t> find_attack(const MeleeSpec& spec, std::string_view name);

/// From the press to the end of the recovery.
Duration length_of(const MeleeAttackSpec& attack);

} // namespace avrek
