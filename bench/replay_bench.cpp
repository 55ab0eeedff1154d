// Seeks in a recorded match of ten minutes.
#include "../tests/skirmish/own_game.h"
#include "firing.h"
#include <avrek/data/replay_player.h>
#include <avrek/data/telemetry.h>

#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <ctime>
#include <filesystem>
#include <string>

namespace avrek {
namespace {

using Clock = std::chrono::steady_clock;

double seconds_since(Clock::time_point begin) {
    return std::chrono::duration<double>(Clock::now() - begin).count();
}

// Records ten minutes of 16 bots in the atrium, with an action of the game every half second.
void record(const GameData& data, const std::string& file) {
    Skirmish fight{data.arsenal, data.arena.level, {.limits = {.combatants = 20}}, 3, data.arena.plan};
    BoutSetup setup;
    setup.crew = 16;
    setup.melee = MeleeId{0};
    setup.weapons = {WeaponId{0}, WeaponId{1}, WeaponId{2}, WeaponId{3}};
    setup.shooters = {ShooterId{0}};
    Bots bots{fight};
    ReplayWriter writer;
    (void)writer.open(file, head_of(fight, data.digest, "", "a benchmark"), {64, 256});
    for (const BoutMember& member : bout_members(setup)) {
        writer.add(data.arsenal, entrant_of(setup, member));
    }
    begin_bout(setup, bout_members(setup), fight, bots);
    Draw draw{4};
    while (fight.tick() < 600 * 64 && !fight.is_over()) {
        const auto intents = bots.think(fight);
        const GameAction heal{
            .at = fight.now(),
            .what = HealAction{.who = BodyId{static_cast<std::uint32_t>(draw.below(16) + 1)}, .points = 10}};
        const std::span<const GameAction> actions{&heal, fight.tick() % 32 == 0 ? 1U : 0U};
        fight.advance(intents, {}, actions);
        writer.tick(fight, intents, {}, actions);
    }
    (void)writer.close();
}

void replay_seek(benchmark::State& state) {
    GameData data{bench::arsenal(), {.whole = 1}, bench::atrium()};
    for (MatchSpec& rules : data.arsenal.matches) {
        rules.score_to_win = 0; // it goes on
        rules.time_limit = Duration::max();
    }
    const std::string file = (std::filesystem::temp_directory_path() / "avrek-bench.replay").string();
    record(data, file);
    ReplayPlayer player;
    const auto begin = Clock::now();
    (void)player.open(file, data);
    state.counters["open_s"] = seconds_since(begin);
    state.counters["ticks"] = static_cast<double>(player.length());
    state.counters["file_MB"] = static_cast<double>(std::filesystem::file_size(file)) / 1e6;
    state.counters["keys_MB"] = static_cast<double>(player.key_bytes()) / 1e6;
    Draw draw{1};
    double longest = 0.0;
    for ([[maybe_unused]] const auto& step : state) {
        const auto tick = static_cast<Tick>(draw.below(static_cast<std::size_t>(player.length())));
        const auto before = Clock::now();
        player.seek(tick);
        longest = std::max(longest, seconds_since(before));
    }
    state.counters["longest_ms"] = 1e3 * longest;
    std::filesystem::remove(file);
}
BENCHMARK(replay_seek)->Iterations(300)->Unit(benchmark::kMillisecond);

double thread_seconds() {
    timespec now{};
    clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
    return static_cast<double>(now.tv_sec) + 1e-9 * static_cast<double>(now.tv_nsec);
}

// Ticks of 64 who all fire, recorded: percent that a replay and telemetry add to the thread that ticks.
void record_ticks(benchmark::State& state) {
    bench::Firing firing{64};
    firing.run(128);
    const Skirmish& fight = firing.skirmish;
    const std::string file = (std::filesystem::temp_directory_path() / "avrek-bench-recorded").string();
    ReplayWriter writer;
    Telemetry telemetry;
    if (!writer.open(file + ".replay", head_of(fight, {}, "", "a benchmark")).empty() ||
        !telemetry.open(file + ".db").empty()) {
        state.SkipWithError("a file cannot be written");
        return;
    }
    telemetry.begin(fight, "atrium");
    double ticking = 0.0;
    double writing = 0.0;
    double telling = 0.0;
    for ([[maybe_unused]] const auto& step : state) {
        const auto intents = firing.next();
        const double begin = thread_seconds();
        firing.skirmish.advance(intents);
        const double ticked = thread_seconds();
        writer.tick(fight, intents);
        const double written = thread_seconds();
        telemetry.take(fight);
        telling += thread_seconds() - written;
        writing += written - ticked;
        ticking += ticked - begin;
    }
    state.counters["replay_percent"] = 100.0 * writing / ticking;
    state.counters["telemetry_percent"] = 100.0 * telling / ticking;
    (void)writer.close();
    telemetry = Telemetry{};
    std::filesystem::remove(file + ".replay");
    std::filesystem::remove(file + ".db");
}
BENCHMARK(record_ticks)->Iterations(4000)->Unit(benchmark::kMicrosecond);

} // namespace
} // namespace avrek
