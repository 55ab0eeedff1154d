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

/// Any weapon or blade of an arsenal, used in a level with standing bodies.
namespace avrek {

/// Setup of a trial.
struct LevelTrialSetup {
    Vector3 muzzle = Vector3::Zero(); ///< turning point of a blade
    Look look{};
    Duration length = std::chrono::seconds{1}; ///< firing time: shots leave in [0, length)
    Duration after = std::chrono::seconds{20}; ///< time for which projectiles are followed after that
    FiringPlan plan{};
    Posture posture{};
    double recoil_control = 1.0; ///< share of the lasting recoil that the shooter pulls back
    std::uint64_t seed = 1;
    const BodySpec* body = nullptr; ///< kind of the bodies; outlives the trial; not null
    std::vector<Pose> bodies{};     ///< positions; body n has the id n + 1 and is a foe
};

/// Cause of a segment's end.
enum class SegmentEnd : std::uint8_t {
    stops,
    bounces,
    pierces,
    sticks,
    explodes,    ///< by its fuse, near a body, or where it stopped
    is_gone,     ///< its lifetime or its bounce distance is over
    reaches_out, ///< its range is over
    strikes,     ///< end of a blade's active span
};

/// Returns the words for the end of a segment, such as "bounces off".
std::string_view to_string(SegmentEnd end);

/// Index of no wound.
inline constexpr std::size_t no_wound = static_cast<std::size_t>(-1);

/// One segment of a path, from one impact to the next.
struct TrialSegment {
    std::uint32_t shot = 0;  ///< from 0
    std::int32_t pellet = 0; ///< in the shot, from 0
    Time begins{};
    Time ends{};
    /// From start to end; a point every 1/120 s where it bends; at least two.
    std::vector<Vector3> way{};
    SegmentEnd end = SegmentEnd::stops;
    std::optional<Hit> hit{};     ///< the hit, if anything was hit
    double power = 1.0;           ///< share of the damage at its end
    double speed = 0.0;           ///< m/s at its end, before the impact; 0 for hitscan
    Metres flown = 0.0;           ///< distance flown by the shot, at its end
    std::size_t wound = no_wound; ///< index in LevelTrial::wounds of the wound that it caused
};

/// One wound of one body.
struct TrialWound {
    std::uint32_t shot = 0;
    std::int32_t pellet = 0;
    Time at{};
    BodyId body{};
    RegionId region{};
    Vector3 point = Vector3::Zero(); ///< on the body
    /// Distance flown; for explosions, sprays and blades from the centre, muzzle or turning point.
    Metres distance = 0.0;
    double exposure = 1.0; ///< explosions and sprays
    bool by_blast = false;
    Damage damage{};       ///< applied damage; no steps for a dead body
    double absorbed = 0.0; ///< defence points lost besides
    double health_left = 0.0;
    bool died = false; ///< the wound was deadly
};

/// An explosion of a trial.
struct TrialBlast {
    Vector3 centre = Vector3::Zero();
    Metres radius = 0.0;
};

/// Everything that happened. Times of hitscan segments are those of the tracer; damage applies at the shot.
struct LevelTrial {
    std::vector<TrialSegment> segments{}; ///< in order of their ends
    std::vector<TrialWound> wounds{};     ///< in order of time
    std::vector<TrialBlast> blasts{};
    std::vector<WeaponEvent> weapon_events{}; ///< empty for a blade
    std::vector<Vitals> bodies{};             ///< after the last wound
    std::vector<double> worn{};               ///< health that conditions took from each body
    std::int32_t shots = 0;                   ///< shots, or swings
    std::size_t still_flying = 0;             ///< projectiles still in flight at the end
};

/// Id of the shooter of a trial. It is not in the level.
inline constexpr BodyId trial_shooter{0};

/// Fires `weapon` by the setup's plan. Preconditions (asserted): lengths at least 0, at most 65534 bodies,
/// the arsenal has the weapon's projectile, and those of fire_by_plan().
LevelTrial run_in_level(const Arsenal& arsenal, const WeaponSpec& weapon, const Level& level,
                        const LevelTrialSetup& setup);

/// Swings `attack` of `melee` as often as it can within the setup's length. Preconditions (asserted): as
/// above; the attack exists.
LevelTrial strike_in_level(const MeleeSpec& melee, std::size_t attack, const Level& level,
                           const LevelTrialSetup& setup);

/// Returns the look from `muzzle` with which `weapon` hits a point at rest: straight, or in the low arc of
/// its projectile; none out of reach.
std::optional<Look> look_at(const Arsenal& arsenal, const WeaponSpec& weapon, const Vector3& muzzle,
                            const Vector3& point);

} // namespace avrek
