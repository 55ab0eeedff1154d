#include "connection.h"

#include "callbacks.h"

#include <algorithm>
#include <cstring>
#include <utility>

namespace avrek::detail {

namespace {

constexpr Duration patience = std::chrono::seconds{10}; // for a handshake
constexpr Duration first_round_trip = std::chrono::milliseconds{50};
constexpr Duration closing_lasts = std::chrono::seconds{3};   // for messages that must arrive
constexpr Duration last_words_last = std::chrono::seconds{1}; // for packets that come after the end
constexpr Duration between_flights = std::chrono::milliseconds{200};
constexpr Duration min_wait = std::chrono::milliseconds{250}; // for an answer, before it is asked for again
constexpr std::size_t max_flight = 6;                         // datagrams
constexpr Duration timers_wait = std::chrono::milliseconds{40};
constexpr Duration ack_delay = std::chrono::milliseconds{50};
constexpr std::size_t max_reason = 200;
constexpr std::uint64_t room_for_lengths = 64; // a stream's window has it besides one message

ngtcp2_cid new_id(std::size_t size) {
    ngtcp2_cid id{};
    id.datalen = size;
    fill_random(id.data, size);
    return id;
}

// The other end's words, without what could steer a terminal.
std::string readable(std::string_view words) {
    std::string text{words.substr(0, max_reason)};
    std::replace_if(
        text.begin(), text.end(), [](char letter) { return letter < ' ' || letter > '~'; }, '?');
    return text;
}

ngtcp2_duration length_of(Duration length) {
    return static_cast<ngtcp2_duration>(length.count());
}

ngtcp2_settings settings_of(const QuicShared& shared) {
    ngtcp2_settings settings;
    ngtcp2_settings_default(&settings);
    settings.initial_ts = ticks_of(shared.now);
    settings.initial_rtt = length_of(first_round_trip);
    settings.max_tx_udp_payload_size = max_quic_datagram;
    settings.no_tx_udp_payload_size_shaping = 1;
    settings.handshake_timeout = length_of(patience);
    return settings;
}

ngtcp2_transport_params parameters_of(const QuicShared& shared) {
    ngtcp2_transport_params parameters;
    ngtcp2_transport_params_default(&parameters);
    const std::uint64_t window = shared.settings.max_message + room_for_lengths;
    parameters.initial_max_streams_uni = reliable_channel_count;
    parameters.initial_max_stream_data_uni = window;
    parameters.initial_max_data = window * reliable_channel_count;
    parameters.max_idle_timeout = length_of(shared.settings.silence);
    parameters.max_ack_delay = length_of(ack_delay);
    parameters.max_datagram_frame_size = max_quic_datagram;
    return parameters;
}

NetAddress address_at(const ngtcp2_addr& end) {
    sockaddr_in6 six{};
    std::memcpy(&six, end.addr, std::min<std::size_t>(end.addrlen, sizeof six));
    NetAddress address;
    std::memcpy(address.ip.data(), &six.sin6_addr, address.ip.size());
    address.port = ntohs(six.sin6_port);
    return address;
}

} // namespace

ngtcp2_tstamp ticks_of(Time time) {
    // Times of ours may begin below zero.
    return static_cast<ngtcp2_tstamp>(time.time_since_epoch().count() + (std::int64_t{1} << 61U));
}

PathEnds::PathEnds(const NetAddress& remote) {
    own_.sin6_family = remote_.sin6_family = AF_INET6;
    std::memcpy(&remote_.sin6_addr, remote.ip.data(), remote.ip.size());
    remote_.sin6_port = htons(remote.port);
}

bool QuicConnection::begin(const ngtcp2_cid& own, const ngtcp2_cid& other, const NetAddress& remote,
                           const QuicFirstPacket* first) {
    PathEnds ends{remote};
    const ngtcp2_path path = ends.path();
    ngtcp2_settings settings = settings_of(shared_);
    ngtcp2_transport_params parameters = parameters_of(shared_);
    ngtcp2_conn* made = nullptr;
    int fault = 0;
    if (first != nullptr) {
        settings.token.base = const_cast<std::uint8_t*>(first->token.data());
        settings.token.len = first->token.size();
        parameters.original_dcid = first->original;
        parameters.retry_scid = first->sent_to;
        parameters.retry_scid_present = 1;
        fault = ngtcp2_conn_server_new(&made, &other, &own, &path, first->version, &quic_callbacks(),
                                       &settings, &parameters, nullptr, this);
    } else {
        fault = ngtcp2_conn_client_new(&made, &other, &own, &path, NGTCP2_PROTO_VER_V1, &quic_callbacks(),
                                       &settings, &parameters, nullptr, this);
    }
    if (fault != 0) {
        return false;
    }
    connection_.reset(made);
    tls_.connection = made;
    tls_.is_server = first != nullptr;
    tls_.check = &shared_.check;
    link_.user_data = &tls_;
    link_.get_conn = [](ngtcp2_crypto_conn_ref* link) {
        return static_cast<TlsPeer*>(link->user_data)->connection;
    };
    session_ = shared_.credentials.session(tls_, link_);
    if (!session_) {
        return false;
    }
    ngtcp2_conn_set_tls_native_handle(made, session_.get());
    last_address_ = remote;
    return true;
}

std::unique_ptr<QuicConnection> QuicConnection::accept(QuicShared& shared, const NetAddress& from,
                                                       const QuicFirstPacket& first) {
    std::unique_ptr<QuicConnection> made{new QuicConnection{shared}};
    const ngtcp2_cid own = new_id(own_id_size);
    if (!made->begin(own, first.client, from, &first)) {
        return nullptr;
    }
    shared.route(own, made.get());
    shared.route(first.sent_to, made.get());
    return made;
}

std::unique_ptr<QuicConnection> QuicConnection::connect(QuicShared& shared, const NetAddress& server,
                                                        const QuicGreeting& greeting) {
    std::unique_ptr<QuicConnection> made{new QuicConnection{shared}};
    made->tls_.greeting = greeting.bytes;
    made->tls_.pinned = greeting.server;
    made->peer_ = server_peer;
    made->has_peer_ = true;
    return made->begin(new_id(own_id_size), new_id(NGTCP2_MAX_CIDLEN), server, nullptr) ? std::move(made)
                                                                                        : nullptr;
}

QuicConnection::~QuicConnection() = default;

void QuicConnection::take(const NetAddress& from, std::span<const std::byte> bytes) {
    ++counted_.received_packets;
    counted_.received_bytes += bytes.size();
    if (phase_ == Phase::ended && !last_words_.empty()) {
        shared_.send(from, last_words_);
    }
    if (phase_ >= Phase::ended) {
        return;
    }
    if (!tls_.is_server && phase_ == Phase::handshake) { // its first flight has arrived
        flight_.clear();
    }
    PathEnds ends{from};
    const ngtcp2_path path = ends.path();
    const int fault = ngtcp2_conn_read_pkt(connection_.get(), &path, nullptr,
                                           reinterpret_cast<const std::uint8_t*>(bytes.data()), bytes.size(),
                                           ticks_of(shared_.now));
    if (fault != 0) {
        fail(fault);
    } else if (phase_ == Phase::handshake || phase_ == Phase::closing || has_to_write()) {
        write();
        close_if_done();
    }
}

void QuicConnection::advance() {
    if (phase_ >= Phase::ended) {
        phase_ = shared_.now >= gives_up_at_ ? Phase::over : phase_;
        return;
    }
    if (expires_at() <= shared_.now) {
        write();
    }
    repeat(flight_, last_address_);
    if (phase_ == Phase::open) {
        repeat(opening_, address());
    }
    ask_again();
    close_if_done();
}

Time QuicConnection::asks_again_at() const {
    if (phase_ != Phase::open || asking_.empty()) {
        return Time::max();
    }
    ngtcp2_conn_stat measured;
    ngtcp2_conn_get_conn_stat(connection_.get(), &measured);
    const Duration trips{static_cast<std::int64_t>(2 * measured.smoothed_rtt)};
    return measured.bytes_in_flight > 0 ? asked_at_ + std::max(min_wait, trips) : Time::max();
}

void QuicConnection::ask_again() {
    if (asks_again_at() <= shared_.now) {
        asked_at_ = shared_.now;
        shared_.send(address(), asking_);
    }
}

void QuicConnection::Repeated::add(std::span<const std::byte> bytes, Time now) {
    if (packets.size() < max_flight) {
        packets.emplace_back(bytes.begin(), bytes.end());
        due = now + between_flights;
    }
}

void QuicConnection::Repeated::clear() {
    packets.clear();
    due = Time::max();
}

void QuicConnection::repeat(Repeated& packets, const NetAddress& to) {
    if (shared_.now >= packets.due) {
        packets.due = shared_.now + between_flights;
        for (const std::vector<std::byte>& bytes : packets.packets) {
            shared_.send(to, bytes);
        }
    }
}

// When timers of QUIC are due. In play they wait for the next packet that is sent anyway, so that
// acknowledgements travel with it.
Time QuicConnection::expires_at() const {
    const ngtcp2_tstamp expiry = ngtcp2_conn_get_expiry(connection_.get());
    if (expiry == UINT64_MAX) {
        return Time::max();
    }
    const ngtcp2_tstamp now = ticks_of(shared_.now);
    const Time at = shared_.now + Duration{static_cast<std::int64_t>(expiry - std::min(expiry, now))};
    return phase_ == Phase::open ? std::max(at, written_at_ + timers_wait) : at;
}

Time QuicConnection::next_due() const {
    if (phase_ >= Phase::ended) {
        return gives_up_at_;
    }
    return std::min({expires_at(), flight_.due, phase_ == Phase::open ? opening_.due : Time::max(),
                     asks_again_at(), phase_ == Phase::closing ? gives_up_at_ : Time::max()});
}

void QuicConnection::fail(int fault) {
    ngtcp2_connection_close_error error;
    ngtcp2_connection_close_error_default(&error);
    if (fault == NGTCP2_ERR_DRAINING) { // the other end has closed it
        ngtcp2_conn_get_connection_close_error(connection_.get(), &error);
        const std::string reason = readable({reinterpret_cast<const char*>(error.reason), error.reasonlen});
        gives_up_at_ = shared_.now + last_words_last;
        phase_ = Phase::ended;
        tell_end(reason);
        return;
    }
    if (fault == NGTCP2_ERR_IDLE_CLOSE || fault == NGTCP2_ERR_HANDSHAKE_TIMEOUT ||
        fault == NGTCP2_ERR_DROP_CONN) {
        phase_ = Phase::over;
        tell_end("nothing was heard of it");
        return;
    }
    std::string reason = !tls_.refusal.empty() ? tls_.refusal : reason_;
    const auto* text = reinterpret_cast<const std::uint8_t*>(reason.data());
    const std::size_t size = std::min(reason.size(), max_reason);
    if (!tls_.refusal.empty()) {
        shared_.counts.refused += shared_.is_server ? 1 : 0;
        ngtcp2_connection_close_error_set_transport_error(&error, NGTCP2_CONNECTION_REFUSED, text, size);
    } else if (fault == NGTCP2_ERR_CRYPTO) {
        reason = "the keys were not proved";
        ngtcp2_connection_close_error_set_transport_error_tls_alert(
            &error, ngtcp2_conn_get_tls_alert(connection_.get()), nullptr, 0);
    } else {
        ngtcp2_connection_close_error_set_transport_error_liberr(&error, fault, text, size);
        if (reason.empty()) { // else the error refers to it
            reason = std::string{"the connection has failed: "} + ngtcp2_strerror(fault);
        }
    }
    end(error, reason);
}

void QuicConnection::end(const ngtcp2_connection_close_error& error, const std::string& reason) {
    std::array<std::uint8_t, max_quic_datagram> buffer;
    ngtcp2_path_storage path;
    ngtcp2_path_storage_zero(&path);
    ngtcp2_pkt_info info;
    const ngtcp2_ssize size = ngtcp2_conn_write_connection_close(
        connection_.get(), &path.path, &info, buffer.data(), buffer.size(), &error, ticks_of(shared_.now));
    if (size > 0) {
        const auto* bytes = reinterpret_cast<const std::byte*>(buffer.data());
        last_words_.assign(bytes, bytes + size);
        send_bytes(path.path, last_words_);
    }
    gives_up_at_ = shared_.now + last_words_last;
    phase_ = Phase::ended;
    tell_end(reason);
}

void QuicConnection::tell_end(const std::string& reason) {
    if (std::exchange(has_peer_, false)) {
        TransportEvent event;
        event.kind = TransportEventKind::disconnected;
        event.peer = peer_;
        event.reason = reason;
        shared_.events.push_back(std::move(event));
    }
    on_confirmed();
    counted_ = link();
    last_address_ = address();
    connection_.reset(); // last words are all that it is needed for
    session_.reset();
    datagrams_.clear();
    out_ = {};
    in_ = {};
}

void QuicConnection::close(std::string_view reason) {
    has_peer_ = false;
    reason_ = reason.substr(0, max_reason);
    if (phase_ < Phase::closing) {
        const bool was_open = phase_ == Phase::open;
        phase_ = Phase::closing;
        gives_up_at_ = was_open ? shared_.now + closing_lasts : shared_.now;
        close_if_done();
    }
}

void QuicConnection::close_if_done() {
    const bool is_done =
        std::all_of(out_.begin(), out_.end(), [](const OutStream& one) { return one.is_all_there(); });
    if (phase_ == Phase::closing && (is_done || shared_.now >= gives_up_at_)) {
        ngtcp2_connection_close_error error;
        ngtcp2_connection_close_error_default(&error);
        ngtcp2_connection_close_error_set_application_error(
            &error, 0, reinterpret_cast<const std::uint8_t*>(reason_.data()), reason_.size());
        end(error, reason_);
    }
}

void QuicConnection::send_bytes(const ngtcp2_path& path, std::span<const std::byte> bytes) {
    ++counted_.sent_packets;
    counted_.sent_bytes += bytes.size();
    flight_at_ = flight_.packets.empty() ? shared_.now : flight_at_;
    if (!is_confirmed_ && flight_at_ == shared_.now) {
        flight_.add(bytes, shared_.now);
    }
    shared_.send(address_at(path.remote), bytes);
}

NetAddress QuicConnection::address() const {
    return connection_ ? address_at(ngtcp2_conn_get_path(connection_.get())->remote) : last_address_;
}

PeerLink QuicConnection::link() const {
    PeerLink link = counted_;
    link.address = to_string(address());
    if (connection_) {
        ngtcp2_conn_stat measured;
        ngtcp2_conn_get_conn_stat(connection_.get(), &measured);
        const bool is_known = measured.first_rtt_sample_ts != UINT64_MAX;
        link.round_trip = is_known ? Duration{static_cast<std::int64_t>(measured.smoothed_rtt)} : Duration{};
    }
    return link;
}

} // namespace avrek::detail
