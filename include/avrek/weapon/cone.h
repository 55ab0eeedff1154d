#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/weapon/weapon_state.h>

namespace avrek {

/// Stance of the shooter, as far as spread depends on it.
struct Stance {
    double speed = 0.0; ///< m/s, smoothed
    bool crouching = false;
    bool airborne = false;
};

/// Returns the half-angle of the cone: blend(hip, aimed) * crouching * airborne * moving(speed) + bloom, at
/// most `widest_spread`.
Radians cone_of(const SpreadSpec& spread, double aim_blend, const Stance& stance, Radians bloom);

/// Returns the cone of a first shot after a rest: only what crouching, jumping and moving add to the cone at
/// rest. 0 for a standing shooter.
Radians first_shot_cone(const SpreadSpec& spread, double aim_blend, const Stance& stance);

/// Returns the stance at `at`, with a speed that follows the stated one with SpreadSpec::speed_half_life.
Stance stance_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// Returns the bloom at `at`.
Radians bloom_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// Parts of a cone. They add up to it, below `widest_spread`.
struct ConeParts {
    Radians base = 0.0;     ///< standing still, at this aim; 0 for an exact first shot
    Radians movement = 0.0; ///< added by speed, jumps and crouching; below 0 where they narrow it
    Radians bloom = 0.0;    ///< added by the shots before
};

/// Returns the parts of the cone of a shot at `at`.
ConeParts cone_parts_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// Returns the half-angle of the cone of a shot at `at`.
Radians cone_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// Limits of a cone.
struct ConeRange {
    Radians min = 0.0;
    Radians max = 0.0;
};

/// Returns the narrowest and the widest cone over every stance, speed, aim and bloom.
ConeRange cone_range(const SpreadSpec& spread);

/// Returns the accuracy of `cone`: 0 for the widest cone of `spread`, 1 for the narrowest. 1 for a weapon
/// with a constant cone.
double accuracy_of(const SpreadSpec& spread, Radians cone);

/// Screen of the player.
struct Screen {
    Radians field_of_view = 1.0471975511965976; ///< vertical, at the hip; in (0, pi)
    double height = 1080.0;                     ///< pixels, over 0
};

/// Returns the distance in pixels from the middle of the screen at which crosshair lines frame `cone`: height
/// / 2 * tan(cone) / tan(field_of_view / 2), for a flat picture.
double crosshair_gap(Radians cone, const Screen& screen);

} // namespace avrek
