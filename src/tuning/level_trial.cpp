#include "../core/words.h"
#include <avrek/ballistics/lead.h>
#include <avrek/ballistics/spray.h>
#include <avrek/scene/scene.h>
#include <avrek/tuning/level_trial.h>
#include <avrek/vitals/hits.h>
#include <avrek/weapon/spread.h>

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

constexpr TickRate ticks{120};
constexpr TeamId shooters_team{0};
constexpr TeamId others_team{1};
constexpr std::size_t max_flying = 1 << 16;
constexpr std::size_t max_segments = 64; // per hitscan shot

Scene scene_of(const Level& level, const LevelTrialSetup& setup) {
    const std::size_t joints = setup.body->rig.joints.size() + 1;
    Scene scene{level,
                {.bodies = std::max<std::size_t>(1, setup.bodies.size()), .joints = joints, .frames = 4}};
    for (std::size_t index = 0; index < setup.bodies.size(); ++index) {
        [[maybe_unused]] const bool added =
            scene.add({static_cast<BodyId>(index + 1), &setup.body->rig, setup.bodies[index], others_team});
        assert(added);
    }
    return scene;
}

SegmentEnd leg_end(ImpactResult result) {
    return result == ImpactResult::bounces   ? SegmentEnd::bounces
           : result == ImpactResult::pierces ? SegmentEnd::pierces
                                             : SegmentEnd::stops;
}

SegmentEnd leg_end(ProjectileEventKind kind) {
    switch (kind) {
    case ProjectileEventKind::bounced:
        return SegmentEnd::bounces;
    case ProjectileEventKind::pierced:
        return SegmentEnd::pierces;
    case ProjectileEventKind::stuck:
        return SegmentEnd::sticks;
    case ProjectileEventKind::exploded:
        return SegmentEnd::explodes;
    case ProjectileEventKind::expired:
        return SegmentEnd::is_gone;
    default:
        return SegmentEnd::stops;
    }
}

// A trial while it runs.
struct Impl {
    const Arsenal& arsenal;
    const LevelTrialSetup& setup;
    LevelTrial trial{};
    Scene scene;
    std::vector<VitalsEvent> vitals_events{};

    Impl(const Arsenal& its_arsenal, const Level& level, const LevelTrialSetup& its_setup)
        : arsenal(its_arsenal), setup(its_setup), scene(scene_of(level, its_setup)) {
        trial.bodies.assign(setup.bodies.size(), full_vitals(*setup.body));
        trial.worn.assign(setup.bodies.size(), 0.0);
    }

    TrialWound& wound(std::uint32_t shot, std::int32_t pellet, Time at, const Hit& hit, const Damage& damage,
                      const EffectSpec* effect) {
        Vitals& vitals = trial.bodies[static_cast<std::size_t>(*hit.body) - 1];
        vitals_events.clear();
        IncomingHit coming;
        coming.damage = damage;
        coming.effect = effect;
        take_hit({arsenal.conditions, *setup.body, vitals}, coming, std::max(at, vitals.now), vitals_events);
        TrialWound& wound = trial.wounds.emplace_back();
        wound.shot = shot;
        wound.pellet = pellet;
        wound.at = at;
        wound.body = *hit.body;
        wound.region = *hit.region;
        wound.point = hit.point;
        wound.distance = hit.distance;
        for (const VitalsEvent& event : vitals_events) {
            const auto* hurt = std::get_if<DamageEvent>(&event);
            if (hurt != nullptr && !hurt->condition) {
                wound.damage = hurt->damage;
                wound.absorbed = hurt->absorbed;
            } else if (hurt != nullptr) {
                trial.worn[static_cast<std::size_t>(*hit.body) - 1] += hurt->damage.amount();
            }
            wound.died |= std::holds_alternative<DeathEvent>(event);
        }
        wound.health_left = vitals.health;
        return wound;
    }

    void fire_at_once(const WeaponSpec& weapon, const WeaponEvent& shot, std::int32_t pellet,
                      const Vector3& direction) {
        std::array<PathSegment, max_segments> segments;
        const HitscanShot flight{setup.muzzle, direction, weapon.range, weapon.bounce, weapon.pierce};
        const std::size_t count =
            follow_hitscan(scene, arsenal.surfaces, flight, {.ignores = {trial_shooter}}, segments);
        for (std::size_t index = 0; index < count; ++index) {
            const PathSegment& segment = segments[index];
            const Metres end = segment.flown_before + std::sqrt((segment.end - segment.start).squaredNorm());
            trial.segments.push_back({shot.shot,
                                      pellet,
                                      arrival(shot.at, segment.flown_before, weapon.tracer_speed),
                                      arrival(shot.at, end, weapon.tracer_speed),
                                      {segment.start, segment.end},
                                      segment.hit ? leg_end(segment.result) : SegmentEnd::reaches_out,
                                      segment.hit,
                                      segment.power,
                                      0.0,
                                      end});
            if (segment.hit && segment.hit->body) {
                wound(
                    shot.shot, pellet, shot.at, *segment.hit,
                    hit_damage(weapon, end, setup.body->rig, *segment.hit->region, shot.power, segment.power),
                    &weapon.effect)
                    .distance = end;
                trial.segments.back().wound = trial.wounds.size() - 1;
            }
        }
    }

    void fire_spray(const WeaponSpec& weapon, const WeaponEvent& shot, const Vector3& direction) {
        std::array<SprayHit, 64> hits;
        const std::size_t count = spray(scene, {setup.muzzle, direction, weapon.spray, weapon.range},
                                        {.ignores = {trial_shooter}}, hits);
        TrialSegment& segment = trial.segments.emplace_back();
        segment.shot = shot.shot;
        segment.begins = segment.ends = shot.at;
        segment.way = {setup.muzzle, setup.muzzle + weapon.range * direction};
        segment.end = SegmentEnd::reaches_out;
        segment.flown = weapon.range;
        for (std::size_t index = 0; index < count; ++index) {
            const Hit& nearest = hits[index].nearest;
            wound(shot.shot, 0, shot.at, nearest,
                  hit_damage(weapon, nearest.distance, setup.body->rig, *nearest.region, shot.power),
                  &weapon.effect)
                .exposure = hits[index].exposure;
        }
    }
};

// The shots among the events, each pellet with the direction in which it leaves.
template <class Fire>
void for_each_pellet(const WeaponSpec& weapon, const LevelTrialSetup& setup, LevelTrial& trial,
                     const Fire& fire) {
    trial.weapon_events = fire_by_plan(weapon, setup.plan, setup.posture, setup.length);
    const std::vector<Look> views = view_at_shots(weapon, trial.weapon_events, setup.recoil_control);
    const std::int32_t pellets = delivery_of(weapon) == Delivery::spray ? 1 : weapon.pellets;
    for (const WeaponEvent& event : std::vector<WeaponEvent>{trial.weapon_events}) {
        if (event.kind != WeaponEventKind::shot) {
            continue;
        }
        const Look& kicked = views[static_cast<std::size_t>(trial.shots)];
        ++trial.shots;
        constexpr Radians steepest = 0.5 * pi;
        const Vector3 view = direction_of(
            {setup.look.yaw + kicked.yaw, std::clamp(setup.look.pitch + kicked.pitch, -steepest, steepest)});
        const RandomKey key{setup.seed, static_cast<std::uint32_t>(trial_shooter), RandomPurpose::spread,
                            event.shot, 0};
        for (std::int32_t pellet = 0; pellet < pellets; ++pellet) {
            fire(event, pellet, pellet_direction(weapon.spread, view, event.spread, key, pellet));
        }
    }
}

// Projectiles of a trial, advanced tick by tick.
class Flying {
  public:
    Flying(Impl& running, const WeaponSpec& weapon, const ProjectileSpec& projectile)
        : impl_(running), weapon_(weapon), projectile_(projectile) {}

    void plan(const WeaponEvent& shot, std::int32_t pellet, const Vector3& direction) {
        Launch launch;
        launch.at = shot.at;
        launch.muzzle = impl_.setup.muzzle;
        launch.direction = direction;
        launch.shooter = trial_shooter;
        launch.team = shooters_team;
        launch.shot = static_cast<std::uint32_t>(flights_.size());
        flights_.push_back({launch, shot.shot, pellet, shot.power, {}, {}});
    }

    // Everything that is planned.
    void run() {
        ProjectilePool pool{projectile_, std::clamp<std::size_t>(flights_.size(), 1, max_flying)};
        const Time last{impl_.setup.length + impl_.setup.after};
        std::size_t next = 0;
        for (Tick tick = 0; next < flights_.size() || pool.size() > 0; ++tick) {
            const Span span = tick_span(tick, ticks);
            if (span.begin >= last) {
                break;
            }
            impl_.scene.begin_frame(span.end);
            events_.clear();
            for (; next < flights_.size() && flights_[next].launch.at < span.end; ++next) {
                Flight& flight = flights_[next];
                flight.handle = pool.launch(flight.launch, events_);
                flight.way = {flight.launch.muzzle};
                flying_.push_back(next);
            }
            pool.advance(impl_.scene, impl_.arsenal.surfaces, span, events_);
            for (const ProjectileEvent& event : events_) {
                take(event);
            }
            std::erase_if(flying_, [&](std::size_t index) {
                Flight& flight = flights_[index];
                const auto readout = flight.handle ? pool.find(*flight.handle) : std::nullopt;
                if (readout) {
                    flight.way.push_back(readout->position);
                }
                return !readout;
            });
        }
        impl_.trial.still_flying = pool.size();
    }

  private:
    struct Flight {
        Launch launch;
        std::uint32_t shot;
        std::int32_t pellet;
        double power;
        std::optional<ProjectileHandle> handle;
        std::vector<Vector3> way; // path of its present segment
    };

    void take(const ProjectileEvent& event) {
        Flight& flight = flights_[event.shot];
        if (event.kind == ProjectileEventKind::launched || event.kind == ProjectileEventKind::refused) {
            return;
        }
        const bool bursts = event.kind == ProjectileEventKind::exploded;
        const bool at_its_end =
            bursts && !impl_.trial.segments.empty() && flight.way.size() == 1 && event.at == last_end(flight);
        flight.way.push_back(event.point);
        if (!at_its_end) {
            impl_.trial.segments.push_back({flight.shot, flight.pellet, event.since, event.at, flight.way,
                                            leg_end(event.kind), event.hit, event.power,
                                            event.velocity.norm(), event.flown});
        } else {
            leg_of(flight)->end = SegmentEnd::explodes;
        }
        flight.way = {event.point};
        if (event.hit && event.hit->body && !bursts) {
            impl_
                .wound(flight.shot, flight.pellet, event.at, *event.hit,
                       hit_damage(weapon_, event.flown, impl_.setup.body->rig, *event.hit->region,
                                  flight.power, event.power),
                       &weapon_.effect)
                .distance = event.flown;
            impl_.trial.segments.back().wound = impl_.trial.wounds.size() - 1;
        }
        if (bursts) {
            explode(event, flight);
        }
    }

    // The last leg of a flight, if it has one.
    TrialSegment* leg_of(const Flight& flight) {
        auto& segments = impl_.trial.segments;
        const auto found = std::find_if(segments.rbegin(), segments.rend(), [&](const TrialSegment& segment) {
            return segment.shot == flight.shot && segment.pellet == flight.pellet;
        });
        return found == segments.rend() ? nullptr : &*found;
    }

    std::optional<Time> last_end(const Flight& flight) {
        const TrialSegment* segment = leg_of(flight);
        return segment != nullptr ? std::optional{segment->ends} : std::nullopt;
    }

    void explode(const ProjectileEvent& event, const Flight& flight) {
        const BlastSpec& spec = projectile_.blast;
        impl_.trial.blasts.push_back({event.point, spec.radius});
        if (spec.radius <= 0.0) {
            return;
        }
        std::array<BlastHit, 128> hits;
        const std::size_t count =
            blast(impl_.scene, spec,
                  {event.point, event.at, trial_shooter, shooters_team, flight.power * event.power}, hits);
        for (std::size_t index = 0; index < count; ++index) {
            TrialWound& wound =
                impl_.wound(flight.shot, flight.pellet, event.at, hits[index].nearest,
                            blast_damage(spec, {hits[index].nearest.distance, hits[index].exposure,
                                                flight.power * event.power, hits[index].team_share}),
                            &spec.effect);
            wound.exposure = hits[index].exposure;
            wound.by_blast = true;
        }
    }

    Impl& impl_;
    const WeaponSpec& weapon_;
    const ProjectileSpec& projectile_;
    std::vector<Flight> flights_{};
    std::vector<std::size_t> flying_{}; // indices in flights_
    std::vector<ProjectileEvent> events_{};
};

} // namespace

std::string_view to_string(SegmentEnd end) {
    static constexpr auto words =
        std::to_array<std::string_view>({"stops at", "bounces off", "pierces", "sticks to", "explodes",
                                         "is gone", "reaches out", "has swung"});
    return detail::word_of(words, end);
}

LevelTrial run_in_level(const Arsenal& arsenal, const WeaponSpec& weapon, const Level& level,
                        const LevelTrialSetup& setup) {
    assert(setup.body != nullptr && setup.length >= Duration::zero() && setup.after >= Duration::zero());
    Impl running{arsenal, level, setup};
    switch (delivery_of(weapon)) {
    case Delivery::hitscan:
        for_each_pellet(weapon, setup, running.trial,
                        [&](const WeaponEvent& shot, std::int32_t pellet, const Vector3& direction) {
                            running.fire_at_once(weapon, shot, pellet, direction);
                        });
        break;
    case Delivery::spray:
        for_each_pellet(weapon, setup, running.trial,
                        [&](const WeaponEvent& shot, std::int32_t, const Vector3& direction) {
                            running.fire_spray(weapon, shot, direction);
                        });
        break;
    case Delivery::projectile: {
        const ProjectileSpec* projectile = find(arsenal.projectiles, weapon.projectile.id);
        assert(projectile != nullptr);
        Flying flying{running, weapon, *projectile};
        for_each_pellet(weapon, setup, running.trial,
                        [&](const WeaponEvent& shot, std::int32_t pellet, const Vector3& direction) {
                            flying.plan(shot, pellet, direction);
                        });
        flying.run();
        break;
    }
    }
    const auto by_end = [](const TrialSegment& a, const TrialSegment& b) { return a.ends < b.ends; };
    std::stable_sort(running.trial.segments.begin(), running.trial.segments.end(), by_end);
    return std::move(running.trial);
}

LevelTrial strike_in_level(const MeleeSpec& melee, std::size_t attack, const Level& level,
                           const LevelTrialSetup& setup) {
    assert(setup.body != nullptr && attack < melee.attacks.size());
    const Arsenal none;
    Impl running{none, level, setup};
    const MeleeAttackSpec& swung = melee.attacks[attack];
    const Pose pose{setup.muzzle, turned_to(setup.look)};
    MeleeState state;
    std::vector<MeleeEvent> events;
    Time press{};
    for (Tick tick = 0; press < Time{setup.length} || state.attack >= 0; ++tick) {
        const Span span = tick_span(tick, ticks);
        running.scene.begin_frame(span.end);
        std::vector<MeleePress> presses;
        for (; press < Time{setup.length} && press < span.end; press += length_of(swung)) {
            presses.push_back({press, attack});
        }
        advance(melee, state, running.scene, {.ignores = {trial_shooter}}, {trial_shooter, pose, pose}, span,
                presses, events);
    }
    for (const MeleeEvent& event : events) {
        if (event.kind == MeleeEventKind::struck) {
            running.wound(event.swing, 0, event.at, event.hit,
                          strike_damage(melee, swung, running.setup.body->rig, *event.hit.region),
                          &swung.effect);
        } else if (event.kind == MeleeEventKind::started) {
            constexpr int points = 24;
            TrialSegment& segment = running.trial.segments.emplace_back();
            segment.shot = event.swing;
            segment.begins = event.at + swung.windup;
            segment.ends = segment.begins + swung.active;
            segment.end = SegmentEnd::strikes;
            for (int point = 0; point <= points; ++point) {
                segment.way.push_back(blade_at(swung, pose, static_cast<double>(point) / points).to);
            }
            ++running.trial.shots;
        }
    }
    return std::move(running.trial);
}

std::optional<Look> look_at(const Arsenal& arsenal, const WeaponSpec& weapon, const Vector3& muzzle,
                            const Vector3& point) {
    const ProjectileSpec* projectile = find(arsenal.projectiles, weapon.projectile.id);
    if (projectile == nullptr) {
        return (point - muzzle).squaredNorm() > 0.0 ? std::optional{look_of(point - muzzle)} : std::nullopt;
    }
    const Leads leads = solve_lead(*projectile, {.muzzle = muzzle, .target = point});
    return leads.low ? std::optional{look_of(leads.low->direction)} : std::nullopt;
}

} // namespace avrek
