#include "own_state_repair.h"

#include <algorithm>

namespace avrek::detail {

namespace {

// A consistent state has nothing due in the past: what is, becomes due now.
void leave_nothing_due(Vitals& vitals, const BodySpec& body, Time now) {
    vitals.now = now;
    vitals.due = std::max(vitals.due, now);
    vitals.state_until = std::max(vitals.state_until, now);
    vitals.last_hurt = std::min(vitals.last_hurt, now);
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
        const bool has_weapon = loadout.slots[static_cast<std::size_t>(slot)].weapon >= 0;
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

void repair(Combatant& who, const Arsenal& arsenal, Time now) {
    static const WeaponSpec nothing;
    leave_nothing_due(who.vitals, arsenal.bodies[static_cast<std::size_t>(who.body)], now);
    who.loadout.now = now;
    for (LoadoutSlot& slot : who.loadout.slots) {
        leave_nothing_ahead(
            slot.state, slot.weapon >= 0 ? arsenal.weapons[static_cast<std::size_t>(slot.weapon)] : nothing,
            now);
    }
    leave_hands_sound(who.loadout);
    who.stated.weapon.in_hand = true;
}

} // namespace avrek::detail
