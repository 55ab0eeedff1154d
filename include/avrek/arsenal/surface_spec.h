#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/units.h>

#include <span>
#include <string>

namespace avrek {

/// A material of the level or of a body, as shots meet it.
struct SurfaceSpec {
    std::string id{};
    double restitution = 0.3;         ///< share of the normal speed that a bounce keeps, in [0, 1]
    double friction = 0.2;            ///< share of the tangential speed that a bounce loses, in [0, 1]
    Radians grazing_angle = 0.5 * pi; ///< maximum angle between path and surface for a bounce
    /// Energy that a metre of the level costs a piercing shot, at least 0. A body costs PierceSpec::per_body.
    double resistance = 1000.0;
};

/// Returns the surface with this id: SurfaceId{n} is the n-th of `surfaces`, counted from 1. For
/// SurfaceId{0}, and any id beyond, it returns a plain surface with the default values.
const SurfaceSpec& surface_of(std::span<const SurfaceSpec> surfaces, SurfaceId id);

} // namespace avrek
