#pragma once
// A client that is told anything: messages to one that played fair, as bytes change them.
#include "net_rig.h"
#include "wires.h"
#include <avrek/net/client.h>
#include <avrek/net/server.h>

#include <cstdlib>
#include <vector>

namespace avrek::trial {

/// Messages of a server in a match, by ticks.
inline const std::vector<std::vector<TransportEvent>>& said_by_server() {
    static const std::vector<std::vector<TransportEvent>> said = [] {
        const KeyPair issuer = make_keys();
        const KeyPair keys = make_keys();
        Wires wires{keys.open};
        const GameData data = net_data();
        ServerSettings settings;
        settings.issuer = issuer.open;
        settings.skirmish.limits.combatants = 4;
        settings.interest.everything = true;
        for (std::uint32_t id = 1; id <= 4; ++id) {
            settings.slots.push_back({.player = BodyId{id},
                                      .name = "player " + std::to_string(id),
                                      .team = TeamId{static_cast<std::uint8_t>(id % 2)},
                                      .weapons = {WeaponId{0}, WeaponId{1}}});
        }
        Server server{data, settings, 11, wires.server};
        std::vector<std::unique_ptr<Client>> clients;
        for (std::uint32_t id = 1; id <= 3; ++id) {
            Wires::End& end = wires.connect(
                id, issue_credentials(
                        issuer, {.match = 1, .player = BodyId{id}, .expires = 1000, .server = keys.open}));
            clients.push_back(std::make_unique<Client>(data, ClientSettings{}, end));
        }
        std::vector<std::vector<TransportEvent>> told;
        for (int tick = 0; tick < 48; ++tick) {
            const auto& in = wires.clients.at(PeerId{1}).in;
            told.emplace_back(in.begin(), in.end());
            for (std::size_t index = 0; index < clients.size(); ++index) {
                Client& client = *clients[index];
                const Time now = tick_span(tick, settings.skirmish.rate).begin;
                (void)client.receive(now);
                while (client.is_tick_due(now)) {
                    (void)client.tick({.yaw = static_cast<float>(index),
                                       .ahead = 1.0F,
                                       .buttons = {Button::trigger},
                                       .slot = static_cast<std::int8_t>(tick / 24)});
                }
            }
            server.tick(1);
        }
        return told;
    }();
    return said;
}

/// Lets a client live through what was said, changed as bytes say: a byte for each message, and those that it
/// asks for. Returns the client's state afterwards.
class ToldClient {
  public:
    explicit ToldClient(std::span<const std::uint8_t> changes) : changes_(changes) {}

    ClientState run() {
        static const GameData data = net_data();
        Wires wires{PublicKey{}};
        Wires::End& end = wires.clients[PeerId{1}];
        Client client{data, {}, end};
        Time now{};
        for (const auto& of_tick : said_by_server()) {
            now += std::chrono::nanoseconds{15'625'000};
            for (const TransportEvent& event : of_tick) {
                say(event, end);
            }
            (void)client.receive(now);
            for (int ticks = 0; client.is_tick_due(now); ++ticks) {
                (void)client.tick({.ahead = 1.0F, .buttons = {Button::trigger}});
                if (ticks == 1000) {
                    std::abort(); // it would never be done
                }
            }
            if (client.state() == ClientState::playing) {
                (void)client.view().state_hash();
                for (const Fighter& fighter : client.view().fighters()) {
                    (void)client.seen(fighter.id);
                }
            }
            if (changes_.empty() && stops_early) {
                break;
            }
        }
        not_understood = client.counts().not_understood;
        return client.state();
    }
    bool stops_early = false;         ///< when there are no more changes
    std::uint64_t not_understood = 0; ///< messages, of the last run()

  private:
    std::uint8_t take() {
        const std::uint8_t value = changes_.empty() ? 0 : changes_.front();
        changes_ = changes_.subspan(changes_.empty() ? 0 : 1);
        return value;
    }
    void say(TransportEvent event, Wires::End& end) {
        if (event.kind != TransportEventKind::packet) {
            end.in.push_back(std::move(event));
            return;
        }
        switch (take() % 8) {
        case 3:
        case 4: { // a few bytes of it are others
            for (int count = 1 + take() % 4; count > 0; --count) {
                const std::size_t at = (take() + 256U * (take() % 2U)) % event.bytes.size();
                event.bytes[at] ^= static_cast<std::byte>(take());
            }
            break;
        }
        case 5:
            event.bytes.resize(std::min<std::size_t>(event.bytes.size(), 1U + take()));
            break;
        case 6: { // all but its kind is something else
            event.bytes.resize(1);
            for (int count = take(); count > 0; --count) {
                event.bytes.push_back(static_cast<std::byte>(take()));
            }
            break;
        }
        case 7:
            end.in.push_back(event); // twice
            break;
        default:
            break;
        }
        end.in.push_back(std::move(event));
    }

    std::span<const std::uint8_t> changes_;
};

} // namespace avrek::trial
