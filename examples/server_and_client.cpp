// A networked match by hand: one server and two clients in one program, over simulated links, ten seconds.
//
// Both players run at each other and fire. Each client predicts its own player and hears of hits from the
// server; the last lines compare what everybody knows in the end.
//
//     server_and_client data/halm-ring.toml
#include <avrek/avrek.h>

#include <cstdio>
#include <vector>

using namespace avrek;

namespace {

constexpr Duration length = std::chrono::seconds{10};

struct Player {
    BodyId id;
    Client client;
    float yaw; // towards the other
    std::size_t shots = 0;
    std::size_t withdrawn = 0; // mispredicted
    std::size_t hits = 0;

    void count(const ClientEvents& events) {
        for (const OwnEvent& event : events.own) {
            if (std::holds_alternative<ShotEvent>(event.event)) {
                shots += event.mark == EventMark::predicted ? 1 : 0;
                withdrawn += event.mark == EventMark::withdrawn ? 1 : 0;
            }
        }
        for (const Notice& notice : events.notices) {
            hits += notice.kind == NoticeKind::hit ? 1 : 0;
        }
    }
    // One frame of a game: hear what came, then play every tick that is due.
    void frame(Time clock) {
        count(client.receive(clock));
        while (client.is_tick_due(clock)) {
            const Tick beat = client.view().tick() % 256; // four seconds
            Intent intent{.yaw = yaw, .ahead = 0.4F};
            intent.buttons.set(Button::trigger, beat % 64 < 40 && beat < 160);
            intent.buttons.set(Button::reload, beat >= 160);
            count(client.tick(intent));
        }
    }
};

} // namespace

int main(int count, char** words) {
    const std::vector<std::string> files{count > 1 ? words[1] : "data/halm-ring.toml"};
    Loaded<GameData> data = load_game_data(files);
    for (const Diagnostic& fault : data.diagnostics) {
        std::fprintf(stderr, "%s\n", to_string(fault).c_str());
    }
    const auto rifle = data ? data->arsenal.weapon("thorn-rifle") : std::nullopt;
    const auto crew = data ? data->arsenal.body("crew") : std::nullopt;
    if (!rifle || !crew || data->arsenal.links.empty()) {
        std::fprintf(stderr, "the arsenal needs a thorn-rifle, a crew and a link\n");
        return 2;
    }
    data->arena.level = Level{{{HalfSpace{world_up(), 0.0}}}};
    data->arena.plan.spawns = {{{0, 0, -12}, 0.0, TeamId{0}}, {{0, 0, 12}, pi, TeamId{1}}};

    // A service of yours signs tickets for those who may join; the server knows its key.
    const KeyPair issuer = make_keys();
    ServerSettings settings{.issuer = issuer.open};
    for (std::uint32_t id = 1; id <= 2; ++id) {
        settings.slots.push_back({.player = BodyId{id},
                                  .team = TeamId{static_cast<std::uint8_t>(id - 1)},
                                  .body = *crew,
                                  .weapons = {*rifle}});
    }
    LinkNetwork network{7};
    for (const Diagnostic& fault : validate(*data, settings)) { // none, here
        std::fprintf(stderr, "%s\n", to_string(fault).c_str());
    }
    Server server{*data, settings, 3, network.server()};
    const auto join = [&](std::uint32_t id, const LinkSpec& link, double yaw) {
        const TicketClaims claims{
            .match = settings.match, .player = BodyId{id}, .expires = 3600, .server = network.server_key()};
        return Player{BodyId{id},
                      {*data, {}, network.connect(link, issue_credentials(issuer, claims))},
                      static_cast<float>(yaw)};
    };
    Player players[] = {join(1, data->arsenal.links.front(), 0.0), join(2, data->arsenal.links.back(), pi)};

    // Both sides run by their own clocks; here one simulated clock drives them all.
    while (network.now() < Time{length}) {
        network.advance(network.now() + std::chrono::milliseconds{2});
        for (Player& player : players) {
            player.frame(network.now());
        }
        while (server.skirmish().now() <= network.now()) {
            server.tick(network.now().time_since_epoch() / std::chrono::seconds{1});
            for (const ConnectionEvent& event : server.connections()) {
                std::printf("%6.3f s  player %u %s\n", to_seconds(network.now() - Time{}),
                            static_cast<unsigned>(event.player),
                            event.kind == ConnectionEvent::Kind::connected ? "is in" : event.reason.c_str());
            }
        }
    }
    for (const Player& player : players) {
        const PlayerStats& stats = std::as_const(server).skirmish().match().find(player.id)->stats;
        std::printf("player %u: %zu shots predicted, %zu of them withdrawn, %u fired on the server, %u hit; "
                    "%zu hits heard of; %d deaths\n",
                    static_cast<unsigned>(player.id), player.shots, player.withdrawn, stats.shots,
                    stats.shots_hit, player.hits, stats.deaths);
    }
    server.shut_down("the ten seconds are over");
}
