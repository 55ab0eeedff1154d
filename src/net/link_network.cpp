#include <avrek/core/random.h>
#include <avrek/net/link_network.h>

#include <algorithm>
#include <cassert>
#include <deque>
#include <limits>

namespace avrek {

namespace {

constexpr Duration longest_queue = std::chrono::milliseconds{250}; // queue of a full link
constexpr Duration min_wait = std::chrono::milliseconds{20};       // before a certain packet is sent again
constexpr int max_tries = 40;
constexpr Duration row_lasts = std::chrono::milliseconds{60}; // maximum length of a loss run without a packet

} // namespace

struct LinkNetwork::State {
    // Something on its way to one end.
    struct Arriving {
        Time at{};
        std::uint64_t number = 0; // keeps packets that arrive together in order
        std::size_t link = 0;
        bool to_server = false;
        TransportEvent event{};
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
        Time certain_at{};   // and the last certain one
        bool losing = false; // in a row of losses
        Time tried_at = Time::min();
        std::uint32_t draws = 0;
    };

    struct Link {
        LinkSpec spec{};
        Way up{};
        Way down{};
        bool plugged = true;
        bool open_at_server = true; // neither end has closed it
        bool open_at_client = true;
    };

    std::uint64_t seed = 1;
    Time now{};
    std::uint64_t numbers = 0;
    std::vector<Arriving> arriving; // a heap
    std::deque<Link> links;
    std::deque<std::unique_ptr<End>> ends; // the clients' ends
    std::unique_ptr<End> server;
    std::deque<TransportEvent> at_server;
    std::vector<std::deque<TransportEvent>> at_client;

    Way& way(std::size_t link, bool to_server) { return to_server ? links[link].up : links[link].down; }

    double draw(std::size_t link, bool to_server) {
        Way& used = way(link, to_server);
        return random_pair({seed, static_cast<std::uint32_t>(2 * link + (to_server ? 1 : 0)),
                            RandomPurpose::link, used.draws++, 0})[0];
    }

    void push(Time at, std::size_t link, bool to_server, TransportEvent event) {
        arriving.push_back({at, numbers++, link, to_server, std::move(event)});
        std::push_heap(arriving.begin(), arriving.end(), ArrivesAfter{});
    }

    // When a packet has left, or none when the link is too full for it.
    Time leaves(std::size_t link, bool to_server, std::size_t size, bool may_wait) {
        const LinkSpec& spec = links[link].spec;
        Way& used = way(link, to_server);
        const double ceiling = to_server ? spec.up : spec.down;
        if (ceiling <= 0.0) {
            return now;
        }
        const Time from = std::max(now, used.free_at);
        if (!may_wait && from - now > longest_queue) {
            return Time::max();
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

    void send(std::size_t link, bool to_server, Channel channel, std::span<const std::byte> bytes) {
        const Link& over = links[link];
        if (!over.plugged || !over.open_at_client || !over.open_at_server) {
            return;
        }
        TransportEvent event;
        event.peer = to_server ? PeerId{static_cast<std::uint32_t>(link + 1)} : server_peer;
        event.channel = channel;
        event.bytes.assign(bytes.begin(), bytes.end());
        if (channel == Channel::reliable) {
            send_certain(link, to_server, std::move(event));
        } else {
            send_newest(link, to_server, std::move(event));
        }
    }

    void send_newest(std::size_t link, bool to_server, TransportEvent event) {
        const LinkSpec& spec = links[link].spec;
        Way& used = way(link, to_server);
        ++used.traffic.packets;
        const Time left = leaves(link, to_server, event.bytes.size(), false);
        if (left == Time::max() || is_lost(link, to_server, left)) {
            ++used.traffic.lost;
            used.traffic.bytes += left == Time::max() ? 0 : event.bytes.size();
            return;
        }
        used.traffic.bytes += event.bytes.size();
        Time at = left + travel(link, to_server);
        if (spec.reordered > 0.0 && draw(link, to_server) < spec.reordered) {
            at += spec.latency / 4 + spec.jitter + std::chrono::milliseconds{20}; // later ones overtake it
        } else {
            at = std::max(at, used.newest_at);
            used.newest_at = at;
        }
        if (spec.duplicated > 0.0 && draw(link, to_server) < spec.duplicated) {
            push(at + travel(link, to_server) / 4, link, to_server, event);
        }
        push(at, link, to_server, std::move(event));
    }

    void send_certain(std::size_t link, bool to_server, TransportEvent event) {
        const LinkSpec& spec = links[link].spec;
        Way& used = way(link, to_server);
        Duration wait = spec.latency + 2 * spec.jitter + min_wait;
        Time left = leaves(link, to_server, event.bytes.size(), true);
        for (int tries = 0; tries < max_tries; ++tries) {
            ++used.traffic.packets;
            used.traffic.bytes += event.bytes.size();
            if (!is_lost(link, to_server, left)) {
                break;
            }
            ++used.traffic.lost;
            left += wait;
            wait = std::min<Duration>(2 * wait, std::chrono::seconds{1});
        }
        const Time at = std::max(left + travel(link, to_server), used.certain_at);
        used.certain_at = at;
        push(at, link, to_server, std::move(event));
    }

    void close(std::size_t link, bool by_server) {
        Link& over = links[link];
        bool& open = by_server ? over.open_at_server : over.open_at_client;
        if (!open) {
            return;
        }
        // After all certain packets that are on their way.
        TransportEvent event;
        event.kind = TransportEventKind::disconnected;
        event.peer = by_server ? server_peer : PeerId{static_cast<std::uint32_t>(link + 1)};
        event.channel = Channel::reliable;
        if (over.plugged) {
            send_certain(link, !by_server, std::move(event));
        }
        open = false;
    }

    void arrive(Arriving arriving_now) {
        Link& link = links[arriving_now.link];
        bool& open = arriving_now.to_server ? link.open_at_server : link.open_at_client;
        if (!open || !link.plugged) {
            return;
        }
        if (arriving_now.event.kind == TransportEventKind::disconnected) {
            open = false;
        }
        auto& inbox = arriving_now.to_server ? at_server : at_client[arriving_now.link];
        inbox.push_back(std::move(arriving_now.event));
    }
};

struct LinkNetwork::End final : Transport {
    State* network = nullptr;
    std::size_t link = 0; // link of a client's end
    bool is_server = false;

    // Which link a peer of this end is at; none for who is not known.
    std::size_t link_of(PeerId peer) const {
        return is_server             ? static_cast<std::size_t>(peer) - 1
               : peer == server_peer ? link
                                     : network->links.size();
    }
    void send(PeerId peer, Channel channel, std::span<const std::byte> bytes) override {
        if (const std::size_t over = link_of(peer); over < network->links.size()) {
            network->send(over, !is_server, channel, bytes);
        }
    }
    bool receive(TransportEvent& event) override {
        auto& inbox = is_server ? network->at_server : network->at_client[link];
        if (inbox.empty()) {
            return false;
        }
        event = std::move(inbox.front());
        inbox.pop_front();
        return true;
    }
    void close(PeerId peer) override {
        if (const std::size_t over = link_of(peer); over < network->links.size()) {
            network->close(over, is_server);
        }
    }
};

LinkNetwork::LinkNetwork(std::uint64_t seed) : state_(std::make_unique<State>()) {
    state_->seed = seed;
    state_->server = std::make_unique<End>();
    state_->server->network = state_.get();
    state_->server->is_server = true;
}

LinkNetwork::~LinkNetwork() = default;

Transport& LinkNetwork::server() {
    return *state_->server;
}

Transport& LinkNetwork::connect(const LinkSpec& link) {
    const std::size_t index = state_->links.size();
    state_->links.push_back({});
    state_->links.back().spec = link;
    state_->at_client.emplace_back();
    state_->ends.push_back(std::make_unique<End>());
    state_->ends.back()->network = state_.get();
    state_->ends.back()->link = index;
    TransportEvent came;
    came.kind = TransportEventKind::connected;
    came.peer = PeerId{static_cast<std::uint32_t>(index + 1)};
    state_->send_certain(index, true, came);
    came.peer = server_peer;
    state_->send_certain(index, false, came);
    return *state_->ends.back();
}

void LinkNetwork::change(PeerId client, const LinkSpec& link) {
    state_->links[static_cast<std::size_t>(client) - 1].spec = link;
}

void LinkNetwork::unplug(PeerId client) {
    state_->links[static_cast<std::size_t>(client) - 1].plugged = false;
}

void LinkNetwork::advance(Time until) {
    assert(until >= state_->now);
    while (!state_->arriving.empty() && state_->arriving.front().at <= until) {
        std::pop_heap(state_->arriving.begin(), state_->arriving.end(), State::ArrivesAfter{});
        State::Arriving next = std::move(state_->arriving.back());
        state_->arriving.pop_back();
        state_->arrive(std::move(next));
    }
    state_->now = until;
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
