// Runs weapons, shots, projectiles, blasts, sprays, blades, leads, aim and a match in a scene of moving
// bodies for 10,000 ticks, and prints one number for all that came of it. It must be the same from every
// compiler, optimisation and machine. With a number of ticks and one of bots it prints one for a fight of
// bots alone: of the state after every tick; with "own" in place of the bots, one for a match with a game's
// own locomotion, actions and state, and posed bodies, which is replayed. The one number has 2.5 minutes of
// that in it; with "long" it has ten.
#include "bots_fight.h"
#include "own_match.h"
#include <avrek/ballistics/aim_solving.h>
#include <avrek/ballistics/blast.h>
#include <avrek/ballistics/hitscan.h>
#include <avrek/ballistics/lead.h>
#include <avrek/ballistics/melee.h>
#include <avrek/ballistics/projectiles.h>
#include <avrek/ballistics/spray.h>
#include <avrek/core/elementary.h>
#include <avrek/core/random.h>
#include <avrek/core/state_hash.h>
#include <avrek/scene/scene.h>
#include <avrek/skirmish/match.h>
#include <avrek/vitals/guard.h>
#include <avrek/weapon/spread.h>
#include <avrek/weapon/weapon.h>

#include <array>
#include <cstdio>
#include <cstdlib>
#include <vector>

using namespace avrek;

namespace {

constexpr std::uint32_t combatants = 8;
constexpr TickRate rate{60};

LevelMesh hills() {
    constexpr std::uint32_t cells = 24;
    LevelMesh mesh;
    for (std::uint32_t index = 0; index < (cells + 1) * (cells + 1); ++index) {
        const double height = 2.0 * random_pair({.seed = 3, .shot = index})[0];
        mesh.vertices.push_back(
            Vector3(2.0 * (index % (cells + 1)) - cells, height, 2.0 * (index / (cells + 1)) - cells)
                .cast<float>());
    }
    for (std::uint32_t z = 0; z < cells; ++z) {
        for (std::uint32_t x = 0; x < cells; ++x) {
            const std::uint32_t at = z * (cells + 1) + x;
            mesh.triangles.push_back({{at, at + cells + 1, at + 1}, SurfaceId{1}});
            mesh.triangles.push_back({{at + 1, at + cells + 1, at + cells + 2}, SurfaceId{2}});
        }
    }
    return mesh;
}

Pose pose_at(std::uint32_t body, Time at) {
    const double seconds = to_seconds(at.time_since_epoch());
    const double turn = 0.7 * body + 0.3 * seconds;
    return {{12 * sine(turn), 1.0 + 0.5 * sine(3 * turn), 12 * cosine(turn)},
            turned_to({2 * turn, 0.2 * sine(turn)})};
}

// Arsenal of hits: layers, a guard, conditions and reactions for all, a cloud, and lives that never end.
Arsenal life_arsenal() {
    Arsenal arsenal;
    trial::add_conditions(arsenal);
    BodySpec body{.id = "body", .health = 90};
    body.defence = {{.name = "sap", .max = 30, .start = 30, .delay = from_seconds(1.1), .refill = 7.3},
                    {.name = "bark", .max = 40, .start = 40, .share = 0.37, .wear = 0.9},
                    {.name = "vigour", .max = 20, .decay = 1.7, .takes_healing = true}};
    body.resists = {{{"cut"}, 0.83}};
    body.guard =
        GuardSpec{.arc = 2.1, .lets_through = 0.13, .stamina = 45, .refill = 11, .broken = from_seconds(1.3)};
    body.light_reaction.lasts = from_seconds(0.23);
    body.heavy_reaction = {.lasts = from_seconds(0.7), .shows = BodyState::down, .rise = from_seconds(0.3)};
    arsenal.bodies = {body};
    arsenal.hazards = {{.id = "mist",
                        .volume = Cylinder{{0, -1, 0}, {0, 3, 0}, 7},
                        .damage = 1.1,
                        .lasts = from_seconds(30)}};
    arsenal.pickups = {
        {.id = "nectar", .respawn_delay = from_seconds(4), .health = 9, .condition = {"nectar"}}};
    arsenal.matches = {{.id = "rules", .respawn = {from_seconds(1), from_seconds(0.5)}}};
    resolve_references(arsenal);
    return arsenal;
}

struct Fight {
    LevelMesh ground = hills();
    std::vector<SurfaceSpec> surfaces{{"soil", 0.4, 0.4, 1.5, 50.0}, {"stone", 0.8, 0.1, 1.5, 500.0}};
    RigSpec rig{{{"head", {Sphere{{0, 0.2, 0}, 0.14}}, 1},
                 {"trunk", {Capsule{{0, 0.9, 0}, {0, 1.3, 0}, 0.2}, Box{{{0, 0.5, 0}}, {0.2, 0.4, 0.1}}}}},
                {{"neck", {{0, 1.5, 0}}}}};
    Scene scene{Level{{{HalfSpace{world_up(), -1}, SurfaceId{2}}, {Sphere{{0, 1, 0}, 2}, SurfaceId{1}}},
                      std::span{&ground, 1}},
                {.bodies = combatants, .joints = 2, .frames = 64}};
    WeaponSpec weapon;
    std::vector<WeaponState> states;
    std::vector<AmmoReserve> reserves;
    std::vector<ProjectilePool> pools;
    MeleeSpec sickle{.id = "sickle"};
    std::array<MeleeState, combatants> swings{};
    StateHash hash;
    Arsenal life = life_arsenal();
    EffectSpec effect{.type = {"cut", DamageTypeId{0}},
                      .condition = {"rot", ConditionId{0}},
                      .reaction = {"light", ReactionClass::light}};
    Match match{life, life.matches.front(), scene};

    // Hits come late to the match, which does not mind: in the order in which they are reported.
    void hurt(std::uint32_t by, const Hit& hit, const Damage& damage, const Vector3& direction, Time at) {
        IncomingHit coming{.damage = damage, .effect = &effect, .source = BodyId{by}, .direction = direction};
        coming.off_front = off_front(*scene.pose_of(*hit.body, at), direction);
        coming.region = hit.region;
        match.hit(*hit.body, coming, std::max(at, match.now()));
    }

    Fight() {
        weapon.damage = 13.7;
        weapon.rounds_per_minute = 431;
        weapon.magazine = 20;
        weapon.reserve = 1 << 28;
        weapon.reload.time = from_seconds(1.7);
        weapon.spread.hip = 0.03;
        weapon.recoil.pattern = {{0.001, 0.006}, {-0.002, 0.005}};
        ProjectileSpec seed{.speed = 25,
                            .drag = 0.02,
                            .radius = 0.05,
                            .lifetime = from_seconds(3),
                            .fuse = from_seconds(1.3)};
        seed.bounce.count = 4;
        seed.blast = {.radius = 4, .damage = 90, .push = 5};
        ProjectileSpec dart{.speed = 220, .gravity = 3, .drag = 0.01, .turn_rate = 1.5, .sticks = true};
        dart.pierce = {60, 20};
        pools = {ProjectilePool{seed, 24}, ProjectilePool{dart, 24}};
        sickle.attacks = {{.name = "wide",
                           .windup = from_seconds(0.1),
                           .recovery = from_seconds(0.2),
                           .push = 2,
                           .reach = 5,
                           .radius = 0.2,
                           .thrust = 0.5,
                           .path = {{1, 0.2}, {0, 0}, {-1, 0}}}};
        for (std::uint32_t body = 0; body < combatants; ++body) {
            states.push_back(full_weapon(weapon));
            reserves.push_back(full_reserve(weapon));
            if (!scene.add({BodyId{body}, &rig, pose_at(body, Time{}),
                            TeamId{static_cast<std::uint8_t>(body % 2)}})) {
                std::abort();
            }
            (void)match.join({.id = BodyId{body}, .team = TeamId{static_cast<std::uint8_t>(body % 2)}});
        }
        match.lay_hazard({.pose = {{6, 0, 6}}}, Time{});
        match.place_pickup(PickupId{0}, {-8, 1, 8});
    }

    void fire(std::uint32_t body, const WeaponEvent& event, std::vector<ProjectileEvent>& flights) {
        const Pose pose = *scene.pose_of(BodyId{body}, event.at);
        const Vector3 muzzle = to_world(pose, {0, 1.4, 0.5});
        const Vector3 aim = spread_direction(pose.rotation * world_forward(), event.spread,
                                             {.seed = 1, .combatant = body, .shot = event.shot});
        std::array<PathSegment, 6> segments;
        const HitscanShot shot{
            .muzzle = muzzle, .direction = aim.normalized(), .bounce = {.count = 2}, .pierce = {80, 30}};
        const std::size_t count =
            follow_hitscan(scene, surfaces, shot, {.ignores = {BodyId{body}}}, segments, event.at);
        for (std::size_t segment = 0; segment < count; ++segment) {
            hash.add(segments[segment].end);
            hash.add(segments[segment].power);
            if (segments[segment].hit && segments[segment].hit->body) {
                hurt(body, *segments[segment].hit,
                     hit_damage(weapon, segments[segment].flown_before, "head", 1.0, segments[segment].power),
                     shot.direction, event.at);
            }
        }
        const Filter others{.ignores = {BodyId{body}}};
        std::array<SprayHit, combatants> sprayed;
        for (std::size_t hit = spray(scene, {muzzle, shot.direction, 0.4, 12, event.at}, others, sprayed);
             hit > 0; --hit) {
            hash.add(sprayed[hit - 1].nearest.point);
            hash.add(sprayed[hit - 1].exposure);
        }
        const AimSolution solution = solve_aim(scene,
                                               {.eye = {to_world(pose, {0, 1.8, -2}), shot.direction, 50},
                                                .muzzle = muzzle,
                                                .grip = to_world(pose, {0, 1.4, 0}),
                                                .at = event.at},
                                               others);
        hash.add(solution.origin);
        hash.add(solution.direction);
        if (event.shot % 32 == 0) {
            const Leads leads = solve_lead(
                pools[0].spec(), {.muzzle = muzzle, .target = solution.aim_point, .velocity = {1, 0, -2}});
            hash.add(leads.low ? leads.low->direction : Vector3::Zero());
            hash.add(leads.high ? leads.high->direction : Vector3::Zero());
        }
        pools[event.shot % 2].launch({.at = event.at,
                                      .muzzle = muzzle,
                                      .direction = shot.direction,
                                      .shooter = BodyId{body},
                                      .team = TeamId{static_cast<std::uint8_t>(body % 2)},
                                      .shot = event.shot,
                                      .target = BodyId{(body + 3) % combatants},
                                      .aim_at = {0, 1, 0}},
                                     flights);
    }

    void swing(std::uint32_t body, Tick tick, const Span& span) {
        const Wielder wielder{BodyId{body}, to_world(pose_at(body, span.begin), Pose{{0, 1.3, 0}}),
                              to_world(pose_at(body, span.end), Pose{{0, 1.3, 0}})};
        const MeleePress press{span.begin, 0};
        std::vector<MeleeEvent> events;
        avrek::advance(sickle, swings[body], scene, {}, wielder, span,
                       {&press, (tick + 25 * body) % 200 == 0 ? 1U : 0U}, events);
        for (const MeleeEvent& event : events) {
            hash.add(event.at);
            hash.add(event.hit.point);
            hash.add(event.push);
        }
    }

    void advance(Tick tick) {
        const Span span = tick_span(tick, rate);
        scene.begin_frame(span.end);
        for (std::uint32_t body = 0; body < combatants; ++body) {
            scene.move(BodyId{body}, pose_at(body, span.end));
        }
        std::vector<ProjectileEvent> flights;
        for (std::uint32_t body = 0; body < combatants; ++body) {
            std::vector<WeaponEvent> events;
            const WeaponIntent intent{
                .at = span.begin, .trigger = (tick / 40 + body) % 3 != 0, .reload = states[body].rounds == 0};
            avrek::advance(weapon, states[body], reserves[body], span.end, {&intent, 1}, events);
            swing(body, tick, span);
            for (const WeaponEvent& event : events) {
                if (event.kind == WeaponEventKind::shot) {
                    fire(body, event, flights);
                }
            }
        }
        match.hold_guard(BodyId{static_cast<std::uint32_t>(tick / 16 % combatants)}, tick % 16 < 11,
                         std::max(span.begin, match.now()));
        match.advance(span.end);
        for (const Event& event : match.events()) {
            hash.add(time_of(event));
            hash.add(std::uint64_t{event.index()});
            const auto* hurt = std::get_if<DamageEvent>(&event);
            hash.add(hurt != nullptr ? hurt->damage.amount() : 0.0);
        }
        match.forget_events();
        if (tick % 64 == 0) {
            hash.add(match.state_hash());
        }
        for (ProjectilePool& pool : pools) {
            pool.advance(scene, surfaces, span, flights);
            hash.add(pool.state_hash());
        }
        for (const ProjectileEvent& event : flights) {
            hash.add(event.at);
            hash.add(event.point);
            hash.add(static_cast<std::uint64_t>(event.kind));
            if (event.kind == ProjectileEventKind::exploded && event.team == TeamId{0}) {
                std::array<BlastHit, combatants> hits;
                const std::size_t count =
                    blast(scene, pools[0].spec().blast, {.centre = event.point, .at = event.at}, hits);
                for (std::size_t hit = 0; hit < count; ++hit) {
                    hash.add(hits[hit].damage);
                    hash.add(hits[hit].push);
                }
            }
        }
    }
};

// A fight of bots, its hash after every tick.
std::uint64_t bots_digest(Tick ticks, std::size_t crew) {
    const Arsenal arsenal = trial::bots_arsenal();
    trial::BotsFight fight{arsenal, crew, 5};
    StateHash hash;
    while (fight.skirmish.tick() < ticks) {
        fight.advance();
        hash.add(fight.skirmish.state_hash());
    }
    return hash.value();
}

} // namespace

int main(int count, char** words) {
    if (count == 3 && std::string_view{words[2]} == "own") {
        std::printf("%016llx\n", static_cast<unsigned long long>(trial::own_digest(std::atol(words[1]))));
        return 0;
    }
    if (count == 3) {
        std::printf("%016llx\n", static_cast<unsigned long long>(bots_digest(
                                     std::atol(words[1]), static_cast<std::size_t>(std::atol(words[2])))));
        return 0;
    }
    Fight fight;
    for (Tick tick = 0; tick < 10'000; ++tick) {
        fight.advance(tick);
    }
    fight.hash.add(bots_digest(640, 16));
    fight.hash.add(trial::own_digest(count == 2 && std::string_view{words[1]} == "long" ? 38'400 : 9'600));
    std::printf("%016llx\n", static_cast<unsigned long long>(fight.hash.value()));
}
