#include "../core/words.h"
#include "server_impl.h"
#include "spread_seed.h"
#include <avrek/skirmish/blended_poses.h>

#include <algorithm>
#include <utility>

/// Incoming side of the server: admission, and the checks of packets.
namespace avrek {

namespace {

constexpr Duration guilt_lasts = std::chrono::seconds{10};
constexpr std::int64_t return_lasts = 86'400; // seconds
constexpr std::size_t max_join = std::size_t{48} * 1024;

} // namespace

const PlayerSlot* Server::Impl::slot_of(BodyId player) const {
    const auto found = std::find_if(settings.slots.begin(), settings.slots.end(),
                                    [player](const PlayerSlot& slot) { return slot.player == player; });
    return found != settings.slots.end() ? &*found : nullptr;
}

Entrant Server::Impl::entrant_of(const PlayerSlot& slot) const {
    return {.id = slot.player,
            .team = slot.team,
            .body = slot.body,
            .melee = slot.melee,
            .weapons = slot.weapons,
            .spawns = slot.spawns,
            .spread_seed = detail::spread_seed_of(skirmish.seed(), slot.player)};
}

detail::Peer* Server::Impl::peer_of(BodyId player) {
    const auto found = std::find_if(peers.begin(), peers.end(),
                                    [player](const auto& one) { return one.second.player == player; });
    return player != nobody && found != peers.end() ? &found->second : nullptr;
}

void Server::Impl::receive() {
    TransportEvent event;
    while (transport.receive(event)) {
        const auto number = static_cast<std::uint32_t>(event.peer);
        const auto found = peers.find(number);
        switch (event.kind) {
        case TransportEventKind::connected: {
            const auto connecting = std::count_if(
                peers.begin(), peers.end(), [](const auto& one) { return one.second.player == nobody; });
            if (std::cmp_greater_equal(connecting, settings.limits.connecting)) {
                transport.close(event.peer, "there is no room");
                break;
            }
            // A ticket holds one place, however often it is shown.
            const auto again = std::find_if(peers.begin(), peers.end(), [&](const auto& one) {
                return one.second.player == nobody && !event.bytes.empty() &&
                       one.second.ticket == event.bytes;
            });
            if (again != peers.end()) {
                drop(again->first, ConnectionEvent::Kind::refused, "its ticket was shown again");
            }
            detail::Peer& peer = peers[number];
            peer = {};
            peer.id = event.peer;
            peer.key = event.key;
            peer.ticket = std::move(event.bytes);
            peer.came_at = peer.heard_at = peer.guilt_from = now();
            peer.allowance = settings.limits.packets;
            break;
        }
        case TransportEventKind::packet:
            if (found != peers.end()) {
                take_packet(found->second, event);
            }
            break;
        case TransportEventKind::disconnected:
            if (found != peers.end()) {
                drop(number, ConnectionEvent::Kind::lost,
                     event.reason.empty() ? "the connection is gone" : event.reason);
            }
            break;
        }
    }
}

void Server::Impl::take_packet(detail::Peer& peer, const TransportEvent& event) {
    if (peer.allowance < 1.0) {
        fault(peer, PeerFault::too_many);
        return;
    }
    peer.allowance -= 1.0;
    const bool plays = peer.player != nobody;
    if (event.bytes.size() > (plays ? detail::max_client_packet : max_join)) {
        fault(peer, PeerFault::oversized);
        return;
    }
    if (event.bytes.empty()) {
        fault(peer, PeerFault::malformed);
        return;
    }
    const auto kind = static_cast<detail::MessageKind>(event.bytes[0]);
    const std::span<const std::byte> body = std::span{event.bytes}.subspan(1);
    if (!plays) {
        peer.up.add(TrafficKind::session, event.bytes.size());
        if (kind == detail::MessageKind::join && event.channel == Channel::reliable) {
            take_join(peer, body);
        } else {
            fault(peer, PeerFault::unexpected);
        }
        return;
    }
    peer.heard_at = now();
    peer.up.add(kind == detail::MessageKind::intents ? TrafficKind::stream : TrafficKind::session,
                event.bytes.size());
    if (kind == detail::MessageKind::intents && event.channel == Channel::unreliable) {
        if (const auto message = detail::decode_intents(body, peer.player)) {
            take_intents(peer, *message);
        } else {
            fault(peer, PeerFault::malformed);
        }
    } else if (kind == detail::MessageKind::command && event.channel == Channel::reliable) {
        take_command(peer, body);
    } else if (kind == detail::MessageKind::proposal && event.channel == Channel::reliable) {
        take_proposal(peer, body);
    } else if (kind == detail::MessageKind::leave && event.channel == Channel::reliable) {
        peer.leaves = true; // look_at_peers() sees to it
    } else {
        fault(peer, PeerFault::unexpected);
    }
}

void Server::Impl::refuse(detail::Peer& peer, const std::string& reason,
                          const std::vector<std::string>& differing) {
    send(peer, detail::MessageKind::refusal, Channel::reliable, TrafficKind::session,
         detail::encode(detail::RefusalMessage{reason, differing}));
    drop(static_cast<std::uint32_t>(peer.id), ConnectionEvent::Kind::refused, reason);
}

void Server::Impl::take_join(detail::Peer& peer, std::span<const std::byte> body) {
    const auto join = detail::decode_join(body);
    if (!join) {
        fault(peer, PeerFault::malformed);
        return;
    }
    if (join->version != detail::wire_version) {
        refuse(peer, "version " + std::to_string(join->version) +
                         " is not spoken here; allowed: " + std::to_string(detail::wire_version));
        return;
    }
    // Differences of version and data are found first: they do not use up the ticket.
    if (join->level != level_digest) {
        refuse(peer, "the level is not the one that is played here");
        return;
    }
    if (join->arsenal == ArsenalDigest{} || data.digest == ArsenalDigest{}) {
        refuse(
            peer,
            "the arsenal has no digest, so nobody can tell whether it is the one that is played with here");
        return;
    }
    if (join->arsenal.whole != data.digest.whole) {
        refuse(peer, "the arsenal is not the one that is played with here",
               differing_entries(data.digest, join->arsenal));
        return;
    }
    if (const auto names = names_of(skirmish.settings().locomotions); join->locomotions != names) {
        refuse(peer, "its bodies move by " + detail::quoted(join->locomotions) + "; here they move by " +
                         detail::quoted(names));
        return;
    }
    if (const std::string name = name_of(pose_source_or_built_in(skirmish.settings().poses));
        join->poses != name) {
        refuse(peer, "its bodies are posed by '" + join->poses + "'; here they are posed by '" + name + '\'');
        return;
    }
    peer.interpolation = std::clamp<Duration>(join->interpolation, Duration::zero(), std::chrono::seconds{1});
    peer.send_every = std::clamp(join->send_every, 1, 8);
    TicketClaims claims;
    const TicketFault fault = tickets.admit(peer.ticket, peer.key, now_of_day, claims);
    if (fault != TicketFault::none) {
        refuse(peer, "the ticket " + std::string{to_string(fault)});
        return;
    }
    if (slot_of(claims.player) == nullptr) {
        refuse(peer,
               "there is no slot for player " + std::to_string(static_cast<std::uint32_t>(claims.player)));
        return;
    }
    admit(peer, claims);
}

TicketClaims Server::Impl::claims_to_return(TicketClaims claims) const {
    claims.number = 0; // another one
    claims.expires = now_of_day + return_lasts;
    return claims;
}

void Server::Impl::admit(detail::Peer& peer, const TicketClaims& claims) {
    const PlayerSlot& slot = *slot_of(claims.player);
    if (const detail::Peer* before = peer_of(slot.player)) { // the newer ticket counts
        const auto number = static_cast<std::uint32_t>(before->id);
        drop(number, ConnectionEvent::Kind::lost, "the same player has joined from elsewhere");
    }
    waiting_slots.erase(static_cast<std::uint32_t>(slot.player));
    if (skirmish.find(slot.player) == nullptr) {
        if (!skirmish.add(entrant_of(slot))) {
            refuse(peer, skirmish.is_over() ? "the match is over" : "there is no room");
            return;
        }
        entered.push_back(slot.player);
        ledger.set(slot.player, "name", slot.name);
        publish({.kind = NoticeKind::joined, .at = now(), .who = slot.player}, {}, false);
    }
    peer.player = slot.player;
    peer.team = slot.team;
    peer.may_tune = claims.may_tune;
    peer.joined = skirmish.tick();
    peer.newest = peer.joined - 1;
    const Span one = tick_span(0, skirmish.settings().rate);
    peer.view = {peer.interpolation, (one.end - one.begin) * peer.send_every};
    peer.own_kinds = detail::kinds_of_own_state();
    keep_ledger();
    for (const detail::PlannedTuning& tuning : tunings) { // the welcome is understood with their values
        send(peer, detail::MessageKind::tuning, Channel::reliable, TrafficKind::session,
             detail::encode(tuning.message));
    }
    detail::WelcomeMessage welcome;
    welcome.you = slot.player;
    welcome.team = slot.team;
    welcome.body = static_cast<std::int32_t>(slot.body);
    welcome.melee = to_number(slot.melee);
    welcome.tick = skirmish.tick();
    welcome.settings = skirmish.settings();
    welcome.rules = skirmish.match().rules().id;
    welcome.has_private_seed = settings.private_seed;
    welcome.seed = settings.private_seed ? 0 : skirmish.find(slot.player)->spread_seed;
    const Ticket return_ticket = issue_ticket(return_keys, claims_to_return(claims));
    peer.returns_with = *read_ticket(return_ticket);
    welcome.return_ticket.assign(return_ticket.begin(), return_ticket.end());
    send(peer, detail::MessageKind::welcome, Channel::reliable, TrafficKind::session,
         detail::encode(welcome));
    send_ledger(peer);
    for (Notice& notice : board.for_listener(peer.player, peer.team)) {
        peer.outbox.push_back(std::move(notice));
    }
    tell_flights(peer);
    tell_plan(peer);
    connection_events.push_back({ConnectionEvent::Kind::connected, peer.id, peer.player, {}});
}

// Allowances, silence, guilt.
void Server::Impl::look_at_peers() {
    const double each = static_cast<double>(settings.limits.packets) / skirmish.settings().rate.hertz;
    struct Going {
        std::uint32_t number;
        ConnectionEvent::Kind kind;
        std::string reason;
    };
    std::vector<Going> going;
    for (auto& [number, peer] : peers) {
        peer.allowance = std::min<double>(settings.limits.packets / 2.0 + 1.0, peer.allowance + each);
        if (peer.is_behind) {
            going.push_back({number, ConnectionEvent::Kind::lost, "it does not take what it is sent"});
        } else if (peer.leaves) {
            going.push_back({number, ConnectionEvent::Kind::left, "left"});
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
                {number, ConnectionEvent::Kind::removed, "too many packets that do not belong: " + what});
        } else if (now() - peer.heard_at > settings.limits.silence) {
            going.push_back({number, ConnectionEvent::Kind::lost, "nothing was heard of it"});
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

void Server::Impl::drop(std::uint32_t number, ConnectionEvent::Kind kind, const std::string& reason) {
    const auto found = peers.find(number);
    if (found == peers.end()) {
        return;
    }
    detail::Peer peer = std::move(found->second);
    peers.erase(found);
    gone_faults += peer.faults;
    if (peer.player != nobody && kind != ConnectionEvent::Kind::left) {
        send(peer, detail::MessageKind::goodbye, Channel::reliable, TrafficKind::session,
             detail::encode_goodbye(reason));
    }
    transport.close(peer.id, reason);
    if (kind == ConnectionEvent::Kind::removed) {
        tickets.revoke(peer.returns_with);
    }
    connection_events.push_back({kind, peer.id, peer.player, reason});
    if (peer.player == nobody) {
        return;
    }
    if (kind == ConnectionEvent::Kind::lost) {
        waiting_slots[static_cast<std::uint32_t>(peer.player)] = now() + settings.limits.slot_reserved;
    } else {
        leave_match(peer.player);
    }
}

void Server::Impl::give_up_seats() {
    for (auto at = waiting_slots.begin(); at != waiting_slots.end();) {
        const auto [player, until] = *at;
        at = now() >= until ? waiting_slots.erase(at) : std::next(at);
        if (now() >= until) {
            leave_match(BodyId{player});
        }
    }
}

void Server::Impl::leave_match(BodyId player) {
    if (!skirmish.remove(player)) {
        return;
    }
    departed.push_back(player);
    recorded.erase(static_cast<std::uint32_t>(player));
    ledger.forget(player);
    board.forget(NoticeKind::death, player);
    publish({.kind = NoticeKind::left, .at = now(), .who = player}, {}, false);
}

} // namespace avrek
