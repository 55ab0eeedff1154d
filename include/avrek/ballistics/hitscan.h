#pragma once
#include <avrek/ballistics/impact.h>
#include <avrek/core/time.h>

#include <optional>
#include <span>

namespace avrek {

/// Path of one straight hitscan shot.
struct HitscanPath {
    Vector3 start;
    Vector3 end;            ///< the hit, or the end of its range
    std::optional<Hit> hit; ///< none: nothing within its range
};

/// Fires from `muzzle` along `direction` at the first thing within `range` that `filter` names. A miss has an
/// end point too. Ignore the shooter in the filter. Bodies are where they are at `at`. Preconditions
/// (asserted): a direction of unit length within 1e-9; range at least 0.
HitscanPath fire_hitscan(const World& world, const Vector3& muzzle, const Vector3& direction, Metres range,
                         const Filter& filter, Time at = present);

/// One straight segment of a shot's path, and what is at its end.
struct PathSegment {
    Vector3 start = Vector3::Zero();
    Vector3 end = Vector3::Zero();
    Metres flown_before = 0.0; ///< distance flown before this segment
    double power = 1.0;        ///< share of the damage at the end of the segment
    std::optional<Hit> hit{};  ///< none: the range ends here
    ImpactResult result = ImpactResult::stops;
};

/// A hitscan shot that can bounce and pierce.
struct HitscanShot {
    Vector3 muzzle = Vector3::Zero();
    Vector3 direction = world_forward(); ///< unit length
    Metres range = 100.0;                ///< over all segments, at least 0
    BounceSpec bounce{};                 ///< min_speed is ignored
    PierceSpec pierce{};
};

/// Fires `shot` and follows it through what it pierces and off what it bounces from. It hits every body at
/// most once. Writes its segments in order, as many as fit, at least one. Returns how many. Preconditions
/// (asserted): as for fire_hitscan(), and room for a segment.
std::size_t follow_hitscan(const World& world, std::span<const SurfaceSpec> surfaces, const HitscanShot& shot,
                           const Filter& filter, std::span<PathSegment> segments, Time at = present);

/// Returns when something fired at `fired` has flown `distance` at a constant speed, for tracers and delayed
/// damage. Precondition (asserted): speed over 0, in m/s.
Time arrival(Time fired, Metres distance, double speed);

} // namespace avrek
