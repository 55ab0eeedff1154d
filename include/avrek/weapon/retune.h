#pragma once
#include <avrek/weapon/loadout.h>
#include <avrek/weapon/weapon.h>

#include <vector>

/// Weapons in use get new values.
///
///     WeaponSpec faster = rifle;
///     faster.rounds_per_minute = 900;
///     retune(rifle, faster, state, reserve, events);   // at state.now; then advance(faster, ...)
namespace avrek {

/// Takes `state` and `reserve` of a weapon from the values `was` to the values `is`, at `state.now`. What has
/// not changed in the values does not change in the state.
///
/// - The next shot keeps its share of the interval that is left, so no shot comes sooner than at the faster
///   of both rates, and none twice. A burst keeps the shots that it has fired.
/// - Reload phases, raise, stow, sprint-out, aim, charge, spin, heat, cell and the smoothed speed keep their
///   share. A reload of another style is cancelled. Bloom and recoil recover by the new curves.
/// - Rounds above the capacity go to the reserve. Rounds above the carry limit are lost, and those of a
///   reserve only if the limit has become less. A weapon that gets a magazine loads it from the reserve; one
///   that no longer has one puts its rounds there.
/// - A mode that is gone becomes the first one; it fires when the trigger is pressed again. What the new
///   values forbid, such as firing while sprinting, stops.
///
/// Appends an event `retuned` if anything changed, after what it cancels. Preconditions (asserted):
/// validate() finds no error in both.
void retune(const WeaponSpec& was, const WeaponSpec& is, WeaponState& state, AmmoReserve& reserve,
            std::vector<WeaponEvent>& events);

/// Takes a loadout from one arsenal to another at `loadout.now`, its weapons as above. Weapons and types of
/// ammunition go by their names. A weapon that is gone leaves its slot, and its rounds go to its reserve; if
/// it was in hand, the weapon used before is raised, or the first one. Rounds of a type that is gone, or
/// above a carry limit that has become less, are lost, with an event of slot -1. Events name their slots.
void retune(const Arsenal& was, const Arsenal& is, Loadout& loadout, std::vector<WeaponEvent>& events);

} // namespace avrek
