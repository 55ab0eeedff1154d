#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/core/time.h>
#include <avrek/net/quic_endpoint.h>
#include <avrek/net/tickets.h>
#include <avrek/net/transport.h>

#include <cstdint>
#include <memory>
#include <string>

/// Transport over UDP, by QUIC (quic_endpoint.h).
namespace avrek {

/// A server's end at a UDP port. A thread of its own reads and sends, so that a tick waits for no network and
/// strangers cost it nothing. What is waiting for receive() is bounded: beyond that, reliable messages wait
/// at their senders, and others are lost.
class UdpServer final : public Transport {
  public:
    /// Listens at an address of this machine ("0.0.0.0": all of IPv4, "::": all). Port 0 takes any free port.
    /// Returns diagnostics on failure.
    static Loaded<std::unique_ptr<UdpServer>> listen(const std::string& address, std::uint16_t port,
                                                     const QuicSettings& settings);
    /// Closes all connections.
    ~UdpServer() override;

    bool send(PeerId peer, Channel channel, std::span<const std::byte> bytes) override;
    bool receive(TransportEvent& event) override;
    void close(PeerId peer, std::string_view reason = {}) override;
    void flush() override;
    void check_greetings(const GreetingCheck& check) override;
    PublicKey key() const override;
    PeerLink link(PeerId peer) const override; ///< as of at most a quarter of a second ago

    /// Returns the UDP port of this end.
    std::uint16_t port() const;
    /// Returns what has been counted, as of at most a quarter of a second ago.
    QuicCounts counts() const;

    struct Impl; ///< private

  private:
    explicit UdpServer(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> impl_;
};

/// A client's end. It has no thread: receive() and flush() do its work, so call them each frame.
class UdpClient final : public Transport {
  public:
    /// Connects to a server in the background; the event `connected` reports it. The ticket names the key
    /// that the server must hold. Returns diagnostics on failure.
    static Loaded<std::unique_ptr<UdpClient>> connect(const std::string& address, std::uint16_t port,
                                                      const Credentials& credentials);
    ~UdpClient() override;

    bool send(PeerId peer, Channel channel, std::span<const std::byte> bytes) override;
    bool receive(TransportEvent& event) override;
    void close(PeerId peer, std::string_view reason = {}) override;
    void flush() override;
    PublicKey key() const override;
    PeerLink link(PeerId peer) const override;

    /// Waits for a datagram, at most this long.
    void wait(Duration at_most);

    struct Impl; ///< private

  private:
    explicit UdpClient(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> impl_;
};

} // namespace avrek
