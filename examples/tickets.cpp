// Plays the service that decides who can join: it signs tickets, and a server that knows only its public key
// lets their bearers in. Nobody else gets in, however it tries.
//
//     tickets data/halm-ring.toml
#include <avrek/avrek.h>

#include <cstdio>
#include <memory>
#include <string>
#include <vector>

using namespace avrek;

namespace {

constexpr std::int64_t noon = 43'200; // seconds of the day at which the match begins

// A server and its clients over simulated links.
struct Venue {
    const GameData& data;
    LinkNetwork network{7};
    Server server;
    std::vector<std::unique_ptr<Client>> clients{};

    Venue(const GameData& its_data, const ServerSettings& settings)
        : data(its_data), server(its_data, settings, 3, network.server()) {}

    void run(Duration lasts) {
        const Time until = network.now() + lasts;
        while (network.now() < until) {
            network.advance(network.now() + std::chrono::milliseconds{2});
            for (const auto& client : clients) {
                (void)client->receive(network.now());
                while (client->is_tick_due(network.now())) {
                    (void)client->tick({});
                }
            }
            while (server.skirmish().now() <= network.now()) {
                server.tick(noon + network.now().time_since_epoch() / std::chrono::seconds{1});
            }
        }
    }
    // Knocks with a ticket and waits for the answer.
    Client& join(const char* what, const Credentials& with) {
        Transport& transport = network.connect({.latency = from_seconds(0.03)}, with);
        Client& client = *clients.emplace_back(std::make_unique<Client>(data, ClientSettings{}, transport));
        for (int tries = 0; client.state() == ClientState::connecting && tries < 200; ++tries) {
            run(std::chrono::milliseconds{100});
        }
        const bool is_in = client.state() == ClientState::playing;
        const std::string answer = is_in ? "is in, as player " + std::to_string(std::uint32_t(client.you()))
                                         : "is not let in: " + client.reason();
        std::printf("%-38s %s\n", what, answer.c_str());
        return client;
    }
};

} // namespace

int main(int count, char** words) {
    const std::vector<std::string> files{count > 1 ? words[1] : "data/halm-ring.toml"};
    Loaded<GameData> data = load_game_data(files);
    for (const Diagnostic& fault : data.diagnostics) {
        std::fprintf(stderr, "%s\n", to_string(fault).c_str());
    }
    const auto crew = data ? data->arsenal.body("crew") : std::nullopt;
    if (!crew) {
        return 2;
    }
    data->arena.level = Level{{{HalfSpace{world_up(), 0.0}}}};
    data->arena.plan.spawns = {{{0, 0, -12}, 0.0, TeamId{0}}, {{0, 0, 12}, pi, TeamId{1}}};

    const KeyPair service = make_keys(); // the secret half never leaves it
    ServerSettings settings{.match = 41, .issuer = service.open};
    for (const std::uint32_t id : {1U, 2U}) {
        settings.slots.push_back({.player = BodyId{id}, .team = TeamId{std::uint8_t(id - 1)}, .body = *crew});
    }
    Venue venue{*data, settings};
    const TicketClaims first{
        .match = 41, .player = BodyId{1}, .expires = noon + 60, .server = venue.network.server_key()};
    TicketClaims second = first;
    second.player = BodyId{2};

    const Credentials own = issue_credentials(service, first);
    Client& player = venue.join("the first player", own);
    venue.join("its ticket and its keys again", own);
    venue.join("a thief of its ticket", {own.ticket, make_keys()});
    venue.join("a ticket that somebody else has signed", issue_credentials(make_keys(), second));
    TicketClaims other = second;
    other.match = 40;
    venue.join("a ticket for another match", issue_credentials(service, other));
    other = second;
    other.server = make_keys().open;
    venue.join("a ticket for another server", issue_credentials(service, other));
    other = second;
    other.expires = noon - 1;
    venue.join("a ticket of yesterday", issue_credentials(service, other));
    venue.join("the second player", issue_credentials(service, second));

    // The server has given the first player a ticket of its own, bound to the same keys.
    const Ticket back = player.return_ticket().value();
    player.leave();
    venue.run(std::chrono::seconds{1});
    venue.join("the first player, back", {back, own.keys});
    return 0;
}
