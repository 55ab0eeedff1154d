#include <avrek/ballistics/lead.h>
#include <avrek/core/elementary.h>
#include <avrek/scene/raycast.h>
#include <avrek/tuning/engagement.h>
#include <avrek/weapon/recoil.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

// Turns a look by what its line is off the wanted one until it is not.
constexpr int corrections = 6;
constexpr int solved_again = 3;

std::optional<Vector3> wanted_line(const Engagement& engagement, const ShooterPoints& from,
                                   const Vector3& aim) {
    const ProjectileSpec* projectile =
        engagement.weapon != nullptr ? find(engagement.arsenal->projectiles, engagement.weapon->projectile.id)
                                     : nullptr;
    if (projectile == nullptr) {
        return Vector3((aim - from.muzzle).normalized());
    }
    const Leads leads = solve_lead(*projectile, {.muzzle = from.muzzle, .target = aim});
    return leads.low ? std::optional{leads.low->direction} : std::nullopt;
}

} // namespace

FiringPlan plan_of(const ShooterSpec& shooter, const WeaponSpec& weapon, Metres distance) {
    const TriggerMode mode = weapon.modes.front();
    const bool goes_on = mode == TriggerMode::automatic || mode == TriggerMode::spin_up;
    if (!goes_on || distance <= shooter.near) {
        return {};
    }
    const double intervals = to_seconds(shooter.burst) * weapon.rounds_per_minute / 60.0;
    FiringPlan plan;
    plan.kind = FiringPlanKind::bursts;
    plan.name = "bursts";
    plan.shots = 1 + static_cast<std::int32_t>(std::min(intervals, 1000.0));
    plan.interval = shooter.pause;
    return plan;
}

Posture posture_of(const ShooterSpec& shooter, Metres distance) {
    Posture posture;
    posture.aim_blend = distance > shooter.near ? 1.0 : 0.0;
    return posture;
}

RegionId usual_aim(const BodySpec& body) {
    return find_region(body.rig, "torso").value_or(RegionId{0});
}

std::vector<std::string> armament_names(const Arsenal& arsenal) {
    std::vector<std::string> names;
    for (const WeaponSpec& weapon : arsenal.weapons) {
        names.push_back(weapon.id);
    }
    for (const MeleeSpec& melee : arsenal.melee) {
        for (const MeleeAttackSpec& attack : melee.attacks) {
            names.push_back(melee.id + ' ' + attack.name);
        }
    }
    return names;
}

void apply(const EngagementOverrides& overrides, Engagement& engagement) {
    engagement.posture.crouching = overrides.crouching;
    engagement.target_speed = overrides.target_speed;
    engagement.limit = overrides.limit;
    if (overrides.plan && engagement.weapon != nullptr) {
        engagement.plan = *overrides.plan;
    }
}

std::optional<Engagement> engagement_of(const Arsenal& arsenal, std::string_view weapon,
                                        std::string_view shooter, std::string_view body, Metres distance) {
    const ShooterSpec* profile = find(arsenal.shooters, shooter);
    const BodySpec* target = find(arsenal.bodies, body);
    if (profile == nullptr || target == nullptr) {
        return std::nullopt;
    }
    Engagement engagement;
    engagement.arsenal = &arsenal;
    engagement.shooter_body = &arsenal.bodies.front();
    engagement.shooter = *profile;
    engagement.target.body = target;
    engagement.target.conditions = arsenal.conditions;
    engagement.aim = usual_aim(*target);
    engagement.distance = distance;
    engagement.weapon = find(arsenal.weapons, weapon);
    if (engagement.weapon != nullptr) {
        engagement.plan = plan_of(*profile, *engagement.weapon, distance);
        engagement.posture = posture_of(*profile, distance);
        return engagement;
    }
    for (const MeleeSpec& melee : arsenal.melee) {
        for (std::size_t attack = 0; attack < melee.attacks.size(); ++attack) {
            if (melee.id + ' ' + melee.attacks[attack].name == weapon ||
                (melee.id == weapon && attack == 0)) {
                engagement.melee = &melee;
                engagement.attack = attack;
                return engagement;
            }
        }
    }
    return std::nullopt;
}

ShooterPoints points_of(const Engagement& engagement, const Look& look) {
    const PostureSpec& posture = engagement.shooter_body->posture;
    const double height = engagement.posture.crouching ? posture.crouched : 1.0;
    const Pose pose{Vector3::Zero(), turned_to({look.yaw, 0.0})};
    const auto point = [&](const Vector3& own) {
        return to_world(pose, {own.x(), height * own.y(), own.z()});
    };
    const Vector3 hold = point(posture.grip);
    const double ahead = engagement.weapon != nullptr ? posture.muzzle : 0.0;
    return {point(posture.eye), hold, hold + ahead * direction_of(look)};
}

Vector3 line_of(const Engagement& engagement, const Look& look, std::optional<Metres> seen) {
    const ShooterPoints from = points_of(engagement, look);
    const Vector3 view = direction_of(look);
    const Metres range = engagement.weapon != nullptr ? engagement.weapon->range : 100.0;
    Metres length = seen.value_or(range);
    if (!seen && view.y() < 0.0) {
        length = std::min(length, from.eye.y() / -view.y());
    }
    const Vector3 way = from.eye + length * view - from.muzzle;
    return way / std::sqrt(way.squaredNorm());
}

std::optional<Metres> seen_of(const Engagement& engagement, const Pose& target, const Look& look,
                              const Vector3& eye) {
    const Metres range = engagement.weapon != nullptr ? engagement.weapon->range : 100.0;
    const RigSpec& rig = engagement.target.body->rig;
    const Ray own{to_local(target, eye), target.rotation.conjugate() * direction_of(look), range};
    std::optional<Metres> nearest;
    for (const PosedShape& posed : posed_shapes(rig, rest_poses(rig, Pose{}))) {
        const auto entry = raycast(own, posed.shape);
        if (entry && (!nearest || entry->distance < *nearest)) {
            nearest = entry->distance;
        }
    }
    return nearest;
}

EngagementPlace place_of(const Engagement& engagement) {
    assert(engagement.arsenal != nullptr && engagement.shooter_body != nullptr &&
           engagement.target.body != nullptr && engagement.distance > 0.0);
    const ShooterPoints level = points_of(engagement, {});
    EngagementPlace place;
    place.target = {{0.0, 0.0, level.muzzle.z() + engagement.distance}, turned_to({pi, 0.0})};
    const Vector3 own = aim_point(engagement.target.body->rig, engagement.aim);
    place.aim_point = to_world(place.target, own);
    place.look = look_of(place.aim_point - level.eye);
    std::optional<Vector3> wanted;
    for (int correction = 0; correction < corrections && engagement.melee == nullptr; ++correction) {
        const ShooterPoints from = points_of(engagement, place.look);
        if (correction % solved_again == 0) { // the muzzle has moved a little
            wanted = wanted_line(engagement, from, place.aim_point);
        }
        if (!wanted) {
            place.in_reach = false;
            break;
        }
        const Look off =
            look_of(line_of(engagement, place.look, seen_of(engagement, place.target, place.look, from.eye)));
        const Look want = look_of(*wanted);
        place.look = {place.look.yaw + want.yaw - off.yaw, place.look.pitch + want.pitch - off.pitch};
    }
    const ShooterPoints from = points_of(engagement, place.look);
    place.eye = from.eye;
    place.grip = from.grip;
    place.muzzle = from.muzzle;
    place.line = engagement.melee != nullptr ? direction_of(place.look) : wanted.value_or(world_forward());
    return place;
}

double kick_left(const ShooterSpec& shooter, Duration since) {
    return power_of_two(-to_seconds(since) / to_seconds(shooter.recovery));
}

std::vector<PlannedShot> shots_of(const Engagement& engagement) {
    std::vector<PlannedShot> shots;
    const Time begin{engagement.shooter.reaction};
    if (engagement.melee != nullptr) {
        const Duration each = length_of(engagement.melee->attacks[engagement.attack]);
        for (Duration at{}; at < engagement.limit; at += each) {
            shots.push_back({.at = begin + at});
        }
        return shots;
    }
    WeaponSpec calm = *engagement.weapon;
    calm.recoil.jitter = {};
    const std::vector<WeaponEvent> events =
        fire_by_plan(calm, engagement.plan, engagement.posture, engagement.limit);
    std::int32_t reloads = 0;
    Look kept;
    for (const WeaponEvent& event : events) {
        if (event.kind == WeaponEventKind::shot) {
            const Time at = begin + (event.at - Time{});
            const double left = shots.empty() ? 0.0 : kick_left(engagement.shooter, at - shots.back().at);
            kept = {kept.yaw * left, kept.pitch * left};
            shots.push_back({at,
                             event.spread,
                             event.power,
                             {kept.yaw + event.view.yaw, kept.pitch + event.view.pitch},
                             reloads});
            const Look stays = kept_kick(calm, event);
            const double loose = 1.0 - engagement.shooter.control;
            kept = {kept.yaw + loose * stays.yaw, kept.pitch + loose * stays.pitch};
        } else if (event.kind == WeaponEventKind::reload_finished) {
            ++reloads;
        }
    }
    return shots;
}

} // namespace avrek
