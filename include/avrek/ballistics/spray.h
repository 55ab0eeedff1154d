#pragma once
#include <avrek/core/time.h>
#include <avrek/scene/world.h>

#include <cstddef>
#include <span>

namespace avrek {

/// One shot of a spray: a short cone that hits everything in it.
struct Spray {
    Vector3 muzzle = Vector3::Zero();
    Vector3 direction = world_forward(); ///< unit length
    Radians half_angle = 0.0;            ///< over 0, at most pi/3
    Metres range = 1.0;                  ///< over 0
    Time at = present;
};

/// Effect of a spray on one body.
struct SprayHit {
    BodyId body{};
    Hit nearest{};         ///< nearest visible point in the cone; distance from the muzzle
    double exposure = 0.0; ///< share of unblocked sight lines, in (0, 1]
};

/// Writes the bodies of `filter` that a spray hits, each once, in order of ids: those with a visible point in
/// the cone and within its range. Sight lines are those of explosions, as far as they end in the cone. A body
/// that reaches into the cone by less than a hundredth of the range can count as outside. Returns the number
/// written, as many as fit. Preconditions (asserted): as Spray says. At most 64 bodies within the range
/// count, those with the lowest ids.
std::size_t spray(const World& world, const Spray& spray, const Filter& filter, std::span<SprayHit> hits);

} // namespace avrek
