#include "connection.h"

#include <algorithm>
#include <utility>

// Messages of a connection, in and out.
namespace avrek::detail {

namespace {

constexpr std::size_t max_part = 1150; // bytes of a message in a datagram, with its head
constexpr std::size_t max_datagrams = 256;
constexpr Duration datagrams_last =
    std::chrono::milliseconds{50}; // the newest counts: older ones are dropped
constexpr Duration between_beats = std::chrono::milliseconds{100};
constexpr std::uint64_t tight_window = 6 * max_quic_datagram; // bytes that are left of the congestion window
constexpr Duration between_signs = std::chrono::milliseconds{250}; // signs of life, while nothing is sent
constexpr int max_packets = 512;                                   // one write() sends

} // namespace

struct QuicConnection::Writing {
    std::array<std::uint8_t, max_quic_datagram> buffer;
    ngtcp2_path_storage path{};
    ngtcp2_pkt_info info{};
    bool datagrams_blocked = false;
    std::array<bool, reliable_channel_count> streams_blocked{};
    bool begins_with_beat = false; ///< the byte goes with the first datagram
    bool is_last = false;          ///< nothing of ours was left to be written
    bool opens = false;            ///< the packet has bytes of the first stream
};

bool QuicConnection::send(Channel channel, std::span<const std::byte> bytes) {
    if (phase_ != Phase::open) {
        return false;
    }
    if (channel == Channel::unreliable) {
        std::deque<std::vector<std::byte>> parts;
        if (!PartedMessages::split(bytes, datagram_number_++, max_part, parts)) {
            return false;
        }
        for (std::vector<std::byte>& part : parts) {
            datagrams_.push_back({shared_.now, std::move(part)});
        }
        return true;
    }
    OutStream& stream = out_[static_cast<std::size_t>(channel) - 1];
    if (bytes.empty() || stream.waiting() + bytes.size() > shared_.settings.max_backlog) {
        return false;
    }
    stream.add(bytes);
    return true;
}

// Datagrams alone do not make QUIC find out that packets are lost: bytes of a stream do. Without any under
// way, lost datagrams could fill the congestion window, and nothing would be sent any more. Returns whether a
// byte has been added for that.
bool QuicConnection::beat() {
    const bool has_unsent =
        std::any_of(out_.begin(), out_.end(), [](const OutStream& one) { return one.has_unsent(); });
    const bool waits =
        std::any_of(out_.begin(), out_.end(), [](const OutStream& one) { return !one.is_all_there(); });
    if (phase_ != Phase::open || datagrams_.empty() || has_unsent) {
        return false;
    }
    ngtcp2_conn_stat measured;
    ngtcp2_conn_get_conn_stat(connection_.get(), &measured);
    const bool is_tight = measured.bytes_in_flight + tight_window > measured.cwnd;
    if (!is_tight && (waits || shared_.now - beat_at_ < between_beats)) {
        return false;
    }
    out_[0].add({});
    beat_at_ = shared_.now;
    return true;
}

bool QuicConnection::has_to_write() const {
    const bool can_write = phase_ == Phase::open || phase_ == Phase::closing;
    return can_write &&
           (!datagrams_.empty() ||
            std::any_of(out_.begin(), out_.end(), [](const OutStream& one) { return one.has_unsent(); }));
}

void QuicConnection::write() {
    if (phase_ >= Phase::ended) {
        return;
    }
    while (!datagrams_.empty() &&
           (shared_.now - datagrams_.front().since > datagrams_last || datagrams_.size() > max_datagrams)) {
        datagrams_.pop_front();
        ++shared_.counts.unreliable_dropped;
    }
    const ngtcp2_tstamp now = ticks_of(shared_.now);
    if (ngtcp2_conn_get_expiry(connection_.get()) <= now) {
        if (const int fault = ngtcp2_conn_handle_expiry(connection_.get(), now); fault != 0) {
            fail(fault);
            return;
        }
    }
    written_at_ = shared_.now;
    ngtcp2_conn_stat measured;
    ngtcp2_conn_get_conn_stat(connection_.get(), &measured);
    in_flight_ = measured.bytes_in_flight;
    Writing writing;
    writing.begins_with_beat = beat();
    ngtcp2_path_storage_zero(&writing.path);
    for (int packets = 0; packets < max_packets;) {
        const ngtcp2_ssize size = write_part(writing);
        if (size > 0) {
            const auto packet =
                std::as_bytes(std::span{writing.buffer}.first(static_cast<std::size_t>(size)));
            note_asking(packet);
            send_bytes(writing.path.path, packet);
            if (std::exchange(writing.opens, false) && !is_heard_) {
                opening_.add(packet, shared_.now);
            }
            ++packets;
        } else if (size != 0 && size != NGTCP2_ERR_WRITE_MORE) {
            fail(static_cast<int>(size));
            return;
        } else if (size == 0 && writing.is_last) {
            return;
        }
    }
}

// Keeps a packet for ask_again() if it adds to those that wait for an answer.
void QuicConnection::note_asking(std::span<const std::byte> packet) {
    ngtcp2_conn_stat measured;
    ngtcp2_conn_get_conn_stat(connection_.get(), &measured);
    if (phase_ == Phase::open && measured.bytes_in_flight > in_flight_) {
        asking_.assign(packet.begin(), packet.end());
        asked_at_ = shared_.now;
    }
    in_flight_ = measured.bytes_in_flight;
}

ngtcp2_ssize QuicConnection::write_datagram(Writing& writing) {
    std::vector<std::byte>& bytes = datagrams_.front().bytes;
    const ngtcp2_vec vector{reinterpret_cast<std::uint8_t*>(bytes.data()), bytes.size()};
    int accepted = 0;
    const ngtcp2_ssize size = ngtcp2_conn_writev_datagram(
        connection_.get(), &writing.path.path, &writing.info, writing.buffer.data(), writing.buffer.size(),
        &accepted, NGTCP2_WRITE_DATAGRAM_FLAG_MORE, 0, &vector, 1, ticks_of(shared_.now));
    const bool is_refused = size == NGTCP2_ERR_INVALID_STATE || size == NGTCP2_ERR_INVALID_ARGUMENT;
    if (accepted != 0 || is_refused) {
        datagrams_.pop_front();
    }
    writing.datagrams_blocked = size == 0 && accepted == 0;
    return is_refused ? 0 : size;
}

// Writes the next thing that waits into the packet. Returns its size once it is full, or what ngtcp2 says.
ngtcp2_ssize QuicConnection::write_part(Writing& writing) {
    const bool is_open = phase_ == Phase::open || phase_ == Phase::closing;
    if (is_open && !datagrams_.empty() && !writing.datagrams_blocked &&
        !std::exchange(writing.begins_with_beat, false)) {
        return write_datagram(writing);
    }
    for (std::size_t index = 0; is_open && index < out_.size(); ++index) {
        OutStream& stream = out_[index];
        if (writing.streams_blocked[index] || stream.id < 0 || !stream.has_unsent()) {
            continue;
        }
        std::array<ngtcp2_vec, 2> vectors;
        std::size_t count = 0;
        for (const std::span<const std::byte> piece : stream.unsent()) {
            auto* bytes = reinterpret_cast<const std::uint8_t*>(piece.data());
            vectors[count++] = {const_cast<std::uint8_t*>(bytes), piece.size()};
        }
        ngtcp2_ssize taken = -1;
        const ngtcp2_ssize size = ngtcp2_conn_writev_stream(
            connection_.get(), &writing.path.path, &writing.info, writing.buffer.data(),
            writing.buffer.size(), &taken, NGTCP2_WRITE_STREAM_FLAG_MORE, stream.id, vectors.data(), count,
            ticks_of(shared_.now));
        stream.note_sent(taken > 0 ? static_cast<std::size_t>(taken) : 0);
        writing.opens = writing.opens || (index == 0 && taken > 0);
        writing.streams_blocked[index] =
            size == 0 || size == NGTCP2_ERR_STREAM_DATA_BLOCKED || size == NGTCP2_ERR_STREAM_SHUT_WR;
        if (size == NGTCP2_ERR_STREAM_DATA_BLOCKED || size == NGTCP2_ERR_STREAM_SHUT_WR) {
            continue;
        }
        return size;
    }
    writing.is_last = true;
    return ngtcp2_conn_writev_stream(connection_.get(), &writing.path.path, &writing.info,
                                     writing.buffer.data(), writing.buffer.size(), nullptr,
                                     NGTCP2_WRITE_STREAM_FLAG_NONE, -1, nullptr, 0, ticks_of(shared_.now));
}

bool QuicConnection::open_streams() {
    return std::all_of(out_.begin(), out_.end(), [this](OutStream& stream) {
        return ngtcp2_conn_open_uni_stream(connection_.get(), &stream.id, nullptr) == 0;
    });
}

bool QuicConnection::on_handshake() {
    if (!open_streams() || tls_.key == PublicKey{}) {
        return false;
    }
    if (phase_ != Phase::handshake) {
        return true; // it is being closed
    }
    phase_ = Phase::open;
    ngtcp2_conn_set_keep_alive_timeout(connection_.get(),
                                       static_cast<ngtcp2_duration>(between_signs.count()));
    if (tls_.is_server) {
        on_confirmed();
        peer_ = PeerId{++shared_.last_peer};
        has_peer_ = true;
    }
    TransportEvent event;
    event.kind = TransportEventKind::connected;
    event.peer = peer_;
    event.address = address();
    event.key = tls_.key;
    if (tls_.is_server) {
        event.bytes = tls_.greeting;
    }
    shared_.events.push_back(std::move(event));
    return true;
}

void QuicConnection::on_confirmed() {
    is_confirmed_ = true;
    flight_.clear();
}

bool QuicConnection::on_stream(std::int64_t id, std::span<const std::byte> bytes) {
    const auto index = static_cast<std::size_t>(id >> 2U);
    if ((id & 2) == 0 || index >= in_.size()) {
        return false;
    }
    InStream& stream = in_[index];
    stream.take(bytes);
    std::size_t done = 0;
    while (auto message = stream.next()) {
        if (!has_peer_) {
            done += message->size(); // nobody listens any more
            continue;
        }
        TransportEvent event;
        event.peer = peer_;
        event.channel = static_cast<Channel>(index + 1);
        event.bytes = std::move(*message);
        shared_.events.push_back(std::move(event));
    }
    done += stream.take_overhead();
    ngtcp2_conn_extend_max_stream_offset(connection_.get(), id, done);
    ngtcp2_conn_extend_max_offset(connection_.get(), done);
    if (stream.is_longer_than(shared_.settings.max_message)) {
        reason_ = "a message is longer than " + std::to_string(shared_.settings.max_message) + " bytes";
        return false;
    }
    return true;
}

// More of a stream is let in when its messages have been received, so that nothing piles up.
void QuicConnection::note_received(const TransportEvent& event) {
    if (event.kind != TransportEventKind::packet) {
        return;
    }
    if (event.channel == Channel::unreliable) {
        --waiting_;
    } else if (connection_) {
        const std::int64_t id = 4 * (static_cast<std::int64_t>(event.channel) - 1) + (tls_.is_server ? 2 : 3);
        ngtcp2_conn_extend_max_stream_offset(connection_.get(), id, event.bytes.size());
        ngtcp2_conn_extend_max_offset(connection_.get(), event.bytes.size());
    }
}

void QuicConnection::on_datagram(std::span<const std::byte> bytes) {
    auto message = parted_.take(bytes);
    if (!message || !has_peer_) {
        return;
    }
    if (waiting_ >= shared_.settings.max_waiting) {
        ++shared_.counts.unreliable_dropped;
        return;
    }
    ++waiting_;
    TransportEvent event;
    event.peer = peer_;
    event.bytes = std::move(*message);
    shared_.events.push_back(std::move(event));
}

void QuicConnection::on_arrived(std::int64_t id, std::uint64_t until) {
    for (OutStream& stream : out_) {
        if (stream.id == id) {
            stream.note_arrived(until);
        }
    }
    if (id == out_[0].id) {
        is_heard_ = true;
        opening_.clear();
    }
}

} // namespace avrek::detail
