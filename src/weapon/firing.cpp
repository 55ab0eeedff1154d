#include "advancing.h"
#include "ramp.h"
#include <avrek/weapon/aim.h>
#include <avrek/weapon/cone.h>
#include <avrek/weapon/recoil.h>

#include <algorithm>

namespace avrek::detail {

namespace {

// Whether a held trigger of this mode acts by itself.
bool acts_while_held(const WeaponSpec& spec, TriggerMode mode) {
    return mode == TriggerMode::burst ? spec.burst.repeats : mode != TriggerMode::single;
}

void add_recoil(const WeaponSpec& spec, WeaponState& state, const Look& kick) {
    const RecoilSpec& recoil = spec.recoil;
    const auto size = static_cast<std::int32_t>(recoil.pattern.size());
    if (size > 0) {
        const bool rested = state.shots == 0 || state.now - state.last_shot >= recoil.reset_delay;
        const std::int32_t next = (rested ? 0 : state.recoil_step) + 1;
        state.recoil_step = static_cast<std::uint16_t>(next < size ? next : recoil.loop_from);
    }
    const Look there = view_kick_at(spec, state, state.now);
    state.return_yaw = static_cast<float>(there.yaw + kick.yaw * recoil.recovery_share);
    state.return_pitch = static_cast<float>(there.pitch + kick.pitch * recoil.recovery_share);
}

void add_bloom(const BloomSpec& bloom, WeaponState& state, Radians there) {
    if (!bloom.per_shot.points.empty()) {
        state.bloom = static_cast<float>(std::min(there + value_at(bloom.per_shot, there), bloom.max));
    }
}

// A shot carries on the present run when it leaves at its very moment and rate.
void count_in_run(const WeaponSpec& spec, WeaponState& state, double rate_share) {
    const bool carries_on = state.cadence_shots > 0 && state.rate_share == static_cast<float>(rate_share) &&
                            state.now == state.next_shot;
    if (!carries_on) {
        state.cadence_start = state.now;
        state.cadence_shots = 0;
        state.rate_share = static_cast<float>(rate_share);
    }
    ++state.cadence_shots;
    state.next_shot =
        state.cadence_start + shot_offset(state.cadence_shots, spec.rounds_per_minute * rate_share);
}

} // namespace

bool Advancing::has_shot() const {
    return rounds_at(spec, state, reserve, state.now) >= spec.rounds_per_shot;
}

// When the trigger does something without another intent; some time from `until` on when that is not before.
Time Advancing::trigger_due(Time until) const {
    if (state.burst_left > 0) {
        return state.last_shot + spec.burst.gap;
    }
    const TriggerMode set = mode();
    if (set == TriggerMode::charge && state.winding) {
        return spec.charge.fires_when_full ? state.windup_since + spec.charge.full : until;
    }
    const bool held = state.trigger_held && !state.spent && !state.dry && acts_while_held(spec, set);
    const Time due = std::max(state.now, next_shot_allowed(state));
    if ((!held && !state.press_waits) || due >= until || blockage(spec, state) != WeaponRefusal::none) {
        return until;
    }
    if (set == TriggerMode::spin_up) {
        const Duration spinning = from_seconds(spec.spin.fires_from * to_seconds(spec.spin.up));
        return state.winding ? std::max(due, state.windup_since + spinning) : until;
    }
    return due;
}

void Advancing::act_by_itself() {
    switch (mode()) {
    case TriggerMode::charge:
        state.winding ? release_charge() : start_charge();
        break;
    case TriggerMode::burst:
        if (state.burst_left == 0) {
            state.burst_left = static_cast<std::uint8_t>(spec.burst.shots);
        }
        --state.burst_left;
        pull(1.0);
        if (spec.burst.cut_on_release &&
            !state.trigger_held) { // a press that waited and was let go meanwhile
            state.burst_left = 0;
        }
        break;
    case TriggerMode::single:
    case TriggerMode::automatic:
    case TriggerMode::spin_up:
        pull(1.0);
        break;
    }
}

bool Advancing::press_can_wait(WeaponRefusal blocked) const {
    if (spec.press_buffer <= Duration::zero() || mode() == TriggerMode::charge ||
        mode() == TriggerMode::spin_up) {
        return false;
    }
    const bool loads_to_the_end = state.activity == WeaponActivity::inserting &&
                                  spec.reload.style == ReloadStyle::magazine && !spec.reload.commit;
    Time ready = Time::max();
    if (blocked == WeaponRefusal::none) {
        ready = next_shot_allowed(state) + spec.burst.gap * state.burst_left;
    } else if (blocked == WeaponRefusal::raising || blocked == WeaponRefusal::sprint_out ||
               (blocked == WeaponRefusal::reloading &&
                (loads_to_the_end || state.activity == WeaponActivity::closing))) {
        ready = state.activity_end;
    }
    return ready - state.now <= spec.press_buffer;
}

void Advancing::press_trigger() {
    state.spent = false;
    state.dry = false;
    state.answered = false;
    state.press_waits = false;
    if (is_reloading(state) && state.in_hand && spec.reload.cancelled_by.trigger && has_shot() &&
        !state.stunned && !state.striking && !state.fire_forbidden) {
        cancel_reload(WeaponRefusal::triggered);
    }
    const WeaponRefusal blocked = blockage(spec, state);
    const bool repeats = acts_while_held(spec, mode());
    if (blocked == WeaponRefusal::none && state.burst_left == 0 && state.now >= next_shot_allowed(state)) {
        state.press_waits = !repeats;
        turn_ramps();
        if (trigger_due(Time::max()) <= state.now) {
            act_by_itself();
        }
    } else if (press_can_wait(blocked)) {
        state.press_waits = true;
    } else if (blocked != WeaponRefusal::none || !repeats) {
        state.answered = true;
        refuse(WeaponEventKind::trigger_refused,
               blocked != WeaponRefusal::none ? blocked : WeaponRefusal::cycling);
    }
}

void Advancing::let_go() {
    if (mode() == TriggerMode::charge && state.winding) {
        release_charge();
    } else if (mode() == TriggerMode::burst && spec.burst.cut_on_release) {
        state.burst_left = 0;
    } else if (acts_while_held(spec, mode()) && !state.answered && !state.press_waits) {
        const WeaponRefusal blocked = blockage(spec, state);
        refuse(WeaponEventKind::trigger_refused, blocked != WeaponRefusal::none ? blocked
                                                 : state.now < next_shot_allowed(state)
                                                     ? WeaponRefusal::cycling
                                                     : WeaponRefusal::winding_up);
    }
    state.spent = false;
    state.dry = false;
}

void Advancing::click() {
    state.dry = true;
    state.burst_left = 0;
    report(WeaponEventKind::dry_fire);
    want_reload_if_empty();
}

void Advancing::start_charge() {
    state.answered = true;
    if (!has_shot()) {
        click();
        return;
    }
    state.winding = true;
    state.windup_since = state.now;
    report(WeaponEventKind::charge_started).until = state.now + spec.charge.full;
}

void Advancing::release_charge() {
    const Duration held = charge_held_at(spec, state, state.now);
    state.winding = false;
    state.spent = true;
    if (held >= spec.charge.min) {
        pull(charge_power(spec.charge, held));
    } else {
        refuse(WeaponEventKind::charge_dropped, WeaponRefusal::let_go);
    }
}

void Advancing::take_rounds() {
    if (spec.supply == AmmoSupply::endless) {
        return;
    }
    switch (spec.feed) {
    case AmmoFeed::magazine:
        state.rounds -= spec.rounds_per_shot;
        break;
    case AmmoFeed::reserve:
        reserve.rounds -= reserve_counts() ? spec.rounds_per_shot : 0;
        break;
    case AmmoFeed::cell:
        state.refill_left = refill_left_at(spec, state, state.now) +
                            spec.rounds_per_shot * (spec.cell.refill_time / spec.magazine);
        break;
    case AmmoFeed::heat: {
        const Duration full = spec.heat.cooling_time;
        const Duration warmer =
            refill_left_at(spec, state, state.now) + from_seconds(spec.heat.per_shot * to_seconds(full));
        // Within a nanosecond of the top is at the top: shares like a tenth do not add up to 1 exactly.
        state.locked = warmer + Duration{100} >= full;
        state.refill_left = std::min(warmer, full);
        break;
    }
    }
}

// One shot at this moment, if there is something to fire.
void Advancing::pull(double power) {
    state.press_waits = false;
    state.answered = true;
    if (!has_shot()) {
        click();
        return;
    }
    const Radians cone = cone_at(spec, state, state.now);
    const Look kick = kick_at(spec, state, state.now);
    const Look view = view_kick_at(spec, state, state.now);
    const Radians bloom = bloom_at(spec, state, state.now);
    const bool spins = mode() == TriggerMode::spin_up;
    count_in_run(spec, state, spins ? value_at(spec.spin.rate, spin_at(spec, state, state.now)) : 1.0);
    take_rounds();
    add_recoil(spec, state, kick);
    add_bloom(spec.spread.bloom, state, bloom);
    state.last_shot = state.now;
    WeaponEvent& shot = report(WeaponEventKind::shot);
    shot.shot = state.shots++;
    shot.spread = cone;
    shot.power = power;
    shot.kick = kick;
    shot.view = view;
    if (state.locked) {
        state.burst_left = 0;
        report(WeaponEventKind::overheated).until = unlocked_at(spec, state);
    }
    want_reload_if_empty();
}

void Advancing::next_mode() {
    const WeaponRefusal blocked = blockage(spec, state);
    if (blocked == WeaponRefusal::stunned || blocked == WeaponRefusal::striking ||
        blocked == WeaponRefusal::put_away) {
        refuse(WeaponEventKind::mode_refused, blocked);
        return;
    }
    if (spec.modes.size() < 2) {
        refuse(WeaponEventKind::mode_refused, WeaponRefusal::one_mode);
        return;
    }
    stop_firing(WeaponRefusal::none);
    state.mode = static_cast<std::uint8_t>((state.mode + 1U) % spec.modes.size());
    state.winding = false;
    state.windup_since = ramp_since(0.0, false, spec.spin.up, spec.spin.down, state.now);
    state.spent = true; // a trigger that is held now fires nothing in the new mode
    state.answered = true;
    report(WeaponEventKind::mode_changed);
}

// Ends what the trigger has under way.
void Advancing::stop_firing(WeaponRefusal reason) {
    state.burst_left = 0;
    state.press_waits = false;
    if (mode() == TriggerMode::charge && state.winding) {
        state.winding = false;
        state.spent = true;
        refuse(WeaponEventKind::charge_dropped, reason);
    }
}

// Turns the aim and the spin to where they should be going from this moment on.
void Advancing::turn_ramps() {
    const bool up = state.activity != WeaponActivity::raising && state.activity != WeaponActivity::stowing &&
                    state.activity != WeaponActivity::stowed;
    const bool aims = state.aim_wanted && up && !state.sprinting && !state.striking && !state.stunned;
    if (aims != state.aiming) {
        const double blend = aim_blend_at(spec, state, state.now);
        state.aim_since = ramp_since(blend, aims, spec.aim.in, spec.aim.out, state.now);
        state.aiming = aims;
    }
    if (mode() == TriggerMode::spin_up) {
        const bool spins =
            state.trigger_held && !state.spent && !state.dry && blockage(spec, state) == WeaponRefusal::none;
        if (spins != state.winding) {
            const double spin = spin_at(spec, state, state.now);
            state.windup_since = ramp_since(spin, spins, spec.spin.up, spec.spin.down, state.now);
            state.winding = spins;
        }
    }
}

} // namespace avrek::detail
