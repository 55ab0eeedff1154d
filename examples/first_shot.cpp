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
    constexpr BodyId other{2};
    Scene scene;
    if (!scene.add({other, &crew->rig, {.position = {0, 0, 20}, .rotation = turned_to({pi, 0})}})) {
        return 1;
    }
    Body target{*crew, arsenal->conditions};
    Gun gun{*rifle, {.seed = 7, .shooter = me}};
    const Look ahead{};
    for (Tick tick = 0; target.is_alive() && tick < 60; ++tick) {
        for (const Shot& shot : gun.advance(tick_span(tick, {.hertz = 30}).end, {.trigger = true})) {
            for (const Vector3& direction : shot.directions(ahead)) {
                const auto path =
                    fire_hitscan(scene, {0, 1.25, 0}, direction, rifle->range, {.ignores = {me}});
                if (!path.hit || !path.hit->body || !target.is_alive()) {
                    continue;
                }
                const RegionId region = *path.hit->region;
                target.take(shot.damage(path.hit->distance, crew->rig, region), shot.at);
                std::printf("%7.3f ms  tick %2d  hit %-5s  -%4.1f  health %5.1f\n",
                            to_milliseconds(shot.at.time_since_epoch()), static_cast<int>(tick),
                            region_of(crew->rig, region).name.c_str(),
                            first_of<DamageEvent>(target.events())->damage.amount(), target.health());
            }
        }
    }
    std::printf("%s, %d of %d rounds left\n", target.is_alive() ? "alive" : "dead", gun.state().rounds,
                rifle->magazine);
}
