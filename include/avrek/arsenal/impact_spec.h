#pragma once
#include <avrek/core/units.h>

#include <cstdint>
#include <limits>

/// Bouncing and piercing of shots and projectiles.
namespace avrek {

/// Bounces off the level, and off bodies that have a surface. The surface takes part: see SurfaceSpec. A path
/// hits each body once.
struct BounceSpec {
    std::int32_t count = 0;   ///< maximum bounces, at least 0
    double restitution = 1.0; ///< multiplies the surface's, at least 0; product at most 1
    double friction = 1.0;    ///< multiplies the surface's, at least 0; product at most 1
    Metres distance =
        std::numeric_limits<double>::infinity(); ///< maximum distance after the first bounce, at least 0
    double min_speed = 1.0;                      ///< m/s; slower rebounds stop instead, at least 0
};

/// Piercing. A body costs `per_body`, a level piece costs its surface's resistance per metre. Damage falls
/// with the energy that remains.
struct PierceSpec {
    double energy = 0.0;   ///< at least 0; 0: no piercing
    double per_body = 0.0; ///< energy that a body costs, at least 0
};

} // namespace avrek
