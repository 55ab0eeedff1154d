#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/weapon/weapon_state.h>

namespace avrek {

/// How the shooter stands, as far as a weapon cares.
struct Stance {
    double speed = 0.0; ///< m/s, smoothed
    bool crouching = false;
    bool airborne = false;
};

/// The half-angle of the cone for one blend of aiming, stance and bloom:
/// blend(hip, aimed) * crouching * airborne * moving(speed) + bloom, at most `widest_spread`.
Radians cone_of(const SpreadSpec& spread, double aim_blend, const Stance& stance, Radians bloom);

/// As cone_of(), of a first shot after a rest: what crouching, jumping and moving add to the cone beyond its
/// size at rest is all that is left of it, so that it is 0 for who stands still.
Radians first_shot_cone(const SpreadSpec& spread, double aim_blend, const Stance& stance);

/// The stance at `at`, with the speed that shows: it follows the stated one, and half of the difference is
/// made up for in each SpreadSpec::settle.
Stance stance_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// The bloom at `at`.
Radians bloom_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// The half-angle of the cone that a shot at `at` would leave in.
Radians cone_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// The ends of what a cone can be.
struct ConeRange {
    Radians min = 0.0;
    Radians max = 0.0;
};

/// The narrowest and the widest that the cone can get, over every stance, speed, aim and bloom.
ConeRange cone_range(const SpreadSpec& spread);

/// Where `cone` lies between the widest that `spread` allows, 0, and the narrowest, 1. It is 1 for a weapon
/// whose cone never changes.
double accuracy_of(const SpreadSpec& spread, Radians cone);

/// What a picture is seen on.
struct Screen {
    Radians field_of_view = 1.0471975511965976; ///< vertical, at the hip; in (0, pi)
    double height = 1080.0;                     ///< pixels, over 0
};

/// How far from the middle of the screen a crosshair's lines start to frame `cone`, in pixels:
/// height / 2 * tan(cone) / tan(field_of_view / 2), for a flat picture.
double crosshair_gap(Radians cone, const Screen& screen);

} // namespace avrek
