#include "body_moving.h"

#include <avrek/core/random.h>
#include <avrek/skirmish/walking_locomotion.h>
#include <avrek/weapon/aim.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace avrek::detail {

namespace {

constexpr Metres safe_from_foes = 12.0; // a spawn point
constexpr Metres taken_within = 1.2;    // so is one that somebody is so near to

// Whether a motion is within what is allowed.
bool is_sound(const Vector3& position, const Vector3& velocity) {
    constexpr double most = 1e5;
    return position.allFinite() && velocity.allFinite() && position.cwiseAbs().maxCoeff() <= most &&
           velocity.cwiseAbs().maxCoeff() <= most;
}

// Poses may be anywhere in the world, but must be poses.
bool are_sound(std::span<const Pose> poses) {
    return std::all_of(poses.begin(), poses.end(), [](const Pose& pose) {
        return is_sound(pose.position, Vector3::Zero()) &&
               std::abs(pose.rotation.coeffs().squaredNorm() - 1.0) <= 1e-6;
    });
}

bool is_aiming(const Combatant& who) {
    const WeaponState* weapon = state_in(who.loadout, who.loadout.in_hand);
    return weapon != nullptr && weapon->aiming;
}

} // namespace

void BodyMoving::move(std::span<const BodyUpdate> updates) {
    fight_.scene.begin_frame(fight_.span.end);
    updates_.assign(fight_.fighters.size(), nullptr);
    for (const BodyUpdate& update : updates) {
        const std::size_t index = fight_.index_of(update.who);
        if (index < fight_.fighters.size() && is_sound(update.position, update.velocity) &&
            std::abs(update.yaw) <= 1e3 && are_sound(update.poses)) {
            updates_[index] = &update;
        } else {
            ++fight_.disregarded;
        }
    }
    for (std::size_t index = 0; index < fight_.fighters.size(); ++index) {
        Fighter& fighter = fight_.fighters[index];
        const Combatant& who = fight_.match.combatants()[index];
        const BodyUpdate* placed = updates_[index];
        if (who.role == Role::prop && placed == nullptr) {
            if (fighter.in_scene && !fight_.match.stops_shots(fighter.id)) {
                fight_.leave_scene(index);
            }
            continue;
        }
        if (placed != nullptr) {
            BodyMotion& motion = fighter.motion;
            motion.position = placed->position;
            motion.velocity = placed->velocity;
            motion.airborne = placed->airborne;
            motion.teleported = placed->teleported;
            motion.placed = true;
            if (placed->teleported) {
                fighter.position_before = motion.position;
            }
        } else if (fight_.settings.moves_bodies && who.role == Role::combatant) {
            walk(fighter, who);
        }
        if (fighter.in_scene && !fight_.match.stops_shots(fighter.id)) {
            fight_.leave_scene(index);
        } else if (fight_.match.stops_shots(fighter.id)) {
            update_body(fighter, who, placed);
        }
    }
    fight_.scene.end_frame();
}

void BodyMoving::update_body(Fighter& fighter, const Combatant& who, const BodyUpdate* update) {
    const BodySpec& body = fight_.body_of(fighter);
    if (update != nullptr || who.vitals.life == LifeState::alive) { // the dead do not turn
        fighter.facing = update != nullptr ? update->yaw : fighter.look.yaw;
    }
    if (who.role == Role::combatant) {
        fighter.pose = fight_.poses().advance({.body = body,
                                               .vitals = who.vitals,
                                               .intent = fighter.intent,
                                               .motion = fighter.motion,
                                               .yaw = fighter.facing,
                                               .span = fight_.span,
                                               .aiming = is_aiming(who)},
                                              fighter.pose);
    }
    const Pose stands{fighter.motion.position, turned_to({fighter.facing, 0.0})};
    const bool is_posed = update != nullptr && update->poses.size() == body.rig.joints.size() + 1;
    const std::span<const Pose> poses =
        is_posed ? update->poses
                 : world_poses(fight_.poses(), {body, fighter.pose, fighter.look.pitch, fight_.span.end},
                               stands, room_);
    const bool is_new = !fighter.in_scene;
    if (is_new) {
        fighter.in_scene =
            fight_.scene.add({.id = fighter.id, .rig = &body.rig, .pose = poses[0], .team = who.team});
    }
    if (!is_new && (fighter.motion.teleported || fighter.scene_feet != fighter.position_before)) {
        fight_.scene.jump(fighter.id, poses);
    } else {
        fight_.scene.move(fighter.id, poses);
    }
    fighter.scene_feet = fighter.motion.position;
}

void BodyMoving::walk(Fighter& fighter, const Combatant& who) {
    double speed = 1.0;
    const bool can_move = fight_.match.can_act(fighter.id, Act::move);
    if (can_move) {
        speed = fight_.match.factors(fighter.id).speed;
        const WeaponSpec* weapon = weapon_in(*fight_.arsenal, who.loadout, who.loadout.in_hand);
        if (weapon != nullptr) {
            const WeaponState& state = *state_in(who.loadout, who.loadout.in_hand);
            speed *= blended(1.0, weapon->aim.movement, aim_blend_at(*weapon, state, state.now));
        }
    }
    Intent intent = fighter.intent;
    intent.yaw = static_cast<float>(fighter.look.yaw);
    BodyMotion before = fighter.motion;
    before.teleported = before.placed = false;
    BodyMotion after = fight_.locomotion_of(who.body).advance(
        {fight_.scene, fight_.body_of(fighter), intent, fight_.span, fighter.id, speed, can_move}, before);
    fighter.motion = is_sound(after.position, after.velocity) ? after : before;
    fighter.motion.placed = false;
    if (fighter.motion.teleported) {
        fighter.position_before = fighter.motion.position;
    }
}

void BodyMoving::place(Fighter& fighter, bool first) {
    const Combatant& who = *fight_.match.find(fighter.id);
    const auto [random, unused] = random_pair(
        {fight_.seed, static_cast<std::uint32_t>(fighter.id), RandomPurpose::spawn, fighter.spawned, 0});
    ++fighter.spawned;
    const auto fits = [&](std::size_t spawn) {
        const auto own = std::span{fighter.spawns}.first(fighter.spawn_count);
        const std::optional<TeamId>& team = fight_.plan.spawns[spawn].team;
        return own.empty() ? !team || *team == who.team
                           : std::find(own.begin(), own.end(), spawn) != own.end();
    };
    const auto safety = [&](const Vector3& at) {
        double nearest = safe_from_foes;
        double room = 1.0;
        for (std::size_t other = 0; other < fight_.fighters.size(); ++other) {
            const Combatant& there = fight_.match.combatants()[other];
            if (there.vitals.life == LifeState::dead || there.id == who.id) {
                continue;
            }
            const double distance = std::sqrt((fight_.fighters[other].motion.position - at).squaredNorm());
            if (fight_.match.are_hostile(there, who)) {
                nearest = first ? nearest : std::min(nearest, distance);
            }
            room = distance < taken_within ? 0.25 : room; // somebody stands there
        }
        return room * nearest;
    };
    double safest = -1.0;
    std::size_t count = 0;
    for (std::size_t spawn = 0; spawn < fight_.plan.spawns.size(); ++spawn) {
        const double safe = fits(spawn) ? safety(fight_.plan.spawns[spawn].position) : -1.0;
        if (safe > safest) {
            safest = safe;
            count = 0;
        }
        count += safe >= 0.0 && safe == safest ? 1 : 0;
    }
    auto chosen = static_cast<std::size_t>(random * static_cast<double>(count));
    for (std::size_t spawn = 0; spawn < fight_.plan.spawns.size() && count > 0; ++spawn) {
        if (!fits(spawn) || safety(fight_.plan.spawns[spawn].position) != safest) {
            continue;
        }
        if (chosen == 0) {
            fighter.motion.position = fighter.position_before = fight_.plan.spawns[spawn].position;
            fighter.look = fighter.look_before = {fight_.plan.spawns[spawn].yaw, 0.0};
            fighter.intent.yaw = static_cast<float>(fighter.look.yaw); // which holds without a new intent
            fighter.intent.pitch = 0.0F;
            break;
        }
        --chosen;
    }
    fighter.motion = {.position = fighter.motion.position};
    fighter.pose = {};
    fighter.kick = {};
    fighter.swing.attack = -1;
}

} // namespace avrek::detail
