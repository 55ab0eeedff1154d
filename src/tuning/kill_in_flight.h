#pragma once
#include <avrek/tuning/time_to_kill.h>

#include <cstddef>
#include <optional>

namespace avrek {

/// A weapon that needs more hits is out of ammunition.
inline constexpr std::size_t max_hits = 100'000;

/// ideal_time_to_kill() for what flies as long as `flight`; none: it does not get there. To find a flight
/// takes longer than all the rest. No more than `max_shots` are looked at.
IdealKill kill_in_flight(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                         const ProjectileSpec* projectile, std::optional<Duration> flight, ShotCourse& course,
                         std::size_t max_shots = max_hits);

} // namespace avrek
