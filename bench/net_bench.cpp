#include "atrium.h"
#include "tampering_client.h"
#include <avrek/net/link_trial.h>
#include <avrek/scene/level_digest.h>

#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <vector>

using namespace avrek;

namespace {

using Clock = std::chrono::steady_clock;

double share_of(std::vector<double>& times, double share) {
    const auto at = static_cast<std::size_t>(share * static_cast<double>(times.size() - 1));
    std::nth_element(times.begin(), times.begin() + static_cast<std::ptrdiff_t>(at), times.end());
    return times[at];
}

// A server's tick with so many bots as clients, in the atrium: everything that the server does, and nothing
// of what clients and links do.
void server_tick(benchmark::State& state) {
    const GameData data{bench::arsenal(), {.whole = 1}, bench::atrium()}; // both ends are here
    LinkTrialSetup setup;
    setup.bout.crew = static_cast<std::size_t>(state.range(0));
    setup.bout.melee = MeleeId{0};
    setup.bout.weapons = {WeaponId{0}, WeaponId{1}, WeaponId{2}, WeaponId{3}};
    setup.bout.shooters = {ShooterId{0}};
    setup.links = {{.latency = from_seconds(0.1)}};
    setup.skirmish.limits.combatants = setup.bout.crew;
    LinkTrial match{data, setup, 7};
    for (int tick = 0; tick < 320; ++tick) {
        match.step();
    }
    std::vector<double> times;
    for (auto _ : state) {
        match.wait();
        const auto before = Clock::now();
        benchmark::DoNotOptimize(match.tick().size());
        times.push_back(std::chrono::duration<double>(Clock::now() - before).count());
        state.SetIterationTime(times.back());
    }
    state.counters["median_ms"] = 1e3 * share_of(times, 0.5);
    state.counters["p99_ms"] = 1e3 * share_of(times, 0.99);
}
BENCHMARK(server_tick)->Arg(16)->Arg(64)->UseManualTime()->Unit(benchmark::kMicrosecond)->Iterations(960);

// The same of a server with seven honest clients, without and with one that sends so many packets a
// millisecond; the server may, or may not, send it away for that.
void flooded_tick(benchmark::State& state) {
    const GameData data{bench::arsenal(), {.whole = 1}, bench::atrium()}; // both ends are here
    const KeyPair issuer = make_keys();
    ServerSettings settings;
    settings.issuer = issuer.open;
    if (state.range(1) == 0) {
        settings.limits.faults = 1 << 30; // it is not sent away
    }
    for (std::uint32_t id = 1; id <= 8; ++id) {
        settings.slots.push_back({.player = BodyId{id},
                                  .team = TeamId{static_cast<std::uint8_t>(id % 2)},
                                  .weapons = {WeaponId{0}}});
    }
    LinkNetwork network{3};
    Server server{data, settings, 5, network.server()};
    const auto credentials = [&](std::uint32_t player) {
        return issue_credentials(
            issuer, {.match = 1, .player = BodyId{player}, .expires = 1000, .server = network.server_key()});
    };
    trial::TamperingClient other{network.connect({}, credentials(8)),
                                 data.digest,
                                 digest_of(data.arena.level),
                                 {.floods = static_cast<int>(state.range(0))}};
    std::vector<std::unique_ptr<Client>> clients;
    for (std::uint32_t id = 1; id <= 7; ++id) {
        clients.push_back(
            std::make_unique<Client>(data, ClientSettings{}, network.connect({}, credentials(id))));
    }
    std::vector<double> times;
    const auto step = [&] {
        while (network.now() < server.skirmish().now()) {
            network.advance(network.now() + std::chrono::milliseconds{1});
            other.run({.buttons = {Button::trigger}}, server.skirmish().tick());
            for (const auto& client : clients) {
                (void)client->receive(network.now());
                while (client->is_tick_due(network.now())) {
                    (void)client->tick({.ahead = 1.0F, .buttons = {Button::trigger}});
                }
            }
        }
        const auto before = Clock::now();
        server.tick(1);
        times.push_back(std::chrono::duration<double>(Clock::now() - before).count());
    };
    for (int tick = 0; tick < 128; ++tick) {
        step();
    }
    times.clear();
    for (auto _ : state) {
        step();
        state.SetIterationTime(times.back());
    }
    state.counters["median_ms"] = 1e3 * share_of(times, 0.5);
    state.counters["dropped"] = static_cast<double>(server.faults()[PeerFault::too_many]);
}
BENCHMARK(flooded_tick)
    ->ArgNames({"packets_per_ms", "is_sent_away"})
    ->Args({0, 1})
    ->Args({50, 1})
    ->Args({50, 0})
    ->UseManualTime()
    ->Unit(benchmark::kMicrosecond)
    ->Iterations(960);

} // namespace
