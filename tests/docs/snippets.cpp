// Snippets of the documents and headers, compiled. A test compares the code; nothing here runs.
#include "pieces.h"

#include <array>
#include <cstring>

namespace avrek::snippets {

void load() {
    const auto arsenal = avrek::load_arsenal("data/halm-ring.toml"); // <avrek/data/arsenal_toml.h>
    const avrek::WeaponId rifle = arsenal->weapon("thorn-rifle").value();
    const double damage = (*arsenal)[rifle].damage;
    static_cast<void>(damage);
}

void finish_arsenal() {
    Arsenal made;
    made.weapons = {{.id = "thorn-rifle", .magazine = 30, .damage = 22}};
    const Loaded<Arsenal> arsenal = finish(std::move(made));
    static_cast<void>(arsenal);
}

void play_sound(Time at);

void first_weapon(BodyId me) {
    const auto arsenal = load_arsenal("garden.toml");
    const WeaponSpec* rifle = find(arsenal->weapons, "garden-rifle");
    Gun gun{*rifle, {.seed = 7, .shooter = me}};
    const Span tick = tick_span(0, {.hertz = 30});
    for (const Shot& shot : gun.advance(tick.end, {.trigger = true})) {
        play_sound(shot.at);
    }
}

void log(std::string_view what);

void outcome(Skirmish& fight, const Entrant& entrant) {
    if (const Outcome added = fight.add(entrant); !added) {
        log(added.why()); // "the id is taken"
    }
}

void arsenal_values(const Pieces& with) {
    const auto& texts = with.texts;
    const ArsenalValues values{texts};
    const double damage = values.find("weapon.thorn-rifle.damage")->value;
    static_cast<void>(damage);
}

void first_hit(const Pieces& with, const WeaponSpec* rifle, const Scene& scene, const Shot& shot,
               const Look& look, Body& target) {
    const auto& [me, region] = std::tie(with.me, with.region);
    for (const Vector3& direction : shot.directions(look)) {
        const auto path = fire_hitscan(scene, {0, 1.25, 0}, direction, rifle->range, {.ignores = {me}});
        if (path.hit && path.hit->body) {
            target.take(shot.damage(path.hit->distance, region), shot.at);
        }
    }
}

struct MyHit {
    double distance = 0.0;
    std::string_view region;
};
std::optional<MyHit> my_raycast(const Vector3& from, const Vector3& direction);

void gun_header(const Pieces& with, Time until, const WeaponIntent& input, const Look& view, Body& target) {
    const auto& [rifle, seed, me, muzzle] = std::tie(with.rifle, with.seed, with.me, with.muzzle);
    Gun gun{rifle, {.seed = seed, .shooter = me}};
    for (const Shot& shot : gun.advance(until, input)) {
        for (const Vector3& direction : shot.directions(view)) {
            if (auto hit = my_raycast(muzzle, direction)) {
                target.take(shot.damage(hit->distance, hit->region), shot.at);
            }
        }
    }
}

void body_header(const Pieces& with, const BodySpec& crew, const Shot& shot) {
    const auto& [arsenal, distance] = std::tie(with.arsenal, with.distance);
    Body target{crew, arsenal.conditions};
    target.take(shot.damage(distance, "torso"), shot.at);
    const bool alive = target.is_alive();
    static_cast<void>(alive);
}

void living_body(const Pieces& with, const BodySpec& crew, Vitals& vitals, const IncomingHit& hit,
                 std::vector<VitalsEvent>& events) {
    const auto& [arsenal, shot] = std::tie(with.arsenal, with.shot);
    take_hit({arsenal.conditions, crew, vitals}, hit, shot.at, events);
}

void weapon(const WeaponSpec& rifle) {
    WeaponState state = full_weapon(rifle);
    AmmoReserve reserve = full_reserve(rifle);
    std::vector<WeaponEvent> events;
    const WeaponIntent hold{.trigger = true};
    advance(rifle, state, reserve, Time{from_seconds(0.3)}, {&hold, 1}, events);
    WeaponSpec faster = rifle;
    faster.rounds_per_minute = 900;
    retune(rifle, faster, state, reserve, events); // at state.now; then advance(faster, ...)
}

void projectiles(const Arsenal& arsenal, const World& world, const Pieces& with, Time now, Span tick) {
    const auto& [muzzle, direction, me] = std::tie(with.muzzle, with.direction, with.me);
    std::vector<ProjectileEvent> events;
    ProjectilePool seeds{arsenal.projectiles[0], 256};
    seeds.launch({.at = now, .muzzle = muzzle, .direction = direction, .shooter = me}, events);
    seeds.advance(world, arsenal.surfaces, tick, events);
}

void scene_guide(const Pieces& with, Tick tick, TickRate rate) {
    const auto& [level, id, pose, ray, shooter, past] =
        std::tie(with.level, with.id, with.pose, with.ray, with.shooter, with.past);
    const BodySpec* body = &with.crew_spec;
    const TeamId team = with.canopy;
    Scene scene{level, {.bodies = 64, .joints = 16, .frames = 64}};
    const bool added = scene.add({id, &body->rig, pose, team});
    scene.begin_frame(tick_span(tick, rate).end); // every tick
    scene.move(id, pose);                         // or one pose for each joint
    scene.end_frame();                            // once all have moved: casts among many bodies are faster
    scene.closest_hit({ray}, {.ignores = {shooter}});
    scene.closest_hit({.ray = ray, .begin = past}, {.ignores = {shooter}});
    const std::vector<Cast> casts(2, Cast{ray});
    std::vector<std::optional<Hit>> hits(casts.size());
    scene.closest_hits(casts, {.hits = {CollisionLayer::level}}, hits);
    static_cast<void>(added);
}

void scene_headers(Scene& scene, const Pieces& with, Tick tick, TickRate rate) {
    const auto& [id, pose, ray, shooter] = std::tie(with.id, with.pose, with.ray, with.shooter);
    scene.begin_frame(tick_span(tick, rate).end);
    scene.move(id, pose); // for each body that moved
    scene.closest_hit({ray}, {.ignores = {shooter}});
    scene.closest_hit({ray}, {.hits = {CollisionLayer::level}, .ignores = {shooter}});
}

void vitals(const BodySpec& crew, const WeaponSpec& rifle, Time at, std::vector<VitalsEvent>& events) {
    Vitals vitals = full_vitals(crew);
    apply_damage(vitals, hit_damage(rifle, 30.0, "torso"), at, events);
}

template <class React>
void match_guide(const Pieces& with, const Scene& scene, Time tick_end, const React& react) {
    const auto& [arsenal, keeper, shooter, weapons, rifle, distance, region, shot] =
        std::tie(with.arsenal, with.keeper, with.shooter, with.weapons, with.rifle, with.distance,
                 with.region, with.shot);
    const TeamId crew = with.canopy;
    Match match{arsenal, *find(arsenal.matches, "last-stand"), scene};
    const Outcome joined =
        match.join({.id = keeper, .team = crew, .body = *arsenal.body("crew"), .weapons = weapons});
    IncomingHit hit{
        .damage = hit_damage(rifle, distance, region), .effect = &rifle.effect, .source = shooter};
    match.hit(keeper, hit, shot.at);
    match.advance(tick_end);
    for (const Event& event : match.events()) {
        std::visit(react, event);
    }
    match.forget_events();
    static_cast<void>(joined);
}

void match_header(const Pieces& with, const Scene& scene, const IncomingHit& hit, Time tick_end) {
    const auto& [arsenal, keeper, weapons, shot] =
        std::tie(with.arsenal, with.keeper, with.weapons, with.shot);
    const TeamId crew = with.canopy;
    Match match{arsenal, *find(arsenal.matches, "last-stand"), scene};
    const Outcome joined =
        match.join({.id = keeper, .team = crew, .body = *arsenal.body("crew"), .weapons = weapons});
    match.hit(keeper, hit, shot.at);
    match.advance(tick_end);
    for (const Event& event : match.events()) {
        react(event);
    }
    static_cast<void>(joined);
}

template <class React>
void skirmish_guide(const Pieces& with, const React& draw_and_play) {
    const auto& [arsenal, arena, seed, canopy, crew, sickle, weapons, intents] = std::tie(
        with.arsenal, with.arena, with.seed, with.canopy, with.crew, with.sickle, with.weapons, with.intents);
    Skirmish fight{arsenal, arena.level, {.rate = {64}, .limits = {.combatants = 16}}, seed, arena.plan};
    const Outcome added =
        fight.add({.id = BodyId{1}, .team = canopy, .body = crew, .melee = sickle, .weapons = weapons});
    while (!fight.is_over()) {
        for (const Event& event : fight.advance(intents)) { // or advance(intents, updates)
            std::visit(draw_and_play, event);               // in the order in which they applied
        }
    }
    static_cast<void>(added);
}

void skirmish_header(const Pieces& with) {
    const auto& [arsenal, arena, seed, canopy, crew, weapons, intents] =
        std::tie(with.arsenal, with.arena, with.seed, with.canopy, with.crew, with.weapons, with.intents);
    Skirmish fight{arsenal, arena.level, {.rate = {64}}, seed, arena.plan};
    const Outcome added = fight.add({.id = BodyId{1}, .team = canopy, .body = crew, .weapons = weapons});
    for (const Event& event : fight.advance(intents)) {
        react(event); // one tick
    }
    static_cast<void>(added);
}

template <class React>
void loop(Skirmish& fight, const Pieces& with, const React& react) {
    const auto& [clock, intents] = std::tie(with.clock, with.intents);
    while (fight.now() < clock) {
        for (const Event& event : fight.advance(intents)) {
            std::visit(react, event);
        }
    }
}

void event_kinds_header(Skirmish& fight, const Pieces& with) {
    const auto& intents = with.intents;
    for (const Event& event : fight.advance(intents)) {
        std::visit(EventHandlers{[](const ShotEvent& shot) { play_sound(shot.muzzle); },
                                 [](const DeathEvent& death) { show_death(death.who); }, [](const auto&) {}},
                   event);
    }
    const std::span<const Event> events = fight.events();
    for (const ShotEvent& shot : events_of<ShotEvent>(events)) {
        play_sound(shot.muzzle);
    }
}

void movement(Skirmish& fight, const Pieces& with) {
    const auto& [me, position, yaw, velocity, intents] =
        std::tie(with.me, with.position, with.yaw, with.velocity, with.intents);
    const BodyUpdate update{.who = me, .position = position, .yaw = yaw, .velocity = velocity};
    fight.advance(intents, {&update, 1});
}

void intent(BodyId me) {
    Intent intent{.who = me, .yaw = 0.5F, .ahead = 1.0F, .buttons = {Button::trigger, Button::sprint}};
    static_cast<void>(intent);
}

void replay(Skirmish& fight, const Pieces& with) {
    const auto& [digest, intents] = std::tie(with.digest, with.intents);
    ReplayWriter replay;
    replay.open("fight.replay", head_of(fight, digest, "atrium", "my game"));
    fight.advance(intents);
    replay.tick(fight, intents); // after each tick
    replay.close();
}

void game_data_header() {
    const Loaded<GameData> data = load_game_data({"data/halm-ring.toml"}, "data/atrium.toml");
    static_cast<void>(data);
}

void networking_guide(const Pieces& with, Transport& transport, Time local) {
    const auto& [data, settings, seed] = std::tie(with.data, with.settings, with.seed);
    Server server{data, settings, seed, transport};
    Client client{data, {}, transport};
    draw_and_play(client.receive(local));
    while (client.is_tick_due(local)) {
        draw_and_play(client.tick(what_the_player_wants()));
    }
    draw(client.view());
}

void networking_over_udp(const Pieces& with, const KeyPair& issuer) {
    const auto& [data, settings, seed] = std::tie(with.data, with.settings, with.seed);
    const Loaded<std::unique_ptr<UdpServer>> listening =
        UdpServer::listen("0.0.0.0", 4717, {.keys = make_keys()});
    Server server{data, settings, seed, **listening}; // after a look at listening.diagnostics
    const Credentials credentials = issue_credentials(issuer, {.match = settings.match,
                                                               .player = BodyId{1},
                                                               .expires = seconds_of_day() + 60,
                                                               .server = (*listening)->key()});
    const auto connecting = UdpClient::connect("127.0.0.1", 4717, credentials);
    Client client{data, {}, **connecting};
}

void client_header(const Pieces& with, Transport& transport) {
    const auto& data = with.data;
    const auto clock = clock_now;
    const auto show = draw_and_play;
    Client client{data, {}, transport};
    show(client.receive(clock()));
    while (client.is_tick_due(clock())) {
        show(client.tick(read_input()));
    }
}

void server_header(const Pieces& with, Transport& transport, std::int64_t seconds_since_1970) {
    const auto& [data, settings, seed] = std::tie(with.data, with.settings, with.seed);
    Server server{data, settings, seed, transport};
    for (const Event& event : server.tick(seconds_since_1970)) {
        react(event); // once per tick
    }
}

void distribution(const Arsenal& arsenal) {
    const auto engagement = engagement_of(arsenal, "thorn-rifle", "gardener", "crew", 15.0);
    const KillDistribution kills = kill_distribution(*engagement);
    const std::optional<Duration> median = time_of_share(kills, 0.5);
    static_cast<void>(median);
}

void solving(const Pieces& with) {
    const auto& texts = with.texts;
    const auto wishes = load_wishes("wishes.toml", texts);
    const auto solution = solve(texts, *wishes); // solution->overlay.text
    static_cast<void>(solution);
}

} // namespace avrek::snippets
