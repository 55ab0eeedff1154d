#include <avrek/core/elementary.h>
#include <avrek/tuning/firing_range.h>
#include <avrek/weapon/spread.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

constexpr BodyId shooter{1};
constexpr BodyId target_body{2};
constexpr Metres wall_behind = 1.5;

Scene range_scene(const BodySpec& body, const Pose& target, Metres distance) {
    const HalfSpace floor{world_up(), 0.0};
    const HalfSpace wall{-world_forward(), -(distance + wall_behind)};
    Scene scene;
    scene.level = {{floor, range_floor}, {wall, range_wall}};
    scene.bodies = {{target_body, &body.rig, target}};
    return scene;
}

// Works the trigger and the reload button by themselves: pulls whenever a shot is allowed, reloads when
// empty.
std::vector<WeaponEvent> fire_at_will(const WeaponSpec& weapon, Time end) {
    WeaponState state = full_weapon(weapon);
    AmmoReserve reserve = full_reserve(weapon);
    std::vector<WeaponEvent> events;
    std::vector<WeaponIntent> intents;
    for (;;) {
        const bool loads = state.rounds == 0 && !state.reloading;
        const Time at =
            state.reloading ? state.reload_end : std::max(state.now, next_shot_allowed(weapon, state));
        if (at >= end || (loads && reserve.rounds == 0)) {
            return events;
        }
        intents.clear();
        if (loads) {
            intents.push_back({at, false, true});
        }
        if (!loads || weapon.reload_time == Duration::zero()) {
            intents.push_back({at, true, false});
        }
        intents.push_back({at, false, false});
        advance(weapon, state, reserve, at + Duration{1}, intents, events);
    }
}

RangeShot fire_shot(const WeaponSpec& weapon, const BodySpec& body, const RangeSetup& setup,
                    const Scene& scene, const Board& board, const WeaponEvent& event, Vitals& vitals,
                    std::vector<VitalsEvent>& events) {
    const RandomKey key{setup.seed, static_cast<std::uint32_t>(shooter), RandomPurpose::spread, event.shot,
                        0};
    const Vector3 direction = spread_direction(world_forward(), weapon.spread, key);
    const Filter filter{.hits = {Layer::level, Layer::bodies}, .ignores = {shooter}};
    const HitscanPath path = fire_hitscan(scene, board.eye, direction, weapon.range, filter);
    RangeShot shot{event.at, event.shot, direction, on_board(board, direction), path.hit, {}, vitals.health};
    if (path.hit && path.hit->body) {
        events.clear();
        const std::string& region = region_of(body.rig, *path.hit->region).name;
        apply_damage(vitals, hit_damage(weapon, path.hit->distance, region), event.at, events);
        if (!events.empty()) {
            shot.damage = events.front().damage;
        }
        shot.health_left = vitals.health;
    }
    return shot;
}

} // namespace

RangeTrial run_range(const WeaponSpec& weapon, const BodySpec& body, const RangeSetup& setup) {
    assert(setup.distance > 0.0 && setup.length >= Duration::zero());
    const Metres height = aim_point(region_of(body.rig, setup.aim)).y();
    const Vector3 eye{0.0, height, 0.0};
    RangeTrial trial;
    trial.board = {eye, eye + setup.distance * world_forward()};
    trial.target = {Vector3{0.0, 0.0, setup.distance}, turned_to({pi, 0.0})};
    trial.weapon_events = fire_at_will(weapon, Time{setup.length});

    const Scene scene = range_scene(body, trial.target, setup.distance);
    Vitals vitals = full_vitals(body);
    std::vector<VitalsEvent> events;
    for (const WeaponEvent& event : trial.weapon_events) {
        if (event.kind != WeaponEventKind::shot) {
            continue;
        }
        trial.shots.push_back(fire_shot(weapon, body, setup, scene, trial.board, event, vitals, events));
        if (vitals.life == LifeState::dead && !trial.death) {
            trial.death = event.at;
            trial.shots_to_death = static_cast<std::int32_t>(trial.shots.size());
        }
    }
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

Metres spread_radius(const WeaponSpec& weapon, const RangeTrial& trial) {
    const double distance = std::sqrt((trial.board.centre - trial.board.eye).squaredNorm());
    return distance * sine(weapon.spread) / cosine(weapon.spread);
}

} // namespace avrek
