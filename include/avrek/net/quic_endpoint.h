#pragma once
#include <avrek/core/time.h>
#include <avrek/net/net_address.h>
#include <avrek/net/transport.h>

#include <functional>
#include <memory>

/// Connections by QUIC (RFC 9000) with TLS 1.3 and unreliable datagrams (RFC 9221), without a socket and
/// without a clock: datagrams and time go in, datagrams come out. udp_transport.h brings both.
namespace avrek {

/// Settings of an endpoint.
struct QuicSettings {
    KeyPair keys{};                       ///< keys of this end, which it proves to hold
    std::size_t max_peers = 64;           ///< peers of a server; more are refused
    std::size_t max_handshakes = 64;      ///< at a time, of a server; more wait
    double handshakes_per_second = 512.0; ///< from one address prefix, of a server; more wait
    std::size_t max_message = 1U << 16U;  ///< bytes of a reliable message; a longer one ends the connection
    std::size_t max_backlog = 4U << 20U;  ///< bytes of reliable messages that wait for a peer
    std::size_t max_waiting = 64; ///< unreliable messages of a peer that nobody has received; more are lost
    Duration silence = std::chrono::seconds{8}; ///< without packets for this long, a peer is lost
};

/// How a client asks to be let in.
struct QuicGreeting {
    PublicKey server{};             ///< key that the server must hold
    std::vector<std::byte> bytes{}; ///< its ticket; at most 512 bytes
};

/// Sends a datagram of at most 1,200 bytes, or drops it.
using SendDatagram = std::function<void(const NetAddress& to, std::span<const std::byte> bytes)>;

/// Counts of an endpoint.
struct QuicCounts {
    std::uint64_t received = 0;           ///< datagrams
    std::uint64_t unknown = 0;            ///< datagrams of no connection, dropped
    std::uint64_t not_validated = 0;      ///< first packets that were answered by a request for a token
    std::uint64_t handshakes = 0;         ///< begun
    std::uint64_t refused = 0;            ///< by the check of greetings
    std::uint64_t full = 0;               ///< refused because all places were taken
    std::uint64_t put_off = 0;            ///< dropped because too many came at a time
    std::uint64_t unreliable_dropped = 0; ///< unreliable messages that waited too long, on either way
};

/// One end of QUIC connections: a server, or a client of one. Times must not go back; if one does, the newest
/// counts. Not thread-safe.
class QuicEndpoint final : public Transport {
  public:
    /// Makes a server's end.
    QuicEndpoint(const QuicSettings& settings, SendDatagram send);
    /// Makes a client's end, which connects to a server. Precondition (asserted): at most 512 bytes of
    /// greeting.
    QuicEndpoint(const QuicSettings& settings, const QuicGreeting& greeting, const NetAddress& server,
                 Time now, SendDatagram send);
    ~QuicEndpoint() override;
    QuicEndpoint(const QuicEndpoint&) = delete;
    QuicEndpoint& operator=(const QuicEndpoint&) = delete;

    /// Takes a datagram of the network. Any bytes are safe.
    void take(const NetAddress& from, std::span<const std::byte> bytes, Time now);
    /// Does what is due: repeats what is lost, gives up who is silent, sends what waits.
    void advance(Time now);
    /// Sets the time of what is sent next.
    void set_time(Time now);
    /// Returns when something is due next, unless a datagram comes before; Time::max() if nothing is.
    Time next_due() const;

    bool send(PeerId peer, Channel channel, std::span<const std::byte> bytes) override;
    bool receive(TransportEvent& event) override;
    void close(PeerId peer, std::string_view reason = {}) override;
    void flush() override; ///< sends at the time of the last take() or advance()
    void check_greetings(const GreetingCheck& check) override;
    PublicKey key() const override;
    PeerLink link(PeerId peer) const override;

    /// Returns whether no connection is there any more, but for answers to late packets.
    bool is_over() const;
    /// Returns the address of a peer; zeros if it is unknown.
    NetAddress address_of(PeerId peer) const;
    /// Returns what has been counted.
    const QuicCounts& counts() const;

  private:
    struct Impl;
    std::unique_ptr<Impl> impl_;
};

} // namespace avrek
