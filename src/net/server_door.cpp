#include "server_running.h"

#include <algorithm>
#include <utility>

/// What comes to the server: who may come in, and what of their packets counts.
namespace avrek {

namespace {

constexpr Duration guilt_lasts = std::chrono::seconds{10};
constexpr std::size_t most_join = std::size_t{48} * 1024;

} // namespace

const Seat* Server::Running::seat_of(BodyId player) const {
    const auto found = std::find_if(settings.seats.begin(), settings.seats.end(),
                                    [player](const Seat& seat) { return seat.player == player; });
    return found != settings.seats.end() ? &*found : nullptr;
}

Entrant Server::Running::entrant_of(const Seat& seat) const {
    return {.id = seat.player,
            .team = seat.team,
            .body = seat.body,
            .melee = seat.melee,
            .weapons = seat.weapons,
            .spawns = seat.spawns};
}

Peer* Server::Running::peer_of(BodyId player) {
    const auto found = std::find_if(peers.begin(), peers.end(),
                                    [player](const auto& one) { return one.second.player == player; });
    return player != nobody && found != peers.end() ? &found->second : nullptr;
}

void Server::Running::receive() {
    TransportEvent event;
    while (transport.receive(event)) {
        const auto number = static_cast<std::uint32_t>(event.peer);
        const auto found = peers.find(number);
        switch (event.kind) {
        case TransportEventKind::came: {
            const auto knocking = std::count_if(peers.begin(), peers.end(),
                                                [](const auto& one) { return one.second.player == nobody; });
            if (std::cmp_greater_equal(knocking, settings.limits.knocking)) {
                transport.close(event.peer);
                break;
            }
            Peer& peer = peers[number];
            peer = {};
            peer.id = event.peer;
            peer.came_at = peer.heard_at = peer.guilt_from = now();
            peer.allowance = settings.limits.packets;
            break;
        }
        case TransportEventKind::packet:
            if (found != peers.end()) {
                take_packet(found->second, event);
            }
            break;
        case TransportEventKind::went:
            if (found != peers.end()) {
                drop(number, DoorEvent::Kind::lost, "the connection is gone");
            }
            break;
        }
    }
}

void Server::Running::take_packet(Peer& peer, const TransportEvent& event) {
    if (peer.allowance < 1.0) {
        fault(peer, PeerFault::too_many);
        return;
    }
    peer.allowance -= 1.0;
    const bool plays = peer.player != nobody;
    if (event.bytes.size() > (plays ? net::most_client_packet : most_join)) {
        fault(peer, PeerFault::oversized);
        return;
    }
    if (event.bytes.empty()) {
        fault(peer, PeerFault::malformed);
        return;
    }
    const auto kind = static_cast<net::MessageKind>(event.bytes[0]);
    if (!plays) {
        peer.up.add(TrafficKind::door, event.bytes.size());
        if (kind == net::MessageKind::join && event.carriage == Carriage::certain) {
            take_join(peer, event);
        } else {
            fault(peer, PeerFault::unexpected);
        }
        return;
    }
    net::SealFault seal = net::SealFault::none;
    const std::span<const std::byte> body =
        peer.seal.open(event.bytes, event.carriage == Carriage::certain, seal);
    if (seal != net::SealFault::none) {
        fault(peer, seal == net::SealFault::forged     ? PeerFault::forged
                    : seal == net::SealFault::replayed ? PeerFault::replayed
                                                       : PeerFault::malformed);
        return;
    }
    peer.heard_at = now();
    peer.up.add(kind == net::MessageKind::intents ? TrafficKind::stream : TrafficKind::door,
                event.bytes.size());
    if (kind == net::MessageKind::intents && event.carriage == Carriage::newest) {
        if (const auto message = net::decode_intents(body, peer.player)) {
            take_intents(peer, *message);
        } else {
            fault(peer, PeerFault::malformed);
        }
    } else if (kind == net::MessageKind::leave && event.carriage == Carriage::certain) {
        peer.leaves = true; // look_at_peers() sees to it
    } else {
        fault(peer, PeerFault::unexpected);
    }
}

void Server::Running::take_intents(Peer& peer, const net::IntentsMessage& message) {
    const Tick next = skirmish.tick();
    const TickRate rate = skirmish.settings().rate;
    const Tick furthest = next + static_cast<Tick>(to_seconds(settings.limits.ahead) * rate.hertz);
    const auto count = static_cast<Tick>(message.intents.size());
    const Peer::Sent& seen = peer.sent[place_of(std::max<Tick>(0, message.shown), peer.sent.size())];
    const bool was_sent = message.shown >= 0 && seen.tick == message.shown;
    if (was_sent && message.shown > peer.shown) {
        peer.shown = message.shown;
        const Duration sample = now() - seen.at;
        peer.round_trip =
            peer.round_trip == Duration{} ? sample : peer.round_trip + (sample - peer.round_trip) / 16;
    }
    if (message.newest > furthest) {
        fault(peer, PeerFault::too_early);
        return;
    }
    for (Tick place = 0; place < count; ++place) {
        const Tick tick = message.newest - (count - 1 - place);
        if (tick < peer.joined) {
            continue;
        }
        Peer::Wanted& wanted = peer.wanted[static_cast<std::size_t>(tick) % Peer::ring];
        if (tick < next) {
            if (wanted.tick != tick) {
                wanted = {tick, -1, {}}; // once is enough
                fault(peer, PeerFault::too_late);
            }
        } else if (wanted.tick != tick) {
            wanted = {tick, was_sent ? message.shown : peer.shown,
                      message.intents[static_cast<std::size_t>(place)]};
        }
    }
    if (message.newest > peer.newest) {
        peer.newest = message.newest;
        const auto early = static_cast<std::int32_t>(std::clamp<Tick>(message.newest - next, -10000, 10000));
        peer.early = peer.early_is_new ? std::min(peer.early, early) : early;
        peer.early_is_new = true;
    }
}

void Server::Running::refuse(Peer& peer, const std::string& reason,
                             const std::vector<std::string>& differing) {
    net::Bytes packet{std::byte{static_cast<std::uint8_t>(net::MessageKind::refusal)}};
    const net::Bytes body = net::encode(net::RefusalMessage{reason, differing});
    packet.insert(packet.end(), body.begin(), body.end());
    transport.send(peer.id, Carriage::certain, packet);
    peer.down.add(TrafficKind::door, packet.size());
    drop(static_cast<std::uint32_t>(peer.id), DoorEvent::Kind::refused, reason);
}

void Server::Running::take_join(Peer& peer, const TransportEvent& event) {
    const auto open = net::opened(settings.keys, std::span{event.bytes}.subspan(1));
    const auto join = open ? net::decode_join(*open) : std::nullopt;
    if (!join) {
        fault(peer, PeerFault::malformed);
        return;
    }
    if (join->version != net::wire_version) {
        refuse(peer, "version " + std::to_string(join->version) +
                         " is not spoken here; allowed: " + std::to_string(net::wire_version));
        return;
    }
    // What is not as here comes first: a ticket is not used up by that.
    if (join->level != level_digest) {
        refuse(peer, "the level is not the one that is played here");
        return;
    }
    if (join->arsenal == ArsenalDigest{} || digest == ArsenalDigest{}) {
        refuse(
            peer,
            "the arsenal has no digest, so nobody can tell whether it is the one that is played with here");
        return;
    }
    if (join->arsenal.whole != digest.whole) {
        refuse(peer, "the arsenal is not the one that is played with here",
               differing_entries(digest, join->arsenal));
        return;
    }
    TicketClaims claims;
    const TicketFault fault = tickets.admit(join->ticket, now_of_day, claims);
    if (fault != TicketFault::none) {
        refuse(peer, "the ticket " + std::string{to_string(fault)});
        return;
    }
    if (seat_of(claims.player) == nullptr) {
        refuse(peer,
               "there is no seat for player " + std::to_string(static_cast<std::uint32_t>(claims.player)));
        return;
    }
    admit(peer, *join, claims);
}

void Server::Running::admit(Peer& peer, const net::JoinMessage& join, const TicketClaims& claims) {
    const auto keys = net::keys_of_server(settings.keys, join.key);
    if (!keys) {
        refuse(peer, "its key is no key");
        return;
    }
    const Seat& seat = *seat_of(claims.player);
    if (const Peer* before = peer_of(seat.player)) { // the newer ticket counts
        const auto number = static_cast<std::uint32_t>(before->id);
        drop(number, DoorEvent::Kind::lost, "the same player has joined from elsewhere");
    }
    waiting_seats.erase(static_cast<std::uint32_t>(seat.player));
    if (skirmish.find(seat.player) == nullptr) {
        if (!skirmish.add(entrant_of(seat))) {
            refuse(peer, skirmish.is_over() ? "the match is over" : "there is no room");
            return;
        }
        entered.push_back(seat.player);
        ledger.set(seat.player, "name", seat.name);
        publish({.kind = NoticeKind::came, .at = now(), .who = seat.player}, {}, false);
    }
    peer.player = seat.player;
    peer.team = seat.team;
    peer.seal = net::Seal{*keys};
    peer.joined = skirmish.tick();
    peer.newest = peer.joined - 1;
    peer.own_kinds = net::kinds_of_own_state(skirmish, seat.player);
    keep_ledger();
    net::WelcomeMessage welcome;
    welcome.you = seat.player;
    welcome.team = seat.team;
    welcome.body = seat.body;
    welcome.melee = seat.melee;
    welcome.tick = skirmish.tick();
    welcome.settings = skirmish.settings();
    welcome.rules = skirmish.match().rules().id;
    welcome.seed_is_kept = settings.keeps_seed;
    welcome.seed = settings.keeps_seed ? 0 : skirmish.seed();
    send(peer, net::MessageKind::welcome, Carriage::certain, TrafficKind::door, net::encode(welcome));
    send_ledger(peer);
    for (Notice& notice : board.for_listener(peer.player, peer.team)) {
        peer.outbox.push_back(std::move(notice));
    }
    door.push_back({DoorEvent::Kind::came, peer.id, peer.player, {}});
}

// Allowances, silence, guilt.
void Server::Running::look_at_peers() {
    const double each = static_cast<double>(settings.limits.packets) / skirmish.settings().rate.hertz;
    struct Going {
        std::uint32_t number;
        DoorEvent::Kind kind;
        std::string reason;
    };
    std::vector<Going> going;
    for (auto& [number, peer] : peers) {
        peer.allowance = std::min<double>(settings.limits.packets / 2.0 + 1.0, peer.allowance + each);
        if (peer.leaves) {
            going.push_back({number, DoorEvent::Kind::left, "left"});
        } else if (peer.faults.guilty() - peer.guilt_before >
                   static_cast<std::uint64_t>(settings.limits.faults)) {
            std::string what;
            for (std::size_t kind = 0; kind < peer_fault_count; ++kind) {
                if (peer.faults.counts[kind] > 0) {
                    what += (what.empty() ? "" : ", ") + std::to_string(peer.faults.counts[kind]) + ' ' +
                            std::string{to_string(static_cast<PeerFault>(kind))};
                }
            }
            going.push_back(
                {number, DoorEvent::Kind::removed, "too many packets that do not belong: " + what});
        } else if (now() - peer.heard_at > settings.limits.silence) {
            going.push_back({number, DoorEvent::Kind::lost, "nothing was heard of it"});
        }
        if (now() - peer.guilt_from > guilt_lasts) {
            peer.guilt_from = now();
            peer.guilt_before = peer.faults.guilty();
        }
    }
    for (const Going& one : going) {
        drop(one.number, one.kind, one.reason);
    }
}

void Server::Running::drop(std::uint32_t number, DoorEvent::Kind kind, const std::string& reason) {
    const auto found = peers.find(number);
    if (found == peers.end()) {
        return;
    }
    Peer peer = std::move(found->second);
    peers.erase(found);
    gone_faults += peer.faults;
    if (peer.player != nobody && kind != DoorEvent::Kind::left) {
        send(peer, net::MessageKind::goodbye, Carriage::certain, TrafficKind::door,
             net::encode_goodbye(reason));
    }
    transport.close(peer.id);
    door.push_back({kind, peer.id, peer.player, reason});
    if (peer.player == nobody) {
        return;
    }
    if (kind == DoorEvent::Kind::lost) {
        waiting_seats[static_cast<std::uint32_t>(peer.player)] = now() + settings.limits.seat_waits;
    } else {
        leave_match(peer.player);
    }
}

void Server::Running::give_up_seats() {
    for (auto at = waiting_seats.begin(); at != waiting_seats.end();) {
        const auto [player, until] = *at;
        at = now() >= until ? waiting_seats.erase(at) : std::next(at);
        if (now() >= until) {
            leave_match(BodyId{player});
        }
    }
}

void Server::Running::leave_match(BodyId player) {
    if (!skirmish.remove(player)) {
        return;
    }
    departed.push_back(player);
    told.erase(static_cast<std::uint32_t>(player));
    ledger.forget(player);
    board.forget(NoticeKind::death, player);
    publish({.kind = NoticeKind::left, .at = now(), .who = player}, {}, false);
}

} // namespace avrek
