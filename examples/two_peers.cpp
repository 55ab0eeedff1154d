// Two machines, one bad link. First the naive way: each keeps its own health for both, takes off what its own
// player hits, and tells the other. Then Avrek's: a server says what is so, and both hear of it. Printed is
// by how much the two machines' ideas of everybody's health are apart; the last line of each is when all that
// was on its way has come.
//
//     two_peers [data/halm-ring.toml]
#include <avrek/avrek.h>

#include <cmath>
#include <cstdio>
#include <cstring>

using namespace avrek;

namespace {

constexpr int seconds = 20;

LinkSpec bad_link() {
    return {.id = "bad",
            .latency = from_seconds(0.16),
            .jitter = from_seconds(0.03),
            .loss = 0.12,
            .loss_run = 2};
}

// The naive way. A player who is shot dies on the machine that thinks so, and is back after two seconds
// there.
struct Machine {
    Transport& transport;
    PeerId other;
    std::size_t self; // whose machine it is, 0 or 1
    double health[2] = {100, 100};
    Time back_at[2] = {Time::min(), Time::min()};
    std::uint32_t shots = 0;

    void hurt(std::size_t who, double damage, Time now) {
        if (health[who] > 0.0) {
            health[who] = std::max(0.0, health[who] - damage);
            back_at[who] = health[who] > 0.0 ? Time::min() : now + from_seconds(2);
        }
    }
    void tick(Time now) {
        listen(now);
        for (std::size_t who = 0; who < 2; ++who) {
            if (health[who] == 0.0 && now >= back_at[who]) {
                health[who] = 100;
            }
        }
        // Five shots a second; a third of them hit, and who is dead does not fire.
        ++shots;
        const bool hits =
            random_pair({.seed = 4, .combatant = static_cast<std::uint32_t>(self), .shot = shots})[0] < 0.33;
        if (shots % 13 == 0 && hits && health[self] > 0.0) {
            constexpr double damage = 17;
            hurt(1 - self, damage, now);
            std::byte packet[sizeof damage];
            std::memcpy(packet, &damage, sizeof damage);
            transport.send(other, Channel::unreliable, packet);
        }
    }
    void listen(Time now) {
        TransportEvent event;
        while (transport.receive(event)) {
            double damage = 0;
            if (event.kind == TransportEventKind::packet && event.bytes.size() == sizeof damage) {
                std::memcpy(&damage, event.bytes.data(), sizeof damage);
                hurt(self, damage, now); // "I have hit you"
            }
        }
    }
};

void print(const char* way, const char* when, const double (&one)[2], const double (&other)[2]) {
    std::printf("%-6s %-9s %5.1f %5.1f   %5.1f %5.1f   %5.1f\n", way, when, one[0], one[1], other[0],
                other[1], std::abs(one[0] - other[0]) + std::abs(one[1] - other[1]));
}

void naive() {
    LinkNetwork network{3};
    Transport& far = network.connect(bad_link());
    Machine first{network.server(), PeerId{1}, 0};
    Machine second{far, server_peer, 1};
    for (Tick tick = 0; tick < 64 * seconds; ++tick) {
        const Time now = tick_span(tick, {64}).end;
        network.advance(now);
        first.tick(now);
        second.tick(now);
        if ((tick + 1) % (64 * 5) == 0) {
            char when[16];
            std::snprintf(when, sizeof when, "%2d s", static_cast<int>((tick + 1) / 64));
            print("naive", when, first.health, second.health);
        }
    }
    network.advance(network.now() + from_seconds(5));
    first.listen(network.now());
    second.listen(network.now());
    print("naive", "all come", first.health, second.health);
}

void avreks(const Arsenal& arsenal) {
    const Level floor{{{HalfSpace{world_up(), 0}, SurfaceId{1}}}};
    const LevelPlan plan{.spawns = {{{0, 0, -8}, 0, TeamId{0}}, {{0, 0, 8}, pi, TeamId{1}}},
                         .points = {{-6, 0, -8}, {6, 0, -8}, {-6, 0, 8}, {6, 0, 8}}};
    LinkTrialSetup setup;
    setup.bout = {.crew = 2, .weapons = {WeaponId{0}}, .shooters = {ShooterId{0}}};
    setup.links = {bad_link()};
    setup.skirmish.limits.combatants = 2;
    setup.interest.everything = true;                          // the health of foes too, to compare
    const GameData data{arsenal, {.whole = 1}, {floor, plan}}; // both ends are here
    LinkTrial match{data, setup, 4};
    const auto health_at = [&](std::size_t player, double(&health)[2]) {
        for (std::uint32_t id = 1; id <= 2; ++id) {
            health[id - 1] = match.client(player).ledger().number(BodyId{id}, "health");
        }
    };
    double first[2];
    double second[2];
    for (Tick tick = 0; tick < 64 * seconds; ++tick) {
        match.step();
        if ((tick + 1) % (64 * 5) == 0) {
            char when[16];
            std::snprintf(when, sizeof when, "%2d s", static_cast<int>((tick + 1) / 64));
            health_at(0, first);
            health_at(1, second);
            print("avrek", when, first, second);
        }
    }
    const LinkTrialReport report = match.finish();
    health_at(0, first);
    health_at(1, second);
    print("avrek", "all come", first, second);
    std::printf("%d kills; ledgers equal to the server's: %s and %s; events played twice: %d\n",
                static_cast<int>(report.kills), report.players[0].ledger_equal ? "yes" : "no",
                report.players[1].ledger_equal ? "yes" : "no",
                static_cast<int>(report.players[0].doubled + report.players[1].doubled));
}

} // namespace

int main(int count, char** words) {
    const Loaded<Arsenal> arsenal = load_arsenal({count > 1 ? words[1] : "data/halm-ring.toml"});
    if (!arsenal) {
        for (const Diagnostic& fault : arsenal.diagnostics) {
            std::fprintf(stderr, "%s\n", to_string(fault).c_str());
        }
        return 2;
    }
    std::printf(
        "                 machine 1     machine 2     apart\n                  #1    #2      #1    #2\n");
    naive();
    avreks(*arsenal);
}
