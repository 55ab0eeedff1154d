#pragma once
#include <avrek/core/units.h>
#include <avrek/core/vectors.h>

#include <string>

namespace avrek {

/// Movement of a body by its locomotion. It collides with the level as an upright capsule.
struct MovementSpec {
    double speed = 5.0;       ///< m/s over the ground, at least 0
    double sprint = 1.5;      ///< factor for sprinting, at least 0
    double crouching = 0.5;   ///< factor for crouching, at least 0
    double jump = 4.0;        ///< upward speed of a jump in m/s, at least 0
    Metres radius = 0.35;     ///< over 0
    Metres height = 1.8;      ///< over 2 * radius
    Metres step = 0.45;       ///< maximum height of a step that it walks up, at least 0
    std::string locomotion{}; ///< name of the locomotion that moves it; empty: the first of the skirmish
};

/// Eye and weapon of a body, in its own axes: feet at the origin, facing +Z.
struct PostureSpec {
    Vector3 eye{0.0, 1.62, 0.08};
    /// Where it holds its weapon; the weapon and blade turn about it.
    Vector3 grip{-0.18, 1.4, 0.1};
    Metres muzzle = 0.55;  ///< distance from the grip along the look, at least 0
    double crouched = 0.7; ///< factor for the heights of both while crouching, over 0
};

} // namespace avrek
