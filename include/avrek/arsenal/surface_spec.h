#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/units.h>

#include <span>
#include <string>

namespace avrek {

/// What a part of the level is made of, and what that does to shots that meet it.
struct SurfaceSpec {
    std::string id{};
    double restitution = 0.3;         ///< share of the speed towards it that a bounce gives back, in [0, 1]
    double friction = 0.2;            ///< share of the speed along it that a bounce takes, in [0, 1]
    Radians grazing_angle = 0.5 * pi; ///< between path and surface: steeper shots do not bounce, in [0, pi/2]
    double resistance = 1000.0;       ///< energy that each metre takes of a piercing shot, at least 0
};

/// The surface with this id: SurfaceId{n} is the n-th of `surfaces`, counted from 1; SurfaceId{0}, and any id
/// beyond, is a plain one with the values above.
const SurfaceSpec& surface_of(std::span<const SurfaceSpec> surfaces, SurfaceId id);

} // namespace avrek
