// Measures the tick of a server with many players over a real UDP port: their packets, the fight, what each
// may know, and the snapshots. Another process speaks for the players. Bots think for them between the ticks.
//
//     avrek_crowd [PLAYERS ...]
#include "atrium.h"
#include "tampering_client.h"
#include <avrek/net/server.h>
#include <avrek/net/udp_transport.h>
#include <avrek/scene/level_digest.h>
#include <avrek/skirmish/bots.h>

#include <sys/mman.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <memory>
#include <new>
#include <thread>
#include <vector>

using namespace avrek;

namespace {

using Clock = std::chrono::steady_clock;

constexpr std::uint32_t max_players = 128;
constexpr std::int64_t day = 1'000;
constexpr TickRate rate{64};
constexpr int warm_up = 6 * 64;
constexpr int measured_ticks = 20 * 64;

// Memory that both processes see.
struct Shared {
    std::atomic<std::uint16_t> port{0};
    std::atomic<Tick> tick{0};
    std::atomic<bool> ends{false};
    std::array<Intent, max_players> intents{}; // a torn one does no harm
};

Shared& shared_memory() {
    void* room = ::mmap(nullptr, sizeof(Shared), PROT_READ | PROT_WRITE, MAP_SHARED | MAP_ANONYMOUS, -1, 0);
    if (room == MAP_FAILED) {
        std::abort();
    }
    return *new (room) Shared;
}

struct Keys {
    KeyPair issuer = make_keys();
    KeyPair server = make_keys();
};

struct Player {
    std::unique_ptr<UdpClient> transport{};
    std::unique_ptr<trial::TamperingClient> client{};
};

// The other process: all players, until it is told to end.
void play(Shared& shared, const Keys& keys, const GameData& data, std::uint32_t count) {
    while (shared.port == 0) {
        std::this_thread::sleep_for(std::chrono::milliseconds{1});
    }
    std::vector<Player> players;
    const std::uint64_t level = digest_of(data.arena.level);
    for (std::uint32_t id = 1; id <= count; ++id) {
        auto connected = UdpClient::connect(
            "127.0.0.1", shared.port,
            issue_credentials(
                keys.issuer,
                {.match = 1, .player = BodyId{id}, .expires = day + 100'000, .server = keys.server.open}));
        if (!connected) {
            std::abort();
        }
        Player& player = players.emplace_back(Player{std::move(*connected), {}});
        player.client = std::make_unique<trial::TamperingClient>(*player.transport, data.digest, level,
                                                                 trial::Tampering{});
    }
    while (!shared.ends) {
        for (std::uint32_t index = 0; index < count; ++index) {
            Player& player = players[index];
            const auto views = player.client->views();
            player.client->run(shared.intents[index], shared.tick, 4, views.empty() ? -1 : views.back().tick);
            player.transport->flush();
        }
        std::this_thread::sleep_for(std::chrono::milliseconds{2});
    }
}

double share(std::vector<double>& times, double part) {
    const auto at = static_cast<std::ptrdiff_t>(part * static_cast<double>(times.size() - 1));
    std::nth_element(times.begin(), times.begin() + at, times.end());
    return 1e3 * times[static_cast<std::size_t>(at)];
}

void serve(Shared& shared, const Keys& keys, const GameData& data, std::uint32_t count, bool tells_all) {
    auto listening = UdpServer::listen("127.0.0.1", 0, {.keys = keys.server, .max_peers = count});
    ServerSettings settings;
    settings.issuer = keys.issuer.open;
    settings.skirmish.rate = rate;
    settings.skirmish.limits.combatants = count;
    settings.interest.everything = tells_all;
    for (std::uint32_t id = 1; id <= count; ++id) {
        settings.slots.push_back({.player = BodyId{id},
                                  .team = TeamId{static_cast<std::uint8_t>(id % 2)},
                                  .melee = MeleeId{0},
                                  .weapons = {WeaponId{0}, WeaponId{1}, WeaponId{2}, WeaponId{3}}});
    }
    Server server{data, settings, 5, **listening};
    Bots bots{server.skirmish()};
    for (std::uint32_t id = 1; id <= count; ++id) {
        bots.add(BodyId{id}, ShooterId{0});
    }
    shared.port = (*listening)->port();
    std::vector<double> ticks;
    Clock::time_point due = Clock::now();
    std::uint64_t missing = 0;
    for (int tick = 0; tick < warm_up + measured_ticks; ++tick) {
        for (const Intent& intent : bots.think(server.skirmish())) {
            shared.intents[static_cast<std::uint32_t>(intent.who) - 1] = intent;
        }
        std::this_thread::sleep_until(due);
        const Clock::time_point before = Clock::now();
        server.tick(day);
        const double took = std::chrono::duration<double>(Clock::now() - before).count();
        shared.tick = server.skirmish().tick();
        if (tick >= warm_up) {
            ticks.push_back(took);
        }
        due = std::max(due + std::chrono::nanoseconds{1'000'000'000 / rate.hertz}, Clock::now());
    }
    std::size_t playing = 0;
    for (const PeerReadout& peer : server.peers()) {
        playing += peer.is_playing ? 1 : 0;
        missing += peer.missing;
    }
    std::printf(
        "%3u players (%zu there), %-10s: median %.3f ms, 90 of 100 %.3f ms, 99 of 100 %.3f ms; %.2f %% of "
        "the intents were missing\n",
        count, playing, tells_all ? "all told" : "interest", share(ticks, 0.5), share(ticks, 0.9),
        share(ticks, 0.99),
        100.0 * static_cast<double>(missing) / (static_cast<double>(count) * (warm_up + measured_ticks)));
}

void measure(const GameData& data, std::uint32_t count, bool tells_all) {
    Shared& shared = shared_memory();
    const Keys keys;
    std::fflush(stdout);
    const pid_t players = ::fork();
    if (players == 0) {
        (void)::setpriority(PRIO_PROCESS, 0, 19);
        play(shared, keys, data, count);
        ::_exit(0);
    }
    serve(shared, keys, data, count, tells_all);
    shared.ends = true;
    ::waitpid(players, nullptr, 0);
    ::munmap(&shared, sizeof shared);
}

} // namespace

int main(int count, char** words) {
    const GameData data{bench::arsenal(), {.whole = 1}, bench::atrium()};
    std::vector<std::uint32_t> crowds;
    for (int word = 1; word < count; ++word) {
        crowds.push_back(
            std::clamp<std::uint32_t>(static_cast<std::uint32_t>(std::atoi(words[word])), 1, max_players));
    }
    for (const std::uint32_t players : crowds.empty() ? std::vector<std::uint32_t>{16, 64, 128} : crowds) {
        measure(data, players, false);
        measure(data, players, true);
    }
    return 0;
}
