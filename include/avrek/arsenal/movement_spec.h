#pragma once
#include <avrek/core/units.h>
#include <avrek/core/vectors.h>

namespace avrek {

/// How a body walks where no game moves it, and as what it meets the level then: an upright capsule.
struct MovementSpec {
    double speed = 5.0;     ///< m/s over the ground, at least 0
    double sprint = 1.5;    ///< factor of a sprint, at least 0
    double crouching = 0.5; ///< factor of a crouch, at least 0
    double jump = 4.0;      ///< m/s upwards with which it jumps, at least 0
    Metres radius = 0.35;   ///< over 0
    Metres height = 1.8;    ///< over 2 * radius
    Metres step = 0.45;     ///< height that it walks up at once, at least 0
};

/// Where a body sees and shoots from, in its own axes: feet at the origin, facing +Z.
struct PostureSpec {
    Vector3 eye{0.0, 1.62, 0.08};
    Vector3 grip{-0.18, 1.4, 0.1}; ///< where it holds a weapon, and about which it turns and strikes
    Metres muzzle = 0.55;          ///< from there to the muzzle, along the look, at least 0
    double crouched = 0.7;         ///< factor of the heights of both in a crouch, over 0
};

} // namespace avrek
