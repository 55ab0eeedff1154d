#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/weapon/weapon_state.h>

#include <cstdint>
#include <limits>

namespace avrek {

/// Rounds carried apart from the magazine. One reserve may serve several weapons.
struct AmmoReserve {
    std::int32_t rounds = 0; ///< at least 0
    friend bool operator==(const AmmoReserve&, const AmmoReserve&) = default;
};

/// Puts up to `rounds` into `reserve`, which then holds at most `limit`, and returns what was left over; a
/// reserve that holds more already keeps it. Precondition (asserted): `rounds` and `limit` at least 0.
std::int32_t add_rounds(AmmoReserve& reserve, std::int32_t rounds, std::int32_t limit);

/// What a weapon has when nothing counts its rounds.
inline constexpr std::int32_t endless_rounds = std::numeric_limits<std::int32_t>::max();

/// The most that magazine and chamber hold, with what is in them now; of a cell, its size; 0 for the others.
std::int32_t capacity(const WeaponSpec& spec, const WeaponState& state);

/// Rounds that can be fired at `at` without a reload; `endless_rounds` where nothing counts them.
/// Here and below `at` is not before `state.now`, and nothing happens to the weapon until then.
std::int32_t rounds_at(const WeaponSpec& spec, const WeaponState& state, const AmmoReserve& reserve, Time at);

/// The heat at `at`, from 0 to 1; 0 for a weapon that does not warm.
double heat_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// When an overheated weapon that is idle from now on fires again.
Time unlocked_at(const WeaponSpec& spec, const WeaponState& state);

/// When a weapon that is idle from now on has cooled, or refilled, to where `left` of its full time is
/// missing.
Time refilled_at(const WeaponSpec& spec, const WeaponState& state, Duration left);

/// The idling that is missing at `at` until it is cold, or full, delay apart.
Duration refill_left_at(const WeaponSpec& spec, const WeaponState& state, Time at);

} // namespace avrek
