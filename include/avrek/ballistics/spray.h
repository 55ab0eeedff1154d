#pragma once
#include <avrek/core/time.h>
#include <avrek/scene/world.h>

#include <cstddef>
#include <span>

namespace avrek {

/// A short cone that touches what is in it: one shot of a weapon that sprays.
struct Spray {
    Vector3 muzzle = Vector3::Zero();
    Vector3 direction = world_forward(); ///< of unit length
    Radians half_angle = 0.0;            ///< over 0, at most pi/3
    Metres range = 1.0;                  ///< over 0
    Time at = present;
};

/// What a spray does to one body.
struct SprayHit {
    BodyId body{};
    Hit nearest{}; ///< its nearest point that is in the cone and in sight; the distance is from the muzzle
    double exposure = 0.0; ///< share of the sight lines to it that nothing blocks, over 0 to 1
};

/// The bodies of `filter` that a spray touches, each once, in the order of their ids: those with a point in
/// the cone, not farther than its range, that the level does not hide. Sight lines are those of blasts, as
/// far as they end in the cone. A body that reaches into the cone by less than a hundredth of the range may
/// count as outside. Writes as many as fit; returns how many. Preconditions (asserted): as Spray says, and at
/// most 64 bodies within the range: of more, those with the lowest ids count.
std::size_t spray(const World& world, const Spray& spray, const Filter& filter, std::span<SprayHit> hits);

} // namespace avrek
