#pragma once
#include <avrek/weapon/weapon.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>
#include <vector>

/// A weapon with its whole surroundings, and weapons and intents by chance.
namespace avrek {

inline Time at_ms(double milliseconds) {
    return Time{Duration{std::llround(milliseconds * 1e6)}};
}

/// A weapon of a mode, with the plainest of everything else.
inline WeaponSpec weapon_of(TriggerMode trigger, double rate, std::int32_t magazine, std::int32_t reserve,
                            double reload) {
    WeaponSpec spec;
    spec.modes = {trigger};
    spec.rounds_per_minute = rate;
    spec.magazine = magazine;
    spec.reserve = reserve;
    spec.reload.time = from_seconds(reload);
    return spec;
}

/// Driven by a list of intents cut into ticks of one rate.
struct Rig {
    WeaponSpec spec;
    WeaponState state = full_weapon(spec);
    AmmoReserve reserve = full_reserve(spec);
    std::vector<WeaponEvent> events{};
    bool restates = false; ///< says at the start of each tick again what was said last
    WeaponIntent said{};

    void run(const std::vector<WeaponIntent>& intents, TickRate rate, Time end) {
        auto next = std::find_if(intents.begin(), intents.end(),
                                 [this](const WeaponIntent& each) { return each.at >= state.now; });
        for (Tick tick = tick_at(state.now, rate); state.now < end; ++tick) {
            const Time until = std::min(tick_span(tick, rate).end, end);
            const auto first = next;
            next = std::find_if(first, intents.end(),
                                [until](const WeaponIntent& each) { return each.at >= until; });
            std::vector<WeaponIntent> due{first, next};
            if (restates) {
                said.at = state.now;
                due.insert(due.begin(), said);
            }
            said = due.empty() ? said : due.back();
            const std::size_t before = events.size();
            const std::size_t bound = event_bound(spec, until - state.now, due.size());
            advance(spec, state, reserve, until, due, events);
            ASSERT_LE(events.size() - before, bound);
        }
    }

    std::vector<WeaponEvent> of(WeaponEventKind kind) const {
        std::vector<WeaponEvent> found;
        std::copy_if(events.begin(), events.end(), std::back_inserter(found),
                     [kind](const WeaponEvent& event) { return event.kind == kind; });
        return found;
    }
};

/// Draws specs that nothing contradicts, over every mode, feed, style and value, and intents for them.
struct Chance {
    std::mt19937_64 random{};

    bool one_in(std::uint64_t count) { return random() % count == 0; }
    double between(double least, double most) {
        return std::uniform_real_distribution<double>{least, most}(random);
    }
    std::int32_t whole(std::int32_t least, std::int32_t most) {
        return least + static_cast<std::int32_t>(random() % static_cast<std::uint64_t>(most - least + 1));
    }
    /// Times by chance; in round numbers they often fall on each other and on the ends of ticks.
    bool round = false;
    Duration time(double most) { return one_in(5) ? Duration{0} : rounded(from_seconds(between(0.0, most))); }
    Duration rounded(Duration length) const {
        constexpr Duration step = std::chrono::milliseconds{50};
        return round ? (length / step + 1) * step : length;
    }

    WeaponSpec weapon() {
        WeaponSpec spec;
        spec.rounds_per_minute = round ? 600.0 : between(60.0, 1800.0);
        const Duration interval = shot_offset(1, spec.rounds_per_minute);
        spec.modes.clear();
        for (std::int32_t mode = whole(1, 3); mode > 0; --mode) {
            spec.modes.push_back(static_cast<TriggerMode>(whole(0, 4)));
        }
        spec.press_buffer = time(0.15);
        spec.burst = {whole(1, 5), std::max(Duration{1}, interval / whole(1, 4)), one_in(2), one_in(2)};
        spec.charge.full = from_seconds(between(0.1, 0.6));
        spec.charge.min = spec.charge.full / whole(1, 4);
        spec.charge.fires_when_full = one_in(2);
        spec.spin = {from_seconds(between(0.1, 1.0)),
                     from_seconds(between(0.1, 1.0)),
                     {{{0.0, 0.3}, {1.0, 1.0}}},
                     between(0.0, 1.0)};
        spec.feed = static_cast<AmmoFeed>(one_in(2) ? 0 : whole(0, 3));
        spec.supply = static_cast<AmmoSupply>(one_in(4) ? whole(0, 2) : 0);
        spec.magazine = whole(3, 30);
        spec.chamber = one_in(2);
        spec.reserve = whole(0, 400);
        spec.rounds_per_shot = one_in(4) ? whole(1, 3) : 1;
        spec.heat = {between(0.02, 0.4), from_seconds(between(0.3, 2.0)), time(0.3), between(0.0, 0.9)};
        spec.cell = {from_seconds(between(0.3, 4.0)), time(0.3)};
        spec.reload.style = static_cast<ReloadStyle>(whole(0, 1));
        spec.reload.time = time(0.6);
        spec.reload.empty_time = spec.reload.time + time(0.3);
        if (one_in(2)) {
            spec.reload.commit = rounded(spec.reload.time / whole(1, 3)) - rounded(Duration{0});
        }
        spec.reload.start = time(0.2);
        spec.reload.end = time(0.2);
        spec.reload.keeps_rounds = one_in(2);
        spec.reload.automatic = one_in(2);
        spec.reload.cancelled_by = {one_in(2), one_in(2), one_in(2), one_in(2), one_in(2)};
        spec.spread.hip = between(0.0, 0.1);
        spec.spread.aimed = spec.spread.hip * between(0.0, 1.0);
        spec.spread.moving = {{{0.0, 1.0}, {6.0, between(1.0, 4.0)}}};
        spec.spread.speed_half_life = time(0.2);
        spec.spread.first_shot_rest = time(0.5);
        spec.spread.bloom.per_shot = {{{0.0, 0.002}, {0.02, 0.01}}};
        spec.spread.bloom.max = 0.05;
        spec.spread.bloom.recovery = {time(0.1), {{{0.0, 1.0}, {0.1, 0.5}, {0.4, 0.0}}}};
        spec.recoil.pattern = {{0.001, 0.01}, {-0.002, 0.008}, {0.004, 0.006}};
        spec.recoil.loop_from = whole(0, 2);
        spec.recoil.jitter = {0.002, 0.001};
        spec.recoil.aimed = between(0.3, 1.0);
        spec.recoil.recovery_share = between(0.0, 1.0);
        spec.recoil.recovery.delay = time(0.1);
        spec.aim = {time(0.4), time(0.4), one_in(2), from_degrees(40.0), 0.6, 0.0};
        spec.handling = {time(0.4), time(0.3), time(0.3), one_in(3), one_in(3)};
        return spec;
    }

    /// The next thing that somebody at the controls does.
    WeaponIntent after(WeaponIntent intent) {
        intent.trigger = random() % 5 < 3;
        intent.reload = one_in(6);
        intent.aim = one_in(3) ? !intent.aim : intent.aim;
        intent.next_mode = one_in(12);
        intent.in_hand = intent.in_hand ? !one_in(20) : one_in(2);
        intent.sprint = one_in(10);
        intent.strike = one_in(16);
        intent.stunned = one_in(24);
        intent.forbids_fire = one_in(30);
        intent.forbids_reload = one_in(20);
        intent.crouching = one_in(5);
        intent.airborne = one_in(8);
        intent.speed = one_in(3) ? between(0.0, 6.0) : intent.speed;
        return intent;
    }

    std::vector<WeaponIntent> intents(Time end, std::int64_t max_apart) {
        std::vector<WeaponIntent> all;
        WeaponIntent next;
        while (next.at < end) {
            all.push_back(next = after(next));
            next.at += rounded(
                Duration{static_cast<std::int64_t>(random() % static_cast<std::uint64_t>(max_apart))});
        }
        return all;
    }
};

} // namespace avrek
