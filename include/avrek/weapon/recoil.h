#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/weapon/weapon_events.h>
#include <avrek/weapon/weapon_state.h>

#include <cstdint>

namespace avrek {

/// Returns the kick of step `step` of the pattern, counted from 0 and beyond its end, without jitter, aim and
/// stance.
Look kick_of_step(const RecoilSpec& recoil, std::uint32_t step);

/// Returns the kick of a shot at `at`: its step, with jitter drawn for its number, times the factors of aim
/// and stance.
Look kick_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// Returns the part of a shot's kick that does not recover by itself. Add it to the player's look, for the
/// player to pull back.
Look kept_kick(const WeaponSpec& spec, const WeaponEvent& shot);

/// Returns the part of all kicks that recovers by itself and has not yet. Add it to the player's look when
/// drawing and firing.
Look view_kick_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// Returns the kick of the gun model at `at`: 1 as a shot leaves, then the square of the remaining share of
/// RecoilSpec::gun_kick.
double gun_kick_at(const WeaponSpec& spec, const WeaponState& state, Time at);

} // namespace avrek
