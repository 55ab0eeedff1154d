#include "feet_world.h"
#include "rewound.h"
#include <avrek/ballistics/blast.h>
#include <avrek/ballistics/spray.h>
#include <avrek/skirmish/skirmish.h>
#include <avrek/vitals/guard.h>
#include <avrek/weapon/recoil.h>
#include <avrek/weapon/spread.h>

#include <algorithm>
#include <array>
#include <cmath>

/// Shots, from the muzzle to the body.
namespace avrek {

namespace {

constexpr Radians steepest_view = 1.57;
constexpr std::size_t max_segments = 16; // per pellet
constexpr std::size_t max_touched = 64;

// The way of something, or another way when it goes nowhere.
Vector3 way_of(const Vector3& vector, const Vector3& otherwise) {
    const double length = std::sqrt(vector.squaredNorm());
    return length > 1e-9 ? Vector3(vector / length) : otherwise;
}

} // namespace

void Skirmish::fire(std::size_t index, const PlannedEvent& emitted) {
    const WeaponEvent& event = emitted.event;
    Fighter& fighter = fighters_[index];
    const WeaponSpec& weapon = (*arsenal_)[*emitted.weapon];
    match_.report_action(feet(), fighter.id, Act::fire, 1, event.at, events_.match);
    apply_match_events();
    const Look looks = look_at(fighter, event.at);
    Look view{looks.yaw + fighter.kick.yaw + event.view.yaw,
              looks.pitch + fighter.kick.pitch + event.view.pitch};
    view.pitch = std::clamp(view.pitch, -steepest_view, steepest_view);
    const Aimed aimed = aim_of(fighter, view, position_at(fighter, event.at),
                               fighter.intent.buttons.has(Button::crouch), true);
    const Filter others{.ignores = {fighter.id}};
    const Duration behind = view_delay_of(fighter);
    const Rewound world{rewind_world(), behind};
    const AimSolution solution = solve_aim(world,
                                           {.eye = {aimed.eye, aimed.direction, weapon.range},
                                            .muzzle = aimed.muzzle,
                                            .grip = aimed.grip,
                                            .rule = settings_.muzzle,
                                            .at = event.at},
                                           others);
    const Look kept = kept_kick(weapon, event);
    fighter.kick = {fighter.kick.yaw + kept.yaw, fighter.kick.pitch + kept.pitch};
    // The view goes no higher than straight up, so what would is lost.
    fighter.kick.pitch = std::clamp(fighter.kick.pitch, -steepest_view - fighter.look.pitch,
                                    steepest_view - fighter.look.pitch);
    ShotEvent shot;
    shot.at = event.at;
    shot.who = fighter.id;
    shot.weapon = emitted.weapon;
    shot.slot = event.slot;
    shot.shot = fighter.shots++;
    shot.muzzle = solution.origin;
    shot.direction = solution.direction;
    shot.spread = event.spread;
    shot.power = event.power;
    shot.kick = event.kick;
    shot.state = solution.muzzle;
    shot.held_back = !solution.fires;
    shot.view_delay = behind;
    shot.rewind_exceeded = Duration{fighter.intent.view_delay} > behind;
    events_.shots.push_back(shot);
    emit(EventKind::shot, shot.at, events_.shots.size() - 1);
    if (shot.held_back) {
        return;
    }
    if (delivery_of(weapon) == Delivery::spray) {
        fire_spray(shot);
        return;
    }
    const RandomKey key{seed_, static_cast<std::uint32_t>(fighter.id), RandomPurpose::spread, shot.shot, 0};
    for (std::int32_t pellet = 0; pellet < weapon.pellets; ++pellet) {
        const Vector3 direction = pellet_direction(weapon.spread, shot.direction, shot.spread, key, pellet);
        if (weapon.projectile.spec) {
            launch(shot, direction, solution);
        } else {
            fire_at_once(shot, pellet, direction);
        }
    }
}

void Skirmish::fire_at_once(const ShotEvent& shot, std::int32_t pellet, const Vector3& direction) {
    const WeaponSpec& weapon = (*arsenal_)[*shot.weapon];
    std::array<PathSegment, max_segments> segments;
    const Rewound world{rewind_world(), shot.view_delay};
    const std::size_t count = follow_hitscan(
        world, arsenal_->surfaces, {shot.muzzle, direction, weapon.range, weapon.bounce, weapon.pierce},
        {.ignores = {shot.who}}, segments, shot.at);
    for (std::size_t index = 0; index < count; ++index) {
        const PathSegment& segment = segments[index];
        const Metres end = segment.flown_before + std::sqrt((segment.end - segment.start).squaredNorm());
        events_.segments.push_back({shot.at, shot.who, shot.weapon, shot.shot, pellet,
                                    arrival(shot.at, segment.flown_before, weapon.tracer_speed),
                                    arrival(shot.at, end, weapon.tracer_speed), segment, end});
        const std::size_t emitted = events_.segments.size() - 1;
        emit(EventKind::segment, shot.at, emitted);
        const RigSpec* rig = segment.hit && segment.hit->body ? rig_of(*segment.hit->body) : nullptr;
        if (rig != nullptr) {
            IncomingHit hit;
            hit.damage = hit_damage(weapon, end, region_of(*rig, *segment.hit->region).name, shot.power,
                                    segment.power);
            hit.effect = &weapon.effect;
            hit.source = shot.who;
            hit.direction = way_of(segment.end - segment.start, direction);
            hit.shot = shot.shot;
            const HitVerdict validated = apply_hit(
                *segment.hit->body, {*segment.hit, shot.at, shot.at - shot.view_delay, shot.muzzle}, hit);
            events_.segments[emitted].verdict = validated.verdict;
            events_.segments[emitted].covered_for = validated.covered_for;
        }
    }
}

void Skirmish::fire_spray(const ShotEvent& shot) {
    const WeaponSpec& weapon = (*arsenal_)[*shot.weapon];
    std::array<SprayHit, max_touched> hits;
    const std::size_t count = spray(Rewound{rewind_world(), shot.view_delay},
                                    {shot.muzzle, shot.direction, weapon.spray, weapon.range, shot.at},
                                    {.ignores = {shot.who}}, hits);
    const auto tell_leg = [&](const Vector3& end, const std::optional<Hit>& hit) {
        const Metres flown = std::sqrt((end - shot.muzzle).squaredNorm());
        PathSegment segment;
        segment.start = shot.muzzle;
        segment.end = end;
        segment.hit = hit;
        events_.segments.push_back({shot.at, shot.who, shot.weapon, shot.shot, 0, shot.at,
                                    arrival(shot.at, flown, weapon.tracer_speed), segment, flown});
        emit(EventKind::segment, shot.at, events_.segments.size() - 1);
    };
    if (count == 0) {
        tell_leg(shot.muzzle + weapon.range * shot.direction, std::nullopt);
    }
    for (std::size_t index = 0; index < count; ++index) {
        const Hit& nearest = hits[index].nearest;
        tell_leg(nearest.point, nearest);
        const std::size_t emitted = events_.segments.size() - 1;
        const RigSpec* rig = rig_of(hits[index].body);
        if (rig == nullptr) {
            continue;
        }
        IncomingHit hit;
        hit.damage = hit_damage(weapon, nearest.distance, region_of(*rig, *nearest.region).name, shot.power);
        hit.effect = &weapon.effect;
        hit.source = shot.who;
        hit.direction = way_of(nearest.point - shot.muzzle, shot.direction);
        hit.shot = shot.shot;
        const HitVerdict validated =
            apply_hit(hits[index].body, {nearest, shot.at, shot.at - shot.view_delay, shot.muzzle}, hit);
        events_.segments[emitted].verdict = validated.verdict;
        events_.segments[emitted].covered_for = validated.covered_for;
    }
}

void Skirmish::launch(const ShotEvent& shot, const Vector3& direction, const AimSolution& solution) {
    const auto pool = pool_of(shot.weapon);
    const std::size_t index = index_of(shot.who);
    Launch launch;
    launch.at = std::max(Time{}, shot.at - shot.view_delay); // from there it catches up
    launch.muzzle = shot.muzzle;
    launch.direction = direction;
    launch.shooter_velocity = fighters_[index].velocity;
    launch.shooter = shot.who;
    launch.team = match_.combatants()[index].team;
    launch.shot = shot.shot;
    if (solution.seen && solution.seen->body) {
        launch.target = solution.seen->body;
        const std::optional<Pose> pose = scene_.pose_of(*launch.target, launch.at);
        launch.aim_at = pose ? to_local(*pose, solution.seen->point) : Vector3(Vector3::Zero());
    }
    projectile_events_.clear();
    const auto handle = pools_[pool].launch_late(launch, scene_, arsenal_->surfaces, projectile_events_);
    if (handle) {
        origins_[pool][handle->slot] = {shot.weapon, shot.power};
    }
    for (ProjectileEvent& event : projectile_events_) {
        const Time as_of = event.at;
        event.at = std::max(event.at, shot.at); // nothing happens in what is past
        flown_.push_back({shot.weapon, shot.power, event, as_of});
        push({event.at, event.shooter, ActionKind::flight, static_cast<std::uint32_t>(flown_.size() - 1), 0});
    }
}

// Whether a projectile flies on, because the body that it stopped at was removed by something before it.
bool Skirmish::flies_on(std::size_t index) {
    const FlightEvent stopped = flown_[index];
    const ProjectileEvent& event = stopped.event;
    if (event.kind != ProjectileEventKind::stopped || !event.hit || !event.hit->body) {
        return false;
    }
    const std::size_t body = index_of(*event.hit->body);
    const auto pool = pool_of(stopped.weapon);
    if (body == fighters_.size() || fighters_[body].in_scene || fighters_[body].to_place) {
        return false;
    }
    const std::size_t before = flown_.size();
    projectile_events_.clear();
    if (!pools_[pool].fly_on(event, scene_, arsenal_->surfaces, projectile_events_)) {
        return false;
    }
    for (std::size_t later = 0; later < before; ++later) { // what came of stopping did not happen
        FlightEvent& flown = flown_[later];
        if (flown.weapon == stopped.weapon && flown.event.number == event.number &&
            flown.event.at >= event.at) {
            flown.weapon.reset();
        }
    }
    for (ProjectileEvent& next : projectile_events_) {
        const Time as_of = next.at;
        next.at = std::max(next.at, event.at);
        flown_.push_back({stopped.weapon, stopped.power, next, as_of});
        push({next.at, next.shooter, ActionKind::flight, static_cast<std::uint32_t>(flown_.size() - 1), 0});
    }
    return true;
}

void Skirmish::do_flight(std::size_t index) {
    if (!flown_[index].weapon || flies_on(index)) {
        return;
    }
    const FlightEvent happened = flown_[index]; // more may be added while it is dealt with
    const ProjectileEvent& event = happened.event;
    events_.flights.push_back(happened);
    const std::size_t emitted = events_.flights.size() - 1;
    emit(EventKind::flight, event.at, emitted);
    if (event.kind == ProjectileEventKind::exploded) {
        explode(happened);
        return;
    }
    const bool meets = event.kind == ProjectileEventKind::stopped ||
                       event.kind == ProjectileEventKind::pierced ||
                       event.kind == ProjectileEventKind::bounced;
    const RigSpec* rig = meets && event.hit && event.hit->body ? rig_of(*event.hit->body) : nullptr;
    if (rig != nullptr) {
        const WeaponSpec& weapon = (*arsenal_)[*happened.weapon];
        IncomingHit hit;
        hit.damage = hit_damage(weapon, event.flown, region_of(*rig, *event.hit->region).name, happened.power,
                                event.power);
        hit.effect = &weapon.effect;
        hit.source = event.shooter;
        hit.direction = way_of(event.velocity, -event.hit->normal);
        hit.shot = event.shot;
        events_.flights[emitted].verdict =
            apply_hit(*event.hit->body, {*event.hit, event.at, happened.as_of, event.from}, hit).verdict;
    }
}

void Skirmish::explode(const FlightEvent& flight) {
    const ProjectileEvent& event = flight.event;
    const auto pool = pool_of(flight.weapon);
    const BlastSpec& spec = arsenal_->projectiles[pool].blast;
    std::array<BlastHit, 2 * max_touched> hits;
    const double power = flight.power * event.power;
    const std::size_t count =
        spec.radius > 0.0
            ? blast(scene_, spec, {event.point, event.at, event.shooter, event.team, power}, hits)
            : 0;
    events_.blasts.push_back({event.at, event.shooter, flight.weapon, event.shot, event.point, spec.radius,
                              static_cast<std::uint32_t>(count)});
    emit(EventKind::blast, event.at, events_.blasts.size() - 1);
    for (std::size_t index = 0; index < count; ++index) {
        const BlastHit& met = hits[index];
        IncomingHit hit;
        hit.damage = blast_damage(spec, {met.nearest.distance, met.exposure, power, met.team_share});
        hit.effect = &spec.effect;
        hit.source = event.shooter;
        hit.push = met.push;
        hit.direction = way_of(met.nearest.point - event.point, world_up());
        hit.shot = event.shot;
        apply_hit(met.body, {met.nearest, event.at, event.at, event.point}, hit);
    }
}

} // namespace avrek
