#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/time.h>
#include <avrek/tuning/target.h>

#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

namespace avrek {

/// Why a weapon cannot kill, or that it can.
enum class KillVerdict : std::uint8_t {
    kills,
    out_of_range,      ///< the body is farther away than the weapon reaches
    no_damage,         ///< a hit is worth nothing at this distance and region
    out_of_ammunition, ///< magazine and reserve together do not hold enough rounds
    outlasted,         ///< what comes back between hits is no less than what they take
};

/// The words for a verdict, such as "out of range".
std::string_view to_string(KillVerdict verdict);

/// How fast a weapon kills when every shot hits.
struct IdealKill {
    KillVerdict verdict = KillVerdict::kills;
    double damage_per_hit = 0.0; ///< of one pellet, with its blast, before what the body makes of it
    std::int32_t shots = 0;      ///< to kill; 0 unless the verdict is `kills`
    std::int32_t reloads = 0;    ///< among them
    Duration time{};             ///< from the first shot's leaving to the death
};

/// When the shots of a weapon leave that is fired as fast as it allows, from full, until nothing is left.
/// Found once, it serves for every distance and target.
struct ShotCourse {
    std::vector<Duration> shots;       ///< after the first one
    std::vector<std::int32_t> reloads; ///< before each
};

/// The first `most` shots by FiringPlanKind::hold.
ShotCourse shot_course(const WeaponSpec& weapon, std::size_t most);

/// The ideal time to kill: every pellet of every shot hits `region` of `target` at `distance`, from a full
/// weapon in its first mode, fired as fast as it allows by FiringPlanKind::hold, reloads included. The times
/// are those of fire_by_plan(): for an automatic or single weapon (shots - 1) intervals, plus a reload
/// wherever the magazine runs out before. A charged weapon is charged to the full each time; the time counts
/// from its first shot's leaving. What arrives at once does its damage as the shot leaves; for a weapon that
/// launches projectiles `projectile` is what it launches: then the flight counts (flight_time(), out of range
/// where there is none), and the blast where it hits.
///
/// Hits meet the target through take_hit(): layers that come back between shots, resistances, conditions that
/// run out, those that hits leave and what they do by themselves, and a guard all count. A condition may kill
/// between shots, or up to a minute after the last; shots that left later do not count. A weapon that
/// needs more than a hundred thousand hits is out of ammunition. Preconditions (asserted): `distance` at
/// least 0; `region` is one of the body's.
IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                             const ProjectileSpec* projectile = nullptr);

/// The same for a body as it is, without conditions.
IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const BodySpec& body, Metres distance, RegionId region,
                             const ProjectileSpec* projectile = nullptr);

/// The same for a blade whose attack is begun again as soon as it may be: every one of them hits, in the
/// middle of its active span; the time counts from the first hit. Out of range beyond the blade's reach.
IdealKill ideal_time_to_kill(const MeleeSpec& melee, const MeleeAttackSpec& attack, const Target& target,
                             Metres distance, RegionId region);

/// The same with a course that is known, and grows as needed.
IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                             const ProjectileSpec* projectile, ShotCourse& course);

} // namespace avrek
