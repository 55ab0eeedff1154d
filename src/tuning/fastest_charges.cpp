#include "fastest_plans.h"
#include "kill_in_flight.h"
#include <avrek/weapon/weapon.h>

#include <algorithm>
#include <optional>

namespace avrek::detail {

namespace {

constexpr std::size_t max_charge_labels = 128;
constexpr std::size_t max_charged_shots = 64;

// A weapon just after a shot, and the target after it.
struct Label {
    WeaponMoment moment{};
    Victimised victim;
    std::vector<ShotStep> steps{};

    Duration last() const { return moment.state.last_shot - Time{}; }
};

// The search for the charges that kill soonest. Each shot is charged to a point of the power curve, or by as
// much as it takes to break a layer; the last one by as much as it takes to kill.
class Charging {
  public:
    Charging(const KillTrial& trial, const IdealKill& held) : trial_(trial), weapon_(trial.weapon) {
        best_.kill = held;
        charges_ = {weapon_.charge.min, weapon_.charge.full};
        for (const CurvePoint& point : weapon_.charge.power.points) {
            charges_.push_back(std::clamp(from_seconds(point.x), weapon_.charge.min, weapon_.charge.full));
        }
        std::sort(charges_.begin(), charges_.end());
        charges_.erase(std::unique(charges_.begin(), charges_.end()), charges_.end());
    }

    FastestKill run() {
        expand(nullptr, {full_weapon(weapon_), full_reserve(weapon_)});
        for (std::size_t shots = 1; shots < max_charged_shots && !next_.empty(); ++shots) {
            std::vector<Label> layer = std::move(next_);
            next_.clear();
            for (const Label& label : layer) {
                expand(&label, label.moment);
            }
        }
        return std::move(best_);
    }

  private:
    Blow blow(Duration charge) const { return trial_.blow(charge_power(weapon_.charge, charge)); }

    bool is_late(Duration at) const {
        return best_.kill.verdict == KillVerdict::kills && at >= best_.kill.time;
    }

    void expand(const Label* label, const WeaponMoment& moment) {
        if (label != nullptr && is_late(label->last() + trial_.flight.value_or(Duration{}))) {
            return;
        }
        for (ShotStep step : steps_from(weapon_, moment)) {
            WeaponMoment there = moment;
            step.charge = weapon_.charge.full;
            events_.clear();
            statements_.clear();
            if (!take_step(weapon_, there, step, events_, statements_)) {
                continue;
            }
            const Time pressed = there.state.last_shot - weapon_.charge.full;
            finish(label, step, pressed);
            std::vector<Duration> charges = charges_;
            breaking(label, pressed, charges);
            for (const Duration charge : charges) {
                go_on(label, moment, step, charge);
            }
        }
    }

    // The target when a shot that was begun at `pressed` comes to it, charged so long.
    Victimised after(const Label* label, Time pressed, Duration charge) const {
        const Time left = pressed + charge;
        Victimised victim = label != nullptr
                                ? label->victim
                                : Victimised{trial_.target, left, trial_.flight.value_or(Duration{})};
        victim.come(blow(charge), left);
        return victim;
    }

    // The least charge up to `full` for which `does` holds, where it holds for one of charges_.
    template <class Does>
    std::optional<Duration> min_charge(const Does& does) const {
        Duration low = weapon_.charge.min;
        for (const Duration high : charges_) {
            if (does(high)) {
                Duration found = high;
                while (found - low > Duration{1}) {
                    const Duration middle = low + (found - low) / 2;
                    (does(middle) ? found : low) = middle;
                }
                return does(low) ? low : found;
            }
            low = high;
        }
        return std::nullopt;
    }

    void finish(const Label* label, const ShotStep& step, Time pressed) {
        const auto charge =
            min_charge([&](Duration tried) { return after(label, pressed, tried).is_dead(); });
        if (!charge) {
            return;
        }
        const Duration at = after(label, pressed, *charge).death() - Time{};
        if (is_late(at)) {
            return;
        }
        std::vector<ShotStep> steps = label != nullptr ? label->steps : std::vector<ShotStep>{};
        steps.push_back(step);
        steps.back().charge = *charge;
        shorten_pauses(steps, [&] { return death_by(steps); });
        FastestPlan plan = plan_of_steps(weapon_, steps);
        IdealKill& kill = best_.kill;
        kill.verdict = KillVerdict::kills;
        kill.shots = static_cast<std::int32_t>(plan.steps.size());
        kill.time = death_by(steps).value_or(Time{} + at) - Time{};
        kill.first_shot = plan.course.first;
        kill.flight = trial_.flight.value_or(Duration{});
        kill.plan = plan.summary;
        best_.steps = std::move(plan.steps);
    }

    std::optional<Time> death_by(const std::vector<ShotStep>& steps) {
        WeaponMoment moment{full_weapon(weapon_), full_reserve(weapon_)};
        std::optional<Victimised> victim;
        for (const ShotStep& step : steps) {
            if (!take_step(weapon_, moment, step, events_, statements_)) {
                return std::nullopt;
            }
            const Time left = moment.state.last_shot;
            if (!victim) {
                victim.emplace(trial_.target, left, trial_.flight.value_or(Duration{}));
            }
            victim->come(blow(step.charge), left);
            if (victim->is_dead()) {
                return victim->death();
            }
        }
        return std::nullopt;
    }

    // Charges that just break one more layer: what a layer cannot take may be lost.
    void breaking(const Label* label, Time pressed, std::vector<Duration>& charges) const {
        const auto standing = [&](const Vitals& vitals) {
            return std::count_if(vitals.defence.begin(),
                                 vitals.defence.begin() +
                                     static_cast<std::ptrdiff_t>(trial_.target.body->defence.size()),
                                 [](const DefenceLayerState& layer) { return layer.points > 0.0; });
        };
        if (trial_.target.body->defence.empty()) {
            return;
        }
        const auto before = standing(after(label, pressed, weapon_.charge.min).vitals());
        const auto charge = min_charge(
            [&](Duration tried) { return standing(after(label, pressed, tried).vitals()) < before; });
        if (charge) {
            charges.push_back(*charge);
        }
    }

    void go_on(const Label* label, const WeaponMoment& moment, ShotStep step, Duration charge) {
        WeaponMoment there = moment;
        step.charge = charge;
        events_.clear();
        statements_.clear();
        if (blow(charge).amount() <= 0.0 || !take_step(weapon_, there, step, events_, statements_)) {
            return;
        }
        Label next{there, after(label, there.state.last_shot - charge, charge),
                   label != nullptr ? label->steps : std::vector<ShotStep>{}};
        next.steps.push_back(step);
        if (next.victim.is_dead() || is_late(next.last()) ||
            std::any_of(next_.begin(), next_.end(),
                        [&](const Label& other) { return is_worse(next, other); })) {
            return;
        }
        std::erase_if(next_, [&](const Label& other) { return is_worse(other, next); });
        next_.push_back(std::move(next));
        if (next_.size() > max_charge_labels) {
            next_.erase(std::max_element(next_.begin(), next_.end(), [&](const Label& a, const Label& b) {
                return about_over(a) < about_over(b);
            }));
        }
    }

    // About when it is over: what is left, at the rate of full charges.
    double about_over(const Label& label) const {
        const double each = blow(weapon_.charge.full).amount() * weapon_.pellets;
        return to_seconds(label.last()) + label.victim.substance() / std::max(1e-9, each) * shot_seconds_;
    }

    bool is_worse(const Label& one, const Label& other) const {
        if (!has_no_more(weapon_, one.moment, other.moment) ||
            one.victim.vitals().health < other.victim.vitals().health) {
            return false;
        }
        for (std::size_t layer = 0; layer < trial_.target.body->defence.size(); ++layer) {
            if (one.victim.vitals().defence[layer].points < other.victim.vitals().defence[layer].points) {
                return false;
            }
        }
        return true;
    }

    const KillTrial& trial_;
    const WeaponSpec& weapon_;
    double shot_seconds_ = to_seconds(weapon_.charge.full) + 60.0 / weapon_.rounds_per_minute;
    std::vector<Duration> charges_{};
    std::vector<Label> next_{};
    FastestKill best_{};
    std::vector<WeaponEvent> events_{};
    std::vector<WeaponIntent> statements_{};
};

} // namespace

FastestKill fastest_charged_kill(const KillTrial& trial, const IdealKill& held) {
    if (held.verdict == KillVerdict::out_of_range || held.verdict == KillVerdict::no_damage) {
        return {held, {}};
    }
    return Charging{trial, held}.run();
}

} // namespace avrek::detail
