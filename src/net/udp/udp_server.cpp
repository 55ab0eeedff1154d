#include "allowance.h"
#include "socket.h"
#include <avrek/net/udp_transport.h>

#include <poll.h>
#include <sys/eventfd.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <deque>
#include <iterator>
#include <map>
#include <mutex>
#include <set>
#include <thread>
#include <utility>
#include <variant>

namespace avrek {

namespace {

using Clock = std::chrono::steady_clock;

constexpr std::size_t max_inbox = 8192;                            // events that nobody has received
constexpr std::size_t max_inbox_size = 4U << 20U;                  // and their bytes
constexpr std::size_t max_outbox = 32U << 20U;                     // bytes that the thread has not taken
constexpr double datagrams_per_peer = 10'000;                      // a second
constexpr double datagrams_of_strangers = 5'000;                   // a second, of all together
constexpr std::size_t datagrams_at_a_time = 1024;                  // between two looks at what is to be sent
constexpr Duration between_looks = std::chrono::milliseconds{200}; // at statistics and addresses
constexpr Duration stopping_lasts = std::chrono::milliseconds{500};
constexpr Duration max_pause = std::chrono::milliseconds{100};

Diagnostic unknown_address(const std::string& address, std::uint16_t port) {
    return {.file = address + ':' + std::to_string(port),
            .message = "is no address of this machine",
            .allowed = "such as 127.0.0.1 or 0.0.0.0"};
}

} // namespace

struct UdpServer::Impl {
    struct Wakeup {
        int handle = ::eventfd(0, EFD_NONBLOCK | EFD_CLOEXEC);
        Wakeup() = default;
        ~Wakeup() { ::close(handle); }
        Wakeup(const Wakeup&) = delete;
        Wakeup& operator=(const Wakeup&) = delete;
        void ring() const {
            const std::uint64_t one = 1;
            (void)!::write(handle, &one, sizeof one);
        }
        void clear() const {
            std::uint64_t count = 0;
            (void)!::read(handle, &count, sizeof count);
        }
    };

    struct Sending {
        PeerId peer{};
        Channel channel{};
        std::vector<std::byte> bytes{};
    };
    struct Closing {
        PeerId peer{};
        std::string reason{};
    };
    using Order = std::variant<Sending, Closing, GreetingCheck>;

    Impl(detail::UdpSocket its_socket, const QuicSettings& settings)
        : socket(std::move(its_socket)), open_key(settings.keys.open),
          endpoint(settings, [this](const NetAddress& to,
                                    std::span<const std::byte> bytes) { socket.send(to, bytes); }),
          thread([this] { run(); }) {}
    ~Impl() {
        stops = true;
        wakeup.ring();
        thread.join();
    }

    detail::UdpSocket socket;
    PublicKey open_key;
    Wakeup wakeup{};
    std::atomic<bool> stops = false;
    const Clock::time_point begin = Clock::now();

    // Both threads use these.
    std::mutex mutex{};
    std::deque<TransportEvent> inbox{};
    std::size_t inbox_size = 0; // bytes
    std::vector<Order> outbox{};
    std::size_t outbox_size = 0; // bytes
    std::map<PeerId, PeerLink> links{};
    QuicCounts counts{};
    std::set<PeerId> behind{}; // peers for which too much waits, or that are gone

    // The user's thread alone uses these.
    std::deque<TransportEvent> received{};
    std::vector<Order> ordered{};
    std::size_t ordered_size = 0;

    // The network's thread alone uses these.
    detail::DatagramAllowances allowances{datagrams_per_peer, datagrams_of_strangers};
    QuicEndpoint endpoint;
    std::vector<Order> orders{};
    std::set<PeerId> known{};
    Time looked_at{};

    std::thread thread; // the last: it uses all of them

    Time now() const { return Time{Clock::now() - begin}; }

    void run() {
        while (!stops) {
            step();
        }
        for (const PeerId peer : known) {
            endpoint.close(peer, "the server has stopped");
        }
        // Messages that have been sent still arrive.
        const Time until = now() + stopping_lasts;
        while (!endpoint.is_over() && now() < until) {
            step();
        }
    }
    void step() {
        wait();
        const Time at = now();
        socket.read(datagrams_at_a_time, [&](const NetAddress& from, std::span<const std::byte> bytes) {
            if (allowances.take(from, at)) {
                endpoint.take(from, bytes, at);
            }
        });
        carry_out_orders();
        endpoint.advance(now());
        hand_over();
        socket.flush();
    }
    void wait() {
        const Duration left =
            std::clamp<Duration>(endpoint.next_due() == Time::max() ? max_pause : endpoint.next_due() - now(),
                                 Duration{}, max_pause);
        const auto milliseconds =
            static_cast<int>(std::chrono::ceil<std::chrono::milliseconds>(left).count());
        pollfd watched[2] = {{socket.handle(), POLLIN, 0}, {wakeup.handle, POLLIN, 0}};
        ::poll(watched, 2, milliseconds);
        wakeup.clear();
    }
    void carry_out_orders() {
        orders.clear();
        {
            const std::lock_guard lock{mutex};
            orders.swap(outbox);
            outbox_size = 0;
        }
        std::set<PeerId> now_behind;
        endpoint.set_time(now());
        for (Order& order : orders) {
            if (const auto* sending = std::get_if<Sending>(&order)) {
                const bool is_sent = endpoint.send(sending->peer, sending->channel, sending->bytes);
                if (!is_sent && sending->channel != Channel::unreliable) {
                    now_behind.insert(sending->peer);
                }
            } else if (const auto* closing = std::get_if<Closing>(&order)) {
                endpoint.close(closing->peer, closing->reason);
                known.erase(closing->peer);
            } else {
                endpoint.check_greetings(std::get<GreetingCheck>(order));
            }
        }
        endpoint.flush();
        if (!now_behind.empty()) {
            const std::lock_guard lock{mutex};
            behind.merge(now_behind);
        }
    }
    // Events go over while there is room for them: QUIC makes senders wait beyond that.
    void hand_over() {
        const std::lock_guard lock{mutex};
        TransportEvent event;
        bool has_changed = false;
        while (inbox.size() < max_inbox && inbox_size < max_inbox_size && endpoint.receive(event)) {
            if (event.kind == TransportEventKind::connected) {
                known.insert(event.peer);
                has_changed = true;
            } else if (event.kind == TransportEventKind::disconnected) {
                known.erase(event.peer);
                links.erase(event.peer);
                behind.erase(event.peer);
                has_changed = true;
            }
            inbox_size += event.bytes.size();
            inbox.push_back(std::move(event));
        }
        const Time at = now();
        if (has_changed || at - looked_at > between_looks) {
            looked_at = at;
            counts = endpoint.counts();
            std::set<NetAddress> addresses;
            for (const PeerId peer : known) {
                links[peer] = endpoint.link(peer);
                addresses.insert(endpoint.address_of(peer));
            }
            allowances.know(addresses);
        }
    }
};

UdpServer::UdpServer(std::unique_ptr<Impl> impl) : impl_(std::move(impl)) {}

UdpServer::~UdpServer() = default;

Loaded<std::unique_ptr<UdpServer>> UdpServer::listen(const std::string& address, std::uint16_t port,
                                                     const QuicSettings& settings) {
    const auto at = detail::find_address(address, port);
    if (!at) {
        return {std::nullopt, {unknown_address(address, port)}};
    }
    Loaded<detail::UdpSocket> socket = detail::UdpSocket::open(*at);
    if (!socket) {
        return {std::nullopt, std::move(socket.diagnostics)};
    }
    return {
        std::unique_ptr<UdpServer>{new UdpServer{std::make_unique<Impl>(std::move(*socket.value), settings)}},
        {}};
}

bool UdpServer::send(PeerId peer, Channel channel, std::span<const std::byte> bytes) {
    Impl& run = *impl_;
    if (run.ordered_size + bytes.size() > max_outbox) {
        return false;
    }
    run.ordered_size += bytes.size();
    run.ordered.emplace_back(Impl::Sending{peer, channel, {bytes.begin(), bytes.end()}});
    if (channel == Channel::unreliable) {
        return true;
    }
    const std::lock_guard lock{run.mutex};
    return run.behind.erase(peer) == 0; // by an earlier message: this one is as lost as that
}

bool UdpServer::receive(TransportEvent& event) {
    Impl& run = *impl_;
    if (run.received.empty()) {
        const std::lock_guard lock{run.mutex};
        run.received.swap(run.inbox);
        run.inbox_size = 0;
    }
    if (run.received.empty()) {
        return false;
    }
    event = std::move(run.received.front());
    run.received.pop_front();
    return true;
}

void UdpServer::close(PeerId peer, std::string_view reason) {
    impl_->ordered.emplace_back(Impl::Closing{peer, std::string{reason}});
    const auto is_of_it = [peer](const TransportEvent& one) { return one.peer == peer; };
    std::erase_if(impl_->received, is_of_it);
    const std::lock_guard lock{impl_->mutex};
    std::erase_if(impl_->inbox, is_of_it);
}

void UdpServer::flush() {
    Impl& run = *impl_;
    if (run.ordered.empty()) {
        return;
    }
    {
        const std::lock_guard lock{run.mutex};
        const bool is_full = run.outbox_size + run.ordered_size > max_outbox;
        for (Impl::Order& order : run.ordered) {
            const auto* sending = std::get_if<Impl::Sending>(&order);
            if (!is_full || sending == nullptr) {
                run.outbox.push_back(std::move(order));
            } else if (sending->channel != Channel::unreliable) {
                run.behind.insert(sending->peer);
            }
        }
        run.outbox_size += is_full ? 0 : run.ordered_size;
    }
    run.ordered.clear();
    run.ordered_size = 0;
    run.wakeup.ring();
}

void UdpServer::check_greetings(const GreetingCheck& check) {
    impl_->ordered.emplace_back(check);
    flush();
}

PublicKey UdpServer::key() const {
    return impl_->open_key;
}

PeerLink UdpServer::link(PeerId peer) const {
    const std::lock_guard lock{impl_->mutex};
    const auto found = impl_->links.find(peer);
    return found != impl_->links.end() ? found->second : PeerLink{};
}

std::uint16_t UdpServer::port() const {
    return impl_->socket.port();
}

QuicCounts UdpServer::counts() const {
    const std::lock_guard lock{impl_->mutex};
    return impl_->counts;
}

} // namespace avrek
