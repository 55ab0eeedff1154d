// Sling burls about the atrium and print where each one flies: its legs, what it bounces off, where it ends.
//
//     ricochet [data]
#include <avrek/avrek.h>

#include <cstdio>
#include <filesystem>

using namespace avrek;

namespace {

const char* surface_name(const Arsenal& arsenal, const std::optional<Hit>& hit) {
    const auto index = hit ? static_cast<std::size_t>(hit->surface) : 0;
    return index >= 1 ? arsenal.surfaces[index - 1].id.c_str() : "-";
}

const char* word_for(ProjectileEventKind kind) {
    switch (kind) {
    case ProjectileEventKind::bounced:
        return "bounces off";
    case ProjectileEventKind::stopped:
        return "stops at";
    case ProjectileEventKind::expired:
        return "is gone";
    default:
        return "";
    }
}

} // namespace

int main(int count, char** words) {
    const std::filesystem::path data = count > 1 ? words[1] : "data";
    const auto arsenal = load_arsenal(data / "halm-ring.toml");
    const auto level = arsenal ? load_level(data / "atrium.toml", *arsenal) : Loaded<Level>{};
    for (const auto& faults : {arsenal.diagnostics, level.diagnostics}) {
        for (const Diagnostic& fault : faults) {
            std::fprintf(stderr, "%s\n", to_string(fault).c_str());
        }
    }
    const ProjectileSpec* burl = arsenal ? find(arsenal->projectiles, "burl") : nullptr;
    if (!level || burl == nullptr) {
        return 2;
    }
    const Scene atrium{*level};

    ProjectilePool burls{*burl, 8};

    // Three burls, a quarter of a second apart, from the middle of the aisle.
    std::vector<ProjectileEvent> events;
    for (int shot = 0; shot < 3; ++shot) {
        burls.launch({.at = Time{std::chrono::milliseconds{250 * shot}},
                      .muzzle = {0, 1.5, -10},
                      .direction = direction_of({from_degrees(40.0 + 55.0 * shot), from_degrees(4.0)}),
                      .shot = static_cast<std::uint32_t>(shot)},
                     events);
    }
    for (Tick tick = 0; burls.size() > 0; ++tick) { // at 30 ticks a second; any other rate prints the same
        events.clear();
        burls.advance(atrium, arsenal->surfaces, tick_span(tick, {.hertz = 30}), events);
        for (const ProjectileEvent& event : events) {
            std::printf(
                "%7.1f ms  burl %u  from (%5.1f %4.1f %5.1f) to (%5.1f %4.1f %5.1f)  %4.1f m/s  %s %s\n",
                to_milliseconds(event.at - Time{}), event.shot + 1, event.from.x(), event.from.y(),
                event.from.z(), event.point.x(), event.point.y(), event.point.z(), event.velocity.norm(),
                word_for(event.kind), surface_name(*arsenal, event.hit));
        }
    }
}
