#include <avrek/net/enet_transport.h>

#include <enet/enet.h>

#include <algorithm>
#include <deque>
#include <map>

namespace avrek {

namespace {

constexpr std::size_t channels = 2;
constexpr enet_uint8 certain_channel = 0;
constexpr enet_uint8 newest_channel = 1;
constexpr std::size_t max_waiting = 1U << 16U; // packets that nobody has asked for yet

bool is_ready() {
    static const bool ready = enet_initialize() == 0;
    return ready;
}

Diagnostic fault(const std::string& where, const std::string& what, const std::string& allowed) {
    return {Severity::error, where, 0, 0, {}, what, allowed, {}};
}

} // namespace

struct EnetTransport::Host {
    struct HostClosing {
        void operator()(ENetHost* closed) const { enet_host_destroy(closed); }
    };

    std::unique_ptr<ENetHost, HostClosing> host{};
    std::map<std::uint32_t, ENetPeer*> peers{};
    std::uint32_t last_number = 0;
    bool is_client = false;
    std::deque<TransportEvent> waiting{};

    // The number of a peer stands where ENet lets one keep something.
    static std::uint32_t number_of(const ENetPeer* peer) {
        return static_cast<std::uint32_t>(reinterpret_cast<std::uintptr_t>(peer->data));
    }
    void name(ENetPeer* peer, std::uint32_t number) {
        peer->data = reinterpret_cast<void*>(static_cast<std::uintptr_t>(number));
        peers[number] = peer;
    }
    void take(ENetEvent& event) {
        TransportEvent taken;
        switch (event.type) {
        case ENET_EVENT_TYPE_CONNECT:
            if (!is_client) {
                name(event.peer, ++last_number);
            }
            // The newest packets are never held back.
            enet_peer_throttle_configure(event.peer, ENET_PEER_PACKET_THROTTLE_INTERVAL,
                                         ENET_PEER_PACKET_THROTTLE_SCALE, 0);
            taken.kind = TransportEventKind::connected;
            break;
        case ENET_EVENT_TYPE_RECEIVE: {
            taken.kind = TransportEventKind::packet;
            taken.channel = event.channelID == certain_channel ? Channel::reliable : Channel::unreliable;
            const auto* bytes = reinterpret_cast<const std::byte*>(event.packet->data);
            taken.bytes.assign(bytes, bytes + event.packet->dataLength);
            enet_packet_destroy(event.packet);
            break;
        }
        case ENET_EVENT_TYPE_DISCONNECT:
            taken.kind = TransportEventKind::disconnected;
            break;
        case ENET_EVENT_TYPE_NONE:
            return;
        }
        const std::uint32_t number = number_of(event.peer);
        taken.peer = PeerId{number};
        const auto known = peers.find(number);
        if (known == peers.end()) {
            return; // it has been closed
        }
        if (taken.kind == TransportEventKind::disconnected) {
            peers.erase(known);
        }
        if (waiting.size() < max_waiting) {
            waiting.push_back(std::move(taken));
        }
    }
};

EnetTransport::EnetTransport(std::unique_ptr<Host> host) : host_(std::move(host)) {}

EnetTransport::~EnetTransport() = default;

Loaded<std::unique_ptr<EnetTransport>> EnetTransport::listen(const std::string& address, std::uint16_t port,
                                                             std::size_t max_peers) {
    Loaded<std::unique_ptr<EnetTransport>> loaded;
    const std::string where = address + ':' + std::to_string(port);
    ENetAddress at{};
    if (!is_ready() || enet_address_set_host(&at, address.c_str()) != 0) {
        loaded.diagnostics.push_back(
            fault(where, "is no address of this machine", "such as 127.0.0.1 or 0.0.0.0"));
        return loaded;
    }
    at.port = port;
    auto host = std::make_unique<Host>();
    host->host.reset(enet_host_create(&at, std::min<std::size_t>(max_peers, ENET_PROTOCOL_MAXIMUM_PEER_ID),
                                      channels, 0, 0));
    if (!host->host) {
        loaded.diagnostics.push_back(
            fault(where, "cannot be listened at", "an address of this machine and a UDP port that is free"));
        return loaded;
    }
    loaded.value.emplace(new EnetTransport{std::move(host)});
    return loaded;
}

Loaded<std::unique_ptr<EnetTransport>> EnetTransport::connect(const std::string& address,
                                                              std::uint16_t port) {
    Loaded<std::unique_ptr<EnetTransport>> loaded;
    const std::string where = address + ':' + std::to_string(port);
    ENetAddress at{};
    if (!is_ready() || enet_address_set_host(&at, address.c_str()) != 0) {
        loaded.diagnostics.push_back(fault(where, "is not known", "a name or an address of a machine"));
        return loaded;
    }
    at.port = port;
    auto host = std::make_unique<Host>();
    host->host.reset(enet_host_create(nullptr, 1, channels, 0, 0));
    ENetPeer* peer = host->host ? enet_host_connect(host->host.get(), &at, channels, 0) : nullptr;
    if (peer == nullptr) {
        loaded.diagnostics.push_back(
            fault(where, "cannot be connected to", "a machine that can be reached by UDP"));
        return loaded;
    }
    host->is_client = true;
    host->name(peer, static_cast<std::uint32_t>(server_peer));
    loaded.value.emplace(new EnetTransport{std::move(host)});
    return loaded;
}

void EnetTransport::send(PeerId peer, Channel channel, std::span<const std::byte> bytes) {
    const auto known = host_->peers.find(static_cast<std::uint32_t>(peer));
    if (known == host_->peers.end()) {
        return;
    }
    const bool certain = channel == Channel::reliable;
    ENetPacket* packet = enet_packet_create(
        bytes.data(), bytes.size(), certain ? ENET_PACKET_FLAG_RELIABLE : ENET_PACKET_FLAG_UNSEQUENCED);
    if (packet != nullptr &&
        enet_peer_send(known->second, certain ? certain_channel : newest_channel, packet) != 0) {
        enet_packet_destroy(packet);
    }
}

bool EnetTransport::receive(TransportEvent& event) {
    if (host_->waiting.empty()) {
        ENetEvent met{};
        while (enet_host_service(host_->host.get(), &met, 0) > 0) {
            host_->take(met);
        }
    }
    if (host_->waiting.empty()) {
        return false;
    }
    event = std::move(host_->waiting.front());
    host_->waiting.pop_front();
    return true;
}

void EnetTransport::close(PeerId peer) {
    const auto known = host_->peers.find(static_cast<std::uint32_t>(peer));
    if (known != host_->peers.end()) {
        enet_peer_disconnect_later(known->second, 0);
        host_->peers.erase(known);
    }
}

void EnetTransport::flush() {
    enet_host_flush(host_->host.get());
}

std::uint16_t EnetTransport::port() const {
    ENetAddress at{};
    return enet_socket_get_address(host_->host->socket, &at) == 0 ? at.port : std::uint16_t{0};
}

void EnetTransport::wait(Duration at_most) {
    ENetEvent met{};
    const auto milliseconds = std::chrono::duration_cast<std::chrono::milliseconds>(at_most).count();
    if (host_->waiting.empty() &&
        enet_host_service(host_->host.get(), &met,
                          static_cast<enet_uint32>(std::max<std::int64_t>(0, milliseconds))) > 0) {
        host_->take(met);
    }
}

} // namespace avrek
