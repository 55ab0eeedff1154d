#include <avrek/weapon/weapon.h>

#include <algorithm>
#include <cassert>
#include <type_traits>

namespace avrek {

static_assert(std::is_trivially_copyable_v<WeaponState> && sizeof(WeaponState) <= 128);
static_assert(std::is_trivially_copyable_v<WeaponEvent>);

namespace {

// One call of advance(): what it reads, what it moves, and where it reports.
struct Advancing {
    const WeaponSpec& spec;
    WeaponState& state;
    AmmoReserve& reserve;
    std::vector<WeaponEvent>& events;

    WeaponEvent& report(WeaponEventKind kind, Time at) {
        WeaponEvent& event = events.emplace_back();
        event.at = at;
        event.kind = kind;
        event.rounds = state.rounds;
        return event;
    }

    void refuse(WeaponEventKind kind, WeaponRefusal refusal, Time at) { report(kind, at).refusal = refusal; }

    void pull_trigger(Time at) {
        if (state.rounds == 0) {
            state.dry = true;
            report(WeaponEventKind::dry_fire, at);
            return;
        }
        if (state.cadence_shots == 0 || at > next_shot_allowed(spec, state)) {
            state.cadence_start = at;
            state.cadence_shots = 0;
        }
        ++state.cadence_shots;
        --state.rounds;
        report(WeaponEventKind::shot, at).shot = state.shots++;
    }

    WeaponRefusal reload_refusal() const {
        if (state.reloading) {
            return WeaponRefusal::reloading;
        }
        if (state.rounds >= spec.magazine) {
            return WeaponRefusal::magazine_full;
        }
        return reserve.rounds > 0 ? WeaponRefusal::none : WeaponRefusal::reserve_empty;
    }

    void start_reload(Time at) {
        state.reload_wanted = false;
        const WeaponRefusal refusal = reload_refusal();
        if (refusal != WeaponRefusal::none) {
            refuse(WeaponEventKind::reload_refused, refusal, at);
            return;
        }
        state.reloading = true;
        state.cadence_shots = 0; // the last interval is over, and the next shot starts a run of its own
        state.reload_end = at + spec.reload_time;
        report(WeaponEventKind::reload_started, at).until = state.reload_end;
    }

    void finish_reload() {
        const std::int32_t moved = std::min(spec.magazine - state.rounds, reserve.rounds);
        state.reloading = false;
        state.dry = false;
        state.rounds += moved;
        reserve.rounds -= moved;
        report(WeaponEventKind::reload_finished, state.reload_end).moved = moved;
    }

    void press_trigger(Time at) {
        if (state.reloading) {
            refuse(WeaponEventKind::trigger_refused, WeaponRefusal::reloading, at);
        } else if (at >= next_shot_allowed(spec, state)) {
            pull_trigger(at);
        } else if (spec.trigger == TriggerMode::single) {
            refuse(WeaponEventKind::trigger_refused, WeaponRefusal::cycling, at);
        }
    }

    void press_reload(Time at) {
        if (reload_refusal() == WeaponRefusal::none && at < next_shot_allowed(spec, state)) {
            state.reload_wanted = true;
        } else {
            start_reload(at);
        }
    }

    void apply(const WeaponIntent& intent, Time at) {
        const bool pressed = intent.trigger && !state.trigger_held;
        const bool reload_pressed = intent.reload && !state.reload_held;
        state.trigger_held = intent.trigger;
        state.reload_held = intent.reload;
        if (!intent.trigger || pressed) {
            state.dry = false;
        }
        if (pressed) {
            press_trigger(at);
        }
        if (reload_pressed) {
            press_reload(at);
        }
    }

    // Does what is due before `until`, in order of time.
    void run(Time until) {
        const bool repeats = spec.trigger == TriggerMode::automatic;
        for (;;) {
            if (state.reloading) {
                if (state.reload_end >= until) {
                    break;
                }
                state.now = state.reload_end;
                finish_reload();
                continue;
            }
            const bool fires = repeats && state.trigger_held && !state.dry;
            const Time due = std::max(state.now, next_shot_allowed(spec, state));
            if ((!fires && !state.reload_wanted) || due >= until) {
                break;
            }
            state.now = due;
            if (state.reload_wanted) {
                start_reload(due);
            } else {
                pull_trigger(due);
            }
        }
        state.now = until;
    }

    void finish_reload_due_at(Time at) {
        if (state.reloading && state.reload_end == at) {
            finish_reload();
        }
    }
};

} // namespace

WeaponState full_weapon(const WeaponSpec& spec, Time at) {
    WeaponState state;
    state.now = at;
    state.rounds = spec.magazine;
    return state;
}

AmmoReserve full_reserve(const WeaponSpec& spec) {
    return {spec.reserve};
}

Time next_shot_allowed(const WeaponSpec& spec, const WeaponState& state) {
    if (state.cadence_shots == 0) {
        return state.now;
    }
    return state.cadence_start + shot_offset(state.cadence_shots, spec.rounds_per_minute);
}

double reload_progress(const WeaponSpec& spec, const WeaponState& state) {
    if (!state.reloading || spec.reload_time <= Duration::zero()) {
        return 0.0;
    }
    const double left = to_seconds(state.reload_end - state.now) / to_seconds(spec.reload_time);
    return std::clamp(1.0 - left, 0.0, 1.0);
}

void advance(const WeaponSpec& spec, WeaponState& state, AmmoReserve& reserve, Time until,
             std::span<const WeaponIntent> intents, std::vector<WeaponEvent>& events) {
    assert(until >= state.now);
    Advancing advancing{spec, state, reserve, events};
    for (const WeaponIntent& intent : intents) {
        assert(intent.at < until);
        const Time at = std::max(intent.at, state.now);
        advancing.run(at);
        advancing.finish_reload_due_at(at);
        advancing.apply(intent, at);
    }
    advancing.run(until);
}

std::size_t event_bound(const WeaponSpec& spec, Duration length, std::size_t intents) {
    // Every intent can pull the trigger and start a reload, and each of the two can be answered again later:
    // the held trigger by a dry fire, the reload by its end. As much may be under way from before.
    const double shots = to_seconds(length) * spec.rounds_per_minute / 60.0 + 2.0;
    return static_cast<std::size_t>(shots) + 4 * (intents + 1);
}

} // namespace avrek
