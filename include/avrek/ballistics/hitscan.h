#pragma once
#include <avrek/ballistics/impact.h>
#include <avrek/core/time.h>

#include <optional>
#include <span>

namespace avrek {

/// The way of one shot that arrives at once.
struct HitscanPath {
    Vector3 start;
    Vector3 end;            ///< where it hit, or how far it reached
    std::optional<Hit> hit; ///< none when it hit nothing within its range
};

/// Fires from `muzzle` along `direction` and stops at the first thing within `range` that `filter` names; a
/// miss has an end point too. Put the shooter among the filter's ignored bodies. Bodies stand as they did at
/// `at`. Preconditions (asserted): a direction of unit length within 1e-9; range at least 0.
HitscanPath fire_hitscan(const World& world, const Vector3& muzzle, const Vector3& direction, Metres range,
                         const Filter& filter, Time at = present);

/// One straight part of a shot's way, and what is at its end.
struct PathSegment {
    Vector3 start = Vector3::Zero();
    Vector3 end = Vector3::Zero();
    Metres flown_before = 0.0; ///< flown by the shot before this leg
    double power = 1.0;        ///< share of the damage that it does at the end of this leg
    std::optional<Hit> hit{};  ///< none when its range ends here
    ImpactResult result = ImpactResult::stops;
};

/// A shot that arrives at once, and how it goes on from what it hits.
struct HitscanShot {
    Vector3 muzzle = Vector3::Zero();
    Vector3 direction = world_forward(); ///< of unit length
    Metres range = 100.0;                ///< at least 0, along all legs
    BounceSpec bounce{};                 ///< speeds do not matter: min_speed is not looked at
    PierceSpec pierce{};
};

/// Fires `shot` and follows it through what it pierces and off what it bounces from. Every body is hit at
/// most once. Writes its legs in order, as many as fit; at least one. Returns how many. Preconditions
/// (asserted): as for fire_hitscan(), and room for a leg.
std::size_t follow_hitscan(const World& world, std::span<const SurfaceSpec> surfaces, const HitscanShot& shot,
                           const Filter& filter, std::span<PathSegment> segments, Time at = present);

/// When something that has flown `distance` at a constant speed since `fired` gets there, for tracers and for
/// damage that travels. Precondition (asserted): speed over 0, in m/s.
Time arrival(Time fired, Metres distance, double speed);

} // namespace avrek
