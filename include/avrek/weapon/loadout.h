#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/vectors.h>
#include <avrek/weapon/weapon.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

/// The weapons and the ammunition of one combatant.
namespace avrek {

/// A place for one weapon.
struct LoadoutSlot {
    std::int32_t weapon = -1; ///< index into Arsenal::weapons; -1 for an empty slot
    WeaponState state{};
    friend bool operator==(const LoadoutSlot&, const LoadoutSlot&) = default;
};

/// Slots, which of them is in hand, and the reserve of every kind of ammunition. Trivially copyable.
struct Loadout {
    static constexpr std::int32_t slot_count = 6;

    Time now{};
    std::array<LoadoutSlot, slot_count> slots{};
    std::array<AmmoReserve, max_ammo_kinds> ammo{}; ///< by WeaponSpec::ammo_kind
    WeaponIntent stated{};                          ///< the last statement about the weapon in hand
    std::int8_t in_hand = -1;     ///< slot of the weapon in hand; -1 when the hands are empty
    std::int8_t wanted = -1;      ///< slot of the weapon to come, while a swap is under way
    std::int8_t last_used = -1;   ///< slot of the weapon before the one in hand
    std::int8_t slot_stated = -1; ///< as last stated
    bool next_held = false;
    bool last_held = false;
};

/// What a combatant wants of its weapons, from a time on. As with WeaponIntent, what counts is the change.
struct LoadoutIntent {
    WeaponIntent weapon{};  ///< for the weapon in hand; its time is the time of all of it
    std::int32_t slot = -1; ///< swaps to this slot; -1 does nothing
    bool next = false;      ///< a press swaps to the next slot that has a weapon
    bool last = false;      ///< a press swaps to the weapon used before
};

/// A loadout of the weapons with these indices, full, the first in hand and ready at `at`. Reserves get what
/// each weapon starts with, up to their limits. `kick_seed` keys the jitter of recoil; each slot draws its
/// own. Precondition (asserted): at most `slot_count` weapons, each in the arsenal, which has been through
/// assign_ammo().
Loadout make_loadout(const Arsenal& arsenal, std::span<const std::int32_t> weapons, Time at = Time{},
                     std::uint32_t kick_seed = 0);

/// States what is held already at `loadout.now`, so that it is no press: a trigger must be pressed again.
void hold_already(Loadout& loadout, const LoadoutIntent& held);

/// Moves the loadout to `until`, as advance() does for one weapon. Each event says its slot. A swap puts the
/// weapon in hand away, then raises the other; a trigger that is held meanwhile must be pressed again. A
/// reload that a swap does not cancel is finished first. Preconditions as for one weapon.
void advance(const Arsenal& arsenal, Loadout& loadout, Time until, std::span<const LoadoutIntent> intents,
             std::vector<WeaponEvent>& events);

/// The most events that one advance() over `length` with `intents` intents can append.
std::size_t event_bound(const Arsenal& arsenal, const Loadout& loadout, Duration length, std::size_t intents);

/// The weapon in a slot, or null.
const WeaponSpec* weapon_in(const Arsenal& arsenal, const Loadout& loadout, std::int32_t slot);

/// The state of the weapon in a slot, or null.
const WeaponState* state_in(const Loadout& loadout, std::int32_t slot);

/// The reserve that the weapon in a slot draws on; an empty one for a weapon that draws on none.
AmmoReserve reserve_of(const Arsenal& arsenal, const Loadout& loadout, std::int32_t slot);

/// Puts rounds of a kind into the loadout, up to the kind's carry limit, and returns what was left over.
/// Preconditions (asserted): `kind` is one of the arsenal's, `rounds` at least 0.
std::int32_t add_ammo(const Arsenal& arsenal, Loadout& loadout, std::int32_t kind, std::int32_t rounds);

/// A weapon that lies about, with its rounds in it.
struct DroppedWeapon {
    std::int32_t weapon = -1; ///< index into Arsenal::weapons
    WeaponState state{};
    Vector3 position = Vector3::Zero();
};

/// Takes the weapon out of `slot` at `loadout.now`, with its rounds in it; what it had under way is lost.
/// When it was in hand, the weapon used before is raised, or the first that there is. None from an empty
/// slot.
std::optional<DroppedWeapon> drop_weapon(const Arsenal& arsenal, Loadout& loadout, std::int32_t slot,
                                         const Vector3& position, std::vector<WeaponEvent>& events);

/// The index of the dropped weapon nearest to `from` within `reach`, the first of equals; none when there is
/// none.
std::optional<std::size_t> weapon_in_reach(std::span<const DroppedWeapon> dropped, const Vector3& from,
                                           Metres reach);

/// Puts a dropped weapon into the first empty slot at `loadout.now`, put away, or in hand and raised when the
/// hands are empty. Returns the slot; none, and nothing happens, when every slot is taken.
std::optional<std::int32_t> pick_up_weapon(const Arsenal& arsenal, Loadout& loadout,
                                           const DroppedWeapon& dropped, std::vector<WeaponEvent>& events);

} // namespace avrek
