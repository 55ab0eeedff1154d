#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/ids.h>
#include <avrek/core/state_fields.h>
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

/// A slot for one weapon.
struct LoadoutSlot {
    std::optional<WeaponId> weapon{}; ///< none: an empty slot
    WeaponState state{};
    friend bool operator==(const LoadoutSlot&, const LoadoutSlot&) = default;
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<LoadoutSlot> auto& slot) {
    field("weapon", slot.weapon);
    field.when("state", slot.weapon.has_value(), slot.state);
}

/// Slots, the one in hand, and the reserve of every ammunition type. Trivially copyable.
struct Loadout {
    static constexpr std::int32_t slot_count = 6;

    Time now{};
    std::array<LoadoutSlot, slot_count> slots{};
    std::array<AmmoReserve, max_ammo_kinds> ammo{}; ///< by AmmoId
    WeaponIntent stated{};                          ///< last statement about the weapon in hand
    std::int8_t in_hand = -1;                       ///< slot of the weapon in hand; -1: empty hands
    std::int8_t wanted = -1;                        ///< slot of the next weapon during a swap; else -1
    std::int8_t last_used = -1;                     ///< slot of the weapon used before
    std::int8_t slot_stated = -1;                   ///< as last stated
    bool next_held = false;
    bool last_held = false;
};

/// Returns the number of ammunition types up to the last one with rounds.
std::size_t used_ammo(const Loadout& loadout);

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<Loadout> auto& loadout) {
    field("now", loadout.now, FieldUse::not_sent);
    field.list("slots", loadout.slots, loadout.slots.size());
    field.list("ammo", loadout.ammo, used_ammo(loadout));
    field("stated", loadout.stated);
    field("in_hand", loadout.in_hand);
    field("wanted", loadout.wanted);
    field("last_used", loadout.last_used);
    field("slot_stated", loadout.slot_stated);
    field("next_held", loadout.next_held);
    field("last_held", loadout.last_held);
}

/// Intent for a combatant's weapons, from a time on. As in WeaponIntent, changes count.
struct LoadoutIntent {
    WeaponIntent weapon{};  ///< for the weapon in hand; `weapon.at` is the time of it all
    std::int32_t slot = -1; ///< swaps to this slot; -1 does nothing
    bool next = false;      ///< a press swaps to the next slot that has a weapon
    bool last = false;      ///< a press swaps to the weapon used before
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<LoadoutIntent> auto& intent) {
    field("weapon", intent.weapon);
    field("slot", intent.slot);
    field("next", intent.next);
    field("last", intent.last);
}

/// Returns a loadout of these weapons, full, the first in hand and ready at `at`. Reserves get what each
/// weapon starts with, up to their limits. `kick_seed` keys the recoil jitter. Precondition (asserted): at
/// most `slot_count` weapons of the arsenal, after assign_ammo().
Loadout make_loadout(const Arsenal& arsenal, std::span<const WeaponId> weapons, Time at = Time{},
                     std::uint32_t kick_seed = 0);

/// States buttons that are held already at `loadout.now`, so that they are not presses. The trigger must be
/// pressed again.
void hold_already(Loadout& loadout, const LoadoutIntent& held);

/// Advances the loadout to `until`, as advance() does for one weapon. Each event names its slot. A swap puts
/// the weapon in hand away, then raises the other. A trigger held meanwhile must be pressed again. A reload
/// that a swap does not cancel finishes first. Preconditions as for one weapon.
void advance(const Arsenal& arsenal, Loadout& loadout, Time until, std::span<const LoadoutIntent> intents,
             std::vector<WeaponEvent>& events);

/// Returns the maximum number of events of one advance() over `length` with `intents` intents.
std::size_t event_bound(const Arsenal& arsenal, const Loadout& loadout, Duration length, std::size_t intents);

/// Returns the weapon in a slot, or null.
const WeaponSpec* weapon_in(const Arsenal& arsenal, const Loadout& loadout, std::int32_t slot);

/// Returns the state of the weapon in a slot, or null.
const WeaponState* state_in(const Loadout& loadout, std::int32_t slot);

/// Returns the reserve that the weapon in a slot draws on; an empty one for a weapon without a reserve.
AmmoReserve reserve_of(const Arsenal& arsenal, const Loadout& loadout, std::int32_t slot);

/// Adds rounds of an ammunition type, up to its carry limit. Returns the rounds left over. Preconditions
/// (asserted): `type` is one of the arsenal's, `rounds` at least 0.
std::int32_t add_ammo(const Arsenal& arsenal, Loadout& loadout, AmmoId type, std::int32_t rounds);

/// A weapon that lies about, with its rounds.
struct DroppedWeapon {
    WeaponId weapon{};
    WeaponState state{};
    Vector3 position = Vector3::Zero();
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<DroppedWeapon> auto& dropped) {
    field("weapon", dropped.weapon);
    field("state", dropped.state);
    field("position", dropped.position);
}

/// Takes the weapon out of `slot` at `loadout.now`, with its rounds. Its current activity ends. If it was in
/// hand, the weapon used before is raised, or the first one. Returns none for an empty slot.
std::optional<DroppedWeapon> drop_weapon(const Arsenal& arsenal, Loadout& loadout, std::int32_t slot,
                                         const Vector3& position, std::vector<WeaponEvent>& events);

/// Returns the index of the dropped weapon nearest to `from` within `reach`, the first of equals; none if
/// there is none.
std::optional<std::size_t> weapon_in_reach(std::span<const DroppedWeapon> dropped, const Vector3& from,
                                           Metres reach);

/// Puts a dropped weapon into the first empty slot at `loadout.now`: put away, or in hand and raised if the
/// hands are empty. Returns the slot. Returns none and changes nothing if every slot is taken.
std::optional<std::int32_t> pick_up_weapon(const Arsenal& arsenal, Loadout& loadout,
                                           const DroppedWeapon& dropped, std::vector<WeaponEvent>& events);

} // namespace avrek
