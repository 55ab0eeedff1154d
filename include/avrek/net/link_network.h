#pragma once
#include <avrek/arsenal/link_spec.h>
#include <avrek/core/time.h>
#include <avrek/net/transport.h>

#include <cstddef>
#include <cstdint>
#include <memory>

/// A simulated network: one server, clients with their own links, and a clock that is set by hand. The same
/// seed, sends and times give the same result.
namespace avrek {

/// Traffic of one direction of a link.
struct LinkTraffic {
    std::uint64_t packets = 0; ///< packets sent, repeats of reliable ones included
    std::uint64_t bytes = 0;   ///< without network headers
    std::uint64_t lost = 0;    ///< packets lost, including those beyond the bandwidth
    friend bool operator==(const LinkTraffic&, const LinkTraffic&) = default;
};

/// The simulated network. Time passes only in advance().
///
/// A packet waits for the link to carry those before it, then takes half of the latency and part of the
/// jitter. It can be lost, alone or in runs (Gilbert, "Capacity of a burst-noise channel", 1960), duplicated,
/// or reordered. A reliable packet is sent again after each loss, with a doubling delay.
class LinkNetwork {
  public:
    /// Makes a network without clients. The seed decides losses and delays.
    explicit LinkNetwork(std::uint64_t seed = 1);
    ~LinkNetwork();
    LinkNetwork(const LinkNetwork&) = delete;
    LinkNetwork& operator=(const LinkNetwork&) = delete;

    /// Returns the server's end. Its peers are 1, 2, ... in order of connecting.
    Transport& server();

    /// Returns a new client's end, connected over `link`. It lives as long as the network.
    Transport& connect(const LinkSpec& link);

    /// Changes the link of a client; packets on their way are not affected.
    void change(PeerId client, const LinkSpec& link);

    /// Disconnects a client silently: nothing arrives any more, and nobody is told until an end closes.
    void unplug(PeerId client);

    /// Advances time. Precondition (asserted): not backwards.
    void advance(Time until);
    /// Returns the present time.
    Time now() const;

    LinkTraffic up(PeerId client) const;   ///< to the server
    LinkTraffic down(PeerId client) const; ///< from the server

  private:
    struct State;
    struct End;
    std::unique_ptr<State> state_;
};

} // namespace avrek
