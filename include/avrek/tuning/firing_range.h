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

/// What is fired at, how, for how long, and with which random numbers.
struct RangeSetup {
    Metres distance = 20.0; ///< from the muzzle to the body's axis, over 0
    Duration length{};      ///< shots leave in [0, length)
    RegionId aim{};         ///< the region that is aimed at: level, at the height of its aim_point()
    std::uint64_t seed = 1;
    FiringPlan plan{};
    Posture posture{};
    double recoil_control =
        1.0; ///< the share of the kicks that the shooter pulls back, of what does not return by itself
    std::span<const ConditionSpec> conditions{}; ///< the arsenal's; without them hits leave none
};

/// What the wall and the floor of the range are made of.
inline constexpr SurfaceId range_floor{1};
inline constexpr SurfaceId range_wall{2};

/// One pellet of one shot at the target.
struct RangeShot {
    Time at;
    std::uint32_t number = 0; ///< of the shot, from 0
    std::int32_t pellet = 0;  ///< of the shot, from 0
    Radians cone = 0.0;       ///< half-angle that the shot left in
    Vector3 direction;        ///< in which it left
    BoardPoint board;         ///< where its line crosses the board
    std::optional<Hit> hit;   ///< none when it reached nothing within the weapon's range
    Damage damage;            ///< what was applied to the body; no steps when nothing was
    double absorbed = 0.0;    ///< that layers of the body took besides
    double health_left = 0.0;
};

/// Everything that happened on the range.
struct RangeTrial {
    Board board;                            ///< through the body's axis, facing the muzzle
    Pose target;                            ///< where the body stands
    std::vector<RangeShot> shots;           ///< pellet by pellet
    std::vector<WeaponEvent> weapon_events; ///< all of them, shots too, in order of time
    std::optional<Time> death;
    std::int32_t shots_fired = 0;    ///< whatever the number of pellets
    std::int32_t shots_to_death = 0; ///< including misses; 0 while it lives
    std::int32_t hits = 0;           ///< pellets on the body, dead or alive
    GroupSize group;                 ///< of all pellets
    Radians widest_cone = 0.0;       ///< of all shots
};

/// Fires `weapon` at `body` by the plan. The muzzle looks at the aim, but for the kicks that have not yet
/// returned or been pulled back. Pellets of a shot arrive in their order; those at the dead body still hit,
/// and take nothing. Preconditions (asserted): `distance` over 0, `length` at least 0, `aim` is one of the
/// body's regions, `pull` in [0, 1], and those of fire_by_plan().
RangeTrial run_range(const WeaponSpec& weapon, const BodySpec& body, const RangeSetup& setup);

/// The words for what a shot hit: the name of a region, "wall", "floor" or "nothing".
std::string_view hit_name(const BodySpec& body, const RangeShot& shot);

/// The radius of the circle in which a cone of half-angle `cone` crosses the board.
Metres cone_radius(Radians cone, const RangeTrial& trial);

} // namespace avrek
