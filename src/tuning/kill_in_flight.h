#pragma once
#include <avrek/tuning/time_to_kill.h>

#include <optional>

namespace avrek {

/// ideal_time_to_kill() for what flies as long as `flight`; none: it does not get there. To find a flight
/// takes longer than all the rest.
IdealKill kill_in_flight(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                         const ProjectileSpec* projectile, std::optional<Duration> flight,
                         ShotCourse& course);

} // namespace avrek
