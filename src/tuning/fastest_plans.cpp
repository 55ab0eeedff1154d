#include "fastest_plans.h"

#include <avrek/weapon/aim.h>
#include <avrek/weapon/weapon.h>

#include <algorithm>
#include <cassert>
#include <optional>

namespace avrek::detail {

namespace {

constexpr std::size_t max_steps_tried = 200'000; // beyond these only the earliest way is followed
constexpr std::size_t max_labels = 128;
constexpr std::int32_t max_shots_waited_for = 1'000;
constexpr Duration one_nanosecond{1};
constexpr Duration off_the_top{101}; // just not too hot, see Advancing::take_rounds()

bool counts_rounds(const WeaponSpec& weapon) {
    return weapon.feed == AmmoFeed::magazine && weapon.supply != AmmoSupply::endless;
}

// Whether a burst goes on whatever the shooter does.
bool is_in_burst(const WeaponSpec& weapon, const WeaponState& state) {
    return state.burst_left > 0 && !weapon.burst.cut_on_release;
}

// Reloads at the last moment at which the magazine is not empty, or later. One that fills up round by round
// and cannot be cut is the shorter the earlier it is.
void add_reloads(const WeaponSpec& weapon, const WeaponMoment& moment, std::vector<ShotStep>& steps) {
    const WeaponState& state = moment.state;
    const std::int32_t room = capacity(weapon, state) - state.rounds;
    const bool has_shot = state.rounds >= weapon.rounds_per_shot;
    const bool any = weapon.supply != AmmoSupply::counted || moment.reserve.rounds > 0;
    if (!counts_rounds(weapon) || !any || room <= 0 || (has_shot && is_in_burst(weapon, state))) {
        return;
    }
    const bool by_round = weapon.reload.style == ReloadStyle::rounds;
    const bool is_cut = weapon.reload.cancelled_by.trigger;
    const bool bursts = mode_of(weapon, state) == TriggerMode::burst; // which begin anew after it
    if (state.rounds > weapon.rounds_per_shot && !bursts && (!by_round || is_cut)) {
        return;
    }
    steps.push_back({.loads = whole_reload});
    if (weapon.chamber && state.rounds == 0) {
        steps.push_back({.loads = two_reloads});
    }
    const std::int32_t least = std::max(1, weapon.rounds_per_shot - state.rounds);
    const std::int32_t most = !is_cut ? 0 : by_round ? room : least;
    for (std::int32_t loads = least; loads <= most; ++loads) {
        steps.push_back({.loads = loads});
    }
}

// When to press the trigger of a weapon that has spun down since now, so that it fires at `at`.
Time pressed_to_fire_at(const WeaponSpec& weapon, const WeaponState& state, Time at) {
    const Time let_go = std::max(state.now, next_shot_allowed(state) - one_nanosecond);
    const double spin = spin_at(weapon, state, let_go);
    const auto fires_at = [&](Time pressed) {
        const double left = std::max(0.0, spin - to_seconds(pressed - let_go) / to_seconds(weapon.spin.down));
        return pressed +
               from_seconds(std::max(0.0, weapon.spin.fires_from - left) * to_seconds(weapon.spin.up));
    };
    Time low = let_go;
    Time high = std::max(at, low);
    while (high - low > one_nanosecond) {
        const Time middle = low + (high - low) / 2;
        (fires_at(middle) < at ? low : high) = middle;
    }
    return high;
}

// Where there is not enough for a shot, or one more is too many, waits for so many shots as fit then.
void add_pauses(const WeaponSpec& weapon, const WeaponState& state, std::vector<ShotStep>& steps) {
    const bool heats = weapon.feed == AmmoFeed::heat;
    const bool any = state.refill_left > Duration{} && weapon.supply != AmmoSupply::endless;
    const bool has_shot = rounds_at(weapon, state, {}, state.now) >= weapon.rounds_per_shot;
    if ((!heats && weapon.feed != AmmoFeed::cell) || !any || (is_in_burst(weapon, state) && has_shot)) {
        return;
    }
    const Duration full = heats ? weapon.heat.cooling_time : weapon.cell.refill_time;
    const Duration delay = heats ? weapon.heat.delay : weapon.cell.delay;
    const Duration each = heats ? from_seconds(weapon.heat.per_shot * to_seconds(full))
                                : weapon.rounds_per_shot * (full / weapon.magazine);
    const Duration top = heats ? full - off_the_top : full / weapon.magazine * weapon.magazine;
    const Time ready = ready_at(weapon, state);
    // A weapon that spins down meanwhile, or fires bursts, may pause early; for all others late is better.
    const bool spins = mode_of(weapon, state) == TriggerMode::spin_up;
    const Duration charge = mode_of(weapon, state) == TriggerMode::charge ? weapon.charge.full : Duration{};
    const bool bursts = mode_of(weapon, state) == TriggerMode::burst;
    if (bursts && has_shot && state.burst_left > 0) { // lets go
        steps.push_back({.not_before = next_shot_allowed(state)});
    }
    if (!spins && !bursts && !state.locked &&
        refill_left_at(weapon, state, next_shot_allowed(state) + charge) + each <= top) {
        return;
    }
    const Duration interval = bursts ? weapon.burst.gap : next_shot_allowed(state) - state.last_shot;
    const Duration between = std::max(Duration{}, interval + charge - delay); // by itself
    for (std::int32_t shots = 1; shots <= max_shots_waited_for; ++shots) {
        const Duration allowed = top - shots * each + (shots - 1) * between;
        const Time until = refilled_at(weapon, state, std::max(Duration{}, allowed));
        const Time pressed = spins ? pressed_to_fire_at(weapon, state, until) : until - charge;
        if (pressed > (spins ? unblocked_at(weapon, state) : ready)) {
            steps.push_back({.not_before = pressed});
        }
        if (allowed <= Duration{}) {
            break;
        }
    }
}

// Does all steps, and appends what the shooter states. Returns when the last shot leaves; none if one does
// not.
std::optional<Time> take_steps(const WeaponSpec& weapon, const std::vector<ShotStep>& steps,
                               std::vector<WeaponIntent>& statements) {
    WeaponMoment moment{full_weapon(weapon), full_reserve(weapon)};
    std::vector<WeaponEvent> events;
    for (const ShotStep& step : steps) {
        if (!take_step(weapon, moment, step, events, statements)) {
            return std::nullopt;
        }
    }
    return moment.state.last_shot;
}

// Pauses are guessed from the present interval, which a spin changes.
void shorten_spinning(const WeaponSpec& weapon, std::vector<ShotStep>& steps) {
    if (weapon.modes.front() == TriggerMode::spin_up) {
        std::vector<WeaponIntent> statements;
        shorten_pauses(steps, [&] { return take_steps(weapon, steps, statements); });
    }
}

} // namespace

std::vector<ShotStep> steps_from(const WeaponSpec& weapon, const WeaponMoment& moment) {
    const WeaponState& state = moment.state;
    std::vector<ShotStep> steps;
    if (rounds_at(weapon, state, moment.reserve, state.now) >= weapon.rounds_per_shot) {
        steps.emplace_back();
    } else if (weapon.feed == AmmoFeed::cell) {
        const Time ready = ready_at(weapon, state);
        const bool spins = mode_of(weapon, state) == TriggerMode::spin_up;
        steps.push_back({.not_before = spins ? pressed_to_fire_at(weapon, state, ready) : ready});
    }
    add_reloads(weapon, moment, steps);
    add_pauses(weapon, state, steps);
    return steps;
}

FastestPlans::FastestPlans(const WeaponSpec& weapon) : weapon_(weapon), layers_(1) {
    Label full;
    full.moment = {full_weapon(weapon_), full_reserve(weapon_)};
    layers_.front().push_back(full);
}

bool FastestPlans::reaches(std::size_t shots) {
    while (layers_.size() <= shots && !layers_.back().empty()) {
        add_layer();
    }
    return shots < layers_.size() && !layers_[shots].empty();
}

Duration FastestPlans::time_of(std::size_t shots) const {
    assert(shots > 0 && shots < layers_.size() && !layers_[shots].empty());
    const CollisionLayer& layer = layers_[shots];
    return layer[first_of(layer)].moment.state.last_shot - Time{};
}

FastestPlan FastestPlans::plan(std::size_t shots) const {
    assert(shots < layers_.size() && !layers_[shots].empty());
    std::vector<ShotStep> steps(shots);
    std::size_t index = first_of(layers_[shots]);
    for (std::size_t shot = shots; shot > 0; --shot) {
        const Label& label = layers_[shot][index];
        steps[shot - 1] = label.step;
        index = label.from;
    }
    shorten_spinning(weapon_, steps);
    return plan_of_steps(weapon_, std::move(steps));
}

std::size_t FastestPlans::first_of(const CollisionLayer& layer) const {
    const auto first = std::min_element(layer.begin(), layer.end(), [](const Label& a, const Label& b) {
        return a.moment.state.last_shot < b.moment.state.last_shot;
    });
    return static_cast<std::size_t>(first - layer.begin());
}

void FastestPlans::add_layer() {
    const CollisionLayer& last = layers_.back();
    const bool all = steps_tried_ < max_steps_tried;
    CollisionLayer next;
    for (std::size_t from = 0; from < last.size(); ++from) {
        if (!all && from != first_of(last)) {
            continue;
        }
        std::vector<ShotStep> steps = steps_from(weapon_, last[from].moment);
        steps.resize(all ? steps.size() : std::min<std::size_t>(steps.size(), 1));
        for (const ShotStep& step : steps) {
            try_step(last[from], from, step, next);
        }
    }
    while (next.size() > max_labels) { // the latest go
        next.erase(std::max_element(next.begin(), next.end(), [](const Label& a, const Label& b) {
            return a.moment.state.last_shot < b.moment.state.last_shot;
        }));
    }
    layers_.push_back(std::move(next));
}

void FastestPlans::try_step(const Label& label, std::size_t from, const ShotStep& step,
                            CollisionLayer& next) {
    ++steps_tried_;
    Label found{label.moment, from, step};
    events_.clear();
    statements_.clear();
    const auto beats_it = [&](const Label& other) {
        return has_no_more(weapon_, found.moment, other.moment);
    };
    if (!take_step(weapon_, found.moment, found.step, events_, statements_) ||
        std::any_of(next.begin(), next.end(), beats_it)) {
        return;
    }
    std::erase_if(next, [&](const Label& other) { return has_no_more(weapon_, other.moment, found.moment); });
    next.push_back(found);
}

bool has_no_more(const WeaponSpec& weapon, const WeaponMoment& one, const WeaponMoment& other) {
    const WeaponState& a = one.state;
    const WeaponState& b = other.state;
    return a.last_shot >= b.last_shot && next_shot_allowed(a) >= next_shot_allowed(b) &&
           a.rounds <= b.rounds && one.reserve.rounds <= other.reserve.rounds &&
           a.refill_left >= b.refill_left && a.locked >= b.locked && a.burst_left == b.burst_left &&
           (mode_of(weapon, a) != TriggerMode::spin_up ||
            spin_at(weapon, a, a.now) <= spin_at(weapon, b, b.now));
}

void shorten_pauses(std::vector<ShotStep>& steps, const std::function<std::optional<Time>()>& ends_at) {
    for (ShotStep& step : steps) {
        const std::optional<Time> end = step.not_before > Time{} ? ends_at() : std::nullopt;
        Time low{};
        Time high = step.not_before;
        while (end && high - low > one_nanosecond) {
            step.not_before = low + (high - low) / 2;
            const std::optional<Time> found = ends_at();
            (found && *found <= *end ? high : low) = step.not_before;
        }
        step.not_before = high;
    }
}

FastestPlan plan_of_steps(const WeaponSpec& weapon, std::vector<ShotStep> steps) {
    FastestPlan plan;
    WeaponMoment moment{full_weapon(weapon), full_reserve(weapon)};
    std::vector<WeaponEvent> events;
    std::vector<WeaponIntent> statements;
    for (const ShotStep& step : steps) {
        const std::size_t known = events.size();
        const bool has_shot =
            rounds_at(weapon, moment.state, moment.reserve, moment.state.now) >= weapon.rounds_per_shot;
        const Time ready = ready_at(weapon, moment.state);
        take_step(weapon, moment, step, events, statements);
        const Duration at = moment.state.last_shot - Time{};
        plan.course.first = plan.course.shots.empty() ? at : plan.course.first;
        plan.course.shots.push_back(at - plan.course.first);
        const bool reloads = std::any_of(
            events.begin() + static_cast<std::ptrdiff_t>(known), events.end(),
            [](const WeaponEvent& event) { return event.kind == WeaponEventKind::reload_started; });
        plan.summary.reloads += reloads ? 1 : 0;
        plan.summary.early_reloads += reloads && has_shot ? 1 : 0;
        plan.summary.cut_reloads += reloads && step.loads > 0 ? 1 : 0;
        plan.summary.pauses += step.not_before > ready ? 1 : 0;
        plan.course.reloads.push_back(plan.summary.reloads);
        if (weapon.modes.front() == TriggerMode::charge && step.charge < weapon.charge.full) {
            ++plan.summary.part_charges;
        }
    }
    plan.steps = std::move(steps);
    return plan;
}

std::vector<WeaponIntent> statements_of(const WeaponSpec& weapon, const std::vector<ShotStep>& steps) {
    std::vector<WeaponIntent> statements;
    take_steps(weapon, steps, statements);
    return statements;
}

} // namespace avrek::detail
