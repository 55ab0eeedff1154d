#include "advancing.h"
#include "ramp.h"
#include <avrek/weapon/aim.h>
#include <avrek/weapon/cone.h>

#include <algorithm>
#include <cassert>
#include <cstddef>
#include <cstring>
#include <type_traits>

namespace avrek {

static_assert(std::is_trivially_copyable_v<WeaponState> && sizeof(WeaponState) <= 128);
static_assert(std::is_trivially_copyable_v<WeaponEvent>);

WeaponEvent& detail::Advancing::report(WeaponEventKind kind) {
    WeaponEvent& event = events.emplace_back();
    event.at = state.now;
    event.kind = kind;
    event.mode = mode();
    const std::int32_t rounds = rounds_at(spec, state, reserve, state.now);
    event.rounds = rounds == endless_rounds ? state.rounds : rounds;
    return event;
}

void detail::Advancing::refuse(WeaponEventKind kind, WeaponRefusal refusal) {
    report(kind).refusal = refusal;
}

namespace {

// Whether all flags of a state are as the intent states them, one by one.
[[maybe_unused]] bool flags_agree(const WeaponIntent& intent, const WeaponState& state) {
    return intent.trigger == state.trigger_held && intent.reload == state.reload_held &&
           intent.aim == state.aim_held && intent.next_mode == state.mode_held &&
           intent.in_hand == state.in_hand && intent.sprint == state.sprinting &&
           intent.strike == state.striking && intent.stunned == state.stunned &&
           intent.forbids_fire == state.fire_forbidden && intent.forbids_reload == state.reload_forbidden &&
           intent.crouching == state.crouching && intent.airborne == state.airborne;
}

// The flags of an intent as twelve bits. They are bytes of 0 or 1, and the product gathers those of eight.
std::uint64_t flags_of(const WeaponIntent& intent) {
    static_assert(offsetof(WeaponIntent, airborne) == offsetof(WeaponIntent, trigger) + 11);
    constexpr std::uint64_t gather = 0x0102'0408'1020'4080;
    const auto* const first = reinterpret_cast<const std::byte*>(&intent) + offsetof(WeaponIntent, trigger);
    std::uint64_t eight = 0;
    std::uint32_t four = 0;
    std::memcpy(&eight, first, sizeof(eight));
    std::memcpy(&four, first + sizeof(eight), sizeof(four));
    return eight * gather >> 56U | four * gather >> 56U << 8U;
}

// Those of a state, as last stated: bit-fields from the lowest bit of the byte after `activity` up.
std::uint64_t flags_of(const WeaponState& state) {
    const auto* const first =
        reinterpret_cast<const std::byte*>(&state) + offsetof(WeaponState, activity) + 1;
    std::uint16_t flags = 0;
    std::memcpy(&flags, first, sizeof(flags));
    return flags & 0xFFFU;
}

// The usual case: what is held stays held. It is asked for every weapon in every tick.
bool states_nothing_new(const WeaponIntent& intent, const WeaponState& state) {
    const bool agree = flags_of(intent) == flags_of(state);
    assert(agree == flags_agree(intent, state));
    return agree && static_cast<float>(intent.speed) == state.speed_to;
}

bool states_nothing_new(std::span<const WeaponIntent> intents, const WeaponState& state) {
    for (const WeaponIntent& intent : intents) {
        if (!states_nothing_new(intent, state)) {
            return false;
        }
    }
    return true;
}

bool is_timed(WeaponActivity activity) {
    return activity != WeaponActivity::ready && activity != WeaponActivity::stowed;
}

// Whether nothing at all happens before `until` unless an intent says something new. It may say no for
// nothing.
bool is_quiet(const WeaponState& state, Time until) {
    if (is_timed(state.activity)) { // which keeps the trigger from doing anything
        return state.activity_end >= until && !state.locked;
    }
    const bool may_act = state.trigger_held || state.press_waits || state.reload_wanted;
    const bool cycles = state.cadence_shots > 0 && state.next_shot >= until;
    return (!may_act || cycles) && !state.winding && !state.locked && state.burst_left == 0;
}

} // namespace

// Does what is due before `until`, in order of time; at one moment, what is under way goes first.
void detail::Advancing::run(Time until) {
    while (state.now < until) { // nothing is ever due before it
        enum class What { finish, cool, reload, trigger } what = What::finish;
        Time due = until;
        const auto earlier = [&](Time at, What then) {
            if (at < due) {
                due = at;
                what = then;
            }
        };
        if (is_timed(state.activity)) {
            earlier(state.activity_end, What::finish);
        }
        if (state.locked) {
            earlier(unlocked_at(spec, state), What::cool);
        }
        if (state.reload_wanted && state.activity == WeaponActivity::ready && !hands_are_taken() &&
            state.burst_left == 0) {
            earlier(std::max(state.now, next_shot_allowed(state)), What::reload);
        }
        earlier(trigger_due(until), What::trigger);
        if (due >= until) {
            state.now = until;
            break;
        }
        state.now = std::max(state.now, due);
        switch (what) {
        case What::finish:
        case What::cool:
            finish_what_is_due();
            break;
        case What::reload:
            start_reload();
            break;
        case What::trigger:
            act_by_itself();
            break;
        }
        turn_ramps();
    }
}

// Apart from the usual case, which needs no registers for it.
[[gnu::noinline]] void detail::Advancing::run_through(std::span<const WeaponIntent> intents, Time until) {
    for (const WeaponIntent& intent : intents) {
        assert(intent.at < until);
        run(std::max(intent.at, state.now));
        apply(intent);
    }
    run(until);
}

void detail::Advancing::finish_what_is_due() {
    while (is_timed(state.activity) && state.activity_end <= state.now) {
        finish_activity();
    }
    if (state.locked && unlocked_at(spec, state) <= state.now) {
        state.locked = false;
        state.dry = false;
        report(WeaponEventKind::cooled);
    }
    turn_ramps();
}

void detail::Advancing::apply(const WeaponIntent& intent) {
    assert(intent.speed >= 0.0);
    if (is_timed(state.activity) || state.locked) {
        finish_what_is_due();
    }
    if (states_nothing_new(intent, state)) {
        return;
    }
    const auto speed = static_cast<float>(intent.speed);
    if (speed != state.speed_to) {
        state.speed_from = static_cast<float>(stance_at(spec, state, state.now).speed);
        state.speed_to = speed;
        state.speed_since = state.now;
    }
    move_hands(intent);

    state.aim_wanted = !spec.aim.toggles               ? intent.aim
                       : intent.aim && !state.aim_held ? !state.aim_wanted
                                                       : state.aim_wanted;
    state.aim_held = intent.aim;

    const bool mode_pressed = intent.next_mode && !state.mode_held;
    const bool pressed = intent.trigger && !state.trigger_held;
    const bool released = !intent.trigger && state.trigger_held;
    const bool reload_pressed = intent.reload && !state.reload_held;
    state.mode_held = intent.next_mode;
    state.trigger_held = intent.trigger;
    state.reload_held = intent.reload;
    if (mode_pressed) {
        next_mode();
    }
    if (released) {
        let_go();
    } else if (pressed) {
        press_trigger();
    }
    if (reload_pressed) {
        press_reload();
    }
    turn_ramps();
}

WeaponState full_weapon(const WeaponSpec& spec, Time at) {
    WeaponState state;
    state.now = at;
    state.rounds = spec.feed == AmmoFeed::magazine ? spec.magazine : 0;
    state.aim_since = detail::ramp_since(0.0, false, spec.aim.in, spec.aim.out, at);
    state.windup_since = detail::ramp_since(0.0, false, spec.spin.up, spec.spin.down, at);
    return state;
}

WeaponState stowed_weapon(const WeaponSpec& spec, Time at) {
    WeaponState state = full_weapon(spec, at);
    state.activity = WeaponActivity::stowed;
    state.in_hand = false;
    return state;
}

AmmoReserve full_reserve(const WeaponSpec& spec) {
    return {std::min(spec.reserve, spec.carry_limit)};
}

WeaponRefusal blockage(const WeaponSpec& spec, const WeaponState& state) {
    if (state.stunned) {
        return WeaponRefusal::stunned;
    }
    if (state.striking) {
        return WeaponRefusal::striking;
    }
    if (state.fire_forbidden) {
        return WeaponRefusal::forbidden;
    }
    switch (state.activity) {
    case WeaponActivity::ready:
        break;
    case WeaponActivity::raising:
        return WeaponRefusal::raising;
    case WeaponActivity::stowing:
    case WeaponActivity::stowed:
        return WeaponRefusal::put_away;
    case WeaponActivity::sprint_out:
        return WeaponRefusal::sprint_out;
    case WeaponActivity::opening:
    case WeaponActivity::inserting:
    case WeaponActivity::seating:
    case WeaponActivity::closing:
        return WeaponRefusal::reloading;
    }
    if (state.sprinting && !spec.handling.fires_sprinting) {
        return WeaponRefusal::sprinting;
    }
    if (state.airborne && !spec.handling.fires_airborne) {
        return WeaponRefusal::airborne;
    }
    return state.locked ? WeaponRefusal::too_hot : WeaponRefusal::none;
}

bool is_reloading(const WeaponState& state) {
    return state.activity >= WeaponActivity::opening;
}

void advance(const WeaponSpec& spec, WeaponState& state, AmmoReserve& reserve, Time until,
             std::span<const WeaponIntent> intents, std::vector<WeaponEvent>& events) {
    assert(until >= state.now);
    if (is_quiet(state, until) && states_nothing_new(intents, state)) {
        state.now = until;
        return;
    }
    detail::Advancing{spec, state, reserve, events}.run_through(intents, until);
}

std::size_t event_bound(const WeaponSpec& spec, Duration length, std::size_t intents) {
    // A shot can come with its charge, its overheating and cooling, a click and the reload that it leads to;
    // an intent with what it ends and what it begins; and as much may be under way from before.
    const double seconds = to_seconds(length);
    const bool bursts =
        std::find(spec.modes.begin(), spec.modes.end(), TriggerMode::burst) != spec.modes.end();
    const double rate = bursts && spec.burst.gap > Duration::zero()
                            ? std::max(spec.rounds_per_minute / 60.0, 1.0 / to_seconds(spec.burst.gap))
                            : spec.rounds_per_minute / 60.0;
    const auto shots = static_cast<std::size_t>(seconds * rate) + intents + 2;
    const auto held = static_cast<std::size_t>(spec.magazine) + 1;
    const std::size_t loads = spec.reload.style == ReloadStyle::rounds
                                  ? held + shots * static_cast<std::size_t>(spec.rounds_per_shot)
                                  : 0;
    return 8 * shots + 8 * (intents + 1) + loads;
}

} // namespace avrek
