#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/weapon/weapon_state.h>

namespace avrek {

/// Returns how far the weapon is aimed at `at`: 0 from the hip to 1. Closed form from the last change.
double aim_blend_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// Returns the value between `hip` and `aimed` at this blend.
double blended(double hip, double aimed, double blend);

/// Returns the spin of TriggerMode::spin_up at `at`, 0 to 1; 0 in every other mode.
double spin_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// Returns how long the trigger has gathered power at `at`; 0 when it does not.
Duration charge_held_at(const WeaponSpec& spec, const WeaponState& state, Time at);

} // namespace avrek
