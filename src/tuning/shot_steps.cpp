#include "shot_steps.h"

#include <algorithm>

namespace avrek::detail {

namespace {

constexpr Duration instant{1};
constexpr Duration look_ahead = std::chrono::milliseconds{50};
constexpr int max_waits = 100'000;

// One call of take_step().
class Stepping {
  public:
    Stepping(const WeaponSpec& weapon, WeaponMoment& moment, std::vector<WeaponEvent>& events,
             std::vector<WeaponIntent>& statements)
        : weapon_(weapon), moment_(moment), state_(moment.state), events_(events), statements_(statements) {}

    bool take(const ShotStep& step) {
        const std::uint32_t before = state_.shots;
        earliest_ = std::max(state_.now, step.not_before);
        if (step.loads == two_reloads) {
            reload(whole_reload);
            if (!said_.empty()) {
                hear();
            }
            advance(weapon_, state_, moment_.reserve, std::max(state_.now, earliest_) + instant, {}, events_);
        }
        if (step.loads != 0) {
            reload(step.loads == two_reloads ? whole_reload : step.loads);
        }
        shoot(step, before);
        return state_.shots > before;
    }

  private:
    TriggerMode mode() const { return mode_of(weapon_, state_); }

    void say(Time at, bool trigger, bool reload = false) {
        WeaponIntent intent{.at = at, .trigger = trigger, .reload = reload};
        intent.crouching = state_.crouching;
        intent.airborne = state_.airborne;
        intent.speed = static_cast<double>(state_.speed_to);
        said_.push_back(intent);
    }

    void hear() {
        advance(weapon_, state_, moment_.reserve, said_.back().at + instant, said_, events_);
        statements_.insert(statements_.end(), said_.begin(), said_.end());
        said_.clear();
    }

    std::int32_t loaded_since(std::size_t known) const {
        std::int32_t rounds = 0;
        for (std::size_t event = known; event < events_.size(); ++event) {
            rounds += events_[event].moved;
        }
        return rounds;
    }

    // Loads, and stops short of the moment at which it is over or cut: the trigger is pulled at that moment.
    void reload(std::int32_t loads) {
        const std::size_t known = events_.size();
        const auto is_over = [&] {
            const bool goes_on = is_reloading(state_) || state_.reload_wanted;
            return !goes_on || (loads != whole_reload && loaded_since(known) >= loads);
        };
        const WeaponMoment before = moment_;
        // A spinning weapon spins on until the reload begins.
        const bool spins = state_.trigger_held && mode() == TriggerMode::spin_up;
        say(state_.now, spins, true);
        say(state_.now, spins);
        const std::vector<WeaponIntent> said = said_;
        hear();
        if (is_over()) { // it takes no time: the trigger is pulled at the same moment
            moment_ = before;
            events_.resize(known);
            statements_.resize(statements_.size() - said.size());
            said_ = said;
            return;
        }
        for (int waits = 0; waits < max_waits; ++waits) {
            const WeaponMoment there = moment_;
            const std::size_t events = events_.size();
            const Time due =
                std::max(state_.now, is_reloading(state_)    ? state_.activity_end
                                     : state_.burst_left > 0 ? state_.last_shot + weapon_.burst.gap
                                                             : next_shot_allowed(state_));
            advance(weapon_, state_, moment_.reserve, due + instant, {}, events_);
            if (is_over()) {
                moment_ = there;
                events_.resize(events);
                earliest_ = std::max(earliest_, due);
                return;
            }
        }
    }

    // To just after the next thing that happens by itself.
    void wait() {
        const WeaponMoment before = moment_;
        const std::size_t known = events_.size();
        const Time until = std::max(state_.now + look_ahead, next_shot_allowed(state_) + instant);
        advance(weapon_, state_, moment_.reserve, until, {}, events_);
        if (events_.size() > known) {
            const Time happened = events_[known].at;
            moment_ = before;
            events_.resize(known);
            advance(weapon_, state_, moment_.reserve, happened + instant, {}, events_);
        }
    }

    void shoot(const ShotStep& step, std::uint32_t before) {
        const bool goes_on = state_.trigger_held && earliest_ <= state_.now && said_.empty();
        if (goes_on && mode() == TriggerMode::burst && state_.burst_left == 0) {
            say(state_.now, false);
        } else if (state_.burst_left > 0 && said_.empty() &&
                   (earliest_ <= state_.now || !weapon_.burst.cut_on_release)) {
            while (state_.shots == before && state_.burst_left > 0) {
                wait(); // for its next shot, or the click that ends it
            }
        } else if (goes_on) {
            wait_for_shot(before);
        }
        if (state_.shots > before) {
            return;
        }
        if (state_.trigger_held && said_.empty()) { // what spins, spins on until the next shot is due
            const Time due = std::max(state_.now, next_shot_allowed(state_) - instant);
            say(mode() == TriggerMode::spin_up ? std::clamp(earliest_, state_.now, due) : state_.now, false);
        }
        // A cell may refill while the weapon spins up.
        const bool spins = mode() == TriggerMode::spin_up;
        const Time at =
            std::max(earliest_, spins ? unblocked_at(weapon_, state_) : ready_at(weapon_, state_));
        if (!said_.empty() && said_.back().trigger) {
            say(at, false);
        }
        say(at, true);
        const bool cuts = mode() == TriggerMode::burst && weapon_.burst.cut_on_release &&
                          weapon_.burst.gap <= shot_offset(1, weapon_.rounds_per_minute);
        if (mode() == TriggerMode::charge) {
            say(at + step.charge, false);
        } else if (mode() != TriggerMode::spin_up && !cuts) {
            say(at, false);
        }
        hear();
        if (mode() == TriggerMode::spin_up) {
            wait_for_shot(before);
        }
    }

    void wait_for_shot(std::uint32_t before) {
        for (int waits = 0; state_.shots == before && waits < max_waits && !state_.dry; ++waits) {
            wait();
        }
    }

    const WeaponSpec& weapon_;
    WeaponMoment& moment_;
    WeaponState& state_;
    std::vector<WeaponEvent>& events_;
    std::vector<WeaponIntent>& statements_;
    std::vector<WeaponIntent> said_{};
    Time earliest_{};
};

} // namespace

Time unblocked_at(const WeaponSpec& weapon, const WeaponState& state) {
    const Time at = std::max(state.now, next_shot_allowed(state));
    return state.locked ? std::max(at, unlocked_at(weapon, state)) : at;
}

Time ready_at(const WeaponSpec& weapon, const WeaponState& state) {
    Time at = unblocked_at(weapon, state);
    if (weapon.feed == AmmoFeed::cell && weapon.supply != AmmoSupply::endless) {
        const Duration each = weapon.cell.refill_time / weapon.magazine;
        at = std::max(at, refilled_at(weapon, state, each * (weapon.magazine - weapon.rounds_per_shot)));
    }
    return at;
}

bool take_step(const WeaponSpec& weapon, WeaponMoment& moment, const ShotStep& step,
               std::vector<WeaponEvent>& events, std::vector<WeaponIntent>& statements) {
    return Stepping{weapon, moment, events, statements}.take(step);
}

} // namespace avrek::detail
