#pragma once
#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

/// What Avrek asks of whatever carries its packets. A game that has its own implements Transport; with Avrek
/// come ENet over UDP (enet_transport.h) and simulated links (link_network.h).
namespace avrek {

/// How a packet travels.
enum class Channel : std::uint8_t {
    unreliable, ///< it may be lost, come twice, or late
    reliable,   ///< it comes, once, and in the order of sending
};

/// Names the other end of a connection, as long as the transport is there. A client knows one: `server_peer`.
enum class PeerId : std::uint32_t {};

inline constexpr PeerId server_peer{0};

enum class TransportEventKind : std::uint8_t {
    connected,    ///< somebody has connected; a client: to the server
    packet,       ///< `bytes` have come
    disconnected, ///< the connection is over, whoever ended it
};

struct TransportEvent {
    TransportEventKind kind = TransportEventKind::packet;
    PeerId peer{};
    Channel channel = Channel::unreliable;
    std::vector<std::byte> bytes{};
};

/// One end of connections. Not to be used by two threads at once.
class Transport {
  public:
    virtual ~Transport() = default;

    /// Sends a packet, at the latest with flush(). To who is not there any more it is lost.
    virtual void send(PeerId peer, Channel channel, std::span<const std::byte> bytes) = 0;

    /// The next thing that has happened; false when there is none. Never waits.
    virtual bool receive(TransportEvent& event) = 0;

    /// Ends a connection once the certain packets on their way have come, as far as that can be. Nothing of
    /// it is received any more.
    virtual void close(PeerId peer) = 0;

    /// Sends what waits.
    virtual void flush() {}
};

} // namespace avrek
