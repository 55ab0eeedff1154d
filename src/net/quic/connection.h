#pragma once
#include "streams.h"
#include "tls.h"
#include <avrek/net/quic_endpoint.h>

#include <netinet/in.h>
#include <ngtcp2/ngtcp2.h>

#include <array>
#include <deque>
#include <memory>
#include <string>

/// One QUIC connection, by ngtcp2.
namespace avrek::detail {

/// Connection ids that an end chooses have this size.
inline constexpr std::size_t own_id_size = 8;
/// Datagrams on the network are no larger.
inline constexpr std::size_t max_quic_datagram = 1200;

class QuicConnection;

/// State that the connections of an endpoint share.
struct QuicShared {
    QuicSettings settings{};
    SendDatagram send{};
    TlsCredentials credentials;
    GreetingCheck check{};
    std::deque<TransportEvent> events{};
    QuicCounts counts{};
    Time now{};
    std::uint32_t last_peer = 0;
    bool is_server = false;
    /// Told of a connection id that a connection begins or ends to use.
    std::function<void(const ngtcp2_cid&, QuicConnection*)> route{};
};

/// The first packet of a client whose address has been validated.
struct QuicFirstPacket {
    ngtcp2_cid client{};   ///< id that the client has chosen for itself
    ngtcp2_cid sent_to{};  ///< id that it has sent to, which this end chose with its token
    ngtcp2_cid original{}; ///< id that it has sent to before it had a token
    std::span<const std::uint8_t> token{};
    std::uint32_t version = 0;
};

/// Returns the time as ngtcp2 counts it.
ngtcp2_tstamp ticks_of(Time time);

/// The ends of a path as ngtcp2 takes them. The own one is the same for all: nobody looks at it.
class PathEnds {
  public:
    explicit PathEnds(const NetAddress& remote);
    ngtcp2_path path() { return {{any(own_), size}, {any(remote_), size}, nullptr}; }
    ngtcp2_sockaddr* remote() { return any(remote_); }
    static constexpr ngtcp2_socklen size = sizeof(sockaddr_in6);

  private:
    static ngtcp2_sockaddr* any(sockaddr_in6& end) { return reinterpret_cast<ngtcp2_sockaddr*>(&end); }
    sockaddr_in6 own_{};
    sockaddr_in6 remote_{};
};

class QuicConnection {
  public:
    /// Phases of a connection.
    enum class Phase : std::uint8_t {
        handshake,
        open,
        closing, ///< sends what it has, then closes
        ended,   ///< closed by either end; answers late packets for a while
        over,    ///< can be forgotten
    };

    /// A server's end. Null if it cannot be made.
    static std::unique_ptr<QuicConnection> accept(QuicShared& shared, const NetAddress& from,
                                                  const QuicFirstPacket& first);
    /// A client's end. Null if it cannot be made.
    static std::unique_ptr<QuicConnection> connect(QuicShared& shared, const NetAddress& server,
                                                   const QuicGreeting& greeting);
    ~QuicConnection();
    QuicConnection(const QuicConnection&) = delete;
    QuicConnection& operator=(const QuicConnection&) = delete;

    void take(const NetAddress& from, std::span<const std::byte> bytes);
    /// Does what is due now.
    void advance();
    /// Sends what waits, as far as the network takes it.
    void write();
    bool has_to_write() const;
    Time next_due() const;

    bool send(Channel channel, std::span<const std::byte> bytes);
    void close(std::string_view reason);
    /// The user has received an event of it.
    void note_received(const TransportEvent& event);

    Phase phase() const { return phase_; }
    PeerId peer() const { return peer_; }
    bool has_peer() const { return has_peer_; }
    NetAddress address() const;
    PeerLink link() const;

  private:
    /// Packets that are sent again before QUIC would: that waits twice as long each time, and bad links lose
    /// several in a row.
    struct Repeated {
        std::vector<std::vector<std::byte>> packets{};
        Time due = Time::max();
        void add(std::span<const std::byte> bytes, Time now);
        void clear();
    };

    explicit QuicConnection(QuicShared& shared) : shared_(shared) {}
    bool begin(const ngtcp2_cid& own, const ngtcp2_cid& other, const NetAddress& remote,
               const QuicFirstPacket* first);
    Time expires_at() const;
    void fail(int fault);
    void end(const ngtcp2_connection_close_error& error, const std::string& reason);
    void tell_end(const std::string& reason);
    bool open_streams();
    void close_if_done();
    bool beat();
    void repeat(Repeated& packets, const NetAddress& to);
    void ask_again();
    void note_asking(std::span<const std::byte> packet);
    Time asks_again_at() const;
    void send_bytes(const ngtcp2_path& path, std::span<const std::byte> bytes);
    struct Writing;
    ngtcp2_ssize write_datagram(Writing& writing);
    ngtcp2_ssize write_part(Writing& writing);

    // Functions that ngtcp2 calls. They return whether all is well.
    friend struct QuicCallbacks;
    bool on_handshake();
    void on_confirmed();
    bool on_stream(std::int64_t id, std::span<const std::byte> bytes);
    void on_datagram(std::span<const std::byte> bytes);
    void on_arrived(std::int64_t id, std::uint64_t until);

    QuicShared& shared_;
    Phase phase_ = Phase::handshake;
    TlsPeer tls_{};
    ngtcp2_crypto_conn_ref link_{};
    struct ConnectionEnd {
        void operator()(ngtcp2_conn* ended) const { ngtcp2_conn_del(ended); }
    };
    TlsCredentials::Session session_{};
    std::unique_ptr<ngtcp2_conn, ConnectionEnd> connection_{};
    PeerId peer_{};
    bool has_peer_ = false; ///< the user knows it
    std::array<OutStream, reliable_channel_count> out_{};
    std::array<InStream, reliable_channel_count> in_{};
    PartedMessages parted_{};
    struct Waiting {
        Time since{};
        std::vector<std::byte> bytes{};
    };
    std::deque<Waiting> datagrams_{}; ///< that wait to be sent
    std::uint16_t datagram_number_ = 0;
    Time beat_at_{};
    Time written_at_{};
    /// The newest packet that asks for an answer. It is sent again while none comes: where many packets are
    /// lost, the congestion window is full of lost ones, and QUIC waits twice as long before each of its
    /// probes.
    std::vector<std::byte> asking_{};
    Time asked_at_{};
    std::uint64_t in_flight_ = 0; ///< bytes that wait for an answer, at the last look
    std::size_t waiting_ = 0;     ///< unreliable messages that the user has not received
    std::string reason_{};        ///< for which it closes
    Time gives_up_at_{};
    Repeated flight_{}; ///< last datagrams of the handshake that were sent at once
    Time flight_at_{};
    Repeated opening_{}; ///< the first messages, until one has arrived
    bool is_heard_ = false;
    bool is_confirmed_ = false;           ///< the other end has finished the handshake too
    std::vector<std::byte> last_words_{}; ///< the packet that closes, for late packets
    NetAddress last_address_{};
    PeerLink counted_{};
};

} // namespace avrek::detail
