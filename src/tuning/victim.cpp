#include "victim.h"

#include <algorithm>
#include <cmath>

namespace avrek::detail {

namespace {

constexpr std::uint32_t unknown = dead_state - 1;
constexpr std::uint32_t many_states = 1'500; // beyond these, states that hardly differ are taken for one

bool leaves_condition(const Target& target, const std::vector<VictimBlow>& blows) {
    for (const VictimBlow& blow : blows) {
        for (const VictimHit& hit : blow) {
            if (hit.effect != nullptr && hit.effect->condition.spec && !target.conditions.empty() &&
                !target.body->immune_set.contains(*hit.effect->condition.spec)) {
                return true;
            }
        }
    }
    return false;
}

bool layers_change(const Target& target) {
    return std::any_of(target.body->defence.begin(), target.body->defence.end(),
                       [](const DefenceLayerSpec& layer) {
                           return layer.refill > 0.0 || (layer.decay > 0.0 && layer.start > 0.0);
                       });
}

} // namespace

Victim::Victim(const Target& target, std::vector<VictimBlow> blows)
    : target_(target), blows_(std::move(blows)) {
    changes_ = leaves_condition(target, blows_) || layers_change(target) || !target.with.empty() ||
               !target.attacker_with.empty() || target.guard.has_value();
    refills_ = std::any_of(target.body->defence.begin(), target.body->defence.end(),
                           [](const DefenceLayerSpec& layer) { return layer.refill > 0.0; });
    number_of(vitals_of(target, Time{}));
    hurt_[0] = false;
}

void Victim::begin_moment() {
    if (changes_) {
        numbers_.clear();
    }
}

double Victim::health_share(std::uint32_t state) const {
    return states_[state].fraction();
}

Victim::Key Victim::key_of(const Vitals& vitals) const {
    Key key{};
    std::size_t slot = 0;
    key[slot++] = std::llround(vitals.health / (grain_ * vitals.maximum));
    for (std::size_t layer = 0; layer < target_.body->defence.size(); ++layer) {
        key[slot++] = std::llround(defence_points(*target_.body, vitals, layer) / (grain_ * vitals.maximum));
    }
    if (!changes_) {
        return key;
    }
    if (refills_) {
        key[slot++] = vitals.last_hurt == Time::min() ? -1 : vitals.last_hurt.time_since_epoch().count();
    }
    if (target_.guard) {
        key[slot++] = std::llround(vitals.guard.stamina * 1e3) * 2 + (vitals.guard.up ? 1 : 0);
    }
    const std::size_t shown = std::min<std::size_t>(vitals.condition_count, (key.size() - slot) / 3);
    for (std::size_t index = 0; index < shown; ++index) {
        const ConditionState& condition = vitals.conditions[index];
        key[slot++] =
            static_cast<std::int64_t>(condition.spec) * 65'536 + static_cast<std::int64_t>(condition.count);
        key[slot++] = condition.until.time_since_epoch().count();
        key[slot++] = condition.next_tick.time_since_epoch().count();
    }
    return key;
}

std::uint32_t Victim::number_of(const Vitals& vitals) {
    if (numbers_.size() > many_states && grain_ < 1e-4) {
        grain_ = 1e-3;
        coarsen();
    }
    const auto [place, is_new] = numbers_.try_emplace(key_of(vitals), count());
    if (is_new) {
        states_.push_back(vitals);
        hurt_.push_back(true);
        double substance = vitals.health;
        for (std::size_t layer = 0; layer < target_.body->defence.size(); ++layer) {
            substance += defence_points(*target_.body, vitals, layer);
        }
        substance_.push_back(substance);
        struck_.resize(states_.size() * blows_.size(), unknown);
    }
    return place->second;
}

// From now on, states fall together that did not before; those that there are stay.
void Victim::coarsen() {
    numbers_.clear();
    for (std::uint32_t state = 0; state < count(); ++state) {
        numbers_.try_emplace(key_of(states_[state]), state);
    }
    std::fill(struck_.begin(), struck_.end(), unknown);
}

Victim::Passed Victim::pass(std::uint32_t state, Time at) {
    if (!changes_ || states_[state].now >= at) {
        return {state, {}};
    }
    Vitals vitals = states_[state];
    events_.clear();
    advance({target_.conditions, *target_.body, vitals}, at, events_);
    if (vitals.life == LifeState::dead) {
        for (const VitalsEvent& event : events_) {
            if (const auto* death = std::get_if<DeathEvent>(&event)) {
                return {dead_state, death->at};
            }
        }
    }
    const bool hurt = hurt_[state];
    const std::uint32_t number = number_of(vitals);
    hurt_[number] = hurt;
    return {number, {}};
}

std::uint32_t Victim::strike(std::uint32_t state, std::uint32_t blow, Time at) {
    const std::size_t index = state * blows_.size() + blow;
    if (struck_[index] != unknown && !changes_) {
        return struck_[index];
    }
    Vitals vitals = states_[state];
    const Time when = changes_ ? at : vitals.now;
    const double dealt = changes_ ? dealt_at(target_, Time{}, when) : 1.0;
    events_.clear();
    for (const VictimHit& hit : blows_[blow]) {
        take_hit({target_.conditions, *target_.body, vitals}, hit_on(target_, hit.damage, *hit.effect, dealt),
                 when, events_);
    }
    // How it reacts does not matter to one that only stands there.
    const std::uint32_t found = vitals.life == LifeState::dead ? dead_state : number_of(vitals);
    if (found != dead_state && found != state) {
        hurt_[found] = true;
    }
    struck_[index] = found;
    return found;
}

} // namespace avrek::detail
