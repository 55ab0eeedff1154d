#pragma once
// A network in memory: what one end sends, the other receives at its next look, in order.
#include <avrek/net/keys.h>
#include <avrek/net/tickets.h>
#include <avrek/net/transport.h>

#include <deque>
#include <map>

namespace avrek::trial {

struct Wires {
    struct End final : Transport {
        Wires* wires = nullptr; ///< null: the connection is over, or there is none
        PeerId peer{};          ///< on a client's end: itself, as the server names it
        std::deque<TransportEvent> in{};
        PublicKey own_key{};

        bool send(PeerId to, Channel channel, std::span<const std::byte> bytes) override {
            End* other = wires != nullptr ? wires->other_end(*this, to) : nullptr;
            if (other != nullptr) {
                other->in.push_back({.kind = TransportEventKind::packet,
                                     .peer = peer,
                                     .channel = channel,
                                     .bytes = {bytes.begin(), bytes.end()}});
            }
            return other != nullptr;
        }
        bool receive(TransportEvent& event) override {
            if (in.empty()) {
                return false;
            }
            event = std::move(in.front());
            in.pop_front();
            return true;
        }
        void close(PeerId to, std::string_view reason) override {
            if (End* other = wires != nullptr ? wires->other_end(*this, to) : nullptr) {
                other->in.push_back(
                    {.kind = TransportEventKind::disconnected, .peer = peer, .reason = std::string{reason}});
                wires->clients.at(this == &wires->server ? to : peer).wires = nullptr;
            }
        }
        PublicKey key() const override { return own_key; }
    };

    End server{};
    std::map<PeerId, End> clients{};

    explicit Wires(const PublicKey& key) {
        server.wires = this;
        server.own_key = key;
    }
    Wires(const Wires&) = delete;
    Wires& operator=(const Wires&) = delete;

    /// The end of a client that has connected with a ticket.
    End& connect(std::uint32_t number, const Credentials& with) {
        End& end = clients[PeerId{number}];
        end.wires = this;
        end.peer = PeerId{number};
        end.in.push_back({.kind = TransportEventKind::connected, .peer = server_peer});
        server.in.push_back({.kind = TransportEventKind::connected,
                             .peer = end.peer,
                             .bytes = {with.ticket.begin(), with.ticket.end()},
                             .key = with.keys.open});
        return end;
    }
    /// The other end of an open connection; null if there is none.
    End* other_end(const End& from, PeerId to) {
        if (&from != &server) {
            return &server;
        }
        const auto client = clients.find(to);
        return client != clients.end() && client->second.wires != nullptr ? &client->second : nullptr;
    }
};

} // namespace avrek::trial
