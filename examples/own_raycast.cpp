// A game with its own world: Avrek says when shots leave and where they point, the game says what they meet.
//
// Here the world is a grid seen from above: walls, free ground and a crate; 1 m a cell. Only the arsenal,
// weapon and vitals layers of Avrek are used, and the weapon is made in code.
#include <avrek/vitals/gun.h>

#include <array>
#include <cmath>
#include <cstdio>
#include <string_view>

using namespace avrek;

namespace {

constexpr std::array<std::string_view, 7> greenhouse{
    "####################", //
    "#..................#", //
    "#..............#...#", //
    "#@.............C...#", //
    "#..............#...#", //
    "#..................#", //
    "####################",
};

struct CellHit {
    char what;
    double distance;
    double row;
};

// The game's own ray cast: small steps along +x (columns) and across (rows). Any other would do.
CellHit walk(double column, double row, const Vector3& direction) {
    constexpr double step = 0.01;
    for (double distance = 0.0;; distance += step) {
        // Avrek looks along +Z with +X to the left; this world looks along its columns with rows to the
        // right.
        const double at_column = column + direction.z() * distance;
        const double at_row = row - direction.x() * distance;
        const char cell = greenhouse[static_cast<std::size_t>(at_row)][static_cast<std::size_t>(at_column)];
        if (cell == '#' || cell == 'C') {
            return {cell, distance, at_row};
        }
    }
}

} // namespace

int main() {
    WeaponSpec pistol;
    pistol.id = "garden-clip";
    pistol.modes = {TriggerMode::single};
    pistol.rounds_per_minute = 240;
    pistol.magazine = 6;
    pistol.reserve = 4;
    pistol.reload.time = from_seconds(0.8);
    pistol.spread.hip = from_degrees(3.0);

    Gun gun{pistol, {.seed = 3, .shooter = BodyId{1}}};
    const Look ahead{};
    int crate_hits = 0;
    bool clicked = false;
    for (Tick tick = 0; tick < 80; ++tick) { // four seconds at 20 Hz
        const Span span = tick_span(tick, {.hertz = 20});
        // The player taps five times a second, more than the weapon allows, and reloads when it clicks.
        const WeaponIntent taps[] = {
            {.at = span.begin, .trigger = tick % 4 == 0, .reload = clicked},
            {.at = span.begin + std::chrono::milliseconds{25}, .trigger = false},
        };
        for (const Shot& shot : gun.advance(span.end, taps)) {
            for (const Vector3& direction : shot.directions(ahead)) {
                const CellHit hit = walk(1.5, 3.5, direction);
                crate_hits += hit.what == 'C' ? 1 : 0;
                std::printf("%7.1f ms  shot %2u hits the %-5s after %5.2f m, %d left\n",
                            to_milliseconds(shot.at.time_since_epoch()), shot.event.shot + 1,
                            hit.what == 'C' ? "crate" : "wall", hit.distance, shot.event.rounds);
            }
        }
        clicked = false;
        for (const WeaponEvent& event : gun.events()) {
            const double at = to_milliseconds(event.at.time_since_epoch());
            if (event.kind == WeaponEventKind::dry_fire) {
                clicked = true;
                std::printf("%7.1f ms  click\n", at);
            } else if (event.kind == WeaponEventKind::rounds_loaded) {
                std::printf("%7.1f ms  reloaded %d, reserve %d\n", at, event.moved, gun.reserve().rounds);
            } else if (event.refusal == WeaponRefusal::cycling) {
                std::printf("%7.1f ms  too early\n", at);
            }
        }
    }
    std::printf("%d hits on the crate\n", crate_hits);
}
