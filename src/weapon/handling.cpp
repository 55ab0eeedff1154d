#include "advancing.h"

#include <algorithm>

namespace avrek::detail {

namespace {

Duration whole_time(const ReloadSpec& reload, bool from_empty) {
    return from_empty ? reload.empty_time.value_or(reload.time) : reload.time;
}

Duration start_time(const ReloadSpec& reload, bool from_empty) {
    return from_empty ? reload.empty_start.value_or(reload.start) : reload.start;
}

// From the start of a reload, or of one repeat, to the rounds being in, and from there to its end.
struct Parts {
    Duration before;
    Duration after;
};

Parts parts_of(const ReloadSpec& reload, bool from_empty) {
    const Duration whole = reload.style == ReloadStyle::rounds ? reload.time : whole_time(reload, from_empty);
    const Duration before = std::min(reload.commit.value_or(whole), whole);
    return {before, whole - before};
}

// Rounds that this reload can fill the weapon to: the chamber counts when a round was in it from the start.
std::int32_t fills_to(const WeaponSpec& spec, const WeaponState& state) {
    return spec.magazine + (spec.chamber && !state.from_empty ? 1 : 0);
}

std::int32_t rounds_to_come(const WeaponSpec& spec, const WeaponState& state, const AmmoReserve& reserve) {
    const std::int32_t missing = std::max(fills_to(spec, state) - state.rounds, 0);
    return spec.supply == AmmoSupply::counted ? std::min(missing, reserve.rounds) : missing;
}

Duration reload_length(const WeaponSpec& spec, const WeaponState& state, std::int32_t rounds) {
    const ReloadSpec& reload = spec.reload;
    return reload.style == ReloadStyle::rounds
               ? start_time(reload, state.from_empty) + rounds * reload.time + reload.end
               : whole_time(reload, state.from_empty);
}

} // namespace

Duration activity_length(const WeaponSpec& spec, const WeaponState& state) {
    const Parts parts = parts_of(spec.reload, state.from_empty);
    switch (state.activity) {
    case WeaponActivity::ready:
    case WeaponActivity::stowed:
        break;
    case WeaponActivity::raising:
        return spec.handling.raise;
    case WeaponActivity::stowing:
        return spec.handling.stow;
    case WeaponActivity::sprint_out:
        return spec.handling.sprint_out;
    case WeaponActivity::opening:
        return start_time(spec.reload, state.from_empty);
    case WeaponActivity::inserting:
        return parts.before;
    case WeaponActivity::seating:
        return parts.after;
    case WeaponActivity::closing:
        return spec.reload.style == ReloadStyle::rounds ? spec.reload.end : parts.after;
    }
    return Duration::zero();
}

void Advancing::begin(WeaponActivity activity, Duration length) {
    state.activity = activity;
    state.activity_end = state.now + length;
}

// Whether the hands do what would cancel a reload.
bool Advancing::hands_are_taken() const {
    const Interruptions& by = spec.reload.cancelled_by;
    return (state.stunned && by.stun) || (state.striking && by.strike) || (state.sprinting && by.sprint);
}

WeaponRefusal Advancing::reload_refusal() const {
    if (spec.feed != AmmoFeed::magazine) {
        return WeaponRefusal::no_magazine;
    }
    if (is_reloading(state)) {
        return WeaponRefusal::reloading;
    }
    if (state.activity == WeaponActivity::raising) {
        return WeaponRefusal::raising;
    }
    if (state.activity == WeaponActivity::stowing || state.activity == WeaponActivity::stowed) {
        return WeaponRefusal::put_away;
    }
    if (hands_are_taken()) {
        return state.stunned    ? WeaponRefusal::stunned
               : state.striking ? WeaponRefusal::striking
                                : WeaponRefusal::sprinting;
    }
    if (state.reload_forbidden) {
        return WeaponRefusal::forbidden;
    }
    if (state.rounds >= capacity(spec, state)) {
        return WeaponRefusal::magazine_full;
    }
    return reserve_counts() && reserve.rounds <= 0 ? WeaponRefusal::reserve_empty : WeaponRefusal::none;
}

void Advancing::press_reload() {
    const bool waits = state.now < next_shot_allowed(state) || state.burst_left > 0;
    if (waits && reload_refusal() == WeaponRefusal::none) {
        state.reload_wanted = true;
    } else {
        start_reload();
    }
}

void Advancing::start_reload() {
    state.reload_wanted = false;
    const WeaponRefusal refusal = reload_refusal();
    if (refusal != WeaponRefusal::none) {
        refuse(WeaponEventKind::reload_refused, refusal);
        return;
    }
    stop_firing(WeaponRefusal::reloading);
    state.cadence_shots = 0; // the last interval is over, and the next shot starts a run of its own
    state.from_empty = state.rounds == 0;
    state.reload_loaded = 0;
    report(WeaponEventKind::reload_started).until =
        state.now + reload_length(spec, state, rounds_to_come(spec, state, reserve));
    if (spec.reload.style == ReloadStyle::rounds) {
        begin(WeaponActivity::opening, start_time(spec.reload, state.from_empty));
    } else {
        begin(WeaponActivity::inserting, parts_of(spec.reload, state.from_empty).before);
    }
}

void Advancing::want_reload_if_empty() {
    if (spec.reload.automatic && spec.feed == AmmoFeed::magazine && !has_shot() &&
        (!reserve_counts() || reserve.rounds > 0)) {
        state.reload_wanted = true;
    }
}

void Advancing::cancel_reload(WeaponRefusal reason) {
    state.activity = WeaponActivity::ready;
    refuse(WeaponEventKind::reload_cancelled, reason);
    if (!state.in_hand) { // it was to be put away after the reload
        start_stow();
    }
}

// Puts up to `most` rounds in; with the old magazine goes what was in it, when it is thrown away.
void Advancing::load(std::int32_t most) {
    const bool throws = spec.reload.style == ReloadStyle::magazine && !spec.reload.keeps_rounds;
    const std::int32_t chambered = spec.chamber && !state.from_empty ? 1 : 0;
    const std::int32_t discarded = throws ? state.rounds - chambered : 0;
    state.rounds -= discarded;
    const std::int32_t moved = std::min(most, rounds_to_come(spec, state, reserve));
    state.rounds += moved;
    reserve.rounds -= reserve_counts() ? moved : 0;
    state.reload_loaded = static_cast<std::uint16_t>(state.reload_loaded + moved);
    WeaponEvent& event = report(WeaponEventKind::rounds_loaded);
    event.moved = moved;
    event.discarded = discarded;
}

void Advancing::continue_reload() {
    if (rounds_to_come(spec, state, reserve) > 0) {
        begin(WeaponActivity::inserting, parts_of(spec.reload, state.from_empty).before);
    } else {
        begin(WeaponActivity::closing, spec.reload.end);
    }
}

void Advancing::finish_activity() {
    const Parts parts = parts_of(spec.reload, state.from_empty);
    switch (state.activity) {
    case WeaponActivity::ready:
    case WeaponActivity::stowed:
        break;
    case WeaponActivity::raising:
        state.activity = WeaponActivity::ready;
        report(WeaponEventKind::raised);
        want_reload_if_empty();
        break;
    case WeaponActivity::stowing:
        state.activity = WeaponActivity::stowed;
        report(WeaponEventKind::stowed);
        break;
    case WeaponActivity::sprint_out:
        state.activity = WeaponActivity::ready;
        break;
    case WeaponActivity::opening:
    case WeaponActivity::seating:
        continue_reload();
        break;
    case WeaponActivity::inserting:
        if (spec.reload.style == ReloadStyle::rounds) {
            load(1);
            begin(WeaponActivity::seating, parts.after);
        } else {
            load(endless_rounds);
            begin(WeaponActivity::closing, parts.after);
        }
        break;
    case WeaponActivity::closing:
        state.activity = WeaponActivity::ready;
        state.dry = false;
        report(WeaponEventKind::reload_finished);
        if (!state.in_hand) {
            start_stow();
        }
        break;
    }
}

void Advancing::start_stow() {
    stop_firing(WeaponRefusal::put_away);
    state.reload_wanted = false;
    begin(WeaponActivity::stowing, spec.handling.stow);
    report(WeaponEventKind::stow_started).until = state.activity_end;
}

void Advancing::start_raise() {
    begin(WeaponActivity::raising, spec.handling.raise);
    report(WeaponEventKind::raise_started).until = state.activity_end;
}

// Applies the holder's stance and movement to the weapon.
void Advancing::move_hands(const WeaponIntent& intent) {
    const Interruptions& by = spec.reload.cancelled_by;
    const auto begins = [&](bool stops, bool cancels, WeaponRefusal reason) {
        if (is_reloading(state) && cancels) {
            cancel_reload(reason);
        }
        if (stops) {
            stop_firing(reason);
        }
    };
    if (intent.stunned && !state.stunned) {
        begins(true, by.stun, WeaponRefusal::stunned);
    }
    if (intent.strike && !state.striking) {
        begins(true, by.strike, WeaponRefusal::striking);
    }
    if (intent.sprint && !state.sprinting) {
        begins(!spec.handling.fires_sprinting, by.sprint, WeaponRefusal::sprinting);
    }
    if (intent.airborne && !state.airborne) {
        begins(!spec.handling.fires_airborne, false, WeaponRefusal::airborne);
    }
    if (intent.forbids_fire && !state.fire_forbidden) {
        begins(true, false, WeaponRefusal::forbidden);
    }
    const bool sprint_ends = !intent.sprint && state.sprinting;
    state.stunned = intent.stunned;
    state.fire_forbidden = intent.forbids_fire;
    state.reload_forbidden = intent.forbids_reload;
    state.striking = intent.strike;
    state.sprinting = intent.sprint;
    state.crouching = intent.crouching;
    state.airborne = intent.airborne;
    // A reload that goes on through a sprint brings the weapon up by itself.
    if (sprint_ends && state.activity == WeaponActivity::ready && !spec.handling.fires_sprinting &&
        spec.handling.sprint_out > Duration::zero()) {
        begin(WeaponActivity::sprint_out, spec.handling.sprint_out);
    }
    if (state.in_hand && !intent.in_hand) {
        state.in_hand = false;
        if (!is_reloading(state)) {
            start_stow();
        } else if (by.swap) {
            cancel_reload(WeaponRefusal::put_away);
        }
    } else if (!state.in_hand && intent.in_hand) {
        state.in_hand = true;
        if (state.activity == WeaponActivity::stowing || state.activity == WeaponActivity::stowed) {
            start_raise();
        }
    }
}

} // namespace avrek::detail

namespace avrek {

double reload_progress(const WeaponSpec& spec, const WeaponState& state, const AmmoReserve& reserve) {
    if (!is_reloading(state)) {
        return 0.0;
    }
    const ReloadSpec& reload = spec.reload;
    const detail::Parts parts = detail::parts_of(reload, state.from_empty);
    const bool inserting = state.activity == WeaponActivity::inserting;
    Duration left = state.activity_end - state.now;
    Duration whole = detail::whole_time(reload, state.from_empty);
    if (reload.style == ReloadStyle::rounds) {
        const std::int32_t to_come = detail::rounds_to_come(spec, state, reserve);
        whole = detail::reload_length(spec, state, state.reload_loaded + to_come);
        if (state.activity != WeaponActivity::closing) {
            left += (inserting ? parts.after - reload.time : Duration::zero()) + to_come * reload.time +
                    reload.end;
        }
    } else if (inserting) {
        left += parts.after;
    }
    return whole > Duration::zero() ? std::clamp(1.0 - to_seconds(left) / to_seconds(whole), 0.0, 1.0) : 0.0;
}

} // namespace avrek
