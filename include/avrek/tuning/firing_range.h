#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/ballistics/hitscan.h>
#include <avrek/core/time.h>
#include <avrek/scene/silhouette.h>
#include <avrek/tuning/firing_plan.h>
#include <avrek/tuning/group_size.h>
#include <avrek/vitals/vitals.h>
#include <avrek/weapon/weapon.h>

#include <cstdint>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

/// A firing range: one weapon, one body that stands still and faces it, a floor and a wall behind.
namespace avrek {

/// Setup of a firing range.
struct RangeSetup {
    Metres distance = 20.0; ///< from the muzzle to the body's axis, over 0
    Duration length{};      ///< shots leave in [0, length)
    RegionId aim{};         ///< aimed region: level, at the height of its aim_point()
    std::uint64_t seed = 1;
    FiringPlan plan{};
    Posture posture{};
    /// Share of the recoil that the shooter pulls back, of what does not recover by itself.
    double recoil_control = 1.0;
    std::span<const ConditionSpec> conditions{}; ///< the arsenal's; without them hits leave none
};

/// Surfaces of the floor and the wall.
inline constexpr SurfaceId range_floor{1};
/// Surface of the wall.
inline constexpr SurfaceId range_wall{2};

/// One pellet of one shot.
struct RangeShot {
    Time at;
    std::uint32_t number = 0; ///< number of the shot, from 0
    std::int32_t pellet = 0;  ///< number in the shot, from 0
    Radians cone = 0.0;       ///< half-angle of the shot's cone
    Vector3 direction;        ///< direction of the pellet
    BoardPoint board;         ///< where its line crosses the board
    std::optional<Hit> hit;   ///< none: it hit nothing within the weapon's range
    Damage damage;            ///< applied damage; no steps if there was none
    double absorbed = 0.0;    ///< defence points lost besides
    double health_left = 0.0;
};

/// Everything that happened on the range.
struct RangeTrial {
    Board board;                            ///< through the body's axis, facing the muzzle
    Pose target;                            ///< pose of the body
    std::vector<RangeShot> shots;           ///< pellet by pellet
    std::vector<WeaponEvent> weapon_events; ///< all events, shots included, in order of time
    std::optional<Time> death;
    std::int32_t shots_fired = 0;    ///< whatever the number of pellets
    std::int32_t shots_to_death = 0; ///< misses included; 0 while it lives
    std::int32_t hits = 0;           ///< pellets on the body, dead or alive
    GroupSize group;                 ///< group of all pellets
    Radians widest_cone = 0.0;       ///< widest cone of all shots
};

/// Fires `weapon` at `body` by the plan. The muzzle points at the aim, apart from recoil that has not
/// recovered or been pulled back. Pellets of a shot arrive in order. Those at the dead body still hit,
/// without damage. Preconditions (asserted): `distance` over 0, `length` at least 0, `aim` is one of the
/// body's regions, `recoil_control` in [0, 1], and those of fire_by_plan().
RangeTrial run_range(const WeaponSpec& weapon, const BodySpec& body, const RangeSetup& setup);

/// Returns the words for what a shot hit: the name of a region, "wall", "floor" or "nothing".
std::string_view hit_name(const BodySpec& body, const RangeShot& shot);

/// Returns the radius of the circle in which a cone of half-angle `cone` crosses the board.
Metres cone_radius(Radians cone, const RangeTrial& trial);

} // namespace avrek
