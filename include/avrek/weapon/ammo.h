#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/core/state_fields.h>
#include <avrek/weapon/weapon_state.h>

#include <cstdint>
#include <limits>

namespace avrek {

/// Rounds carried beside the magazine. One reserve can serve several weapons.
struct AmmoReserve {
    std::int32_t rounds = 0; ///< at least 0
    friend bool operator==(const AmmoReserve&, const AmmoReserve&) = default;
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<AmmoReserve> auto& reserve) {
    field("rounds", reserve.rounds);
}

/// Adds up to `rounds` to `reserve`, up to `limit`. Returns the rounds left over. A reserve above the limit
/// keeps its rounds. Precondition (asserted): `rounds` and `limit` at least 0.
std::int32_t add_rounds(AmmoReserve& reserve, std::int32_t rounds, std::int32_t limit);

/// Number of rounds when nothing counts them.
inline constexpr std::int32_t endless_rounds = std::numeric_limits<std::int32_t>::max();

/// Returns the capacity of magazine and chamber as they are now; the size of a cell; 0 for other feeds.
std::int32_t capacity(const WeaponSpec& spec, const WeaponState& state);

/// Returns the rounds that can be fired at `at` without a reload; `endless_rounds` where nothing counts them.
/// Here and below: `at` is not before `state.now`, and nothing happens to the weapon until then.
std::int32_t rounds_at(const WeaponSpec& spec, const WeaponState& state, const AmmoReserve& reserve, Time at);

/// Returns the heat at `at`, 0 to 1; 0 for a weapon without heat.
double heat_at(const WeaponSpec& spec, const WeaponState& state, Time at);

/// Returns when an overheated weapon unlocks if it idles from now on.
Time unlocked_at(const WeaponSpec& spec, const WeaponState& state);

/// Returns when a weapon that idles from now on has cooled, or refilled, up to `left` of its full time.
Time refilled_at(const WeaponSpec& spec, const WeaponState& state, Duration left);

/// Returns the idle time still needed at `at` until the weapon is cold, or full, without the delay.
Duration refill_left_at(const WeaponSpec& spec, const WeaponState& state, Time at);

} // namespace avrek
