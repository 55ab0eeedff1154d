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
/// A weapon does not depend on the length of ticks: advance() finds every time in its span at which something
/// happens, and does it at that time. Smooth values are computed from the last such time.
///
///     WeaponState state = full_weapon(rifle);
///     AmmoReserve reserve = full_reserve(rifle);
///     std::vector<WeaponEvent> events;
///     const WeaponIntent hold{.trigger = true};
///     advance(rifle, state, reserve, Time{from_seconds(0.3)}, {&hold, 1}, events);
namespace avrek {

/// Returns a weapon as it is picked up: full, in its first mode, in hand and ready at `at`.
WeaponState full_weapon(const WeaponSpec& spec, Time at = Time{});

/// Returns a full weapon that is put away.
WeaponState stowed_weapon(const WeaponSpec& spec, Time at = Time{});

/// Returns the reserve that `spec` starts with: WeaponSpec::reserve, up to the carry limit.
AmmoReserve full_reserve(const WeaponSpec& spec);

/// Returns the trigger mode of a state; the first mode if the weapon has fewer than the state says.
inline TriggerMode mode_of(const WeaponSpec& spec, const WeaponState& state) {
    return spec.modes[state.mode < spec.modes.size() ? state.mode : 0];
}

/// Returns the earliest time at which the rate of fire allows the next shot; not after `state.now` if it
/// allows one now.
inline Time next_shot_allowed(const WeaponState& state) {
    return state.cadence_shots == 0 ? state.now : state.next_shot;
}

/// Returns why the weapon cannot fire at `state.now`, apart from its rate of fire and its ammunition; `none`
/// if it can.
WeaponRefusal blockage(const WeaponSpec& spec, const WeaponState& state);

/// Returns the progress of the reload at `state.now`, from 0 to 1 in time; 0 without a reload.
double reload_progress(const WeaponSpec& spec, const WeaponState& state, const AmmoReserve& reserve);

/// Advances `state` and `reserve` from `state.now` to `until`. Appends the events to `events`, in order of
/// time.
///
/// Whatever is due in [state.now, until) happens; what is due at `until` belongs to the next call. At one
/// time, activities finish first, then intents take effect (hands, stance, aim, mode, trigger, reload, in
/// this order), then the weapon fires by itself.
///
/// A held automatic weapon that first fires at t0 fires shot k at t0 + shot_offset(k, rate). A press fires at
/// once if the weapon is ready. Tapping never beats the rate of fire. A reload starts when the interval of
/// the last shot is over.
///
/// An intent before `state.now` counts at `state.now`. Appends at most event_bound() events; with that many
/// reserved, it does not allocate. Preconditions (asserted): `until >= state.now`; intents in order of time
/// and before `until`, speeds at least 0; validate() finds no error in `spec`.
void advance(const WeaponSpec& spec, WeaponState& state, AmmoReserve& reserve, Time until,
             std::span<const WeaponIntent> intents, std::vector<WeaponEvent>& events);

/// Returns the maximum number of events of one advance() over `length` with `intents` intents.
std::size_t event_bound(const WeaponSpec& spec, Duration length, std::size_t intents);

} // namespace avrek
