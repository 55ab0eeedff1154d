#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/weapon/weapon_events.h>
#include <avrek/weapon/weapon_state.h>

#include <cstdint>

namespace avrek {

/// The kick of step `step` of the path, counted from 0 and beyond its end: without jitter, aim and stance.
Look kick_of_step(const RecoilSpec& recoil, std::uint32_t step);

/// The kick that a shot at `at` would give: the step's, with jitter drawn for its number, times the factors
/// of aim and stance.
Look kick_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// The part of a shot's kick that does not go back by itself: add it to where the player looks, for the
/// player to pull back.
Look kept_kick(const WeaponSpec& spec, const WeaponEvent& shot);

/// The part of all kicks that goes back by itself, as far as it has not yet: add it to where the player looks
/// when drawing and firing.
Look view_kick_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// How far the gun model is kicked at `at`: 1 as a shot leaves, then falling as the square of the time that
/// is left, 0 after RecoilSpec::gun_kick.
double gun_kick_at(const WeaponSpec& spec, const WeaponState& state, Time at);

} // namespace avrek
