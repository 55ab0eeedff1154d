#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/weapon/weapon_state.h>

namespace avrek {

/// How far the weapon is aimed at `at`: from 0, at the hip, to 1. In closed form from the last change.
double aim_blend_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// Between `hip` and `aimed`, by the blend.
double blended(double hip, double aimed, double blend);

/// The spin of TriggerMode::spin_up at `at`, from 0 to 1; 0 in every other mode.
double spin_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// How long the trigger has gathered power at `at`; 0 when it does not.
Duration charge_held_at(const WeaponSpec& spec, const WeaponState& state, Time at);

} // namespace avrek
