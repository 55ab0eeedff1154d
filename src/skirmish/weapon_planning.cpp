#include "weapon_planning.h"

#include <algorithm>
#include <cmath>

namespace avrek::detail {

namespace {

constexpr Radians steepest = 1.55;

float number_or(float value, float other) {
    return std::isfinite(value) && std::abs(value) < 1e6F ? value : other;
}

// An intent as it counts: with what is allowed in place of what is not.
Intent allowed(const Intent& intent, const Intent& last, Duration tick) {
    Intent counts = intent;
    const auto most = static_cast<std::uint32_t>(tick.count() - 1);
    counts.press_offset = std::min(intent.press_offset, most);
    counts.yaw = static_cast<float>(shortest_turn(number_or(intent.yaw, last.yaw)));
    constexpr auto max_pitch = static_cast<float>(steepest);
    counts.pitch = std::clamp(number_or(intent.pitch, last.pitch), -max_pitch, max_pitch);
    counts.ahead = number_or(intent.ahead, 0.0F);
    counts.left = number_or(intent.left, 0.0F);
    const double size = std::sqrt(double{counts.ahead} * counts.ahead + double{counts.left} * counts.left);
    if (size > 1.0) {
        counts.ahead = static_cast<float>(counts.ahead / size);
        counts.left = static_cast<float>(counts.left / size);
    }
    counts.buttons = Buttons::from_bits(intent.buttons.bits());
    counts.slot = intent.slot >= 0 && intent.slot < Loadout::slot_count ? intent.slot : std::int8_t{-1};
    return counts;
}

// The buttons that a weapon and a loadout know.
void state_buttons(Buttons held, LoadoutIntent& intent) {
    intent.weapon.trigger = held.has(Button::trigger);
    intent.weapon.reload = held.has(Button::reload);
    intent.weapon.aim = held.has(Button::aim);
    intent.weapon.next_mode = held.has(Button::next_mode);
    intent.weapon.crouching = held.has(Button::crouch);
    intent.next = held.has(Button::next_weapon);
    intent.last = held.has(Button::last_weapon);
}

} // namespace

WeaponPlanning::WeaponPlanning(Fight& fight) : fight_(fight) {
    const std::size_t each = 8 * fight.settings.limits.combatants + 64;
    plans_.reserve(fight.settings.limits.combatants);
    planned_.reserve(4 * each);
    events_.reserve(each);
}

void WeaponPlanning::take_intents(std::span<const Intent> intents) {
    plans_.resize(fight_.fighters.size());
    planned_.clear();
    for (std::size_t index = 0; index < fight_.fighters.size(); ++index) {
        Fighter& fighter = fight_.fighters[index];
        fighter.position_before = fighter.motion.position;
        fighter.look_before = fighter.look;
        fighter.intent =
            allowed(repeated(fighter.intent), fighter.intent, fight_.span.end - fight_.span.begin);
        fighter.look = {fighter.intent.yaw, fighter.intent.pitch};
        WeaponPlan& hands = plans_[index];
        hands.pressed = hands.released = {};
        hands.intent_given = false;
        hands.plan_from = Time{};
        hands.gates.count = 0; // until it is planned; props never are
        hands.intent_count = 0;
        hands.blows = {fight_.swing_span_of(fighter), Span{}};
    }
    for (const Intent& intent : intents) {
        const std::size_t index = fight_.index_of(intent.who);
        if (index == fight_.fighters.size() || plans_[index].intent_given) {
            fight_.disregarded += index == fight_.fighters.size() ? 1 : 0;
            continue;
        }
        plans_[index].intent_given = true;
        Fighter& fighter = fight_.fighters[index];
        const Buttons before = fighter.intent.buttons;
        fighter.intent = allowed(intent, fighter.intent, fight_.span.end - fight_.span.begin);
        const std::uint32_t now = fighter.intent.buttons.bits();
        plans_[index].pressed = Buttons::from_bits(now & ~std::uint32_t{before.bits()});
        plans_[index].released = Buttons::from_bits(before.bits() & ~now);
        fighter.look = {fighter.intent.yaw, fighter.intent.pitch};
    }
}

// The statements of a combatant about its weapons in this tick: how it moves at the begin, what it holds
// from its press on, and that its hands are free again when its blade is.
void WeaponPlanning::state_intents(std::size_t index) {
    const Fighter& fighter = fight_.fighters[index];
    WeaponPlan& hands = plans_[index];
    const Intent& intent = fighter.intent;
    const Vector3 over_ground{fighter.motion.velocity.x(), 0.0, fighter.motion.velocity.z()};
    const auto strikes = [&hands](Time at) {
        return std::any_of(hands.blows.begin(), hands.blows.end(),
                           [at](const Span& blow) { return blow.begin <= at && at < blow.end; });
    };
    LoadoutIntent said = fight_.match.combatants()[index].stated;
    const auto say = [&](Time at) {
        said.weapon.at = at;
        said.weapon.strike = strikes(at);
        said.weapon.speed = std::sqrt(over_ground.squaredNorm());
        said.weapon.airborne = fighter.motion.airborne;
        hands.intents[hands.intent_count] = said;
        ++hands.intent_count;
    };
    const Time press = fight_.span.begin + Duration{intent.press_offset};
    // The hands are free again when a blow is over, before the press or after it.
    const auto say_ends = [&](Time after, Time before) {
        for (const Span& blow : hands.blows) {
            if (blow.end > after && blow.end < before && blow.begin < blow.end) {
                say(blow.end);
            }
        }
    };
    if (press > fight_.span.begin) {
        say(fight_.span.begin);
        say_ends(fight_.span.begin, press);
    }
    const auto has = [&](Button button) { return intent.buttons.has(button); };
    state_buttons(intent.buttons, said);
    said.weapon.sprint = has(Button::sprint) && !has(Button::crouch) && over_ground.squaredNorm() > 1e-4;
    said.slot = intent.slot;
    say(press);
    say_ends(press, fight_.span.end);
}

void WeaponPlanning::plan_all() {
    for (std::size_t index = 0; index < fight_.fighters.size(); ++index) {
        if (fight_.match.combatants()[index].role == Role::prop) {
            continue;
        }
        state_intents(index);
        const WeaponPlan& hands = plans_[index];
        const bool presses = hands.pressed.has(Button::guard) || hands.released.has(Button::guard) ||
                             hands.pressed.has(Button::take);
        if (presses) {
            fight_.queue.push({fight_.span.begin + Duration{fight_.fighters[index].intent.press_offset},
                               fight_.fighters[index].id, QueuedKind::press,
                               static_cast<std::uint32_t>(index), 0});
        }
        plan(index, fight_.span.begin);
    }
}

// Lets a copy of the loadout run to the end of the tick, and makes actions of its events.
void WeaponPlanning::plan(std::size_t index, Time from) {
    const Combatant& who = fight_.match.combatants()[index];
    WeaponPlan& hands = plans_[index];
    hands.plan_from = from;
    if (who.vitals.life == LifeState::dead || fight_.fighters[index].to_place ||
        who.loadout.now >= fight_.span.end) {
        hands.gates.count = 0;
        return;
    }
    hands.gates = planned_gates(fight_.parts(), who, who.loadout.now, fight_.span.end);
    hands.ahead = who.loadout;
    hands.ahead_stated = who.stated;
    events_.clear();
    const auto intents = std::span{hands.intents}.first(hands.intent_count);
    const auto past = std::partition_point(intents.begin(), intents.end(), [&](const LoadoutIntent& intent) {
        return intent.weapon.at < from && intent.weapon.at < who.loadout.now;
    });
    advance_gated(*fight_.arsenal, hands.ahead, hands.ahead_stated, hands.gates, fight_.span.end,
                  intents.subspan(static_cast<std::size_t>(past - intents.begin())), events_);
    for (const WeaponEvent& event : events_) {
        const bool armed = event.slot >= 0 && event.slot < Loadout::slot_count;
        planned_.push_back(
            {who.id, armed ? hands.ahead.slots[static_cast<std::size_t>(event.slot)].weapon : std::nullopt,
             event});
        fight_.queue.push({event.at, who.id, QueuedKind::weapon,
                           static_cast<std::uint32_t>(planned_.size() - 1), hands.version});
    }
}

void WeaponPlanning::commit_until(std::size_t index, Time at) {
    Combatant& who = fight_.combatant_at(index);
    const WeaponPlan& hands = plans_[index];
    if (who.vitals.life == LifeState::dead || who.loadout.now > at || hands.gates.count == 0 ||
        at < hands.plan_from) {
        return;
    }
    events_.clear();
    const auto intents = std::span{hands.intents}.first(hands.intent_count);
    const auto begin = std::partition_point(intents.begin(), intents.end(), [&](const LoadoutIntent& intent) {
        return intent.weapon.at < who.loadout.now;
    });
    const auto end = std::partition_point(
        begin, intents.end(), [&](const LoadoutIntent& intent) { return intent.weapon.at <= at; });
    advance_gated(*fight_.arsenal, who.loadout, who.stated, hands.gates, at + Duration{1}, {begin, end},
                  events_);
}

void WeaponPlanning::replan_after(std::size_t index, Time at) {
    if (fight_.match.combatants()[index].role == Role::prop) {
        return;
    }
    commit_until(index, at);
    ++plans_[index].version;
    plan(index, std::max(at + Duration{1}, fight_.span.begin));
}

void WeaponPlanning::drop(std::size_t index) {
    ++plans_[index].version;
    plans_[index].gates.count = 0;
}

const PlannedEvent* WeaponPlanning::come_to(const QueuedAction& action) {
    const std::size_t index = fight_.index_of(action.who);
    if (action.version != plans_[index].version && action.at >= plans_[index].plan_from) {
        return nullptr;
    }
    commit_until(index, action.at);
    return &planned_[action.index];
}

void WeaponPlanning::finish() {
    for (std::size_t index = 0; index < fight_.fighters.size(); ++index) {
        Combatant& who = fight_.combatant_at(index);
        const WeaponPlan& hands = plans_[index];
        if (hands.gates.count > 0 && who.vitals.life == LifeState::alive &&
            hands.ahead.now == fight_.span.end && who.loadout.now < fight_.span.end) {
            who.loadout = hands.ahead;
            who.stated = hands.ahead_stated;
        }
    }
}

void WeaponPlanning::keep_intent(std::size_t index) {
    const WeaponPlan& hands = plans_[index];
    const Buttons now = fight_.fighters[index].intent.buttons;
    const std::uint32_t before = (std::uint32_t{now.bits()} & ~std::uint32_t{hands.pressed.bits()}) |
                                 std::uint32_t{hands.released.bits()};
    Combatant& who = fight_.combatant_at(index);
    who.stated = {};
    state_buttons(Buttons::from_bits(before), who.stated);
    hold_already(who.loadout, who.stated);
}

} // namespace avrek::detail
