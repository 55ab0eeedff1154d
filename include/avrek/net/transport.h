#pragma once
#include <avrek/core/time.h>
#include <avrek/net/keys.h>
#include <avrek/net/net_address.h>

#include <cstddef>
#include <cstdint>
#include <functional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

/// The interface of a transport. A game with its own implements Transport; QUIC over UDP (udp_transport.h)
/// and over simulated links (link_network.h) is built in.
namespace avrek {

/// How a message travels. Each reliable channel keeps its own order: what is lost on one holds up no other.
enum class Channel : std::uint8_t {
    unreliable, ///< can be lost, duplicated or late
    reliable,   ///< arrives once, in the order of sending
    notices,    ///< reliable, for notices
    ledger,     ///< reliable, for changes of the ledger
};

/// Number of reliable channels.
inline constexpr std::size_t reliable_channel_count = 3;

/// The other end of a connection, as long as the transport exists. A client knows one: `server_peer`.
enum class PeerId : std::uint32_t {};

/// The server, as its clients name it.
inline constexpr PeerId server_peer{0};

/// Kinds of transport events.
enum class TransportEventKind : std::uint8_t {
    connected,    ///< a peer has connected; on a client: the server
    packet,       ///< `bytes` have arrived
    disconnected, ///< the connection is over, whichever end closed it
};

/// One event of a transport.
struct TransportEvent {
    TransportEventKind kind = TransportEventKind::packet;
    PeerId peer{};
    Channel channel = Channel::unreliable;
    /// Message. On a server, of `connected`: the greeting with which the client asked to be let in, its
    /// ticket.
    std::vector<std::byte> bytes{};
    NetAddress address{}; ///< address of a peer that has connected; zeros: unknown
    PublicKey key{};      ///< key that a peer that has connected holds; zeros: none
    std::string reason{}; ///< reason of a disconnection, if it is known
};

/// Measurements of the connection to a peer.
struct PeerLink {
    std::string address{};          ///< such as "127.0.0.1:4717"; empty if unknown
    Duration round_trip{};          ///< smoothed; 0 if unknown
    std::uint64_t sent_packets = 0; ///< datagrams of the network
    std::uint64_t sent_bytes = 0;   ///< with all that the transport adds, without headers of UDP
    std::uint64_t received_packets = 0;
    std::uint64_t received_bytes = 0;
};

/// Decides by a greeting whether its sender is let in. Returns why not, or nothing. It can be called in
/// another thread than the transport's user.
using GreetingCheck = std::function<std::string(std::span<const std::byte> greeting)>;

/// One end of connections. Not thread-safe.
class Transport {
  public:
    virtual ~Transport() = default;

    /// Sends a message, no later than flush(). Returns false if it cannot: the peer is gone, or too much
    /// waits for it.
    virtual bool send(PeerId peer, Channel channel, std::span<const std::byte> bytes) = 0;

    /// Returns the next event; false if there is none. Never blocks.
    virtual bool receive(TransportEvent& event) = 0;

    /// Closes a connection once its reliable messages have arrived, if possible. Nothing more is received
    /// from it. The peer learns the reason, cut to 200 bytes.
    virtual void close(PeerId peer, std::string_view reason = {}) = 0;

    /// Sends queued messages.
    virtual void flush() {}

    /// Sets the check of greetings, which stops strangers before they cost anything. A transport without
    /// greetings has no use for it.
    virtual void check_greetings(const GreetingCheck& check) { (void)check; }

    /// Returns the key by which clients know this end; zeros: none.
    virtual PublicKey key() const { return {}; }

    /// Returns the measurements of a peer; the default ones if it is unknown.
    virtual PeerLink link(PeerId peer) const {
        (void)peer;
        return {};
    }

    /// Returns the size of the largest unreliable message that travels as one datagram. Larger ones are sent
    /// in parts, and lost with any of them.
    virtual std::size_t max_datagram() const { return 1150; }
};

} // namespace avrek
