// A flat game seen from above, drawn in the terminal. Everything stays in the plane y = 0, and the calls are
// the same as ever: a keeper leads pruning drones with burls that bounce off the walls of a pen.
//
//     flat_arena [data/halm-ring.toml]
#include <avrek/avrek.h>

#include <unistd.h>

#include <array>
#include <chrono>
#include <cstdio>
#include <map>
#include <thread>

using namespace avrek;

namespace {

constexpr BodyId keeper_id{100};
const Vector3 keeper{0, 0, -4.5};

// Two drones cross the pen, one waits behind the wall in the middle.
Vector3 drone_at(int drone, Time time) {
    const double s = to_seconds(time - Time{});
    return drone == 0   ? Vector3{-12 + 3.2 * s, 0, 3.9}
           : drone == 1 ? Vector3{13 - 2.8 * s, 0, -1.5}
                        : Vector3{0.5, 0, 3.2};
}

// A letter for a place in the plane, by a camera that looks straight down: half a metre a column, one a row.
struct Picture {
    Camera camera{.pose = {{0, 10, 0}, turned_to({0, -pi / 2})},
                  .projection = Projection::flat,
                  .shown_height = 12,
                  .width = 64,
                  .height = 24};
    std::vector<std::string> rows = std::vector<std::string>(12, std::string(64, ' '));

    void put(const Vector3& place, char letter) {
        const auto seen = on_screen(camera, place);
        if (seen && seen->inside) {
            rows[std::min<std::size_t>(11, static_cast<std::size_t>(seen->at.down / 2))]
                [std::min<std::size_t>(63, static_cast<std::size_t>(seen->at.right))] = letter;
        }
    }
};

} // namespace

int main(int count, char** words) {
    const auto arsenal = load_arsenal(count > 1 ? words[1] : "data/halm-ring.toml");
    const WeaponSpec* sling = arsenal ? find(arsenal->weapons, "burl-sling") : nullptr;
    if (sling == nullptr) {
        std::fprintf(stderr, "flat_arena needs an arsenal with the weapon burl-sling\n");
        return 2;
    }
    ProjectileSpec burl = *find(arsenal->projectiles, sling->projectile.id);
    burl.gravity = 0; // nothing falls in a flat game
    burl.bounce.restitution = 3;

    const std::vector<LevelPiece> walls{{Box{{{-15.5, 0, 0}}, {0.25, 1, 6}}},
                                        {Box{{{15.5, 0, 0}}, {0.25, 1, 6}}},
                                        {Box{{{0, 0, 5.5}}, {16, 1, 0.5}}},
                                        {Box{{{0, 0, -5.5}}, {16, 1, 0.5}}},
                                        {Box{{{0, 0, 1.5}}, {3, 1, 0.5}}}};
    const RigSpec drone_rig{{{"shell", {Sphere{Vector3::Zero(), 0.45}}}}};
    const BodySpec drone_spec{.id = "drone", .health = 100, .rig = drone_rig};
    Scene pen{Level{walls}};
    std::map<BodyId, Vitals> vitals;
    for (int drone = 0; drone < 3; ++drone) {
        const BodyId id{static_cast<std::uint32_t>(drone)};
        vitals[id] = full_vitals(drone_spec);
        (void)pen.add({id, &drone_spec.rig, {drone_at(drone, Time{})}, TeamId{1}});
    }

    ProjectilePool burls{burl, 16};
    WeaponState state = full_weapon(*sling);
    AmmoReserve reserve{.rounds = 14};
    const bool live = isatty(STDOUT_FILENO) == 1;
    for (Tick tick = 0; tick < 300; ++tick) {
        const Span span = tick_span(tick, {.hertz = 30});
        pen.begin_frame(span.end);
        std::vector<int> drones;
        std::vector<Cast> sights;
        for (auto& [id, life] : vitals) {
            const int drone = static_cast<int>(id);
            if (life.life == LifeState::alive) {
                pen.move(id, {drone_at(drone, span.end)});
                const Vector3 way = drone_at(drone, span.begin) - keeper;
                drones.push_back(drone);
                sights.push_back({.ray = {keeper, way.normalized(), way.norm()}});
            }
        }
        pen.end_frame();
        std::array<bool, 3> hidden{};
        pen.any_hits(sights, {.hits = {CollisionLayer::level}}, std::span{hidden}.first(sights.size()));
        std::optional<Lead> aim;
        for (std::size_t index = 0; index < drones.size() && !aim; ++index) {
            if (!hidden[index]) {
                const Vector3 at = drone_at(drones[index], span.begin);
                const Vector3 velocity =
                    (drone_at(drones[index], span.end) - at) / to_seconds(span.end - span.begin);
                aim = solve_lead(burl, {.muzzle = keeper, .target = at, .velocity = velocity}).low;
            }
        }
        // With nobody in sight: off the wall to the left.
        const Vector3 direction = aim ? aim->direction : direction_of({from_degrees(69), 0});
        // A charge that is full leaves; the next wants a new press.
        const WeaponIntent hold{.at = span.begin, .trigger = tick % 23 != 22};
        std::vector<WeaponEvent> shots;
        advance(*sling, state, reserve, span.end, {&hold, 1}, shots);
        std::vector<ProjectileEvent> events;
        for (const WeaponEvent& shot : shots) {
            if (shot.kind == WeaponEventKind::shot) {
                burls.launch({.at = shot.at, .muzzle = keeper, .direction = direction, .shooter = keeper_id},
                             events);
            }
        }
        burls.advance(pen, arsenal->surfaces, span, events);
        std::string said;
        for (const ProjectileEvent& event : events) {
            if (event.hit && event.hit->body) {
                std::vector<VitalsEvent> felt;
                Vitals& hurt = vitals[*event.hit->body];
                apply_damage(hurt, hit_damage(*sling, event.flown, "shell", 1.0), event.at, felt);
                said += "  drone " +
                        std::string(1, static_cast<char>('a' + static_cast<int>(*event.hit->body))) +
                        (hurt.life == LifeState::dead ? " is down" : " is hit");
            }
        }
        if (!live && !said.empty()) {
            std::printf("%.2f s%s\n", to_seconds(span.end - Time{}), said.c_str());
        }
        if (live || tick % 120 == 119) {
            Picture picture;
            for (int column = 0; column < 64; ++column) {
                for (int row = 0; row < 24; ++row) {
                    const Vector3 place{16 - 0.5 * (column + 0.5), 0, 6 - 0.5 * (row + 0.5)};
                    std::array<Hit, 1> wall;
                    if (pen.overlaps(Sphere{place, 0.05}, present, {.hits = {CollisionLayer::level}}, wall) >
                        0) {
                        picture.put(place, '#');
                    }
                }
            }
            for (const auto& [id, life] : vitals) {
                const char letter = static_cast<char>('a' + static_cast<int>(id));
                picture.put(pen.pose_of(id)->position, life.life == LifeState::dead ? 'x' : letter);
            }
            std::array<ProjectileHandle, 16> flying;
            for (std::size_t index = burls.list(flying); index > 0; --index) {
                picture.put(burls.find(flying[index - 1])->position, 'o');
            }
            picture.put(keeper, '@');
            std::printf("%s%.2f s, %zu burls fly, %d left%s\n", live ? "\x1b[H\x1b[2J" : "",
                        to_seconds(span.end - Time{}), burls.size(), reserve.rounds, said.c_str());
            for (const std::string& row : picture.rows) {
                std::printf("%s\n", row.c_str());
            }
            std::fflush(stdout);
        }
        if (live) {
            std::this_thread::sleep_for(std::chrono::milliseconds{33});
        }
    }
}
