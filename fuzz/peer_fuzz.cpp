// Any bytes as what a player does that was let in: the match goes on, and another player stays in it.
#include "../tests/net/net_rig.h"
#include "../tests/net/wires.h"
#include "wire.h"
#include <avrek/scene/level_digest.h>
#include <avrek/skirmish/blended_poses.h>
#include <avrek/skirmish/named_fields.h>

#include <cmath>
#include <cstddef>
#include <cstdint>
#include <cstdlib>

using namespace avrek;

namespace {

struct Bytes {
    std::span<const std::uint8_t> left;

    std::uint8_t take() {
        const std::uint8_t value = left.empty() ? 0 : left.front();
        left = left.subspan(left.empty() ? 0 : 1);
        return value;
    }
    detail::Bytes take_some() {
        detail::Bytes some(std::min<std::size_t>(take(), left.size()));
        for (std::byte& byte : some) {
            byte = static_cast<std::byte>(take());
        }
        return some;
    }
};

void send(Transport& end, detail::MessageKind kind, Channel channel, const detail::Bytes& body) {
    detail::Bytes packet{static_cast<std::byte>(kind)};
    packet.insert(packet.end(), body.begin(), body.end());
    (void)end.send(server_peer, channel, packet);
}

void join(Transport& end, const GameData& data) {
    detail::JoinMessage message;
    message.arsenal = data.digest;
    message.level = digest_of(data.arena.level);
    message.locomotions = names_of({});
    message.poses = name_of(blended_poses());
    send(end, detail::MessageKind::join, Channel::reliable, detail::encode(message));
}

detail::Bytes intents(Bytes& from, Tick now) {
    const Tick newest = std::max<Tick>(0, now + from.take() % 32 - 8);
    detail::IntentsMessage message{newest, now - from.take() % 16, {}, from.take() % 4 == 0};
    for (int count = 1 + from.take() % 4; count > 0; --count) {
        message.intents.push_back({.yaw = static_cast<float>(from.take()) / 40.0F,
                                   .pitch = static_cast<float>(from.take()) / 128.0F - 1.0F,
                                   .ahead = 1.0F,
                                   .buttons = Buttons::from_bits(from.take()),
                                   .slot = static_cast<std::int8_t>(from.take() % 4 - 1),
                                   .spotted = BodyId{from.take() % 6U}});
    }
    return detail::encode(message);
}

void act(Bytes& from, Transport& end, Tick now) {
    const std::uint8_t what = from.take();
    const auto channel = static_cast<Channel>(what / 8 % 4);
    switch (what % 8) {
    case 0:
    case 1:
    case 2:
        send(end, detail::MessageKind::intents, Channel::unreliable, intents(from, now));
        break;
    case 3:
        send(end, detail::MessageKind::command, Channel::reliable,
             detail::encode(GameCommand{BodyId{1}, now + from.take() % 32, from.take(), from.take_some()}));
        break;
    case 4:
        send(end, detail::MessageKind::proposal, Channel::reliable,
             detail::encode_proposal(from.take_some()));
        break;
    case 5:
        send(end, static_cast<detail::MessageKind>(from.take()), channel, from.take_some());
        break;
    case 6: { // a sound message with a changed byte
        detail::Bytes body = intents(from, now);
        body[from.take() % body.size()] ^= static_cast<std::byte>(from.take());
        send(end, detail::MessageKind::intents, channel, body);
        break;
    }
    default:
        (void)end.send(server_peer, channel, from.take_some());
        break;
    }
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t size) {
    static const GameData data = trial::net_data();
    static const KeyPair issuer = make_keys();
    static const KeyPair keys = make_keys();
    Bytes from{{bytes, size}};
    trial::Wires wires{keys.open};
    ServerSettings settings;
    settings.issuer = issuer.open;
    settings.skirmish.limits.combatants = 2;
    for (std::uint32_t id = 1; id <= 2; ++id) {
        settings.slots.push_back({.player = BodyId{id},
                                  .team = TeamId{static_cast<std::uint8_t>(id % 2)},
                                  .weapons = {WeaponId{0}, WeaponId{1}}});
    }
    Server server{data, settings, 11, wires.server};
    for (std::uint32_t id = 1; id <= 2; ++id) {
        join(wires.connect(id, issue_credentials(issuer, {.match = 1,
                                                          .player = BodyId{id},
                                                          .expires = 1000,
                                                          .server = keys.open,
                                                          .may_tune = id == 1})),
             data);
    }
    server.tick(1);
    if (server.skirmish().find(BodyId{1}) == nullptr) {
        std::abort(); // nothing behind the ticket would be reached
    }
    for (int tick = 0; tick < 64 && !from.left.empty(); ++tick) {
        for (int count = from.take() % 8; count > 0; --count) {
            act(from, wires.clients.at(PeerId{1}), server.skirmish().tick());
        }
        server.tick(1);
    }
    for (const NamedField& field : named_fields(server.skirmish())) {
        const double* value = std::get_if<double>(&field.value);
        if (value != nullptr && std::isnan(*value)) {
            std::abort();
        }
    }
    if (server.skirmish().find(BodyId{2}) == nullptr) {
        std::abort();
    }
    return 0;
}
