#pragma once
#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

/// The interface of a transport. A game with its own implements Transport; ENet over UDP (enet_transport.h)
/// and simulated links (link_network.h) are built in.
namespace avrek {

/// How a packet travels.
enum class Channel : std::uint8_t {
    unreliable, ///< can be lost, duplicated or late
    reliable,   ///< arrives once, in the order of sending
};

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
    std::vector<std::byte> bytes{};
};

/// One end of connections. Not thread-safe.
class Transport {
  public:
    virtual ~Transport() = default;

    /// Sends a packet, no later than flush(). Dropped if the peer is gone.
    virtual void send(PeerId peer, Channel channel, std::span<const std::byte> bytes) = 0;

    /// Returns the next event; false if there is none. Never blocks.
    virtual bool receive(TransportEvent& event) = 0;

    /// Closes a connection once its reliable packets have arrived, if possible. Nothing more is received from
    /// it.
    virtual void close(PeerId peer) = 0;

    /// Sends queued packets.
    virtual void flush() {}
};

} // namespace avrek
