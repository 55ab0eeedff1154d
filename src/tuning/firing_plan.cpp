#include "shot_steps.h"
#include <avrek/tuning/firing_plan.h>
#include <avrek/weapon/aim.h>

#include <algorithm>
#include <cassert>
#include <optional>

namespace avrek {

namespace {

constexpr Duration instant{1};
constexpr Duration look_ahead = std::chrono::milliseconds{50};

// Somebody who works one weapon by a plan. The weapon's own time is the shooter's clock.
class Shooter {
  public:
    Shooter(const WeaponSpec& weapon, const FiringPlan& plan, const Posture& posture, Time end,
            std::size_t max_shots)
        : weapon_(weapon), plan_(plan), end_(end), max_shots_(max_shots), state_(full_weapon(weapon)),
          reserve_(full_reserve(weapon)) {
        stance_.speed = posture.speed;
        stance_.crouching = posture.crouching;
        stance_.airborne = posture.airborne;
        state_.speed_from = static_cast<float>(posture.speed);
        state_.speed_to = state_.speed_from;
        state_.crouching = posture.crouching;
        state_.airborne = posture.airborne;
    }

    const std::vector<WeaponIntent>& statements() const { return statements_; }

    std::vector<WeaponEvent> run() {
        if (plan_.kind == FiringPlanKind::intents) {
            const auto late = std::find_if(plan_.intents.begin(), plan_.intents.end(),
                                           [this](const WeaponIntent& intent) { return intent.at >= end_; });
            advance(weapon_, state_, reserve_, end_, {plan_.intents.begin(), late}, events_);
            return events_;
        }
        while (state_.now < end_ && shots() < max_shots_ && load() && fire()) {
        }
        // Events that were caused before the end may lie beyond it.
        while (!events_.empty() && events_.back().at >= end_) {
            events_.pop_back();
        }
        return events_;
    }

  private:
    std::size_t shots() const { return state_.shots; }
    TriggerMode mode() const { return mode_of(weapon_, state_); }
    bool has_shot() const {
        return rounds_at(weapon_, state_, reserve_, state_.now) >= weapon_.rounds_per_shot;
    }

    // States something; several statements of one moment take effect together, in hear().
    void say(Time at, bool trigger, bool reload = false) {
        WeaponIntent intent = stance_;
        intent.at = std::max(at, state_.now);
        intent.trigger = trigger;
        intent.reload = reload;
        said_.push_back(intent);
    }

    void hear() {
        if (!said_.empty()) {
            statements_.insert(statements_.end(), said_.begin(), said_.end());
            advance(weapon_, state_, reserve_, said_.back().at + instant, said_, events_);
            said_.clear();
        }
    }

    // Just after what is known to come, so that a long reload or pause is not waited for bit by bit.
    Time known_to_come() const {
        Time at = state_.now;
        if (state_.activity != WeaponActivity::ready && state_.activity != WeaponActivity::stowed) {
            at = std::max(at, state_.activity_end);
        }
        if (state_.locked) {
            at = std::max(at, unlocked_at(weapon_, state_));
        }
        if (state_.reload_wanted || state_.trigger_held) {
            at = std::max(at, next_shot_allowed(state_));
        }
        return at + instant;
    }

    // Goes on to just after the next thing that happens by itself, or up to it, or as far as it looks ahead.
    void wait(bool up_to_it = false) {
        const WeaponState before = state_;
        const AmmoReserve reserve_before = reserve_;
        const std::size_t known = events_.size();
        advance(weapon_, state_, reserve_, std::max(state_.now + look_ahead, known_to_come()), {}, events_);
        if (events_.size() > known) {
            const Time happened = events_[known].at;
            state_ = before;
            reserve_ = reserve_before;
            events_.resize(known);
            advance(weapon_, state_, reserve_, up_to_it ? happened : happened + instant, {}, events_);
        }
    }

    bool reloads() const { return is_reloading(state_) || state_.reload_wanted; }
    bool reloads_at_once() const {
        return weapon_.reload.style == ReloadStyle::magazine && weapon_.reload.time == Duration::zero() &&
               weapon_.reload.empty_time.value_or(Duration::zero()) == Duration::zero();
    }

    // Waits for the end of the reload, and stops short of it: what is said next is said at that very moment.
    void wait_for_reload() {
        while (reloads() && state_.now < end_) {
            const WeaponState before = state_;
            const AmmoReserve reserve_before = reserve_;
            const std::size_t known = events_.size();
            wait();
            if (!reloads()) {
                state_ = before;
                reserve_ = reserve_before;
                events_.resize(known);
                wait(true);
                return;
            }
        }
    }

    // Sees to it that there is enough for a shot; false when there never will be.
    bool load() {
        if ((has_shot() && !reloads()) || weapon_.feed == AmmoFeed::cell) {
            return true;
        }
        const bool any = weapon_.supply != AmmoSupply::counted || reserve_.rounds > 0;
        if (weapon_.feed != AmmoFeed::magazine || (!any && !is_reloading(state_))) {
            return false;
        }
        in_burst_ = 0;
        if (!is_reloading(state_)) {
            say(ready(), false, true);
            say(ready(), false);
        }
        if (!reloads_at_once()) {
            hear();
            wait_for_reload();
        }
        return state_.now < end_;
    }

    Time ready() const { return detail::ready_at(weapon_, state_); }

    Time next_press() {
        switch (plan_.kind) {
        case FiringPlanKind::taps:
            // The taps keep their beat; those that a reload swallows are lost.
            while (Time{taps_ * plan_.interval} < state_.now) {
                ++taps_;
            }
            return Time{taps_++ * plan_.interval};
        case FiringPlanKind::bursts:
            if (in_burst_ >= plan_.shots) {
                in_burst_ = 0;
                return std::max(ready(), state_.last_shot + plan_.interval);
            }
            break;
        case FiringPlanKind::hold:
        case FiringPlanKind::intents:
            break;
        }
        return ready();
    }

    // Whether the trigger stays down between two shots.
    bool keeps_holding() const {
        return plan_.kind == FiringPlanKind::hold ||
               (plan_.kind == FiringPlanKind::bursts && in_burst_ < plan_.shots);
    }

    // Letting go would end a burst that is faster than presses are.
    bool holds_bursts() const {
        return plan_.kind != FiringPlanKind::taps && mode() == TriggerMode::burst &&
               weapon_.burst.cut_on_release && weapon_.burst.gap <= shot_offset(1, weapon_.rounds_per_minute);
    }

    // One press, and what it leads to; false when the time is over, or a press as early as can be does
    // nothing.
    bool fire() {
        const std::size_t before = shots();
        if (mode() == TriggerMode::spin_up) {
            spin(before);
        } else {
            const Time at = next_press();
            if (at >= end_) {
                return false;
            }
            say(at, true);
            if (mode() == TriggerMode::charge) {
                const bool taps = plan_.kind == FiringPlanKind::taps;
                say(at + (taps ? weapon_.charge.min : weapon_.charge.full), false);
            } else if (!holds_bursts()) {
                say(at, false);
            }
            hear();
            while (state_.burst_left > 0 && state_.now < end_ && shots() < max_shots_) {
                wait();
            }
            if (state_.trigger_held) {
                say(state_.now, false);
                hear();
            }
        }
        in_burst_ += static_cast<std::int32_t>(shots() - before);
        return shots() > before || plan_.kind == FiringPlanKind::taps;
    }

    // Holds the trigger for one more shot; lets go when the plan pauses, and of a cell that is dry until
    // there is a round again.
    void spin(std::size_t before) {
        const bool refills = weapon_.feed == AmmoFeed::cell;
        while (shots() == before && state_.now < end_ && (refills || has_shot())) {
            if (!state_.trigger_held) {
                const Time at = next_press();
                if (at >= end_) {
                    state_.now = end_;
                    return;
                }
                say(at, true);
                hear();
            }
            while (shots() == before && state_.now < end_ && (refills ? !state_.dry : has_shot())) {
                wait();
            }
            if (shots() == before && state_.dry) {
                say(state_.now, false);
                hear();
            }
        }
        in_burst_ += 1;
        const bool goes_on = keeps_holding();
        in_burst_ -= 1;
        if (!goes_on) {
            say(state_.now, false);
            hear();
        }
    }

    const WeaponSpec& weapon_;
    const FiringPlan& plan_;
    Time end_;
    std::size_t max_shots_;
    WeaponState state_;
    AmmoReserve reserve_;
    WeaponIntent stance_{};
    std::vector<WeaponIntent> said_{};
    std::vector<WeaponIntent> statements_{};
    std::vector<WeaponEvent> events_{};
    std::int64_t taps_ = 0;
    std::int32_t in_burst_ = 0;
};

} // namespace

WeaponSpec aimed_by(const WeaponSpec& weapon, double blend) {
    assert(blend >= 0.0 && blend <= 1.0);
    WeaponSpec held = weapon;
    const double recoil = blended(1.0, weapon.recoil.aimed, blend);
    held.spread.hip = blended(weapon.spread.hip, weapon.spread.aimed.value_or(weapon.spread.hip), blend);
    held.spread.aimed = held.spread.hip;
    held.recoil.aimed = 1.0;
    held.recoil.jitter = {weapon.recoil.jitter.yaw * recoil, weapon.recoil.jitter.pitch * recoil};
    for (Look& step : held.recoil.pattern) {
        step = {step.yaw * recoil, step.pitch * recoil};
    }
    return held;
}

std::vector<WeaponEvent> fire_by_plan(const WeaponSpec& weapon, const FiringPlan& plan,
                                      const Posture& posture, Duration length, std::size_t max_shots) {
    assert(length >= Duration::zero());
    assert(plan.kind != FiringPlanKind::taps || plan.interval > Duration::zero());
    assert(plan.kind != FiringPlanKind::bursts || plan.shots > 0);
    if (posture.aim_blend == 0.0) {
        return Shooter{weapon, plan, posture, Time{length}, max_shots}.run();
    }
    const WeaponSpec held = aimed_by(weapon, posture.aim_blend);
    return Shooter{held, plan, posture, Time{length}, max_shots}.run();
}

std::vector<WeaponIntent> statements_of(const WeaponSpec& weapon, const FiringPlan& plan,
                                        const Posture& posture, Duration length, std::size_t max_shots) {
    if (plan.kind == FiringPlanKind::intents) {
        return plan.intents;
    }
    const WeaponSpec held = aimed_by(weapon, posture.aim_blend);
    Shooter shooter{held, plan, posture, Time{length}, max_shots};
    shooter.run();
    return shooter.statements();
}

std::vector<Look> view_at_shots(const WeaponSpec& weapon, const std::vector<WeaponEvent>& events,
                                double pull) {
    const double returns = weapon.recoil.recovery_share;
    std::vector<Look> views;
    Look returning;
    Look kept;
    Time last{};
    for (const WeaponEvent& event : events) {
        if (event.kind != WeaponEventKind::shot) {
            continue;
        }
        const double left = share_left(weapon.recoil.recovery, event.at - last);
        returning = {returning.yaw * left, returning.pitch * left};
        views.push_back({kept.yaw + returning.yaw, kept.pitch + returning.pitch});
        const double stays = (1.0 - returns) * (1.0 - pull);
        kept = {kept.yaw + event.kick.yaw * stays, kept.pitch + event.kick.pitch * stays};
        returning = {returning.yaw + event.kick.yaw * returns, returning.pitch + event.kick.pitch * returns};
        last = event.at;
    }
    return views;
}

} // namespace avrek
