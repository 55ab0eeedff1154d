#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/core/time.h>
#include <avrek/net/transport.h>

#include <cstdint>
#include <memory>
#include <string>

/// Transport over UDP, with ENet.
namespace avrek {

/// A Transport over UDP.
class EnetTransport final : public Transport {
  public:
    /// Makes a server's end that listens at an address of this machine ("0.0.0.0": all addresses). Port 0
    /// takes any free port. Returns diagnostics on failure.
    static Loaded<std::unique_ptr<EnetTransport>> listen(const std::string& address, std::uint16_t port,
                                                         std::size_t max_peers);
    /// Makes a client's end. It connects in the background; the event `connected` reports it.
    static Loaded<std::unique_ptr<EnetTransport>> connect(const std::string& address, std::uint16_t port);

    ~EnetTransport() override;

    void send(PeerId peer, Channel channel, std::span<const std::byte> bytes) override;
    bool receive(TransportEvent& event) override;
    void close(PeerId peer) override;
    void flush() override;

    /// Returns the UDP port of this end.
    std::uint16_t port() const;
    /// Waits for a packet, at most this long.
    void wait(Duration at_most);

    struct Host; ///< private

  private:
    explicit EnetTransport(std::unique_ptr<Host> host);
    std::unique_ptr<Host> host_;
};

} // namespace avrek
