#pragma once
#include <avrek/core/state_gaps.h>
#include <avrek/skirmish/combatant.h>
#include <avrek/skirmish/fighter.h>
#include <avrek/skirmish/hazards_and_pickups.h>
#include <avrek/skirmish/snapshots.h>

/// The members of what a skirmish saves: see StateGaps.
namespace avrek {

template <class Visitor>
void members(Visitor& visitor, const WeaponState& state) {
    visitor(state.now, state.next_shot, state.activity_end, state.cadence_shots, state.speed_to, state.mode,
            state.burst_left, state.activity, state.rounds, state.shots, state.last_shot, state.rate_share,
            state.bloom, state.cadence_start, state.refill_left, state.windup_since, state.aim_since,
            state.speed_since, state.speed_from, state.return_yaw, state.return_pitch, state.kick_seed,
            state.recoil_step, state.reload_loaded);
    visitor.flags(&state.activity + 1, 22); // which stand behind it
}

template <class Visitor>
void members(Visitor& visitor, const WeaponIntent& intent) {
    visitor(intent.at, intent.trigger, intent.reload, intent.aim, intent.next_mode, intent.in_hand,
            intent.sprint, intent.strike, intent.stunned, intent.forbids_fire, intent.forbids_reload,
            intent.crouching, intent.airborne, intent.speed);
}

template <class Visitor>
void members(Visitor& visitor, const LoadoutSlot& slot) {
    visitor(slot.weapon, slot.state);
}

template <class Visitor>
void members(Visitor& visitor, const Loadout& loadout) {
    visitor(loadout.now, loadout.slots, loadout.ammo, loadout.stated, loadout.in_hand, loadout.wanted,
            loadout.last_used, loadout.slot_stated, loadout.next_held, loadout.last_held);
}

template <class Visitor>
void members(Visitor& visitor, const LoadoutIntent& intent) {
    visitor(intent.weapon, intent.slot, intent.next, intent.last);
}

template <class Visitor>
void members(Visitor& visitor, const DroppedWeapon& dropped) {
    visitor(dropped.weapon, dropped.state, dropped.position);
}

template <class Visitor>
void members(Visitor& visitor, const ConditionState& condition) {
    visitor(condition.spec, condition.count, condition.strength, condition.until, condition.next_tick,
            condition.source);
}

template <class Visitor>
void members(Visitor& visitor, const GuardState& guard) {
    visitor(guard.stamina, guard.stamina_at, guard.perfect_until, guard.broken_until, guard.wanted, guard.up);
}

template <class Visitor>
void members(Visitor& visitor, const ReactionCount& reaction) {
    visitor(reaction.count, reaction.until);
}

template <class Visitor>
void members(Visitor& visitor, const DefenceLayerState& layer) {
    visitor(layer.points, layer.at);
}

template <class Visitor>
void members(Visitor& visitor, const Credit& credit) {
    visitor(credit.source, credit.damage, credit.last);
}

template <class Visitor>
void members(Visitor& visitor, const Credits& credits) {
    visitor(credits.sources, credits.count);
}

template <class Visitor>
void members(Visitor& visitor, const Vitals& vitals) {
    visitor(vitals.now, vitals.due, vitals.health, vitals.maximum, vitals.life, vitals.state, vitals.reaction,
            vitals.on_back, vitals.condition_count, vitals.state_until, vitals.protected_until,
            vitals.last_hurt, vitals.defence, vitals.guard, vitals.reactions, vitals.conditions,
            vitals.credits);
}

template <class Visitor>
void members(Visitor& visitor, const PlayerStats& stats) {
    visitor(stats.score, stats.kills, stats.deaths, stats.assists, stats.shots, stats.shots_hit,
            stats.damage_dealt, stats.damage_taken, stats.recent_hits, stats.newest_hit);
}

template <class Visitor>
void members(Visitor& visitor, const Combatant& who) {
    visitor(who.id, who.slot, who.team, who.role, who.body, who.lives, who.out, who.vitals, who.loadout,
            who.stated, who.kit, who.kit_size, who.respawn_at, who.vanish_at, who.stats);
}

template <class Visitor>
void members(Visitor& visitor, const Pose& pose) {
    visitor(pose.position, pose.rotation);
}

template <class Visitor>
void members(Visitor& visitor, const HazardTouch& touch) {
    visitor(touch.body, touch.next, touch.inside);
}

template <class Visitor>
void members(Visitor& visitor, const HazardState& hazard) {
    visitor(hazard.spec, hazard.pose, hazard.team, hazard.source, hazard.carrier, hazard.ends, hazard.due,
            hazard.touched, hazard.touched_count);
}

template <class Visitor>
void members(Visitor& visitor, const PickupState& pickup) {
    visitor(pickup.spec, pickup.position, pickup.there, pickup.back_at);
}

template <class Visitor>
void members(Visitor& visitor, const Intent& intent) {
    visitor(intent.who, intent.press_offset, intent.yaw, intent.pitch, intent.ahead, intent.left,
            intent.buttons, intent.slot, intent.strike, intent.spotted, intent.lost_sight_of,
            intent.view_delay);
}

template <class Visitor>
void members(Visitor& visitor, const MeleeState& swing) {
    visitor(swing.started, swing.attack, swing.swings, swing.struck);
}

template <class Visitor>
void members(Visitor& visitor, const Fighter& fighter) {
    visitor(fighter.id, fighter.intent, fighter.position, fighter.position_before, fighter.velocity,
            fighter.look, fighter.look_before, fighter.facing, fighter.kick, fighter.alive_since,
            fighter.airborne, fighter.in_scene, fighter.stance, fighter.to_place, fighter.melee,
            fighter.swing, fighter.strike_before, fighter.swing_ended, fighter.shots, fighter.spawned,
            fighter.spawns, fighter.spawn_count);
}

} // namespace avrek
