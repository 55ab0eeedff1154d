#pragma once
#include <avrek/arsenal/link_spec.h>
#include <avrek/core/time.h>
#include <avrek/net/transport.h>

#include <cstddef>
#include <cstdint>
#include <memory>

/// A stand-in for a network: one server, clients with links of every kind, and a clock that is set by hand.
/// The same seed, sends and times give the same.
namespace avrek {

/// What one direction of a link has carried.
struct LinkTraffic {
    std::uint64_t packets = 0; ///< sent, repeats of certain ones counted
    std::uint64_t bytes = 0;   ///< of all these, without the headers of the network
    std::uint64_t lost = 0;    ///< packets, those that found the link full counted
    friend bool operator==(const LinkTraffic&, const LinkTraffic&) = default;
};

/// The whole of it. Time stands still but for advance().
///
/// A packet waits until the link has carried those before it, takes half of the latency and some of the
/// jitter, and may be lost, alone or in a row with others (Gilbert, "Capacity of a burst-noise channel",
/// 1960), doubled, or overtaken. A certain one is sent again after each loss, with a wait that doubles.
class LinkNetwork {
  public:
    explicit LinkNetwork(std::uint64_t seed = 1);
    ~LinkNetwork();
    LinkNetwork(const LinkNetwork&) = delete;
    LinkNetwork& operator=(const LinkNetwork&) = delete;

    /// The server's end. Its peers are 1, 2, ... in the order of connecting.
    Transport& server();

    /// A new client's end, connected over `link`. It lives as long as the network.
    Transport& connect(const LinkSpec& link);

    /// From now on a client's link is as `link`; what is on its way stays so.
    void change(PeerId client, const LinkSpec& link);

    /// Pulls the plug of a client: nothing comes through any more, and nobody is told until either end
    /// closes.
    void unplug(PeerId client);

    /// Lets time pass. Precondition (asserted): not backwards.
    void advance(Time until);
    Time now() const;

    LinkTraffic up(PeerId client) const;   ///< to the server
    LinkTraffic down(PeerId client) const; ///< from it

  private:
    struct State;
    struct End;
    std::unique_ptr<State> state_;
};

} // namespace avrek
