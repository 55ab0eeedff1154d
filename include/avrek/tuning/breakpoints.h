#pragma once
#include <avrek/tuning/time_to_kill.h>

#include <optional>
#include <vector>

/// Breakpoints: where the number of shots to kill changes.
namespace avrek {

/// Kills with more shots than these are not searched.
inline constexpr std::int32_t max_breakpoint_shots = 100;

/// A stretch of distances with the same number of shots to kill.
struct ShotsStretch {
    Metres from = 0.0;
    Metres to = 0.0;        ///< start of the next stretch, or end of the range
    std::int32_t shots = 0; ///< 0: no kill within max_breakpoint_shots
};

/// Returns the stretches from 0 to the weapon's range, in order. Searched at the points of the falloff and
/// every 1/200 of the range; ends are exact within a millimetre.
std::vector<ShotsStretch> shots_over_distance(const WeaponSpec& weapon, const Target& target, RegionId region,
                                              const ProjectileSpec* projectile = nullptr);

/// Damage values at which the number of shots changes.
struct DamageBreakpoints {
    std::int32_t shots = 0;             ///< shots to kill now; 0: no kill within max_breakpoint_shots
    std::optional<double> fewer_from{}; ///< WeaponSpec::damage for one shot fewer; none for one shot
    std::optional<double> more_below{}; ///< damage below which it takes more shots; none: never
};

/// Returns the damage breakpoints at one distance, within a millionth of the damage. Searches up to 64 times
/// the damage.
DamageBreakpoints damage_breakpoints(const WeaponSpec& weapon, const Target& target, Metres distance,
                                     RegionId region, const ProjectileSpec* projectile = nullptr);

} // namespace avrek
