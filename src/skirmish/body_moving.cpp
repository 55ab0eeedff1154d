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

BodyStance stance_of(const Fighter& fighter, const Combatant& who) {
    return who.role == Role::prop ? BodyStance::standing
                                  : avrek::stance_of(who.vitals, fighter.intent.buttons.has(Button::crouch));
}

} // namespace

void BodyMoving::move(std::span<const BodyUpdate> updates) {
    fight_.scene.begin_frame(fight_.span.end);
    updates_.assign(fight_.fighters.size(), nullptr);
    for (const BodyUpdate& update : updates) {
        const std::size_t index = fight_.index_of(update.who);
        if (index < fight_.fighters.size() && is_sound(update.position, update.velocity) &&
            std::abs(update.yaw) <= 1e3) {
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
}

void BodyMoving::update_body(Fighter& fighter, const Combatant& who, const BodyUpdate* update) {
    const BodySpec& body = fight_.body_of(fighter);
    const Radians faced = fighter.facing;
    if (update != nullptr || who.vitals.life == LifeState::alive) { // the dead do not turn
        fighter.facing = update != nullptr ? update->yaw : fighter.look.yaw;
    }
    const bool is_posed = update != nullptr && !update->joints.empty() &&
                          update->joints.size() == body.rig.joints.size(); // by the game, lying or not
    const BodyStance stance = is_posed ? BodyStance::standing : stance_of(fighter, who);
    const Pose pose = pose_in(stance, body, fighter.motion.position, fighter.facing);
    if (!fighter.in_scene) {
        fighter.in_scene =
            fight_.scene.add({.id = fighter.id, .rig = &body.rig, .pose = pose, .team = who.team});
        fighter.stance = stance;
        return;
    }
    const bool leans = stance != fighter.stance;
    const Pose before = pose_in(fighter.stance, body, fighter.position_before, faced);
    fighter.stance = stance;
    const std::optional<Pose> shown = fight_.scene.pose_of(fighter.id);
    const bool jumps =
        !shown || (shown->position - before.position).squaredNorm() > 1e-12 || fighter.motion.teleported;
    const bool moves = leans || fighter.motion.position != fighter.position_before || fighter.facing != faced;
    if (is_posed) {
        std::array<Pose, max_joints + 1> poses;
        poses[0] = pose;
        std::copy(update->joints.begin(), update->joints.end(), poses.begin() + 1);
        fight_.scene.move(fighter.id, std::span{poses}.first(body.rig.joints.size() + 1));
    } else if (jumps) {
        fight_.scene.jump(fighter.id, pose);
    } else if (moves || update != nullptr) {
        fight_.scene.move(fighter.id, pose);
    }
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
    fighter.kick = {};
    fighter.swing.attack = -1;
}

} // namespace avrek::detail
