#pragma once
// Matches over simulated links, for tests.
#include "../digest/bots_fight.h"
#include <avrek/avrek.h>

#include <deque>
#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace avrek::trial {

inline const ArsenalDigest& net_digest() {
    static const ArsenalDigest digest{42, {{"weapon.rifle", 7}}};
    return digest;
}

inline GameData net_data(const Arsenal& arsenal = bots_arsenal(), const Level& level = bots_level()) {
    return {arsenal, net_digest(), {level, bots_plan()}};
}

inline LinkTrialSetup net_setup(std::size_t crew, const LinkSpec& link) {
    LinkTrialSetup setup;
    setup.bout = bots_setup(crew);
    setup.links = {link};
    setup.skirmish.limits.combatants = crew;
    return setup;
}

inline LinkTrialReport fought(const LinkTrialSetup& setup, std::uint64_t seed, double seconds,
                              const Arsenal& arsenal = bots_arsenal()) {
    const GameData data = net_data(arsenal);
    LinkTrial match{data, setup, seed};
    const auto ticks = static_cast<Tick>(seconds * setup.skirmish.rate.hertz);
    while (match.server().skirmish().tick() < ticks && !match.server().skirmish().is_over()) {
        match.step();
    }
    return match.finish();
}

// A server and clients that come and go, with bots that play them.
struct NetRig {
    KeyPair issuer = make_keys();
    LinkNetwork network{5};
    GameData data;
    std::deque<GameData> others{}; // data of other clients
    ServerSettings settings;
    std::unique_ptr<Server> server;
    std::vector<std::unique_ptr<Client>> clients;
    std::vector<Intent> wants;
    std::vector<ConnectionEvent> connections;
    Duration stood_still{}; ///< time that the server has lost
    std::function<void(std::size_t client, const ClientEvents&)> takes;

    explicit NetRig(std::size_t slots = 4, const Level& its_level = bots_level(),
                    const Arsenal& its_arsenal = bots_arsenal(), const LevelPlan& plan = bots_plan(),
                    std::uint64_t seed = 11)
        : data(net_data(its_arsenal, its_level)) {
        data.arena.plan = plan;
        settings.skirmish.limits.combatants = slots;
        settings.issuer = issuer.open;
        settings.limits.slot_reserved = std::chrono::seconds{4};
        settings.limits.silence = std::chrono::seconds{2};
        for (std::uint32_t id = 1; id <= slots; ++id) {
            settings.slots.push_back({.player = BodyId{id},
                                      .name = "player " + std::to_string(id),
                                      .team = TeamId{static_cast<std::uint8_t>(id % 2)},
                                      .weapons = {WeaponId{0}, WeaponId{3}}});
        }
        server = std::make_unique<Server>(data, settings, seed, network.server());
    }
    Credentials ticket(std::uint32_t player, std::int64_t expires = 1000) {
        return issue_credentials(
            issuer,
            {.match = 1, .player = BodyId{player}, .expires = expires, .server = network.server_key()});
    }
    Client& join(const Credentials& with, const LinkSpec& link = {}, const GameData* its = nullptr) {
        const GameData& known = its != nullptr ? others.emplace_back(*its) : data;
        clients.push_back(std::make_unique<Client>(
            known,
            ClientSettings{.locomotions = settings.skirmish.locomotions, .poses = settings.skirmish.poses},
            network.connect(link, with)));
        wants.push_back({.ahead = 1.0F});
        return *clients.back();
    }
    void take(std::size_t client, const ClientEvents& events) const {
        if (takes) {
            takes(client, events);
        }
    }
    void run(double seconds) {
        const Time until = network.now() + from_seconds(seconds);
        while (network.now() < until) {
            network.advance(network.now() + std::chrono::milliseconds{2});
            for (std::size_t index = 0; index < clients.size(); ++index) {
                take(index, clients[index]->receive(network.now()));
                while (clients[index]->is_tick_due(network.now())) {
                    take(index, clients[index]->tick(wants[index]));
                }
            }
            while (server->skirmish().now() + stood_still <= network.now()) {
                server->tick(
                    std::chrono::duration_cast<std::chrono::seconds>(network.now() - Time{}).count());
                connections.insert(connections.end(), server->connections().begin(),
                                   server->connections().end());
            }
        }
    }
    bool is_there(std::uint32_t player) const { return server->skirmish().find(BodyId{player}) != nullptr; }
};

} // namespace avrek::trial
