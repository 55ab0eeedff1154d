#include <avrek/core/random.h>
#include <avrek/net/link_network.h>
#include <avrek/net/quic_endpoint.h>

#include <algorithm>
#include <cassert>
#include <deque>
#include <map>
#include <optional>

namespace avrek {

namespace {

constexpr Duration longest_queue = std::chrono::milliseconds{250}; // queue of a full link
constexpr Duration row_lasts = std::chrono::milliseconds{60}; // maximum length of a loss run without a packet
constexpr Duration min_pause = std::chrono::microseconds{100}; // an end that has done what was due rests
constexpr std::size_t server_end = 0;                          // the clients' ends follow
constexpr std::size_t max_clients = 1U << 16U;

NetAddress address_of(std::size_t end) {
    return ipv4(10, 0, static_cast<std::uint8_t>(end >> 8U), static_cast<std::uint8_t>(end & 0xffU), 4717);
}

std::size_t end_at(const NetAddress& address) {
    return static_cast<std::size_t>(address.ip[14]) << 8U | address.ip[15];
}

QuicSettings settings_of(const KeyPair& keys) {
    return {.keys = keys,
            .max_peers = max_clients,
            .max_handshakes = max_clients,
            .handshakes_per_second = static_cast<double>(max_clients)};
}

} // namespace

struct LinkNetwork::State {
    // A datagram on its way to one end.
    struct Arriving {
        Time at{};
        std::uint64_t number = 0; // keeps datagrams that arrive together in order
        std::size_t link = 0;
        bool to_server = false;
        std::uint16_t port = 0; // the client's, when it was sent
        std::vector<std::byte> bytes{};
    };

    struct ArrivesAfter {
        bool operator()(const Arriving& one, const Arriving& other) const {
            return one.at != other.at ? one.at > other.at : one.number > other.number;
        }
    };

    // One direction of a link.
    struct Way {
        LinkTraffic traffic{};
        Time free_at{};      // the last packet has left
        Time newest_at{};    // the last of those that keep their order has arrived
        bool losing = false; // in a row of losses
        Time tried_at = Time::min();
        std::uint32_t draws = 0;
    };

    struct Link {
        LinkSpec spec{};
        Way up{};
        Way down{};
        bool plugged = true;
        std::uint16_t port = 4717; // the client's
    };

    struct NetworkEnd {
        std::unique_ptr<QuicEndpoint> endpoint{};
        Time due = Time::max();
        void look() { due = endpoint->next_due(); }
    };

    std::uint64_t seed = 1;
    KeyPair keys = make_keys();
    Time now{};
    std::uint64_t numbers = 0;
    std::vector<Arriving> arriving; // a heap
    std::deque<Link> links;
    std::deque<NetworkEnd> ends; // the server's, then the clients'
    std::unique_ptr<End> server;
    Listener listener{};

    Way& way(std::size_t link, bool to_server) { return to_server ? links[link].up : links[link].down; }

    double draw(std::size_t link, bool to_server) {
        Way& used = way(link, to_server);
        return random_pair({seed, static_cast<std::uint32_t>(2 * link + (to_server ? 1 : 0)),
                            RandomPurpose::link, used.draws++, 0})[0];
    }

    void push(Time at, std::size_t link, bool to_server, std::span<const std::byte> bytes) {
        arriving.push_back({at, numbers++, link, to_server, links[link].port, {bytes.begin(), bytes.end()}});
        std::push_heap(arriving.begin(), arriving.end(), ArrivesAfter{});
    }

    // When a packet has left, or none when the link is too full for it.
    std::optional<Time> leaves(std::size_t link, bool to_server, std::size_t size) {
        const LinkSpec& spec = links[link].spec;
        Way& used = way(link, to_server);
        const double ceiling = to_server ? spec.up : spec.down;
        if (ceiling <= 0.0) {
            return now;
        }
        const Time from = std::max(now, used.free_at);
        if (from - now > longest_queue) {
            return std::nullopt;
        }
        used.free_at = from + from_seconds(static_cast<double>(size) / ceiling);
        return used.free_at;
    }

    // Whether the next packet is lost: rows of losses of the typical length, as often as the share asks.
    bool is_lost(std::size_t link, bool to_server, Time at) {
        const LinkSpec& spec = links[link].spec;
        Way& used = way(link, to_server);
        if (spec.loss <= 0.0) {
            return false;
        }
        const double turns = 1.0 / std::max(1.0, spec.loss_run);
        const double begins = std::min(1.0, turns * spec.loss / (1.0 - spec.loss));
        // A row of length 1 on average must not fall right into the next.
        const double stays = spec.loss_run <= 1.0 ? spec.loss : 1.0 - turns;
        double chance = used.losing ? stays : spec.loss_run <= 1.0 ? spec.loss : begins;
        // A run of losses is over by the time of a packet that is sent much later.
        chance = used.tried_at == Time::min() || at - used.tried_at > row_lasts ? spec.loss : chance;
        used.tried_at = at;
        used.losing = draw(link, to_server) < chance;
        return used.losing;
    }

    Duration travel(std::size_t link, bool to_server) {
        const LinkSpec& spec = links[link].spec;
        const double share = spec.jitter > Duration{} ? draw(link, to_server) : 0.0;
        return spec.latency / 2 + from_seconds(share * to_seconds(spec.jitter));
    }

    void send(std::size_t link, bool to_server, std::span<const std::byte> bytes) {
        if (!links[link].plugged) {
            return;
        }
        if (listener) {
            listener(PeerId{static_cast<std::uint32_t>(link + 1)}, to_server, bytes);
        }
        const LinkSpec& spec = links[link].spec;
        Way& used = way(link, to_server);
        ++used.traffic.packets;
        const std::optional<Time> left = leaves(link, to_server, bytes.size());
        used.traffic.bytes += left ? bytes.size() : 0;
        if (!left || is_lost(link, to_server, *left)) {
            ++used.traffic.lost;
            return;
        }
        Time at = *left + travel(link, to_server);
        if (spec.reordered > 0.0 && draw(link, to_server) < spec.reordered) {
            at += spec.latency / 4 + spec.jitter + std::chrono::milliseconds{20}; // later ones overtake it
        } else {
            at = std::max(at, used.newest_at);
            used.newest_at = at;
        }
        if (spec.duplicated > 0.0 && draw(link, to_server) < spec.duplicated) {
            push(at + travel(link, to_server) / 4, link, to_server, bytes);
        }
        push(at, link, to_server, bytes);
    }

    void arrive() {
        std::pop_heap(arriving.begin(), arriving.end(), ArrivesAfter{});
        const Arriving next = std::move(arriving.back());
        arriving.pop_back();
        if (links[next.link].plugged) {
            NetworkEnd& end = ends[next.to_server ? server_end : next.link + 1];
            NetAddress from = address_of(next.to_server ? next.link + 1 : server_end);
            from.port = next.to_server ? next.port : from.port;
            end.endpoint->take(from, next.bytes, now);
            end.look();
        }
    }
};

// The server's end, whose peers have the numbers of their links.
struct LinkNetwork::End final : Transport {
    QuicEndpoint& endpoint;
    std::map<PeerId, PeerId> inner{}; // by the number of the link
    std::map<PeerId, PeerId> outer{};

    explicit End(QuicEndpoint& its_endpoint) : endpoint(its_endpoint) {}

    std::optional<PeerId> inner_of(PeerId peer) const {
        const auto found = inner.find(peer);
        return found != inner.end() ? std::optional{found->second} : std::nullopt;
    }
    bool send(PeerId peer, Channel channel, std::span<const std::byte> bytes) override {
        const auto to = inner_of(peer);
        return to && endpoint.send(*to, channel, bytes);
    }
    bool receive(TransportEvent& event) override {
        if (!endpoint.receive(event)) {
            return false;
        }
        if (event.kind == TransportEventKind::connected) {
            const PeerId link{static_cast<std::uint32_t>(end_at(event.address))};
            inner[link] = event.peer;
            outer[event.peer] = link;
        }
        event.peer = outer.at(event.peer);
        return true;
    }
    void close(PeerId peer, std::string_view reason) override {
        if (const auto to = inner_of(peer)) {
            endpoint.close(*to, reason);
        }
    }
    void flush() override { endpoint.flush(); }
    void check_greetings(const GreetingCheck& check) override { endpoint.check_greetings(check); }
    PublicKey key() const override { return endpoint.key(); }
    PeerLink link(PeerId peer) const override {
        const auto to = inner_of(peer);
        return to ? endpoint.link(*to) : PeerLink{};
    }
    std::size_t max_datagram() const override { return endpoint.max_datagram(); }
};

LinkNetwork::LinkNetwork(std::uint64_t seed) : state_(std::make_unique<State>()) {
    State& run = *state_;
    run.seed = seed;
    run.ends.push_back({std::make_unique<QuicEndpoint>(
        settings_of(run.keys), [&run](const NetAddress& to, std::span<const std::byte> bytes) {
            run.send(end_at(to) - 1, false, bytes);
        })});
    run.server = std::make_unique<End>(*run.ends[server_end].endpoint);
}

LinkNetwork::~LinkNetwork() = default;

Transport& LinkNetwork::server() {
    return *state_->server;
}

PublicKey LinkNetwork::server_key() const {
    return state_->keys.open;
}

Transport& LinkNetwork::connect(const LinkSpec& link, const Credentials& credentials) {
    State& run = *state_;
    const std::size_t index = run.links.size();
    assert(index + 1 < max_clients);
    run.links.push_back({.spec = link});
    const auto claims = read_ticket(credentials.ticket);
    const QuicGreeting greeting{claims ? claims->server : run.keys.open,
                                {credentials.ticket.begin(), credentials.ticket.end()}};
    const KeyPair keys = credentials.keys.open != PublicKey{} ? credentials.keys : make_keys();
    run.ends.push_back(
        {std::make_unique<QuicEndpoint>(settings_of(keys), greeting, address_of(server_end), run.now,
                                        [&run, index](const NetAddress&, std::span<const std::byte> bytes) {
                                            run.send(index, true, bytes);
                                        })});
    return *run.ends.back().endpoint;
}

void LinkNetwork::change(PeerId client, const LinkSpec& link) {
    state_->links[static_cast<std::size_t>(client) - 1].spec = link;
}

void LinkNetwork::move(PeerId client) {
    ++state_->links[static_cast<std::size_t>(client) - 1].port;
}

void LinkNetwork::unplug(PeerId client) {
    state_->links[static_cast<std::size_t>(client) - 1].plugged = false;
}

void LinkNetwork::listen(Listener listener) {
    state_->listener = std::move(listener);
}

void LinkNetwork::inject(PeerId client, bool to_server, std::span<const std::byte> bytes) {
    state_->push(state_->now, static_cast<std::size_t>(client) - 1, to_server, bytes);
}

void LinkNetwork::advance(Time until) {
    State& run = *state_;
    assert(until >= run.now);
    for (State::NetworkEnd& end : run.ends) {
        end.endpoint->flush();
        end.look();
    }
    while (true) {
        const Time arrives = run.arriving.empty() ? Time::max() : run.arriving.front().at;
        const auto first = std::min_element(
            run.ends.begin(), run.ends.end(),
            [](const State::NetworkEnd& one, const State::NetworkEnd& other) { return one.due < other.due; });
        const Time next = std::min(arrives, first->due);
        if (next > until) {
            break;
        }
        run.now = std::max(run.now, next);
        if (arrives <= first->due) {
            run.arrive();
        } else {
            first->endpoint->advance(run.now);
            first->look();
            first->due = std::max(first->due, run.now + min_pause);
        }
    }
    run.now = until;
    for (State::NetworkEnd& end : run.ends) {
        end.endpoint->set_time(until);
    }
}

Time LinkNetwork::now() const {
    return state_->now;
}

LinkTraffic LinkNetwork::up(PeerId client) const {
    return state_->links[static_cast<std::size_t>(client) - 1].up.traffic;
}

LinkTraffic LinkNetwork::down(PeerId client) const {
    return state_->links[static_cast<std::size_t>(client) - 1].down.traffic;
}

} // namespace avrek
