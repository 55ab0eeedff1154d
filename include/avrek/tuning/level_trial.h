#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/ballistics/blast.h>
#include <avrek/ballistics/hitscan.h>
#include <avrek/ballistics/melee.h>
#include <avrek/ballistics/projectiles.h>
#include <avrek/scene/level.h>
#include <avrek/tuning/firing_plan.h>
#include <avrek/vitals/vitals.h>

#include <cstddef>
#include <cstdint>
#include <string_view>
#include <vector>

/// Anything in an arsenal, fired or struck in a level with bodies that stand in it.
namespace avrek {

/// Who fires, from where, how and at whom.
struct LevelTrialSetup {
    Vector3 muzzle = Vector3::Zero(); ///< of a blade: what it turns about
    Look look{};
    Duration length = std::chrono::seconds{1}; ///< the trigger is worked in [0, length)
    Duration after = std::chrono::seconds{20}; ///< how long what has been fired is watched beyond that
    FiringPlan plan{};
    Posture posture{};
    double recoil_control = 1.0; ///< the share of the lasting kicks that the shooter pulls back
    std::uint64_t seed = 1;
    const BodySpec* body = nullptr; ///< the kind of the bodies; outlives the trial; not null
    std::vector<Pose> bodies{};     ///< where they stand; body n has the id n + 1, and is nobody's friend
};

/// What ends a leg of a way.
enum class SegmentEnd : std::uint8_t {
    stops,
    bounces,
    pierces,
    sticks,
    explodes,    ///< by its fuse, near a body, or where it stopped
    is_gone,     ///< its lifetime, or its way after a bounce, is over
    reaches_out, ///< its range is over
    strikes,     ///< the end of a blade's active span
};

/// The words for the end of a leg, such as "bounces off".
std::string_view to_string(SegmentEnd end);

/// Stands for no wound.
inline constexpr std::size_t no_wound = static_cast<std::size_t>(-1);

/// A part of a way from one thing that happened to the next.
struct TrialSegment {
    std::uint32_t shot = 0;  ///< from 0
    std::int32_t pellet = 0; ///< of the shot, from 0
    Time begins{};
    Time ends{};
    std::vector<Vector3> way{}; ///< from its begin to its end; where it bends, every 1/120 s; at least two
    SegmentEnd end = SegmentEnd::stops;
    std::optional<Hit> hit{};     ///< what it met
    double power = 1.0;           ///< share of the damage that was left at its end
    double speed = 0.0;           ///< m/s at its end, before what happened; 0 for what arrives at once
    Metres flown = 0.0;           ///< by the shot, at its end
    std::size_t wound = no_wound; ///< in LevelTrial::wounds: what it did to the body that it met
};

/// What was done to one body at one moment.
struct TrialWound {
    std::uint32_t shot = 0;
    std::int32_t pellet = 0;
    Time at{};
    BodyId body{};
    RegionId region{};
    Vector3 point = Vector3::Zero(); ///< on the body
    Metres distance =
        0.0; ///< flown; of a blast, a spray or a blade: from its middle, muzzle or turning point
    double exposure = 1.0; ///< of a blast or a spray
    bool by_blast = false;
    Damage damage{};       ///< what was applied; no steps for a body that was dead
    double absorbed = 0.0; ///< that layers of the body took besides
    double health_left = 0.0;
    bool died = false; ///< by this
};

struct TrialBlast {
    Vector3 centre = Vector3::Zero();
    Metres radius = 0.0;
};

/// Everything that happened. Times of what arrives at once are those of its tracer; damage is done as it is
/// fired.
struct LevelTrial {
    std::vector<TrialSegment> segments{}; ///< in order of their ends
    std::vector<TrialWound> wounds{};     ///< in order of time
    std::vector<TrialBlast> blasts{};
    std::vector<WeaponEvent> weapon_events{}; ///< none for a blade
    std::vector<Vitals> bodies{};             ///< after the last wound
    std::vector<double> worn{};               ///< health that conditions took from each until then
    std::int32_t shots = 0;                   ///< or swings
    std::size_t still_flying = 0;             ///< projectiles that were under way at the end of it all
};

/// The shooter of a trial: it is not in the level, and no body of the trial has this id.
inline constexpr BodyId trial_shooter{0};

/// Fires `weapon` by the setup's plan. Preconditions (asserted): lengths at least 0, at most 65534 bodies,
/// the arsenal has the weapon's projectile, and those of fire_by_plan().
LevelTrial run_in_level(const Arsenal& arsenal, const WeaponSpec& weapon, const Level& level,
                        const LevelTrialSetup& setup);

/// Strikes with `attack` of `melee` as often as it can within the setup's length. Preconditions (asserted):
/// as above, and there is such an attack.
LevelTrial strike_in_level(const MeleeSpec& melee, std::size_t attack, const Level& level,
                           const LevelTrialSetup& setup);

/// The look from `muzzle` with which `weapon` meets a point that rests: straight, or in the low arc of its
/// projectile; none when it is out of reach.
std::optional<Look> look_at(const Arsenal& arsenal, const WeaponSpec& weapon, const Vector3& muzzle,
                            const Vector3& point);

} // namespace avrek
