#include "../core/shares.h"
#include "advancing.h"
#include "ramp.h"
#include <avrek/weapon/aim.h>
#include <avrek/weapon/cone.h>
#include <avrek/weapon/retune.h>

#include <algorithm>
#include <array>
#include <utility>

namespace avrek {

namespace {

using detail::part_of;
using detail::share_of;

/// One call of retune(): each function takes one part of the state over.
struct Retuning {
    const WeaponSpec& was;
    const WeaponSpec& is;
    WeaponState& state;
    AmmoReserve& reserve;
    detail::Advancing after; ///< by the new values
    std::int32_t moved = 0;
    std::int32_t lost = 0;

    void take_mode() {
        const TriggerMode set = mode_of(was, state);
        const auto found = std::find(is.modes.begin(), is.modes.end(), set);
        if (mode_of(is, state) == set && state.mode < is.modes.size()) {
            return;
        }
        const bool is_there = found != is.modes.end();
        state.mode = static_cast<std::uint8_t>(is_there ? found - is.modes.begin() : 0);
        if (is_there) {
            return;
        }
        if (set == TriggerMode::charge && state.winding) {
            after.refuse(WeaponEventKind::charge_dropped, WeaponRefusal::new_values);
        }
        state.burst_left = 0;
        state.press_waits = false;
        state.winding = false;
        state.windup_since = detail::ramp_since(0.0, false, is.spin.up, is.spin.down, state.now);
        state.spent = true;
        state.answered = true;
        after.report(WeaponEventKind::mode_changed);
    }

    // New values may forbid to fire as the holder moves.
    void take_hands() {
        const WeaponRefusal blocked = blockage(is, state);
        if (blocked != WeaponRefusal::none && blockage(was, state) == WeaponRefusal::none) {
            after.stop_firing(blocked);
        }
    }

    void take_cadence() {
        if (state.cadence_shots > 0 && was.rounds_per_minute != is.rounds_per_minute) {
            const Duration before = shot_offset(1, was.rounds_per_minute * state.rate_share);
            const Duration interval = shot_offset(1, is.rounds_per_minute * state.rate_share);
            if (state.now < state.next_shot) {
                const double left = std::min(share_of(state.next_shot - state.now, before), 1.0);
                state.next_shot = state.now + part_of(interval, left);
            }
            state.cadence_start = state.next_shot - interval; // a run of its own from here
            state.cadence_shots = 1;
        }
        if (state.burst_left > 0 && was.burst.shots != is.burst.shots) {
            const std::int32_t fired = was.burst.shots - state.burst_left;
            state.burst_left = static_cast<std::uint8_t>(std::clamp(is.burst.shots - fired, 0, 255));
        }
    }

    void take_ramps() {
        if (was.aim.in != is.aim.in || was.aim.out != is.aim.out) {
            const double blend = aim_blend_at(was, state, state.now);
            state.aim_since = detail::ramp_since(blend, state.aiming, is.aim.in, is.aim.out, state.now);
        }
        state.aim_wanted = was.aim.toggles && !is.aim.toggles ? state.aim_held : state.aim_wanted;
        const TriggerMode set = mode_of(is, state);
        if (set == TriggerMode::spin_up && (was.spin.up != is.spin.up || was.spin.down != is.spin.down)) {
            const double spin =
                detail::ramp_at(state.windup_since, state.winding, was.spin.up, was.spin.down, state.now);
            state.windup_since = detail::ramp_since(spin, state.winding, is.spin.up, is.spin.down, state.now);
        }
        if (set == TriggerMode::charge && state.winding && was.charge.full != is.charge.full) {
            const double held = share_of(state.now - state.windup_since, was.charge.full);
            state.windup_since = state.now - part_of(is.charge.full, held);
        }
        if (was.spread.speed_half_life != is.spread.speed_half_life && state.speed_from != state.speed_to) {
            state.speed_from = static_cast<float>(stance_at(was, state, state.now).speed);
            state.speed_since = state.now;
        }
    }

    // Heat, or what is missing of a cell.
    void take_refill() {
        const bool heats = is.feed == AmmoFeed::heat;
        if (was.feed != is.feed) {
            state.refill_left = Duration::zero();
            state.locked = false;
            return;
        }
        const Duration delay = heats ? is.heat.delay : is.cell.delay;
        const bool same = heats ? was.heat.cooling_time == is.heat.cooling_time && was.heat.delay == delay
                                : was.cell.refill_time == is.cell.refill_time && was.cell.delay == delay &&
                                      was.magazine == is.magazine;
        if (same || state.refill_left == Duration::zero() || (!heats && is.feed != AmmoFeed::cell)) {
            return;
        }
        const Duration left = refill_left_at(was, state, state.now);
        Duration now_left{};
        if (heats) {
            now_left = part_of(is.heat.cooling_time, share_of(left, was.heat.cooling_time));
        } else {
            // In rounds, so that one that is there stays there.
            const double missing = share_of(left, was.cell.refill_time / was.magazine);
            now_left = part_of(is.cell.refill_time / is.magazine, missing * is.magazine / was.magazine);
            now_left = std::min(now_left, is.magazine * (is.cell.refill_time / is.magazine));
        }
        const Duration idle = std::max(state.now - state.last_shot - delay, Duration::zero());
        state.refill_left = now_left > Duration::zero() ? now_left + idle : now_left;
    }

    void take_activity() {
        if (is_reloading(state) && (is.feed != AmmoFeed::magazine || was.reload.style != is.reload.style)) {
            after.cancel_reload(WeaponRefusal::new_values);
            return;
        }
        const Duration before = detail::activity_length(was, state);
        const Duration length = detail::activity_length(is, state);
        if (before != length) {
            state.activity_end =
                state.now + part_of(length, share_of(state.activity_end - state.now, before));
        }
    }

    // Puts rounds into the reserve, as far as there is room.
    void give(std::int32_t rounds) {
        const std::int32_t over =
            is.supply == AmmoSupply::counted ? add_rounds(reserve, rounds, is.carry_limit) : rounds;
        moved += rounds - over;
        lost += over;
    }

    void take_rounds() {
        if (is.carry_limit < was.carry_limit && reserve.rounds > is.carry_limit) {
            lost += reserve.rounds - is.carry_limit;
            reserve.rounds = is.carry_limit;
        }
        if (is.feed != AmmoFeed::magazine) {
            give(std::exchange(state.rounds, 0));
        } else if (was.feed != AmmoFeed::magazine) {
            const bool counts = is.supply == AmmoSupply::counted;
            state.rounds = counts ? std::min(is.magazine, reserve.rounds) : is.magazine;
            reserve.rounds -= counts ? state.rounds : 0;
            moved -= counts ? state.rounds : 0;
        } else if (const std::int32_t over = state.rounds - capacity(is, state); over > 0) {
            state.rounds -= over;
            give(over);
        }
    }

    void keep_in_limits() {
        const auto steps = static_cast<std::uint16_t>(is.recoil.pattern.size());
        if (state.recoil_step >= steps) {
            state.recoil_step =
                steps > 0 ? static_cast<std::uint16_t>(is.recoil.loop_from) : std::uint16_t{0};
        }
        const bool blooms = !is.spread.bloom.per_shot.points.empty();
        state.bloom = std::min(state.bloom, blooms ? static_cast<float>(is.spread.bloom.max) : 0.0F);
        state.reload_wanted = state.reload_wanted && is.feed == AmmoFeed::magazine;
    }
};

} // namespace

void retune(const WeaponSpec& was, const WeaponSpec& is, WeaponState& state, AmmoReserve& reserve,
            std::vector<WeaponEvent>& events) {
    const WeaponState before = state;
    const AmmoReserve reserve_before = reserve;
    Retuning retuning{was, is, state, reserve, {is, state, reserve, events}};
    retuning.take_mode();
    retuning.take_hands();
    retuning.take_cadence();
    retuning.take_ramps();
    retuning.take_refill();
    retuning.take_activity();
    retuning.take_rounds();
    retuning.keep_in_limits();
    retuning.after.turn_ramps();
    if (state != before || reserve != reserve_before) {
        WeaponEvent& event = retuning.after.report(WeaponEventKind::retuned);
        event.moved = retuning.moved;
        event.discarded = retuning.lost;
    }
}

namespace {

WeaponEvent& add_retuned(const Loadout& loadout, std::int32_t slot, std::vector<WeaponEvent>& events) {
    WeaponEvent& event = events.emplace_back();
    event.at = loadout.now;
    event.kind = WeaponEventKind::retuned;
    event.slot = static_cast<std::int8_t>(slot);
    return event;
}

// Takes weapons out that are gone; their rounds go to the old reserves.
void drop_what_is_gone(const Arsenal& was, const Arsenal& is, Loadout& loadout,
                       std::vector<WeaponEvent>& events) {
    for (std::int32_t slot = 0; slot < Loadout::slot_count; ++slot) {
        const WeaponSpec* spec = weapon_in(was, loadout, slot);
        if (spec == nullptr || is.weapon(spec->id)) {
            continue;
        }
        const auto gone = drop_weapon(was, loadout, slot, Vector3::Zero(), events);
        const bool kept = spec->ammo.spec && spec->supply == AmmoSupply::counted;
        const std::int32_t rounds = spec->feed == AmmoFeed::magazine ? gone->state.rounds : 0;
        loadout.ammo[kept ? to_index(*spec->ammo.spec) : 0].rounds += kept ? rounds : 0;
        WeaponEvent& event = add_retuned(loadout, slot, events);
        event.moved = kept ? rounds : 0;
        event.discarded = kept ? 0 : rounds;
    }
}

// Puts the reserves where the new arsenal has them. Returns the rounds that are lost.
std::int32_t take_reserves(const Arsenal& was, const Arsenal& is, Loadout& loadout) {
    std::int32_t lost = 0;
    std::array<AmmoReserve, max_ammo_kinds> ammo{};
    for (std::size_t index = 0; index < was.ammo.size(); ++index) {
        const std::int32_t rounds = loadout.ammo[index].rounds;
        const auto type = is.ammo_type(was.ammo[index].id);
        const std::int32_t limit = type ? is[*type].carry_limit : 0;
        const bool is_less = !type || limit < was.ammo[index].carry_limit;
        const std::int32_t kept = is_less ? std::min(rounds, limit) : rounds;
        lost += rounds - kept;
        if (type) {
            ammo[to_index(*type)].rounds = kept;
        }
    }
    loadout.ammo = ammo;
    return lost;
}

} // namespace

void retune(const Arsenal& was, const Arsenal& is, Loadout& loadout, std::vector<WeaponEvent>& events) {
    drop_what_is_gone(was, is, loadout, events);
    if (const std::int32_t lost = take_reserves(was, is, loadout); lost > 0) {
        add_retuned(loadout, -1, events).discarded = lost;
    }
    for (std::int32_t slot = 0; slot < Loadout::slot_count; ++slot) {
        const WeaponSpec* before = weapon_in(was, loadout, slot);
        if (before == nullptr) {
            continue;
        }
        LoadoutSlot& place = loadout.slots[static_cast<std::size_t>(slot)];
        place.weapon = is.weapon(before->id);
        const WeaponSpec& spec = is[*place.weapon];
        AmmoReserve none;
        AmmoReserve& reserve = spec.ammo.spec ? loadout.ammo[to_index(*spec.ammo.spec)] : none;
        const std::size_t first = events.size();
        retune(*before, spec, place.state, reserve, events);
        for (std::size_t event = first; event < events.size(); ++event) {
            events[event].slot = static_cast<std::int8_t>(slot);
        }
    }
}

} // namespace avrek
