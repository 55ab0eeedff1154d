// Shows the knowledge of a client about a foe behind a wall: it hears shots and steps, sees a projectile as
// it comes over the wall, and is told where the foe is when it comes round the end. That the foe took
// cartridges it learns when it can see their place. The server says what it sends, and which signs it has
// counted.
//
//     behind_a_wall data/halm-ring.toml
#include <avrek/avrek.h>

#include <cstdio>
#include <string>
#include <utility>
#include <vector>

using namespace avrek;

namespace {

constexpr BodyId listener{1};
constexpr BodyId foe{2};

// Stands behind the wall and fires, throws a seed over it, and walks around its end.
Intent foes_intent(double seconds) {
    Intent intent{.who = foe};
    if (seconds < 2.0) {
        intent.buttons.set(Button::trigger, seconds > 1.5);
    } else if (seconds < 5.0) {
        intent.slot = 1;
        intent.pitch = 1.1F;
        intent.buttons.set(Button::trigger, seconds > 4.0 && seconds < 4.1);
    } else {
        intent.yaw = static_cast<float>(seconds < 8.4 ? pi / 2 : 0.0);
        intent.ahead = 1.0F;
    }
    return intent;
}

// Faces the wall, then walks to its end.
Intent listeners_intent(double seconds) {
    const bool walks = seconds > 9.5;
    return {.yaw = static_cast<float>(walks ? pi / 2 : pi), .ahead = walks ? 1.0F : 0.0F};
}

std::string described(const Arsenal& arsenal, const Noise& noise) {
    const double side = shortest_turn(noise.direction.yaw - pi);
    const char* what = noise.kind == NoiseKind::step ? "step" : "explosion";
    if (noise.kind == NoiseKind::shot && noise.weapon) {
        what = arsenal[*noise.weapon].id.c_str();
    }
    char text[96];
    std::snprintf(text, sizeof text, "hears %s %s %.0f degrees to the %s, loudness %.2f",
                  noise.kind == NoiseKind::explosion ? "an" : "a", what, to_degrees(std::abs(side)),
                  side < 0.0 ? "right" : "left", noise.loudness);
    return text;
}

// Prints a line when it differs from the last one.
struct Telling {
    std::string last{};
    bool has_seen = false;
    void say(double seconds, const std::string& text) {
        if (text != last) {
            std::printf("%5.2f s  %s\n", seconds, text.c_str());
            last = text;
        }
    }
};

void tell(const Arsenal& arsenal, Client& client, const ClientEvents& events, Telling& lines,
          double seconds) {
    for (const Noise& noise : events.noises) {
        lines.say(seconds, described(arsenal, noise));
    }
    for (const Notice& notice : events.notices) {
        if (notice.kind == NoticeKind::launched) {
            char text[64];
            std::snprintf(text, sizeof text, "sees a projectile %.0f m up", notice.point.y());
            lines.say(seconds, text);
        } else if (notice.kind == NoticeKind::pickup_taken && notice.index == 0) {
            lines.say(seconds, "sees that the cartridges are gone");
        }
    }
    const bool sees = client.state() == ClientState::playing && client.seen(foe).has_value() &&
                      client.seen(foe)->state == BodyState::active &&
                      client.view().match().find(foe) != nullptr &&
                      client.view().match().find(foe)->vitals.state == BodyState::active;
    if (sees && !std::exchange(lines.has_seen, true)) {
        lines.say(seconds, "is told where the foe is");
    }
}

} // namespace

int main(int count, char** words) {
    const std::vector<std::string> files{count > 1 ? words[1] : "data/halm-ring.toml"};
    Loaded<GameData> data = load_game_data(files);
    for (const Diagnostic& fault : data.diagnostics) {
        std::fprintf(stderr, "%s\n", to_string(fault).c_str());
    }
    const auto rifle = data ? data->arsenal.weapon("thorn-rifle") : std::nullopt;
    const auto lobber = data ? data->arsenal.weapon("seed-lobber") : std::nullopt;
    const auto cartridges = data ? data->arsenal.pickup("cartridges") : std::nullopt;
    if (!rifle || !lobber || !cartridges) {
        return 2;
    }
    data->arena = {Level{{{HalfSpace{world_up(), 0}, SurfaceId{1}},
                          {Box{{{0, 2, 0}, Rotation::Identity()}, {12, 2, 0.2}}, SurfaceId{1}}}},
                   {.spawns = {{{0, 0, 5}, pi, TeamId{0}}, {{0, 0, -5}, 0.0, TeamId{1}}},
                    .pickups = {{*cartridges, {11, 0, -5}}}}};
    LinkNetwork network{7};
    const KeyPair issuer = make_keys();
    ServerSettings settings{.issuer = issuer.open};
    settings.skirmish.limits.combatants = 2;
    for (const BodyId player : {listener, foe}) {
        settings.slots.push_back({.player = player,
                                  .team = TeamId{static_cast<std::uint8_t>(player == foe)},
                                  .weapons = {*rifle, *lobber}});
    }
    Server server{*data, settings, 11, network.server()};
    std::vector<std::unique_ptr<Client>> clients;
    for (const BodyId player : {listener, foe}) {
        clients.push_back(std::make_unique<Client>(
            *data, ClientSettings{},
            network.connect({.latency = from_seconds(0.05)},
                            issue_credentials(issuer, {.match = settings.match,
                                                       .player = player,
                                                       .expires = 1000,
                                                       .server = network.server_key()}))));
    }
    Telling lines;
    while (network.now() < Time{std::chrono::seconds{14}}) {
        network.advance(network.now() + std::chrono::milliseconds{2});
        const double seconds = to_seconds(network.now() - Time{});
        for (const auto& client : clients) {
            ClientEvents events = client->receive(network.now());
            const bool listens = client == clients.front();
            while (client->is_tick_due(network.now())) {
                if (listens) {
                    tell(data->arsenal, *client, events, lines, seconds);
                }
                events = client->tick(listens ? listeners_intent(seconds) : foes_intent(seconds));
            }
            if (listens) {
                tell(data->arsenal, *client, events, lines, seconds);
            }
        }
        while (server.skirmish().now() <= network.now()) {
            server.tick(0);
        }
    }
    for (const PeerReadout& peer : server.peers()) {
        std::printf("player %u: %.1f kB/s down, %llu bodies left out, %llu signs\n",
                    static_cast<unsigned>(peer.player), static_cast<double>(peer.down.all_bytes()) / 14'000,
                    static_cast<unsigned long long>(peer.left_out),
                    static_cast<unsigned long long>(peer.signs.all()));
    }
    return 0;
}
