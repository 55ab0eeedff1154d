#pragma once
#include <avrek/arsenal/link_spec.h>
#include <avrek/core/time.h>
#include <avrek/net/tickets.h>
#include <avrek/net/transport.h>

#include <cstddef>
#include <cstdint>
#include <functional>
#include <memory>

/// A simulated network: one server, clients with their own links, and a clock that is set by hand. Both ends
/// speak QUIC (quic_endpoint.h), as they do over UDP. The same seed, sends and times give the same result.
namespace avrek {

/// Traffic of one direction of a link.
struct LinkTraffic {
    std::uint64_t packets = 0; ///< datagrams sent
    std::uint64_t bytes = 0;   ///< with all of QUIC, without headers of UDP
    std::uint64_t lost = 0;    ///< datagrams lost, including those beyond the bandwidth
    friend bool operator==(const LinkTraffic&, const LinkTraffic&) = default;
};

/// The simulated network. Time passes only in advance().
///
/// A datagram waits for the link to carry those before it, then takes half of the latency and part of the
/// jitter. It can be lost, alone or in runs (Gilbert, "Capacity of a burst-noise channel", 1960), duplicated,
/// or reordered.
class LinkNetwork {
  public:
    /// Makes a network without clients. The seed decides losses and delays.
    explicit LinkNetwork(std::uint64_t seed = 1);
    ~LinkNetwork();
    LinkNetwork(const LinkNetwork&) = delete;
    LinkNetwork& operator=(const LinkNetwork&) = delete;

    /// Returns the server's end. Its peers are 1, 2, ... in order of connecting.
    Transport& server();

    /// Returns the key of the server, for its tickets.
    PublicKey server_key() const;

    /// Returns a new client's end, which connects over `link`. It lives as long as the network. Without
    /// credentials it has no ticket, and keys of its own.
    Transport& connect(const LinkSpec& link, const Credentials& credentials = {});

    /// Changes the link of a client; packets on their way are not affected.
    void change(PeerId client, const LinkSpec& link);

    /// Gives a client another address, as routers do: packets on their way come from the old one.
    void move(PeerId client);

    /// Disconnects a client silently: nothing arrives any more, and each end finds out by the silence.
    void unplug(PeerId client);

    /// Called with each datagram that an end sends, whether it arrives or not.
    using Listener = std::function<void(PeerId client, bool to_server, std::span<const std::byte> bytes)>;
    /// Lets somebody listen on all links; null: nobody.
    void listen(Listener listener);
    /// Puts a datagram of somebody else's on a link, as if the other end had sent it. It arrives at once.
    void inject(PeerId client, bool to_server, std::span<const std::byte> bytes);

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
