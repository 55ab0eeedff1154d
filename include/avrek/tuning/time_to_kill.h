#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/time.h>
#include <avrek/tuning/firing_plan.h>
#include <avrek/tuning/target.h>
#include <avrek/tuning/time_base.h>

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

namespace detail {
class FastestPlans;
}

/// Whether a weapon can kill, and why not.
enum class KillVerdict : std::uint8_t {
    kills,
    out_of_range,      ///< beyond the weapon's reach
    no_damage,         ///< no damage at this distance and region
    out_of_ammunition, ///< not enough rounds in magazine and reserve
    outlasted,         ///< the target recovers as much between hits as they take
};

/// Returns the words for a verdict, such as "out of range".
std::string_view to_string(KillVerdict verdict);

/// Actions of the fastest plan besides holding the trigger.
struct IdealPlan {
    std::int32_t reloads = 0;       ///< before the last shot
    std::int32_t early_reloads = 0; ///< reloads begun with a shot left
    std::int32_t cut_reloads = 0;   ///< reloads cut by the trigger
    std::int32_t pauses = 0;        ///< pauses to cool, or for a cell to refill, beyond the minimum
    std::int32_t part_charges = 0;  ///< shots below full charge
    friend bool operator==(const IdealPlan&, const IdealPlan&) = default;
};

/// Returns the words for a plan, such as "hold, 1 reload, 1 of them cut" or "part charge".
std::string to_string(const IdealPlan& plan);

/// The ideal kill: every shot hits.
struct IdealKill {
    KillVerdict verdict = KillVerdict::kills;
    double damage_per_hit = 0.0; ///< one pellet with its blast, before the target's defences
    std::int32_t shots = 0;      ///< shots to kill; 0 unless the verdict is `kills`
    Duration time{};             ///< from the first pull of the trigger to the death
    Duration first_shot{};       ///< from the first pull to the first shot
    Duration flight{};           ///< flight time of each shot
    IdealPlan plan{};            ///< the fastest plan
};

/// Returns IdealKill::time from another start. Precondition (asserted): not `sight`, as there is no shooter.
Duration since(const IdealKill& kill, TimeBase base);

/// Times of the shots of a weapon fired as fast as it allows, from full to empty. Reusable for every distance
/// and target.
struct ShotCourse {
    Duration first{};                               ///< first shot after the pull of the trigger
    std::vector<Duration> shots{};                  ///< since the first shot
    std::vector<std::int32_t> reloads{};            ///< reloads before each shot
    std::shared_ptr<detail::FastestPlans> faster{}; ///< faster plans than holding; found as needed
};

/// Returns the first `most` shots with FiringPlanKind::hold.
ShotCourse shot_course(const WeaponSpec& weapon, std::size_t most);

/// Returns the ideal time to kill: every pellet of every shot hits `region` of `target` at `distance`, from a
/// full weapon in its first mode. It is the shortest time with trigger and reload alone, from the first pull
/// of the trigger, charge and spin-up included. Usually FiringPlanKind::hold: for automatic and single
/// weapons (shots - 1) intervals, plus a reload for each empty magazine. Faster can be: a reload cut by the
/// trigger, an early reload, a pause before overheating or until a cell holds several shots, a partial
/// charge. IdealPlan names it, and ideal_plan() returns its intents. The pauses of a weapon that spins up and
/// overheats are searched coarsely: a slightly faster plan can exist.
///
/// Hitscan damage applies as the shot leaves. For a projectile weapon, `projectile` is what it launches: the
/// flight counts (flight_time(), out of range where there is none), and the explosion where it hits. Against
/// a target that changes by itself, the plans that fire 1, 2, 3 ... shots as early as possible are searched.
///
/// Hits use take_hit(): refilling defence layers, resistances, conditions and guards count. A condition can
/// kill between shots, or up to a minute after the last; later shots do not count. A weapon that needs more
/// than a hundred thousand hits is out of ammunition. Preconditions (asserted): `distance` at least 0;
/// `region` is one of the body's.
IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                             const ProjectileSpec* projectile = nullptr);

/// Returns the intents of the shooter who kills as fast as ideal_time_to_kill() says: a plan of
/// FiringPlanKind::intents. Empty unless the verdict is `kills`.
FiringPlan ideal_plan(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                      const ProjectileSpec* projectile = nullptr);

/// Returns the ideal time to kill a body without conditions.
IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const BodySpec& body, Metres distance, RegionId region,
                             const ProjectileSpec* projectile = nullptr);

/// Returns the ideal time to kill with a blade that is swung again as soon as possible: every swing hits in
/// the middle of its active span; time counts from the start of the first. Out of range beyond the blade's
/// reach.
IdealKill ideal_time_to_kill(const MeleeSpec& melee, const MeleeAttackSpec& attack, const Target& target,
                             Metres distance, RegionId region);

/// Returns the ideal time to kill with a known course, which grows as needed.
IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                             const ProjectileSpec* projectile, ShotCourse& course);

} // namespace avrek
