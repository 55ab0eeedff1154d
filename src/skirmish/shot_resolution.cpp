#include "shot_resolution.h"

#include "rewound.h"
#include <avrek/ballistics/blast.h>
#include <avrek/ballistics/spray.h>
#include <avrek/vitals/guard.h>
#include <avrek/weapon/recoil.h>
#include <avrek/weapon/spread.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace avrek::detail {

namespace {

constexpr Radians steepest_view = 1.57;
constexpr std::size_t max_segments = 16; // per pellet
constexpr std::size_t max_touched = 64;

// The way of something, or another way when it goes nowhere.
Vector3 way_of(const Vector3& vector, const Vector3& otherwise) {
    const double length = std::sqrt(vector.squaredNorm());
    return length > 1e-9 ? Vector3(vector / length) : otherwise;
}

void note_verdict(Event& event, const HitVerdict& validated) {
    auto& segment = std::get<SegmentEvent>(event);
    segment.verdict = validated.verdict;
    segment.covered_for = validated.covered_for;
}

} // namespace

ShotResolution::ShotResolution(Fight& fight, WeaponPlanning& planning, LagCompensation& lag,
                               Consequences& consequences)
    : fight_(fight), planning_(planning), lag_(lag), consequences_(consequences) {
    const std::size_t each = 8 * fight.settings.limits.combatants + 64;
    swung_.reserve(each);
    flown_.reserve(4 * each);
    melee_events_.reserve(each);
    projectile_events_.reserve(each);
}

void ShotResolution::begin() {
    swung_.clear();
    flown_.clear();
}

void ShotResolution::fire(const PlannedEvent& planned) {
    const PlannedEvent emitted = planned; // more may be planned meanwhile
    const WeaponEvent& event = emitted.event;
    Fighter& fighter = fight_.fighters[fight_.index_of(emitted.who)];
    const WeaponSpec& weapon = (*fight_.arsenal)[*emitted.weapon];
    fight_.match.report_action(fighter.id, Act::fire, 1, event.at);
    consequences_.apply();
    const Look looks = fight_.look_at(fighter, event.at);
    Look view{looks.yaw + fighter.kick.yaw + event.view.yaw,
              looks.pitch + fighter.kick.pitch + event.view.pitch};
    view.pitch = std::clamp(view.pitch, -steepest_view, steepest_view);
    const Duration behind = lag_.view_delay_of(fighter);
    const AimSolution solution = aim(fighter, view, weapon.range, event.at);
    const Look kept = kept_kick(weapon, event);
    fighter.kick = {fighter.kick.yaw + kept.yaw, fighter.kick.pitch + kept.pitch};
    // The view goes no higher than straight up, so what would is lost.
    fighter.kick.pitch = std::clamp(fighter.kick.pitch, -steepest_view - fighter.look.pitch,
                                    steepest_view - fighter.look.pitch);
    const ShotEvent shot{.at = event.at,
                         .who = fighter.id,
                         .weapon = emitted.weapon,
                         .slot = event.slot,
                         .shot = fighter.shots++,
                         .muzzle = solution.origin,
                         .direction = solution.direction,
                         .spread = event.spread,
                         .power = event.power,
                         .kick = event.kick,
                         .state = solution.muzzle,
                         .held_back = !solution.fires,
                         .view_delay = behind,
                         .rewind_exceeded = Duration{fighter.intent.view_delay} > behind};
    fight_.events().emplace_back(shot);
    if (shot.held_back) {
        return;
    }
    if (delivery_of(weapon) == Delivery::spray) {
        fire_spray(shot);
        return;
    }
    const RandomKey key{fighter.spread_seed, static_cast<std::uint32_t>(fighter.id), RandomPurpose::spread,
                        shot.shot, 0};
    for (std::int32_t pellet = 0; pellet < weapon.pellets; ++pellet) {
        const Vector3 direction = pellet_direction(weapon.spread, shot.direction, shot.spread, key, pellet);
        if (weapon.projectile.spec) {
            launch(shot, direction, solution);
        } else {
            fire_hitscan(shot, pellet, direction);
        }
    }
}

AimSolution ShotResolution::aim(const Fighter& fighter, const Look& view, Metres range, Time at) const {
    const Aimed aimed = fight_.aim_of(fighter, view, fight_.position_at(fighter, at), true);
    const Rewound world{lag_.rewind_world(), lag_.view_delay_of(fighter)};
    return solve_aim(world,
                     {.eye = {aimed.eye, aimed.direction, range},
                      .muzzle = aimed.muzzle,
                      .grip = aimed.grip,
                      .rule = fight_.settings.muzzle,
                      .at = at},
                     {.ignores = {fighter.id}});
}

void ShotResolution::fire_hitscan(const ShotEvent& shot, std::int32_t pellet, const Vector3& direction) {
    const WeaponSpec& weapon = (*fight_.arsenal)[*shot.weapon];
    std::array<PathSegment, max_segments> segments;
    const Rewound world{lag_.rewind_world(), shot.view_delay};
    const std::size_t count = follow_hitscan(
        world, fight_.arsenal->surfaces, {shot.muzzle, direction, weapon.range, weapon.bounce, weapon.pierce},
        {.ignores = {shot.who}}, segments, shot.at);
    for (std::size_t index = 0; index < count; ++index) {
        const PathSegment& segment = segments[index];
        const Metres end = segment.flown_before + std::sqrt((segment.end - segment.start).squaredNorm());
        const std::size_t emitted = fight_.events().size();
        fight_.events().emplace_back(SegmentEvent{shot.at, shot.who, shot.weapon, shot.shot, pellet,
                                                  arrival(shot.at, segment.flown_before, weapon.tracer_speed),
                                                  arrival(shot.at, end, weapon.tracer_speed), segment, end});
        const RigSpec* rig = segment.hit && segment.hit->body ? fight_.rig_of(*segment.hit->body) : nullptr;
        if (rig != nullptr) {
            IncomingHit hit;
            hit.damage = hit_damage(weapon, end, *rig, *segment.hit->region, shot.power, segment.power);
            hit.effect = &weapon.effect;
            hit.source = shot.who;
            hit.direction = way_of(segment.end - segment.start, direction);
            hit.shot = shot.shot;
            const HitVerdict validated = apply_hit(
                *segment.hit->body, {*segment.hit, shot.at, shot.at - shot.view_delay, shot.muzzle}, hit);
            note_verdict(fight_.events()[emitted], validated);
        }
    }
}

void ShotResolution::fire_spray(const ShotEvent& shot) {
    const WeaponSpec& weapon = (*fight_.arsenal)[*shot.weapon];
    std::array<SprayHit, max_touched> hits;
    const std::size_t count = spray(Rewound{lag_.rewind_world(), shot.view_delay},
                                    {shot.muzzle, shot.direction, weapon.spray, weapon.range, shot.at},
                                    {.ignores = {shot.who}}, hits);
    const auto emit_segment = [&](const Vector3& end, const std::optional<Hit>& hit) {
        const Metres flown = std::sqrt((end - shot.muzzle).squaredNorm());
        PathSegment segment;
        segment.start = shot.muzzle;
        segment.end = end;
        segment.hit = hit;
        fight_.events().emplace_back(SegmentEvent{shot.at, shot.who, shot.weapon, shot.shot, 0, shot.at,
                                                  arrival(shot.at, flown, weapon.tracer_speed), segment,
                                                  flown});
    };
    if (count == 0) {
        emit_segment(shot.muzzle + weapon.range * shot.direction, std::nullopt);
    }
    for (std::size_t index = 0; index < count; ++index) {
        const Hit& nearest = hits[index].nearest;
        const std::size_t emitted = fight_.events().size();
        emit_segment(nearest.point, nearest);
        const RigSpec* rig = fight_.rig_of(hits[index].body);
        if (rig == nullptr) {
            continue;
        }
        IncomingHit hit;
        hit.damage = hit_damage(weapon, nearest.distance, *rig, *nearest.region, shot.power);
        hit.effect = &weapon.effect;
        hit.source = shot.who;
        hit.direction = way_of(nearest.point - shot.muzzle, shot.direction);
        hit.shot = shot.shot;
        const HitVerdict validated =
            apply_hit(hits[index].body, {nearest, shot.at, shot.at - shot.view_delay, shot.muzzle}, hit);
        note_verdict(fight_.events()[emitted], validated);
    }
}

void ShotResolution::launch(const ShotEvent& shot, const Vector3& direction, const AimSolution& solution) {
    const auto pool = fight_.pool_of(shot.weapon);
    const std::size_t index = fight_.index_of(shot.who);
    Launch launch;
    launch.at = std::max(Time{}, shot.at - shot.view_delay); // from there it catches up
    launch.muzzle = shot.muzzle;
    launch.direction = direction;
    launch.shooter_velocity = fight_.fighters[index].motion.velocity;
    launch.shooter = shot.who;
    launch.team = fight_.match.combatants()[index].team;
    launch.shot = shot.shot;
    if (solution.seen && solution.seen->body) {
        launch.target = solution.seen->body;
        const std::optional<Pose> pose = fight_.scene.pose_of(*launch.target, launch.at);
        launch.aim_at = pose ? to_local(*pose, solution.seen->point) : Vector3(Vector3::Zero());
    }
    projectile_events_.clear();
    const auto handle =
        fight_.pools[pool].launch_late(launch, fight_.scene, fight_.arsenal->surfaces, projectile_events_);
    if (handle) {
        fight_.origins[pool][handle->slot] = {shot.weapon, shot.power};
    }
    for (ProjectileEvent& event : projectile_events_) {
        const Time as_of = event.at;
        event.at = std::max(event.at, shot.at); // nothing happens in what is past
        queue_flight({shot.weapon, shot.power, event, as_of});
    }
}

// Whether a projectile flies on, because the body that it stopped at was removed by something before it.
bool ShotResolution::flies_on(std::size_t index) {
    const FlightEvent stopped = flown_[index];
    const ProjectileEvent& event = stopped.event;
    if (event.kind != ProjectileEventKind::stopped || !event.hit || !event.hit->body) {
        return false;
    }
    const std::size_t body = fight_.index_of(*event.hit->body);
    const auto pool = fight_.pool_of(stopped.weapon);
    if (body == fight_.fighters.size() || fight_.fighters[body].in_scene || fight_.fighters[body].to_place) {
        return false;
    }
    const std::size_t before = flown_.size();
    projectile_events_.clear();
    if (!fight_.pools[pool].fly_on(event, fight_.scene, fight_.arsenal->surfaces, projectile_events_)) {
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
        queue_flight({stopped.weapon, stopped.power, next, as_of});
    }
    return true;
}

void ShotResolution::do_flight(std::size_t index) {
    if (!flown_[index].weapon || flies_on(index)) {
        return;
    }
    const FlightEvent happened = flown_[index]; // more may be added while it is dealt with
    const ProjectileEvent& event = happened.event;
    const std::size_t emitted = fight_.events().size();
    fight_.events().emplace_back(happened);
    if (event.kind == ProjectileEventKind::exploded) {
        explode(happened);
        return;
    }
    const bool meets = event.kind == ProjectileEventKind::stopped ||
                       event.kind == ProjectileEventKind::pierced ||
                       event.kind == ProjectileEventKind::bounced;
    const RigSpec* rig = meets && event.hit && event.hit->body ? fight_.rig_of(*event.hit->body) : nullptr;
    if (rig != nullptr) {
        const WeaponSpec& weapon = (*fight_.arsenal)[*happened.weapon];
        IncomingHit hit;
        hit.damage = hit_damage(weapon, event.flown, *rig, *event.hit->region, happened.power, event.power);
        hit.effect = &weapon.effect;
        hit.source = event.shooter;
        hit.direction = way_of(event.velocity, -event.hit->normal);
        hit.shot = event.shot;
        const HitVerdict validated =
            apply_hit(*event.hit->body, {*event.hit, event.at, happened.as_of, event.from}, hit);
        std::get<FlightEvent>(fight_.events()[emitted]).verdict = validated.verdict;
    }
}

void ShotResolution::explode(const FlightEvent& flight) {
    const ProjectileEvent& event = flight.event;
    set_off(fight_.arsenal->projectiles[fight_.pool_of(flight.weapon)].blast,
            {event.point, event.at, event.shooter, event.team, flight.power * event.power}, flight.weapon,
            event.shot);
}

void ShotResolution::set_off(const BlastSpec& spec, const Blast& at, std::optional<WeaponId> weapon,
                             std::optional<std::uint32_t> shot) {
    std::array<BlastHit, 2 * max_touched> hits;
    const std::size_t count = spec.radius > 0.0 ? blast(fight_.scene, spec, at, hits) : 0;
    fight_.events().emplace_back(BlastEvent{at.at, at.source, weapon, shot.value_or(0), at.centre,
                                            spec.radius, static_cast<std::uint32_t>(count)});
    for (std::size_t index = 0; index < count; ++index) {
        const BlastHit& met = hits[index];
        IncomingHit hit;
        hit.damage = blast_damage(spec, {met.nearest.distance, met.exposure, at.power, met.team_share});
        hit.effect = &spec.effect;
        hit.source = at.source;
        hit.push = met.push;
        hit.direction = way_of(met.nearest.point - at.centre, world_up());
        hit.shot = shot ? std::int64_t{*shot} : -1;
        apply_hit(met.body, {met.nearest, at.at, at.at, at.centre}, hit);
    }
}

HitVerdict ShotResolution::apply_hit(BodyId target, const RewoundHit& met, IncomingHit hit) {
    const std::size_t index = fight_.index_of(target);
    if (index == fight_.fighters.size() || !fight_.settings.applies_damage) {
        return {};
    }
    const HitVerdict validated = lag_.validate_hit(target, met, hit.source);
    if (validated.verdict != Verdict::stands) {
        return validated;
    }
    const std::optional<Pose> pose = fight_.scene.pose_of(target, met.at);
    hit.region = met.hit.region;
    hit.off_front = pose ? off_front(*pose, hit.direction) : pi;
    planning_.commit_until(index, met.at);
    fight_.match.hit(target, hit, met.at);
    consequences_.apply();
    return validated;
}

void ShotResolution::advance_projectiles() {
    for (std::size_t pool = 0; pool < fight_.pools.size(); ++pool) {
        projectile_events_.clear();
        fight_.pools[pool].advance(fight_.scene, fight_.arsenal->surfaces, fight_.span, projectile_events_);
        // Slots are used again, so the launches are noted now.
        for (const ProjectileEvent& event : projectile_events_) {
            const Origin& origin = fight_.origins[pool][event.projectile.slot];
            queue_flight({origin.weapon, origin.power, event, event.at});
        }
    }
}

void ShotResolution::queue_flight(const FlightEvent& flight) {
    flown_.push_back(flight);
    fight_.queue.push({flight.event.at, flight.event.shooter, QueuedKind::flight,
                       static_cast<std::uint32_t>(flown_.size() - 1)});
}

} // namespace avrek::detail
