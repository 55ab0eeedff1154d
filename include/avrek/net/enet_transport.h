#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/core/time.h>
#include <avrek/net/transport.h>

#include <cstdint>
#include <memory>
#include <string>

/// Packets over UDP, by ENet.
namespace avrek {

class EnetTransport final : public Transport {
  public:
    /// A server's end, which listens at an address of this machine ("0.0.0.0": at all of them). Port 0 takes
    /// any free one. Diagnostics say what is wrong.
    static Loaded<std::unique_ptr<EnetTransport>> listen(const std::string& address, std::uint16_t port,
                                                         std::size_t max_peers);
    /// A client's end; it connects by and by, and the event `came` says when.
    static Loaded<std::unique_ptr<EnetTransport>> connect(const std::string& address, std::uint16_t port);

    ~EnetTransport() override;

    void send(PeerId peer, Channel channel, std::span<const std::byte> bytes) override;
    bool receive(TransportEvent& event) override;
    void close(PeerId peer) override;
    void flush() override;

    std::uint16_t port() const;
    /// Waits until something has come, at most so long.
    void wait(Duration at_most);

    struct Host; ///< for its own code alone

  private:
    explicit EnetTransport(std::unique_ptr<Host> host);
    std::unique_ptr<Host> host_;
};

} // namespace avrek
