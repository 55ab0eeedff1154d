#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/time.h>

#include <cstdint>
#include <optional>

namespace avrek {

/// Why a weapon cannot kill, or that it can.
enum class KillVerdict : std::uint8_t {
    kills,
    out_of_range,      ///< the body is farther away than the weapon reaches
    no_damage,         ///< a hit is worth nothing at this distance and region
    out_of_ammunition, ///< magazine and reserve together do not hold enough rounds
};

/// The words for a verdict, such as "out of range".
std::string_view to_string(KillVerdict verdict);

/// How fast a weapon kills when every shot hits.
struct IdealKill {
    KillVerdict verdict = KillVerdict::kills;
    double damage_per_hit = 0.0; ///< of one pellet, with its blast, before the last hit's clamp
    std::int32_t shots = 0;      ///< to kill; 0 unless the verdict is `kills`
    std::int32_t reloads = 0;    ///< among them
    Duration time{};             ///< from the first shot's leaving to the arrival of the lethal damage
};

/// The ideal time to kill: every pellet of every shot hits `region` of an unhurt `body` at `distance`, from a
/// full weapon in its first mode, fired as fast as it allows by FiringPlanKind::hold, reloads included. The
/// times are those of fire_by_plan(): for an automatic or single weapon (shots - 1) intervals, plus a reload
/// wherever the magazine runs out before. A charged weapon is charged to the full each time; the time counts
/// from its first shot's leaving. What arrives at once does its damage as the shot leaves; for a weapon that
/// launches projectiles `projectile` is what it launches: then the last shot's flight counts (flight_time(),
/// out of range where there is none), and the blast where it hits. A weapon that needs more than a hundred
/// thousand hits is out of ammunition. Preconditions (asserted): `distance` at least 0; `region` is one of
/// the body's.
IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const BodySpec& body, Metres distance, RegionId region,
                             const ProjectileSpec* projectile = nullptr);

} // namespace avrek
