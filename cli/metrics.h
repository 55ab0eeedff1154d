#pragma once
#include <avrek/net/quic_endpoint.h>
#include <avrek/net/server.h>

#include <chrono>
#include <cstdint>
#include <memory>

namespace avrek::cli {

/// A server's numbers over HTTP, as Prometheus reads them, at /metrics, and at /health whether it ticks.
class Metrics {
  public:
    /// Serves at a port of this machine alone. Throws WrongCall when that cannot be.
    explicit Metrics(std::uint16_t port);
    ~Metrics();
    Metrics(const Metrics&) = delete;
    Metrics& operator=(const Metrics&) = delete;

    /// After a tick, which took so long, and with what the network has counted.
    void take(const Server& server, const QuicCounts& network, std::chrono::nanoseconds took);

  private:
    class Health;
    struct Serving;
    std::unique_ptr<Serving> serving_;
};

} // namespace avrek::cli
