#pragma once
#include <avrek/core/units.h>

#include <cstdint>
#include <limits>

/// What a shot may do besides stopping when it meets something.
namespace avrek {

/// How something that is fired bounces off the level. What it hits has a say too: see SurfaceSpec.
struct BounceSpec {
    std::int32_t count = 0;   ///< bounces at most, at least 0
    double restitution = 1.0; ///< times that of the surface, at least 0; the product counts as at most 1
    double friction = 1.0;    ///< times that of the surface, at least 0; the product counts as at most 1
    Metres distance =
        std::numeric_limits<double>::infinity(); ///< that it may fly after its first bounce, at least 0
    double min_speed = 1.0;                      ///< m/s: what would bounce off slower stays, at least 0
};

/// How something that is fired goes through things. Bodies take `per_body` each, the level what its surfaces
/// take per metre; damage falls as what is left of `energy`.
struct PierceSpec {
    double energy = 0.0;   ///< at least 0; 0: it pierces nothing
    double per_body = 0.0; ///< at least 0
};

} // namespace avrek
