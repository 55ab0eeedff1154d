#include "advancing.h"
#include <avrek/weapon/loadout.h>

#include <algorithm>
#include <cassert>
#include <type_traits>

namespace avrek {

static_assert(std::is_trivially_copyable_v<Loadout>);

namespace {

LoadoutSlot& slot_at(Loadout& loadout, std::int32_t slot) {
    return loadout.slots[static_cast<std::size_t>(slot)];
}

bool has_weapon(const Loadout& loadout, std::int32_t slot) {
    return slot >= 0 && slot < Loadout::slot_count &&
           loadout.slots[static_cast<std::size_t>(slot)].weapon.has_value();
}

const WeaponSpec& spec_of(const Arsenal& arsenal, const LoadoutSlot& slot) {
    return arsenal[*slot.weapon];
}

// A trigger that is held stays held, and is no press for a new weapon.
void hold_already(WeaponState& state, const WeaponIntent& held) {
    state.trigger_held = held.trigger;
    state.spent = held.trigger;
    state.answered = true;
    state.reload_held = held.reload;
    state.mode_held = held.next_mode;
    state.aim_held = held.aim;
}

// One call that moves a loadout: the weapon in hand is always as far as `loadout.now`, the others catch up.
struct Moving {
    const Arsenal& arsenal;
    Loadout& loadout;
    std::vector<WeaponEvent>& events;

    template <class Step>
    void on(std::int32_t slot, const Step& step) {
        LoadoutSlot& place = slot_at(loadout, slot);
        const WeaponSpec& spec = spec_of(arsenal, place);
        AmmoReserve none;
        AmmoReserve& reserve = spec.ammo.spec ? loadout.ammo[to_index(*spec.ammo.spec)] : none;
        const std::size_t before = events.size();
        detail::Advancing advancing{spec, place.state, reserve, events};
        step(advancing);
        for (std::size_t event = before; event < events.size(); ++event) {
            events[event].slot = static_cast<std::int8_t>(slot);
        }
    }

    WeaponState* hand() { return loadout.in_hand < 0 ? nullptr : &slot_at(loadout, loadout.in_hand).state; }

    // The statement as it concerns the weapon in hand.
    WeaponIntent stated() const {
        WeaponIntent intent = loadout.stated;
        intent.at = loadout.now;
        intent.in_hand = intent.in_hand && loadout.wanted < 0;
        return intent;
    }

    void state_to_hand() {
        if (loadout.in_hand >= 0) {
            on(loadout.in_hand, [&](detail::Advancing& weapon) { weapon.apply(stated()); });
        }
    }

    // The hands are free: takes the wanted weapon in hand at `loadout.now`.
    void take() {
        const WeaponState* before = hand();
        if (before != nullptr) {
            loadout.last_used = loadout.in_hand;
        }
        loadout.in_hand = loadout.wanted;
        loadout.wanted = -1;
        WeaponState& state = *hand();
        on(loadout.in_hand, [&](detail::Advancing& weapon) { weapon.run(loadout.now); });
        if (before != nullptr) { // the same legs carry both
            state.speed_from = before->speed_from;
            state.speed_to = before->speed_to;
            state.speed_since = before->speed_since;
        }
        hold_already(state, loadout.stated);
        state_to_hand();
    }

    void run(Time until) {
        while (loadout.wanted >= 0) {
            const WeaponState* state = hand();
            if (state == nullptr || state->activity == WeaponActivity::stowed) {
                take();
                continue;
            }
            if (state->activity_end >= until) {
                break;
            }
            loadout.now = std::max(loadout.now, state->activity_end);
            on(loadout.in_hand, [&](detail::Advancing& weapon) {
                weapon.run(loadout.now);
                weapon.finish_what_is_due();
            });
        }
        loadout.now = until;
        for (std::int32_t slot = 0; slot < Loadout::slot_count; ++slot) {
            if (has_weapon(loadout, slot)) {
                on(slot, [&](detail::Advancing& weapon) { weapon.run(until); });
            }
        }
    }

    void refuse_swap(WeaponRefusal refusal) {
        WeaponEvent& event = events.emplace_back();
        event.at = loadout.now;
        event.kind = WeaponEventKind::swap_refused;
        event.refusal = refusal;
        event.slot = loadout.in_hand;
    }

    void swap_to(std::int32_t slot) {
        if (!has_weapon(loadout, slot)) {
            refuse_swap(WeaponRefusal::no_weapon);
        } else if (loadout.stated.stunned || loadout.stated.strike) {
            refuse_swap(loadout.stated.stunned ? WeaponRefusal::stunned : WeaponRefusal::striking);
        } else {
            loadout.wanted = static_cast<std::int8_t>(slot == loadout.in_hand ? -1 : slot);
        }
    }

    std::int32_t next_slot() const {
        const int from = loadout.wanted >= 0 ? int{loadout.wanted} : int{loadout.in_hand};
        for (std::int32_t step = 1; step <= Loadout::slot_count; ++step) {
            const std::int32_t slot = (from + step) % Loadout::slot_count;
            if (has_weapon(loadout, slot)) {
                return slot;
            }
        }
        return -1;
    }

    void apply(const LoadoutIntent& intent) {
        loadout.stated = intent.weapon;
        if (intent.slot != loadout.slot_stated && intent.slot >= 0) {
            swap_to(intent.slot);
        }
        if (intent.next && !loadout.next_held) {
            swap_to(next_slot());
        }
        if (intent.last && !loadout.last_held) {
            swap_to(loadout.last_used);
        }
        loadout.slot_stated = static_cast<std::int8_t>(std::clamp(intent.slot, -1, Loadout::slot_count));
        loadout.next_held = intent.next;
        loadout.last_held = intent.last;
        state_to_hand();
    }
};

// The few events of put-away weapons come behind those of the weapon in hand: an insertion sort, which
// allocates nothing.
void put_in_order(std::vector<WeaponEvent>& events, std::size_t from) {
    for (std::size_t index = from + 1; index < events.size(); ++index) {
        for (std::size_t slot = index; slot > from && events[slot].at < events[slot - 1].at; --slot) {
            std::swap(events[slot], events[slot - 1]);
        }
    }
}

// Keeps the state of a weapon that leaves the hands at once.
void let_rest(const WeaponSpec& spec, WeaponState& state) {
    WeaponState rested = stowed_weapon(spec, state.now);
    rested.rounds = state.rounds;
    rested.shots = state.shots;
    rested.last_shot = state.last_shot;
    rested.refill_left = state.refill_left;
    rested.locked = state.locked;
    rested.kick_seed = state.kick_seed;
    rested.mode = state.mode;
    rested.cadence_start = state.cadence_start;
    rested.next_shot = state.next_shot;
    rested.cadence_shots = state.cadence_shots;
    rested.rate_share = state.rate_share;
    state = rested;
}

} // namespace

Loadout make_loadout(const Arsenal& arsenal, std::span<const WeaponId> weapons, Time at,
                     std::uint32_t kick_seed) {
    assert(weapons.size() <= Loadout::slot_count);
    Loadout loadout;
    loadout.now = at;
    for (std::size_t slot = 0; slot < weapons.size(); ++slot) {
        const WeaponSpec& spec = arsenal[weapons[slot]];
        LoadoutSlot& place = loadout.slots[slot];
        place.weapon = weapons[slot];
        place.state = slot == 0 ? full_weapon(spec, at) : stowed_weapon(spec, at);
        place.state.kick_seed = kick_seed + static_cast<std::uint32_t>(slot);
        if (spec.ammo.spec) {
            add_ammo(arsenal, loadout, *spec.ammo.spec, spec.reserve);
        }
    }
    loadout.in_hand = weapons.empty() ? std::int8_t{-1} : std::int8_t{0};
    return loadout;
}

void hold_already(Loadout& loadout, const LoadoutIntent& held) {
    loadout.stated = held.weapon;
    loadout.slot_stated = static_cast<std::int8_t>(std::clamp(held.slot, -1, Loadout::slot_count));
    loadout.next_held = held.next;
    loadout.last_held = held.last;
    if (loadout.in_hand >= 0) {
        hold_already(slot_at(loadout, loadout.in_hand).state, held.weapon);
    }
}

void advance(const Arsenal& arsenal, Loadout& loadout, Time until, std::span<const LoadoutIntent> intents,
             std::vector<WeaponEvent>& events) {
    assert(until >= loadout.now);
    const std::size_t before = events.size();
    Moving moving{arsenal, loadout, events};
    for (const LoadoutIntent& intent : intents) {
        assert(intent.weapon.at < until);
        moving.run(std::max(intent.weapon.at, loadout.now));
        moving.apply(intent);
    }
    moving.run(until);
    put_in_order(events, before);
}

std::size_t event_bound(const Arsenal& arsenal, const Loadout& loadout, Duration length,
                        std::size_t intents) {
    std::size_t bound = intents;
    for (const LoadoutSlot& slot : loadout.slots) {
        // A swap is a statement of its own for each of the two weapons.
        bound += slot.weapon ? event_bound(spec_of(arsenal, slot), length, 2 * intents + 1) : 0;
    }
    return bound;
}

std::size_t used_ammo(const Loadout& loadout) {
    std::size_t used = loadout.ammo.size();
    while (used > 0 && loadout.ammo[used - 1].rounds == 0) {
        --used;
    }
    return used;
}

const WeaponSpec* weapon_in(const Arsenal& arsenal, const Loadout& loadout, std::int32_t slot) {
    return has_weapon(loadout, slot) ? &spec_of(arsenal, loadout.slots[static_cast<std::size_t>(slot)])
                                     : nullptr;
}

const WeaponState* state_in(const Loadout& loadout, std::int32_t slot) {
    return has_weapon(loadout, slot) ? &loadout.slots[static_cast<std::size_t>(slot)].state : nullptr;
}

AmmoReserve reserve_of(const Arsenal& arsenal, const Loadout& loadout, std::int32_t slot) {
    const WeaponSpec* spec = weapon_in(arsenal, loadout, slot);
    return spec == nullptr || !spec->ammo.spec ? AmmoReserve{} : loadout.ammo[to_index(*spec->ammo.spec)];
}

std::int32_t add_ammo(const Arsenal& arsenal, Loadout& loadout, AmmoId type, std::int32_t rounds) {
    const std::size_t index = to_index(type);
    assert(index < arsenal.ammo.size());
    return add_rounds(loadout.ammo[index], rounds, arsenal.ammo[index].carry_limit);
}

std::optional<DroppedWeapon> drop_weapon(const Arsenal& arsenal, Loadout& loadout, std::int32_t slot,
                                         const Vector3& position, std::vector<WeaponEvent>& events) {
    if (!has_weapon(loadout, slot)) {
        return std::nullopt;
    }
    LoadoutSlot& place = slot_at(loadout, slot);
    DroppedWeapon dropped{*place.weapon, place.state, position};
    let_rest(spec_of(arsenal, place), dropped.state);
    place = {};
    Moving moving{arsenal, loadout, events};
    if (loadout.last_used == slot) {
        loadout.last_used = -1;
    }
    if (loadout.wanted == slot) {
        loadout.wanted = -1;
        moving.state_to_hand();
    }
    if (loadout.in_hand == slot) {
        loadout.in_hand = -1;
        if (loadout.wanted < 0) {
            loadout.wanted = static_cast<std::int8_t>(
                has_weapon(loadout, loadout.last_used) ? loadout.last_used : moving.next_slot());
        }
        if (loadout.wanted >= 0) {
            moving.take();
        }
    }
    return dropped;
}

std::optional<std::size_t> weapon_in_reach(std::span<const DroppedWeapon> dropped, const Vector3& from,
                                           Metres reach) {
    std::optional<std::size_t> nearest;
    double least = reach * reach;
    for (std::size_t index = 0; index < dropped.size(); ++index) {
        const double away = (dropped[index].position - from).squaredNorm();
        if (away < least || (!nearest && away == least)) {
            least = away;
            nearest = index;
        }
    }
    return nearest;
}

std::optional<std::int32_t> pick_up_weapon(const Arsenal& arsenal, Loadout& loadout,
                                           const DroppedWeapon& dropped, std::vector<WeaponEvent>& events) {
    for (std::int32_t slot = 0; slot < Loadout::slot_count; ++slot) {
        if (has_weapon(loadout, slot)) {
            continue;
        }
        Moving moving{arsenal, loadout, events};
        slot_at(loadout, slot) = {dropped.weapon, dropped.state};
        moving.on(slot,
                  [&](detail::Advancing& weapon) { weapon.run(std::max(loadout.now, weapon.state.now)); });
        if (loadout.in_hand < 0) {
            loadout.wanted = static_cast<std::int8_t>(slot);
            moving.take();
        }
        return slot;
    }
    return std::nullopt;
}

} // namespace avrek
