#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/core/time.h>
#include <avrek/weapon/ammo.h>
#include <avrek/weapon/weapon_events.h>
#include <avrek/weapon/weapon_state.h>

#include <cstddef>
#include <span>
#include <vector>

/// Trigger, rate of fire, ammunition, reload, spread, recoil, aim and handling of one weapon, exact at any
/// tick rate.
///
/// What a weapon does does not depend on how time is cut into ticks: advance() finds every moment inside its
/// span at which something happens, and does it at that moment; what changes smoothly is computed from the
/// last such moment.
namespace avrek {

/// A weapon as it is picked up: full, in its first mode, in hand and ready at `at`.
WeaponState full_weapon(const WeaponSpec& spec, Time at = Time{});

/// The same, put away.
WeaponState stowed_weapon(const WeaponSpec& spec, Time at = Time{});

/// The reserve that `spec` starts with: as much of WeaponSpec::reserve as may be carried.
AmmoReserve full_reserve(const WeaponSpec& spec);

/// The trigger mode of a state; the first of a weapon that has fewer modes than the state knows.
inline TriggerMode mode_of(const WeaponSpec& spec, const WeaponState& state) {
    return spec.modes[state.mode < spec.modes.size() ? state.mode : 0];
}

/// The earliest time at which the rate of fire allows the next shot; not after `state.now` when it allows one
/// now.
inline Time next_shot_allowed(const WeaponState& state) {
    return state.cadence_shots == 0 ? state.now : state.next_shot;
}

/// Why the weapon does not fire at `state.now` whatever the trigger does, apart from its rate of fire and its
/// ammunition; `none` when it would.
WeaponRefusal blockage(const WeaponSpec& spec, const WeaponState& state);

/// How far the reload under way has come at `state.now`, from 0 to 1 in time; 0 when there is none.
double reload_progress(const WeaponSpec& spec, const WeaponState& state, const AmmoReserve& reserve);

/// Moves `state` and `reserve` from `state.now` to `until` and appends what happened to `events`, in order of
/// time.
///
/// What is due in [state.now, until) happens; what is due at `until` belongs to the next call. At one and the
/// same moment what is under way finishes first, then intents take effect (hands, stance, aim, mode, trigger,
/// reload, in this order), then the weapon fires by itself.
///
/// A held automatic weapon that first fires at t0 fires shot k at t0 + shot_offset(k, rate). A press always
/// fires at once when the weapon is ready; letting go and pressing again never beats the rate of fire. A
/// reload starts when the interval of the last shot is over.
///
/// An intent that comes late, before `state.now`, counts as at `state.now`. Appends at most event_bound()
/// events; reserve that many and nothing is allocated. Preconditions (asserted): `until >= state.now`;
/// intents in order of time and before `until`, speeds at least 0. `spec` has no error among its
/// validate().
void advance(const WeaponSpec& spec, WeaponState& state, AmmoReserve& reserve, Time until,
             std::span<const WeaponIntent> intents, std::vector<WeaponEvent>& events);

/// The most events that one advance() over `length` with `intents` intents can append.
std::size_t event_bound(const WeaponSpec& spec, Duration length, std::size_t intents);

} // namespace avrek
