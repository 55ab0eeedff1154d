#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/ballistics/hitscan.h>
#include <avrek/core/time.h>
#include <avrek/scene/silhouette.h>
#include <avrek/vitals/vitals.h>
#include <avrek/weapon/weapon.h>

#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

/// A firing range: one weapon, one body that stands still and faces it, a floor and a wall behind.
namespace avrek {

/// What is fired at, for how long, and with which random numbers.
struct RangeSetup {
    Metres distance = 20.0; ///< from the muzzle to the body's axis, over 0
    Duration length{};      ///< shots leave in [0, length)
    RegionId aim{};         ///< the region that is aimed at: level, at the height of its aim_point()
    std::uint64_t seed = 1;
};

/// What the wall and the floor of the range are made of.
inline constexpr SurfaceId range_floor{1};
inline constexpr SurfaceId range_wall{2};

/// One shot at the target.
struct RangeShot {
    Time at;
    std::uint32_t number = 0; ///< from 0
    Vector3 direction;        ///< in which it left
    BoardPoint board;         ///< where its line crosses the board
    std::optional<Hit> hit;   ///< none when it reached nothing within the weapon's range
    Damage damage;            ///< what was applied to the body; no steps when nothing was
    double health_left = 0.0;
};

/// Everything that happened on the range.
struct RangeTrial {
    Board board; ///< through the body's axis, facing the muzzle
    Pose target; ///< where the body stands
    std::vector<RangeShot> shots;
    std::vector<WeaponEvent> weapon_events; ///< all of them, shots too, in order of time
    std::optional<Time> death;
    std::int32_t shots_to_death = 0; ///< including misses; 0 while it lives
};

/// Fires `weapon` at `body` as fast as the trigger allows, reloading whenever the magazine is empty, until
/// the time is over or nothing is left to load. Shots at the dead body still hit, and take nothing.
/// Preconditions (asserted): `distance` over 0, `length` at least 0, `aim` is one of the body's regions.
RangeTrial run_range(const WeaponSpec& weapon, const BodySpec& body, const RangeSetup& setup);

/// The words for what a shot hit: the name of a region, "wall", "floor" or "nothing".
std::string_view hit_name(const BodySpec& body, const RangeShot& shot);

/// The radius of the circle in which the weapon's cone crosses the board.
Metres spread_radius(const WeaponSpec& weapon, const RangeTrial& trial);

} // namespace avrek
