#include <avrek/core/elementary.h>
#include <avrek/scene/scene.h>
#include <avrek/tuning/firing_range.h>
#include <avrek/vitals/hits.h>
#include <avrek/weapon/spread.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

constexpr BodyId firing_id{1};
constexpr BodyId target_body{2};
constexpr Metres wall_behind = 1.5;

Scene range_scene(const BodySpec& body, const Pose& target, Metres distance) {
    const HalfSpace floor{world_up(), 0.0};
    const HalfSpace wall{-world_forward(), -(distance + wall_behind)};
    Scene scene{Level{{{floor, range_floor}, {wall, range_wall}}},
                {.bodies = 1, .joints = body.rig.joints.size() + 1, .frames = 2}};
    [[maybe_unused]] const bool added = scene.add({target_body, &body.rig, target});
    assert(added);
    return scene;
}

// The range while a trial runs on it.
struct Range {
    const WeaponSpec& weapon;
    const BodySpec& body;
    const RangeSetup& setup;
    RangeTrial& trial;
    Scene scene;
    Vitals vitals;
    std::vector<VitalsEvent> events{};

    void fire(const WeaponEvent& event, std::int32_t pellet, const Vector3& view) {
        const RandomKey key{setup.seed, static_cast<std::uint32_t>(firing_id), RandomPurpose::spread,
                            event.shot, 0};
        RangeShot& shot = trial.shots.emplace_back();
        shot.at = event.at;
        shot.number = event.shot;
        shot.pellet = pellet;
        shot.cone = event.spread;
        shot.direction = pellet_direction(weapon.spread, view, event.spread, key, pellet);
        shot.board = on_board(trial.board, shot.direction);
        const Filter filter{.hits = {CollisionLayer::level, CollisionLayer::bodies}, .ignores = {firing_id}};
        shot.hit = fire_hitscan(scene, trial.board.eye, shot.direction, weapon.range, filter).hit;
        if (shot.hit && shot.hit->body) {
            ++trial.hits;
            events.clear();
            IncomingHit hit;
            hit.damage = hit_damage(weapon, shot.hit->distance, body.rig, *shot.hit->region, event.power);
            hit.effect = &weapon.effect;
            hit.direction = shot.direction;
            take_hit({setup.conditions, body, vitals}, hit, event.at, events);
            for (const VitalsEvent& felt : events) {
                if (const auto* hurt = std::get_if<DamageEvent>(&felt); hurt != nullptr && !hurt->condition) {
                    shot.damage = hurt->damage;
                    shot.absorbed = hurt->absorbed;
                }
            }
        }
        shot.health_left = vitals.health;
        if (vitals.life == LifeState::dead && !trial.death) {
            const auto died = std::find_if(events.begin(), events.end(), [](const VitalsEvent& felt) {
                return std::holds_alternative<DeathEvent>(felt);
            });
            trial.death = std::get<DeathEvent>(*died).at; // a condition may have done it before this hit
            trial.shots_to_death = trial.shots_fired;
        }
    }
};

// A view is kept in front of the shooter, so that its shots cross the board.
Vector3 view_direction(const Look& view) {
    constexpr Radians most = 0.4;
    return direction_of({std::clamp(view.yaw, -most, most), std::clamp(view.pitch, -most, most)});
}

GroupSize group_of(const std::vector<RangeShot>& shots) {
    std::vector<BoardPoint> points;
    points.reserve(shots.size());
    for (const RangeShot& shot : shots) {
        points.push_back(shot.board);
    }
    return group_size(points);
}

} // namespace

RangeTrial run_range(const WeaponSpec& weapon, const BodySpec& body, const RangeSetup& setup) {
    assert(setup.distance > 0.0 && setup.length >= Duration::zero());
    assert(setup.recoil_control >= 0.0 && setup.recoil_control <= 1.0);
    const Metres height = aim_point(body.rig, setup.aim).y();
    const Vector3 eye{0.0, height, 0.0};
    RangeTrial trial;
    trial.board = {eye, eye + setup.distance * world_forward()};
    trial.target = {Vector3{0.0, 0.0, setup.distance}, turned_to({pi, 0.0})};
    trial.weapon_events = fire_by_plan(weapon, setup.plan, setup.posture, setup.length);

    const std::vector<Look> views = view_at_shots(weapon, trial.weapon_events, setup.recoil_control);
    Range range{weapon,           body, setup, trial, range_scene(body, trial.target, setup.distance),
                full_vitals(body)};
    for (const WeaponEvent& event : trial.weapon_events) {
        if (event.kind != WeaponEventKind::shot) {
            continue;
        }
        const Vector3 view = view_direction(views[static_cast<std::size_t>(trial.shots_fired)]);
        ++trial.shots_fired;
        trial.widest_cone = std::max(trial.widest_cone, event.spread);
        for (std::int32_t pellet = 0; pellet < weapon.pellets; ++pellet) {
            range.fire(event, pellet, view);
        }
    }
    trial.group = group_of(trial.shots);
    return trial;
}

std::string_view hit_name(const BodySpec& body, const RangeShot& shot) {
    if (!shot.hit) {
        return "nothing";
    }
    if (shot.hit->region) {
        return region_of(body.rig, *shot.hit->region).name;
    }
    return shot.hit->surface == range_floor ? "floor" : "wall";
}

Metres cone_radius(Radians cone, const RangeTrial& trial) {
    const double distance = std::sqrt((trial.board.centre - trial.board.eye).squaredNorm());
    return distance * sine(cone) / cosine(cone);
}

} // namespace avrek
