#include "socket.h"
#include <avrek/net/udp_transport.h>

#include <poll.h>

#include <algorithm>
#include <utility>

namespace avrek {

namespace {

using Clock = std::chrono::steady_clock;

constexpr std::size_t datagrams_of_a_client = 256;
constexpr Duration leaving_lasts = std::chrono::milliseconds{500}; // for what has been sent to arrive

Diagnostic unreachable(const std::string& address, std::uint16_t port) {
    return {.file = address + ':' + std::to_string(port),
            .message = "is not known",
            .allowed = "a name or an address of a machine"};
}

} // namespace

struct UdpClient::Impl {
    Impl(detail::UdpSocket its_socket, const NetAddress& server, const Credentials& credentials)
        : socket(std::move(its_socket)),
          endpoint({.keys = credentials.keys},
                   {read_ticket(credentials.ticket).value_or(TicketClaims{}).server,
                    {credentials.ticket.begin(), credentials.ticket.end()}},
                   server, now(), [this](const NetAddress& to, std::span<const std::byte> bytes) {
                       socket.send(to, bytes);
                   }) {
        socket.flush();
    }

    const Clock::time_point begin = Clock::now();
    detail::UdpSocket socket;
    QuicEndpoint endpoint;

    Time now() const { return Time{Clock::now() - begin}; }
    void run() {
        const Time at = now();
        socket.read(datagrams_of_a_client, [&](const NetAddress& from, std::span<const std::byte> bytes) {
            endpoint.take(from, bytes, at);
        });
        endpoint.advance(at);
        socket.flush();
    }
    void wait(Duration at_most) {
        const Duration left = std::clamp<Duration>(
            endpoint.next_due() == Time::max() ? at_most : endpoint.next_due() - now(), Duration{}, at_most);
        pollfd watched{socket.handle(), POLLIN, 0};
        ::poll(&watched, 1, static_cast<int>(std::chrono::ceil<std::chrono::milliseconds>(left).count()));
        run();
    }
};

UdpClient::UdpClient(std::unique_ptr<Impl> impl) : impl_(std::move(impl)) {}

UdpClient::~UdpClient() {
    Impl& run = *impl_;
    run.endpoint.close(server_peer, "left");
    const Time until = run.now() + leaving_lasts;
    run.run();
    while (!run.endpoint.is_over() && run.now() < until) {
        run.wait(std::chrono::milliseconds{10});
    }
}

Loaded<std::unique_ptr<UdpClient>> UdpClient::connect(const std::string& address, std::uint16_t port,
                                                      const Credentials& credentials) {
    const auto server = detail::find_address(address, port);
    if (!server) {
        return {std::nullopt, {unreachable(address, port)}};
    }
    Loaded<detail::UdpSocket> socket =
        detail::UdpSocket::open(is_ipv4(*server) ? ipv4(0, 0, 0, 0, 0) : NetAddress{});
    if (!socket) {
        return {std::nullopt, std::move(socket.diagnostics)};
    }
    return {std::unique_ptr<UdpClient>{
                new UdpClient{std::make_unique<Impl>(std::move(*socket.value), *server, credentials)}},
            {}};
}

bool UdpClient::send(PeerId peer, Channel channel, std::span<const std::byte> bytes) {
    impl_->endpoint.set_time(impl_->now());
    return impl_->endpoint.send(peer, channel, bytes);
}

bool UdpClient::receive(TransportEvent& event) {
    if (impl_->endpoint.receive(event)) {
        return true;
    }
    impl_->run();
    return impl_->endpoint.receive(event);
}

void UdpClient::close(PeerId peer, std::string_view reason) {
    impl_->endpoint.close(peer, reason);
    impl_->socket.flush();
}

void UdpClient::flush() {
    impl_->endpoint.set_time(impl_->now());
    impl_->endpoint.flush();
    impl_->socket.flush();
}

PublicKey UdpClient::key() const {
    return impl_->endpoint.key();
}

PeerLink UdpClient::link(PeerId peer) const {
    return impl_->endpoint.link(peer);
}

void UdpClient::wait(Duration at_most) {
    impl_->wait(at_most);
}

} // namespace avrek
