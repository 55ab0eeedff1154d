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

class FastestPlans;

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

/// What the fastest plan does besides holding the trigger down.
struct IdealPlan {
    std::int32_t reloads = 0;       ///< before the last shot
    std::int32_t early_reloads = 0; ///< of them, begun with a shot left
    std::int32_t cut_reloads = 0;   ///< of them, ended by the trigger
    std::int32_t pauses = 0;        ///< to cool, or for a cell to refill, longer than it has to
    std::int32_t part_charges = 0;  ///< shots that are not charged to the full
    friend bool operator==(const IdealPlan&, const IdealPlan&) = default;
};

/// The words for a plan, such as "hold, 1 reload, 1 of them cut" or "part charge".
std::string to_string(const IdealPlan& plan);

/// How fast a weapon kills when every shot hits.
struct IdealKill {
    KillVerdict verdict = KillVerdict::kills;
    double damage_per_hit = 0.0; ///< of one pellet, with its blast, before what the body makes of it
    std::int32_t shots = 0;      ///< to kill; 0 unless the verdict is `kills`
    Duration time{};             ///< from the first pull of the trigger to the death
    Duration first_shot{};       ///< from the first pull to the first shot's leaving
    Duration flight{};           ///< of each shot
    IdealPlan plan{};            ///< by which it does
};

/// IdealKill::time with another beginning. Precondition (asserted): not `sight`, as there is no shooter.
Duration since(const IdealKill& kill, TimeBase base);

/// When the shots of a weapon leave that is fired as fast as it allows, from full, until nothing is left.
/// Found once, it serves for every distance and target.
struct ShotCourse {
    Duration first{};                       ///< of the first one, after the pull of the trigger
    std::vector<Duration> shots{};          ///< after the first one
    std::vector<std::int32_t> reloads{};    ///< before each
    std::shared_ptr<FastestPlans> faster{}; ///< plans that are faster than holding; found as needed
};

/// The first `most` shots by FiringPlanKind::hold.
ShotCourse shot_course(const WeaponSpec& weapon, std::size_t most);

/// The ideal time to kill: every pellet of every shot hits `region` of `target` at `distance`, from a full
/// weapon in its first mode. It is the least time there is with trigger and reload alone, from the first pull
/// of the trigger, so that charge and spin-up count. Mostly that is FiringPlanKind::hold: for an automatic or
/// single weapon (shots - 1) intervals, plus a reload wherever the magazine runs out before. Faster can be: a
/// reload that the trigger cuts, one that begins before the magazine is empty, a pause before a weapon is too
/// hot or until a cell holds more than one shot, a charge that is just enough. IdealPlan says which it is,
/// and ideal_plan() what the shooter states.
///
/// What arrives at once does its damage as the shot leaves; for a weapon that launches projectiles
/// `projectile` is what it launches: then the flight counts (flight_time(), out of range where there is
/// none), and the blast where it hits. Against a target that changes by itself the least is sought among the
/// plans that fire 1, 2, 3 ... shots as early as they can.
///
/// Hits meet the target through take_hit(): layers that come back between shots, resistances, conditions that
/// run out, those that hits leave and what they do by themselves, and a guard all count. A condition may kill
/// between shots, or up to a minute after the last; shots that left later do not count. A weapon that
/// needs more than a hundred thousand hits is out of ammunition. Preconditions (asserted): `distance` at
/// least 0; `region` is one of the body's.
IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                             const ProjectileSpec* projectile = nullptr);

/// What a shooter states who kills as fast as ideal_time_to_kill() says: a plan of FiringPlanKind::intents.
/// Empty unless the verdict is `kills`.
FiringPlan ideal_plan(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                      const ProjectileSpec* projectile = nullptr);

/// The ideal time to kill a body as it is, without conditions.
IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const BodySpec& body, Metres distance, RegionId region,
                             const ProjectileSpec* projectile = nullptr);

/// The ideal time to kill with a blade whose attack is begun again as soon as it may be: every one of them
/// hits, in the middle of its active span; the time counts from the beginning of the first. Out of range
/// beyond the blade's reach.
IdealKill ideal_time_to_kill(const MeleeSpec& melee, const MeleeAttackSpec& attack, const Target& target,
                             Metres distance, RegionId region);

/// The ideal time to kill with a course that is known, and grows as needed.
IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                             const ProjectileSpec* projectile, ShotCourse& course);

} // namespace avrek
