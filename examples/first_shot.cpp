// Describe a weapon in TOML, hold its trigger, hit a body, watch its health fall.
//
//     first_shot data/halm-ring.toml
#include <avrek/avrek.h>

#include <cstdio>

using namespace avrek;

int main(int count, char** words) {
    const auto arsenal = load_arsenal(count > 1 ? words[1] : "data/halm-ring.toml");
    for (const Diagnostic& fault : arsenal.diagnostics) {
        std::fprintf(stderr, "%s\n", to_string(fault).c_str());
    }
    const WeaponSpec* rifle = arsenal ? find(arsenal->weapons, "thorn-rifle") : nullptr;
    const BodySpec* crew = arsenal ? find(arsenal->bodies, "crew") : nullptr;
    if (rifle == nullptr || crew == nullptr) {
        std::fprintf(stderr, "the arsenal needs a thorn-rifle and a crew\n");
        return 2;
    }

    constexpr BodyId me{1};
    constexpr BodyId target{2};
    Scene scene;
    if (!scene.add({target, &crew->rig, {.position = {0, 0, 20}, .rotation = turned_to({pi, 0})}})) {
        return 1;
    }
    Vitals vitals = full_vitals(*crew);
    WeaponState weapon = full_weapon(*rifle);
    AmmoReserve reserve = full_reserve(*rifle);

    std::vector<WeaponEvent> events;
    std::vector<VitalsEvent> blows;
    for (Tick tick = 0; vitals.life == LifeState::alive && tick < 60; ++tick) {
        const Span span = tick_span(tick, {.hertz = 30});
        const WeaponIntent hold[] = {{.at = span.begin, .trigger = true}};
        events.clear();
        advance(*rifle, weapon, reserve, span.end, hold, events);
        for (const WeaponEvent& event : events) {
            if (event.kind != WeaponEventKind::shot) {
                continue;
            }
            // The look is straight ahead, kicked by the shots so far. The key draws the same cone on every
            // machine that knows the seed, and another one for every combatant.
            const Vector3 middle = direction_of(event.view);
            const RandomKey key{.seed = 7, .combatant = static_cast<std::uint32_t>(me), .shot = event.shot};
            for (std::int32_t pellet = 0; pellet < rifle->pellets; ++pellet) {
                const Vector3 aim = pellet_direction(rifle->spread, middle, event.spread, key, pellet);
                const auto path = fire_hitscan(scene, {0, 1.25, 0}, aim, rifle->range, {.ignores = {me}});
                if (!path.hit || !path.hit->body || vitals.life == LifeState::dead) {
                    continue;
                }
                const std::string& region = region_of(crew->rig, *path.hit->region).name;
                blows.clear();
                apply_damage(vitals, hit_damage(*rifle, path.hit->distance, region), event.at, blows);
                std::printf("%7.3f ms  tick %2d  hit %-5s  -%4.1f  health %5.1f\n",
                            to_milliseconds(event.at.time_since_epoch()), static_cast<int>(tick),
                            region.c_str(), blows.front().damage.amount(), vitals.health);
            }
        }
    }
    std::printf("%s, %d of %d rounds left\n", vitals.life == LifeState::dead ? "dead" : "alive",
                weapon.rounds, rifle->magazine);
}
