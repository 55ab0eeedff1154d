#include "own_state_repair.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace avrek::detail {

namespace {

constexpr Duration latest{std::int64_t{1} << 60U}; // latest time, "never" aside
constexpr std::uint32_t many = std::numeric_limits<std::int32_t>::max();

template <class Number>
void limit(Number& number, double least, double most) {
    const auto value = static_cast<double>(number);
    number = std::isfinite(value) ? static_cast<Number>(std::clamp(value, least, most)) : Number{0};
}

template <class Number>
void limit(Number& number, double most) {
    limit(number, -most, most);
}

void limit(std::uint32_t& count) {
    count = std::min(count, many);
}

void limit(Time& at) {
    at = std::clamp(at, Time{-latest}, Time{latest});
}

void limit(Vector3& vector, double most) {
    for (double& coordinate : vector.reshaped()) {
        limit(coordinate, most);
    }
}

template <class Enum>
void limit_to(Enum& value, Enum last) {
    value = std::min(value, last);
}

template <class Id>
void limit_id(std::optional<Id>& id, std::size_t size) {
    id = id && to_index(*id) < size ? id : std::nullopt;
}

// An index into a list, or -1.
template <class Index>
void limit_index(Index& index, std::size_t size) {
    index = static_cast<Index>(std::clamp<std::int64_t>(index, -1, static_cast<std::int64_t>(size) - 1));
}

void limit(WeaponState& state, const WeaponSpec& spec) {
    for (Time* at : {&state.next_shot, &state.activity_end, &state.last_shot, &state.cadence_start,
                     &state.windup_since, &state.aim_since, &state.speed_since}) {
        limit(*at);
    }
    state.refill_left = std::clamp(state.refill_left, -latest, latest);
    limit(state.cadence_shots);
    limit(state.shots);
    limit(state.speed_to, 1e4);
    limit(state.speed_from, 1e4);
    limit(state.rate_share, 1.0);
    limit(state.bloom, 10.0);
    limit(state.return_yaw, 100.0);
    limit(state.return_pitch, 100.0);
    state.mode = static_cast<std::uint8_t>(std::min<std::size_t>(state.mode, spec.modes.size() - 1));
    limit_to(state.activity, WeaponActivity::closing);
    state.rounds = std::clamp(state.rounds, 0, spec.magazine + 1);
}

void limit(WeaponIntent& stated) {
    limit(stated.speed, 1e4);
    stated.speed = std::abs(stated.speed);
}

void limit(Loadout& loadout, const Arsenal& arsenal) {
    for (LoadoutSlot& slot : loadout.slots) {
        limit_id(slot.weapon, arsenal.weapons.size());
        if (slot.weapon) {
            limit(slot.state, arsenal[*slot.weapon]);
        }
    }
    for (AmmoReserve& reserve : loadout.ammo) {
        reserve.rounds = std::max(0, reserve.rounds);
    }
    limit(loadout.stated);
    for (std::int8_t* slot : {&loadout.in_hand, &loadout.wanted, &loadout.last_used, &loadout.slot_stated}) {
        limit_index(*slot, Loadout::slot_count);
    }
    for (std::int8_t* slot : {&loadout.in_hand, &loadout.wanted}) {
        if (*slot >= 0 && loadout.slots[static_cast<std::uint8_t>(*slot)].weapon == std::nullopt) {
            *slot = -1; // there is none to hold
        }
    }
}

void limit(Vitals& vitals, const Arsenal& arsenal) {
    limit_to(vitals.life, LifeState::dead);
    limit(vitals.maximum, 0.0, 1e9);
    limit(vitals.health, 0.0, vitals.maximum);
    limit_to(vitals.state, BodyState::ragdoll);
    limit_to(vitals.reaction, static_cast<ReactionClass>(reaction_count));
    for (DefenceLayerState& layer : vitals.defence) {
        limit(layer.points, 1e9);
        limit(layer.at);
    }
    for (Time* past : {&vitals.last_hurt, &vitals.last_return}) {
        if (*past != Time::min()) { // never, so far
            limit(*past);
        }
    }
    limit(vitals.guard.stamina, 1e9);
    limit(vitals.guard.stamina_at);
    limit(vitals.guard.perfect_until);
    for (ReactionCount& reaction : vitals.reactions) {
        limit(reaction.count);
        limit(reaction.until);
    }
    const std::size_t most = arsenal.conditions.empty() ? 0 : Vitals::max_conditions;
    vitals.condition_count = static_cast<std::uint8_t>(std::min<std::size_t>(vitals.condition_count, most));
    for (std::size_t index = 0; index < vitals.condition_count; ++index) {
        ConditionState& condition = vitals.conditions[index];
        condition.spec =
            to_index(condition.spec) < arsenal.conditions.size() ? condition.spec : ConditionId{};
        const ConditionSpec& spec = arsenal[condition.spec];
        condition.count =
            std::clamp(condition.count, 1U, static_cast<std::uint32_t>(std::max(1, spec.max_count)));
        limit(condition.strength, 1e-6, 1e6);
        condition.strength = std::max(1e-6, condition.strength);
    }
}

void limit(Fighter& fighter, const Arsenal& arsenal) {
    limit(fighter.motion.position, 1e5);
    limit(fighter.motion.velocity, 1e5);
    limit(fighter.intent.yaw, 10.0);
    limit(fighter.intent.pitch, 2.0);
    limit(fighter.kick.yaw, 1e3);
    limit(fighter.kick.pitch, 10.0);
    limit_index(fighter.strike_before, 128);
    limit_index(fighter.swing.attack, fighter.melee ? arsenal[*fighter.melee].attacks.size() : 0);
    limit(fighter.swing.started);
    for (std::uint32_t* count :
         {&fighter.swing.swings, &fighter.swing_ended, &fighter.shots, &fighter.spawned}) {
        limit(*count);
    }
}

void limit(Combatant& who, const Arsenal& arsenal) {
    limit(who.vitals, arsenal);
    limit(who.loadout, arsenal);
    limit(who.stated.weapon);
    limit_index(who.stated.slot, Loadout::slot_count);
    who.lives = std::max(-1, who.lives);
}

// A consistent state has nothing due in the past: what is, becomes due now.
void leave_nothing_due(Vitals& vitals, const BodySpec& body, Time now) {
    vitals.now = now;
    vitals.due = std::max(vitals.due, now);
    vitals.state_until = std::max(vitals.state_until, now);
    vitals.last_hurt = std::min(vitals.last_hurt, now);
    vitals.last_return = std::min(vitals.last_return, now);
    vitals.guard.stamina_at = std::min(vitals.guard.stamina_at, now);
    Time& mends = vitals.guard.broken_until;
    mends = mends == Time::min() ? mends : std::max(mends, now);
    Time& ends = vitals.protected_until;
    ends = ends == Time{} ? ends : std::max(ends, now);
    for (std::size_t index = 0; index < vitals.condition_count; ++index) {
        ConditionState& condition = vitals.conditions[index];
        condition.until = std::max(condition.until, now);
        condition.next_tick = std::max(condition.next_tick, now);
    }
    for (std::size_t index = 0; index < body.defence.size(); ++index) {
        DefenceLayerState& layer = vitals.defence[index];
        layer.points = std::clamp(layer.points, 0.0, body.defence[index].max);
        layer.at = std::min(layer.at, now);
        if (full_at(body.defence[index], layer, vitals.last_hurt) < now) {
            layer = {body.defence[index].max, now};
        }
    }
}

// A run of shots is far shorter than this, and the time of its next shot can be computed.
constexpr double longest_run = 1e6; // s

// A consistent weapon remembers only what is past, has no negative sizes, and has only that under way which
// its spec allows.
void leave_nothing_ahead(WeaponState& state, const WeaponSpec& spec, Time now) {
    state.now = now;
    const TriggerMode mode = spec.modes[state.mode];
    const int burst = mode == TriggerMode::burst ? spec.burst.shots : 0;
    state.burst_left = static_cast<std::uint8_t>(std::min<int>(state.burst_left, burst));
    state.winding = state.winding && (mode == TriggerMode::charge || mode == TriggerMode::spin_up);
    state.locked = state.locked && spec.feed == AmmoFeed::heat;
    if (is_reloading(state) && spec.feed != AmmoFeed::magazine) {
        state.activity = WeaponActivity::ready;
    }
    for (Time* since : {&state.last_shot, &state.cadence_start, &state.windup_since, &state.aim_since,
                        &state.speed_since}) {
        *since = std::min(*since, now);
    }
    for (float* size : {&state.speed_to, &state.speed_from, &state.bloom}) {
        *size = std::max(0.0F, *size);
    }
    state.rate_share = std::max(0.001F, state.rate_share);
    if (60.0 * state.cadence_shots > longest_run * spec.rounds_per_minute * double{state.rate_share}) {
        state.cadence_shots = 0;
    }
    state.refill_left = std::max(Duration{}, state.refill_left);
}

// A weapon that is not in hand is put away; the one in hand is put away only while another is wanted.
void leave_hands_sound(Loadout& loadout) {
    loadout.stated.in_hand = true;
    for (std::int32_t slot = 0; slot < Loadout::slot_count; ++slot) {
        const bool has_weapon = loadout.slots[static_cast<std::size_t>(slot)].weapon.has_value();
        if (slot != loadout.in_hand && has_weapon) {
            WeaponState& state = loadout.slots[static_cast<std::size_t>(slot)].state;
            state.activity = WeaponActivity::stowed;
            state.in_hand = false;
        }
    }
    if (loadout.in_hand < 0) {
        return;
    }
    WeaponState& hand = loadout.slots[static_cast<std::uint8_t>(loadout.in_hand)].state;
    const bool stays = hand.activity == WeaponActivity::ready || hand.activity == WeaponActivity::raising ||
                       hand.activity == WeaponActivity::sprint_out;
    hand.in_hand |= stays;
    if (loadout.wanted == loadout.in_hand || hand.in_hand) {
        loadout.wanted = -1;
    }
}

} // namespace

void repair(Fighter& fighter, Combatant& who, const Arsenal& arsenal, Time now) {
    limit(fighter, arsenal);
    limit(who, arsenal);
    leave_nothing_due(who.vitals, arsenal[who.body], now);
    who.loadout.now = now;
    for (LoadoutSlot& slot : who.loadout.slots) {
        if (slot.weapon) {
            leave_nothing_ahead(slot.state, arsenal[*slot.weapon], now);
        } else {
            slot.state = {};
        }
    }
    leave_hands_sound(who.loadout);
    who.stated.weapon.in_hand = true;
}

} // namespace avrek::detail
