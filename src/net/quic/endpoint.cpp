#include "admission.h"
#include "connection.h"
#include <avrek/net/quic_endpoint.h>

#include <algorithm>
#include <cassert>
#include <map>

namespace avrek {

using detail::QuicConnection;

namespace {

constexpr std::size_t max_greeting = 512;
constexpr ngtcp2_duration token_lasts = 10 * NGTCP2_SECONDS;
constexpr std::size_t min_first_packet = 1200; // RFC 9000, 14.1: smaller ones are not answered

const std::uint8_t* as_raw(std::span<const std::byte> bytes) {
    return reinterpret_cast<const std::uint8_t*>(bytes.data());
}

} // namespace

struct QuicEndpoint::Impl {
    Impl(const QuicSettings& settings, SendDatagram send)
        : shared{.settings = settings,
                 .send = std::move(send),
                 .credentials = detail::TlsCredentials{settings.keys}},
          admission(settings.handshakes_per_second) {
        shared.route = [this](const ngtcp2_cid& id, QuicConnection* to) {
            if (to != nullptr) {
                routes[id] = to;
            } else {
                routes.erase(id);
            }
        };
        detail::fill_random(token_secret.data(), token_secret.size());
    }

    struct IdLess {
        bool operator()(const ngtcp2_cid& one, const ngtcp2_cid& other) const {
            return std::lexicographical_compare(one.data, one.data + one.datalen, other.data,
                                                other.data + other.datalen);
        }
    };

    detail::QuicShared shared;
    detail::Admission admission;
    std::vector<std::unique_ptr<QuicConnection>> connections{}; ///< in order of coming
    std::map<ngtcp2_cid, QuicConnection*, IdLess> routes{};
    std::array<std::uint8_t, 32> token_secret{};

    void set_time(Time now) { shared.now = std::max(shared.now, now); }
    QuicConnection* find(PeerId peer) const {
        const auto found = std::find_if(connections.begin(), connections.end(), [peer](const auto& one) {
            return one->has_peer() && one->peer() == peer;
        });
        return found != connections.end() ? found->get() : nullptr;
    }
    std::size_t count(QuicConnection::Phase phase) const {
        return static_cast<std::size_t>(
            std::count_if(connections.begin(), connections.end(),
                          [phase](const auto& one) { return one->phase() == phase; }));
    }
    void forget_ended() {
        std::erase_if(connections, [this](const auto& one) {
            if (one->phase() != QuicConnection::Phase::over) {
                return false;
            }
            std::erase_if(routes, [&one](const auto& route) { return route.second == one.get(); });
            return true;
        });
    }
    void answer_version(const NetAddress& from, const ngtcp2_version_cid& head);
    QuicConnection* take_stranger(const NetAddress& from, std::span<const std::byte> bytes);
    void ask_for_token(const NetAddress& from, const ngtcp2_pkt_hd& head);
    void refuse_full(const NetAddress& from, const ngtcp2_pkt_hd& head);
};

QuicEndpoint::QuicEndpoint(const QuicSettings& settings, SendDatagram send)
    : impl_(std::make_unique<Impl>(settings, std::move(send))) {
    impl_->shared.is_server = true;
}

QuicEndpoint::QuicEndpoint(const QuicSettings& settings, const QuicGreeting& greeting,
                           const NetAddress& server, Time now, SendDatagram send)
    : impl_(std::make_unique<Impl>(settings, std::move(send))) {
    assert(greeting.bytes.size() <= max_greeting);
    impl_->set_time(now);
    if (auto made = QuicConnection::connect(impl_->shared, server, greeting)) {
        impl_->connections.push_back(std::move(made));
        impl_->connections.back()->write();
    } else {
        TransportEvent event;
        event.kind = TransportEventKind::disconnected;
        event.reason = "the connection could not be begun";
        impl_->shared.events.push_back(std::move(event));
    }
}

QuicEndpoint::~QuicEndpoint() = default;

void QuicEndpoint::Impl::answer_version(const NetAddress& from, const ngtcp2_version_cid& head) {
    constexpr std::uint32_t spoken = NGTCP2_PROTO_VER_V1;
    std::array<std::uint8_t, detail::max_quic_datagram> packet;
    std::uint8_t noise = 0;
    detail::fill_random(&noise, 1);
    const ngtcp2_ssize size = ngtcp2_pkt_write_version_negotiation(
        packet.data(), packet.size(), noise, head.scid, head.scidlen, head.dcid, head.dcidlen, &spoken, 1);
    if (size > 0) {
        shared.send(from, std::as_bytes(std::span{packet}.first(static_cast<std::size_t>(size))));
    }
}

// A client that answers with the token can be reached at its address. Nothing is kept until then.
void QuicEndpoint::Impl::ask_for_token(const NetAddress& from, const ngtcp2_pkt_hd& head) {
    ++shared.counts.not_validated;
    detail::PathEnds ends{from};
    ngtcp2_cid own{};
    own.datalen = detail::own_id_size;
    detail::fill_random(own.data, own.datalen);
    std::array<std::uint8_t, NGTCP2_CRYPTO_MAX_RETRY_TOKENLEN> token;
    const ngtcp2_ssize token_size = ngtcp2_crypto_generate_retry_token(
        token.data(), token_secret.data(), token_secret.size(), head.version, ends.remote(),
        detail::PathEnds::size, &own, &head.dcid, detail::ticks_of(shared.now));
    std::array<std::uint8_t, detail::max_quic_datagram> packet;
    const ngtcp2_ssize size =
        token_size < 0
            ? token_size
            : ngtcp2_crypto_write_retry(packet.data(), packet.size(), head.version, &head.scid, &own,
                                        &head.dcid, token.data(), static_cast<std::size_t>(token_size));
    if (size > 0) {
        shared.send(from, std::as_bytes(std::span{packet}.first(static_cast<std::size_t>(size))));
    }
}

void QuicEndpoint::Impl::refuse_full(const NetAddress& from, const ngtcp2_pkt_hd& head) {
    constexpr std::string_view reason = "there is no room";
    ++shared.counts.full;
    std::array<std::uint8_t, detail::max_quic_datagram> packet;
    const ngtcp2_ssize size = ngtcp2_crypto_write_connection_close(
        packet.data(), packet.size(), head.version, &head.scid, &head.dcid, NGTCP2_CONNECTION_REFUSED,
        reinterpret_cast<const std::uint8_t*>(reason.data()), reason.size());
    if (size > 0) {
        shared.send(from, std::as_bytes(std::span{packet}.first(static_cast<std::size_t>(size))));
    }
}

// Returns the connection that a packet of nobody known begins, if it may.
QuicConnection* QuicEndpoint::Impl::take_stranger(const NetAddress& from, std::span<const std::byte> bytes) {
    ngtcp2_pkt_hd head;
    if (bytes.size() < min_first_packet || ngtcp2_accept(&head, as_raw(bytes), bytes.size()) != 0) {
        ++shared.counts.unknown;
        return nullptr;
    }
    if (head.token.len == 0) {
        ask_for_token(from, head);
        return nullptr;
    }
    detail::PathEnds ends{from};
    detail::QuicFirstPacket first{.client = head.scid,
                                  .sent_to = head.dcid,
                                  .token = {head.token.base, head.token.len},
                                  .version = head.version};
    if (ngtcp2_crypto_verify_retry_token(&first.original, head.token.base, head.token.len,
                                         token_secret.data(), token_secret.size(), head.version,
                                         ends.remote(), detail::PathEnds::size, &head.dcid, token_lasts,
                                         detail::ticks_of(shared.now)) != 0) {
        ++shared.counts.unknown;
        return nullptr;
    }
    if (count(QuicConnection::Phase::open) >= shared.settings.max_peers) {
        refuse_full(from, head);
        return nullptr;
    }
    if (count(QuicConnection::Phase::handshake) >= shared.settings.max_handshakes ||
        !admission.take(from, shared.now)) {
        ++shared.counts.put_off;
        return nullptr;
    }
    ++shared.counts.handshakes;
    auto made = QuicConnection::accept(shared, from, first);
    if (!made) {
        return nullptr;
    }
    connections.push_back(std::move(made));
    return connections.back().get();
}

void QuicEndpoint::take(const NetAddress& from, std::span<const std::byte> bytes, Time now) {
    Impl& run = *impl_;
    run.set_time(now);
    ++run.shared.counts.received;
    ngtcp2_version_cid head{};
    const int fault = ngtcp2_pkt_decode_version_cid(&head, as_raw(bytes), bytes.size(), detail::own_id_size);
    if (fault == NGTCP2_ERR_VERSION_NEGOTIATION && run.shared.is_server && bytes.size() >= min_first_packet) {
        run.answer_version(from, head);
        return;
    }
    if (fault != 0) {
        ++run.shared.counts.unknown;
        return;
    }
    QuicConnection* to = nullptr;
    if (!run.shared.is_server) {
        to = run.connections.empty() ? nullptr : run.connections.front().get();
    } else if (head.dcidlen <= NGTCP2_MAX_CIDLEN) {
        ngtcp2_cid id;
        ngtcp2_cid_init(&id, head.dcid, head.dcidlen);
        const auto found = run.routes.find(id);
        to = found != run.routes.end() ? found->second : run.take_stranger(from, bytes);
    }
    if (to != nullptr) {
        to->take(from, bytes);
    }
}

void QuicEndpoint::advance(Time now) {
    impl_->set_time(now);
    for (const auto& connection : impl_->connections) {
        connection->advance();
    }
    impl_->forget_ended();
}

Time QuicEndpoint::next_due() const {
    Time due = Time::max();
    for (const auto& connection : impl_->connections) {
        due = std::min(due, connection->next_due());
    }
    return due;
}

bool QuicEndpoint::send(PeerId peer, Channel channel, std::span<const std::byte> bytes) {
    QuicConnection* to = impl_->find(peer);
    return to != nullptr && to->send(channel, bytes);
}

bool QuicEndpoint::receive(TransportEvent& event) {
    std::deque<TransportEvent>& events = impl_->shared.events;
    if (events.empty()) {
        return false;
    }
    event = std::move(events.front());
    events.pop_front();
    if (QuicConnection* from = impl_->find(event.peer)) {
        from->note_received(event);
    }
    return true;
}

void QuicEndpoint::close(PeerId peer, std::string_view reason) {
    if (QuicConnection* to = impl_->find(peer)) {
        to->close(reason);
        std::erase_if(impl_->shared.events, [peer](const TransportEvent& one) { return one.peer == peer; });
    }
}

void QuicEndpoint::flush() {
    for (const auto& connection : impl_->connections) {
        if (connection->has_to_write()) {
            connection->write();
        }
    }
}

void QuicEndpoint::set_time(Time now) {
    impl_->set_time(now);
}

void QuicEndpoint::check_greetings(const GreetingCheck& check) {
    impl_->shared.check = check;
}

PublicKey QuicEndpoint::key() const {
    return impl_->shared.settings.keys.open;
}

PeerLink QuicEndpoint::link(PeerId peer) const {
    const QuicConnection* to = impl_->find(peer);
    return to != nullptr ? to->link() : PeerLink{};
}

bool QuicEndpoint::is_over() const {
    return std::all_of(impl_->connections.begin(), impl_->connections.end(),
                       [](const auto& one) { return one->phase() >= QuicConnection::Phase::ended; });
}

NetAddress QuicEndpoint::address_of(PeerId peer) const {
    const QuicConnection* to = impl_->find(peer);
    return to != nullptr ? to->address() : NetAddress{};
}

const QuicCounts& QuicEndpoint::counts() const {
    return impl_->shared.counts;
}

} // namespace avrek
