#pragma once
#include <avrek/tuning/time_to_kill.h>

#include <optional>
#include <vector>

/// Where the number of shots that it takes to kill changes.
namespace avrek {

/// Kills with more shots than these are not looked for.
inline constexpr std::int32_t max_breakpoint_shots = 100;

/// A stretch of distances at which the same number of shots kills.
struct ShotsStretch {
    Metres from = 0.0;
    Metres to = 0.0;        ///< where the next stretch begins, or the weapon's range ends
    std::int32_t shots = 0; ///< 0 where it does not kill, or needs more than max_breakpoint_shots
};

/// The stretches from 0 to the weapon's range, in order. They are looked for at the points of the falloff and
/// every 1/200 of the range, and their ends then found within a millimetre.
std::vector<ShotsStretch> shots_over_distance(const WeaponSpec& weapon, const Target& target, RegionId region,
                                              const ProjectileSpec* projectile = nullptr);

/// How far the weapon's damage is from another number of shots.
struct DamageBreakpoints {
    std::int32_t shots = 0; ///< that it takes now; 0 where it does not kill, or with more than
                            ///< max_breakpoint_shots
    std::optional<double>
        fewer_from{}; ///< WeaponSpec::damage from which one shot fewer does; none for one shot
    std::optional<double> more_below{}; ///< and below which it takes more; none where it never does
};

/// Breakpoints of the damage at one distance, within a millionth of the damage. Values up to 64 times the
/// damage are looked at.
DamageBreakpoints damage_breakpoints(const WeaponSpec& weapon, const Target& target, Metres distance,
                                     RegionId region, const ProjectileSpec* projectile = nullptr);

} // namespace avrek
