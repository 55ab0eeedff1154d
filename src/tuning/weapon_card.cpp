#include <avrek/tuning/weapon_card.h>
#include <avrek/weapon/aim.h>

#include <algorithm>
#include <cassert>

namespace avrek {

namespace {

constexpr Duration nanosecond{1};
constexpr Duration two_minutes = std::chrono::minutes{2};
constexpr std::size_t max_recoil_steps = 24;

struct FirstRun {
    std::vector<WeaponEvent> shots{};
    bool ends = false; // by a reload, heat or lack of rounds
};

// Whether a shot left too little in the weapon for another one.
bool empties(const WeaponSpec& weapon, const WeaponEvent& shot) {
    const bool counts = weapon.feed == AmmoFeed::magazine || weapon.feed == AmmoFeed::cell ||
                        (weapon.feed == AmmoFeed::reserve && weapon.supply == AmmoSupply::counted);
    return counts && weapon.supply != AmmoSupply::endless && shot.rounds < weapon.rounds_per_shot;
}

// The shots up to the first pause for a reload or to cool.
FirstRun first_run(const WeaponSpec& weapon, const Posture& posture, Duration length) {
    FirstRun run;
    for (const WeaponEvent& event : fire_by_plan(weapon, {}, posture, length)) {
        run.ends = event.kind == WeaponEventKind::reload_started || event.kind == WeaponEventKind::overheated;
        if (event.kind == WeaponEventKind::shot) {
            run.shots.push_back(event);
            run.ends = empties(weapon, event);
        }
        if (run.ends) {
            break;
        }
    }
    return run;
}

// The shots of two minutes with another supply.
std::vector<WeaponEvent> shots_with(WeaponSpec weapon, AmmoSupply supply) {
    weapon.supply = weapon.supply == AmmoSupply::endless ? AmmoSupply::endless : supply;
    std::vector<WeaponEvent> events = fire_by_plan(weapon, {}, {}, two_minutes);
    std::erase_if(events, [](const WeaponEvent& event) { return event.kind != WeaponEventKind::shot; });
    return events;
}

// Shots a second between the first of some and the last that begins a burst.
double rate_between(const WeaponSpec& weapon, const std::vector<WeaponEvent>& shots) {
    const bool bursts = weapon.modes.front() == TriggerMode::burst;
    const std::size_t each = bursts ? static_cast<std::size_t>(weapon.burst.shots) : 1;
    const std::size_t last = shots.empty() ? 0 : (shots.size() - 1) / each * each;
    const Duration taken = last > 0 ? shots[last].at - shots.front().at : Duration::zero();
    return taken > Duration::zero() ? static_cast<double>(last) / to_seconds(taken) : 0.0;
}

std::optional<Duration> reload_from(const WeaponSpec& weapon, std::int32_t rounds) {
    if (weapon.feed != AmmoFeed::magazine || weapon.supply == AmmoSupply::endless) {
        return std::nullopt;
    }
    WeaponState state = full_weapon(weapon);
    AmmoReserve reserve{endless_rounds / 2};
    std::vector<WeaponEvent> events;
    state.rounds = rounds;
    const WeaponIntent press{.at = {}, .reload = true};
    advance(weapon, state, reserve, Time{std::chrono::hours{200}}, {&press, 1}, events);
    const bool finished = !events.empty() && events.back().kind == WeaponEventKind::reload_finished;
    return finished ? std::optional{events.back().at - Time{}} : std::nullopt;
}

std::optional<Duration> pause_of(const WeaponSpec& weapon) {
    if (weapon.feed == AmmoFeed::cell) {
        return weapon.cell.delay + weapon.cell.refill_time;
    }
    if (weapon.feed != AmmoFeed::heat) {
        return std::nullopt;
    }
    for (const WeaponEvent& event : fire_by_plan(weapon, {}, {}, two_minutes)) {
        if (event.kind == WeaponEventKind::overheated) {
            return event.until - event.at;
        }
    }
    return std::nullopt;
}

CardCone cone_in(const WeaponSpec& weapon, const Screen& screen, std::string name, const Posture& posture) {
    const SpreadSpec& spread = weapon.spread;
    const Stance stance{posture.speed, posture.crouching, posture.airborne};
    const Radians bloom = spread.bloom.per_shot.points.empty() ? 0.0 : spread.bloom.max;
    const Radians view = blended(screen.field_of_view,
                                 weapon.aim.field_of_view.value_or(screen.field_of_view), posture.aim_blend);
    const Radians rest = cone_of(spread, posture.aim_blend, stance, 0.0);
    return {std::move(name),
            posture,
            rest,
            cone_of(spread, posture.aim_blend, stance, bloom),
            accuracy_of(spread, rest),
            crosshair_gap(rest, {view, screen.height})};
}

std::vector<CardCone> cones_of(const WeaponSpec& weapon, const Screen& screen) {
    const double fastest = weapon.spread.moving.points.empty() ? 0.0 : weapon.spread.moving.points.back().x;
    std::vector<CardCone> cones;
    const auto add = [&](const char* name, const Posture& posture) {
        cones.push_back(cone_in(weapon, screen, name, posture));
    };
    for (const double aim : {0.0, 1.0}) {
        if (aim == 1.0 && !weapon.spread.aimed) {
            continue;
        }
        const std::string held = aim == 1.0 ? "aimed" : "hip";
        add((held + ", standing still").c_str(), {0.0, false, false, aim});
        if (weapon.spread.crouching != 1.0) {
            add((held + ", crouching").c_str(), {0.0, true, false, aim});
        }
        if (fastest > 0.0) {
            add((held + ", moving").c_str(), {fastest, false, false, aim});
        }
        if (weapon.spread.airborne != 1.0 && weapon.handling.fires_airborne) {
            add((held + ", in the air").c_str(), {0.0, false, true, aim});
        }
    }
    return cones;
}

// Where the view points just after each shot of the first run.
std::vector<Look> recoil_of(const WeaponSpec& weapon) {
    if (weapon.recoil.pattern.empty()) {
        return {};
    }
    WeaponSpec even = weapon;
    even.recoil.jitter = {};
    std::vector<WeaponEvent> run = first_run(even, {}, two_minutes).shots;
    run.resize(std::min(run.size(), max_recoil_steps));
    std::vector<Look> views = view_at_shots(even, run, 0.0);
    for (std::size_t shot = 0; shot < run.size(); ++shot) {
        views[shot].yaw += run[shot].kick.yaw;
        views[shot].pitch += run[shot].kick.pitch;
    }
    return views;
}

// A weapon of the same cone and kicks that fires whenever it is told to.
WeaponSpec obedient(const WeaponSpec& weapon) {
    WeaponSpec spec = weapon;
    spec.modes = {TriggerMode::single};
    spec.rounds_per_minute = 60e9;
    spec.press_buffer = {};
    spec.feed = AmmoFeed::magazine;
    spec.supply = AmmoSupply::endless;
    spec.magazine = weapon.rounds_per_shot;
    spec.handling.fires_airborne = true;
    return spec;
}

} // namespace

WeaponCard card_of(const WeaponSpec& weapon, const Screen& screen) {
    WeaponCard card;
    const FirstRun run = first_run(weapon, {}, two_minutes);
    const std::vector<WeaponEvent> without_pauses = shots_with(weapon, AmmoSupply::endless);
    const std::vector<WeaponEvent> with_pauses = shots_with(weapon, AmmoSupply::endless_reserve);
    const double between = rate_between(weapon, without_pauses);
    const double rate = between > 0.0 ? between : weapon.rounds_per_minute / 60.0;
    const double power = run.shots.empty() ? 1.0 : run.shots.front().power;
    const double fired = without_pauses.empty() ? 0.0
                                                : static_cast<double>(with_pauses.size()) /
                                                      static_cast<double>(without_pauses.size());
    card.rounds_per_minute = 60.0 * rate;
    card.damage_per_shot = weapon.damage * weapon.pellets * power;
    card.burst_damage = card.damage_per_shot * rate;
    card.sustained_damage = card.burst_damage * fired;
    if (run.ends && !run.shots.empty()) {
        card.shots_to_empty = static_cast<std::int32_t>(run.shots.size());
        card.time_to_empty = run.shots.back().at - run.shots.front().at;
    }
    card.partial_reload = weapon.magazine > 1 ? reload_from(weapon, weapon.magazine - 1) : std::nullopt;
    card.empty_reload = reload_from(weapon, 0);
    card.pause = pause_of(weapon);
    card.first_shot_is_exact = weapon.spread.first_shot_rest > Duration::zero();
    card.cones = cones_of(weapon, screen);
    card.recoil = recoil_of(weapon);
    return card;
}

std::vector<ConeSample> cone_over_time(const WeaponSpec& weapon, const Posture& posture, Duration firing,
                                       Duration resting, Duration step) {
    assert(firing >= Duration::zero() && resting >= Duration::zero() && step > Duration::zero());
    const WeaponSpec traced = obedient(aimed_by(weapon, posture.aim_blend));
    WeaponState state = full_weapon(traced);
    AmmoReserve reserve;
    std::vector<WeaponEvent> events;
    std::vector<ConeSample> samples;
    WeaponIntent stance{.crouching = posture.crouching, .airborne = posture.airborne, .speed = posture.speed};
    state.speed_from = static_cast<float>(posture.speed);
    state.speed_to = state.speed_from;
    state.crouching = posture.crouching;
    state.airborne = posture.airborne;
    const auto sample = [&] { samples.push_back({state.now, cone_at(traced, state, state.now)}); };
    const auto idle_until = [&](Time until) {
        for (; state.now + step < until; sample()) {
            advance(traced, state, reserve, state.now + step, {}, events);
        }
        advance(traced, state, reserve, std::max(until, state.now), {}, events);
        sample();
    };
    for (const WeaponEvent& shot : first_run(weapon, posture, firing).shots) {
        idle_until(shot.at);
        WeaponIntent press = stance;
        press.at = shot.at;
        press.trigger = true;
        stance.at = shot.at;
        const WeaponIntent both[] = {press, stance};
        advance(traced, state, reserve, shot.at + nanosecond, both, events);
        sample();
    }
    idle_until(state.now + resting);
    return samples;
}

} // namespace avrek
