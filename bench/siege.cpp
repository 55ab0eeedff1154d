// A server at a real UDP port, besieged: by a peer that floods it, by strangers who shake hands, and by
// forged datagrams. It says what that does to the server's tick, to its memory and to the honest, beside the
// same time in peace. The besiegers run at the lowest priority: the machine is not theirs.
//
//     avrek_siege [SECONDS]
#include "atrium.h"
#include <avrek/net/client.h>
#include <avrek/net/quic_endpoint.h>
#include <avrek/net/server.h>
#include <avrek/net/udp_transport.h>
#include <avrek/skirmish/bots.h>

#include <arpa/inet.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/syscall.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <deque>
#include <fstream>
#include <memory>
#include <optional>
#include <random>
#include <string>
#include <thread>
#include <vector>

using namespace avrek;

namespace {

using Clock = std::chrono::steady_clock;

constexpr int honest = 8;
constexpr std::uint32_t flooder = 20;
constexpr std::uint32_t late = 21;
constexpr std::int64_t day = 1'000;

const Clock::time_point began = Clock::now();
Time now() {
    return Time{Clock::now() - began};
}

double memory_mb() {
    std::ifstream from{"/proc/self/statm"};
    double all = 0;
    double resident = 0;
    from >> all >> resident;
    return resident * static_cast<double>(::sysconf(_SC_PAGESIZE)) / 1e6;
}

void be_patient() {
    (void)::setpriority(PRIO_PROCESS, static_cast<id_t>(::syscall(SYS_gettid)), 19);
}

// A socket of an attacker.
struct Raw {
    int handle = ::socket(AF_INET, SOCK_DGRAM | SOCK_NONBLOCK, 0);
    explicit Raw(std::uint16_t port) {
        sockaddr_in to{};
        to.sin_family = AF_INET;
        to.sin_port = htons(port);
        to.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
        (void)::connect(handle, reinterpret_cast<const sockaddr*>(&to), sizeof to);
    }
    ~Raw() { ::close(handle); }
    Raw(const Raw&) = delete;
    Raw& operator=(const Raw&) = delete;
    void send(std::span<const std::byte> bytes) const { (void)::send(handle, bytes.data(), bytes.size(), 0); }
    void send_many(std::span<const std::byte> bytes, unsigned count) const {
        std::vector<std::byte> copy(bytes.begin(), bytes.end());
        iovec piece{copy.data(), copy.size()};
        std::vector<mmsghdr> heads(count);
        for (mmsghdr& head : heads) {
            head.msg_hdr.msg_iov = &piece;
            head.msg_hdr.msg_iovlen = 1;
        }
        (void)::sendmmsg(handle, heads.data(), count, 0);
    }
    template <class Take>
    void receive(Take take) const {
        std::array<std::byte, 1500> bytes;
        for (ssize_t size = 0; (size = ::recv(handle, bytes.data(), bytes.size(), 0)) > 0;) {
            take(std::span{bytes}.first(static_cast<std::size_t>(size)));
        }
    }
};

struct Siege {
    GameData data{bench::arsenal(), {.whole = 1}, bench::atrium()};
    KeyPair issuer = make_keys();
    std::unique_ptr<UdpServer> transport{};
    ServerSettings settings{};
    std::unique_ptr<Server> server{};
    std::atomic<bool> ends = false;
    std::atomic<bool> attacks = false;
    std::atomic<std::uint64_t> sent_floods = 0;
    std::atomic<std::uint64_t> sent_forged = 0;
    std::atomic<std::uint64_t> begun_handshakes = 0;

    Siege() {
        auto listening =
            UdpServer::listen("127.0.0.1", 0, {.keys = make_keys(), .max_peers = 2 * (honest + 2)});
        if (!listening) {
            std::abort();
        }
        transport = std::move(*listening);
        settings.issuer = issuer.open;
        settings.skirmish.limits.combatants = 32;
        for (std::uint32_t id = 1; id <= late; ++id) {
            settings.slots.push_back({.player = BodyId{id},
                                      .team = TeamId{static_cast<std::uint8_t>(id % 2)},
                                      .weapons = {WeaponId{0}, WeaponId{1}}});
        }
        server = std::make_unique<Server>(data, settings, 5, *transport);
    }
    NetAddress server_address() const { return ipv4(127, 0, 0, 1, transport->port()); }
    Credentials credentials(std::uint32_t player) const {
        return issue_credentials(issuer, {.match = settings.match,
                                          .player = BodyId{player},
                                          .expires = day + 1'000'000,
                                          .server = transport->key()});
    }

    // A peer with a ticket that sends its newest datagram 200,000 times a second.
    void flood() {
        be_patient();
        const Raw raw{transport->port()};
        const Credentials own = credentials(flooder);
        std::vector<std::byte> newest;
        QuicEndpoint peer{{.keys = own.keys},
                          {transport->key(), {own.ticket.begin(), own.ticket.end()}},
                          server_address(),
                          now(),
                          [&](const NetAddress&, std::span<const std::byte> bytes) {
                              newest.assign(bytes.begin(), bytes.end());
                              raw.send(bytes);
                          }};
        const std::vector<std::byte> command(16);
        Time next{};
        while (!ends) {
            raw.receive([&](std::span<const std::byte> bytes) { peer.take(server_address(), bytes, now()); });
            peer.advance(now());
            if (attacks) { // whether it is still let in or not
                (void)peer.send(server_peer, Channel::unreliable, command);
                peer.flush();
                raw.send_many(newest, 200);
                sent_floods += 200;
            }
            next = std::max(next + std::chrono::milliseconds{1}, now());
            std::this_thread::sleep_until(began + (next - Time{}));
        }
    }
    // Strangers without a ticket that counts, 1,000 a second, who finish what the server lets them.
    void shake_hands() {
        be_patient();
        struct Stranger {
            std::unique_ptr<Raw> raw;
            std::unique_ptr<QuicEndpoint> end;
        };
        const KeyPair keys = make_keys();
        const Ticket worthless = issue_ticket(keys, {.match = settings.match, .server = transport->key()});
        std::deque<Stranger> strangers;
        Time next{};
        while (!ends) {
            if (attacks) {
                Stranger one{std::make_unique<Raw>(transport->port()), {}};
                one.end = std::make_unique<QuicEndpoint>(
                    QuicSettings{.keys = keys},
                    QuicGreeting{transport->key(), {worthless.begin(), worthless.end()}}, server_address(),
                    now(), [raw = one.raw.get()](const NetAddress&, std::span<const std::byte> bytes) {
                        raw->send(bytes);
                    });
                strangers.push_back(std::move(one));
                ++begun_handshakes;
            }
            for (Stranger& one : strangers) {
                one.raw->receive(
                    [&](std::span<const std::byte> bytes) { one.end->take(server_address(), bytes, now()); });
            }
            if (strangers.size() > 64) {
                strangers.pop_front();
            }
            next = std::max(next + std::chrono::milliseconds{1}, now());
            std::this_thread::sleep_until(began + (next - Time{}));
        }
    }
    // Datagrams of all kinds of heads with nothing true in them, 1,000 a second.
    void forge() {
        be_patient();
        const Raw raw{transport->port()};
        std::mt19937 random{7};
        std::vector<std::byte> bytes(1200);
        while (!ends) {
            if (attacks) {
                for (std::byte& byte : bytes) {
                    byte = static_cast<std::byte>(random());
                }
                bytes[1] = bytes[2] = bytes[3] = std::byte{0};
                bytes[4] = std::byte{1}; // the version that is spoken
                raw.send(std::span{bytes}.first(random() % 2 == 0 ? 1200 : 40 + random() % 900));
                ++sent_forged;
            }
            std::this_thread::sleep_for(std::chrono::milliseconds{1});
        }
    }
};

struct Player {
    std::unique_ptr<UdpClient> transport{};
    std::unique_ptr<Client> client{};
    std::optional<Bots> bots{};
    BodyId who = nobody;

    Player(const Siege& siege, std::uint32_t id) : who{id} {
        auto connecting = UdpClient::connect("127.0.0.1", siege.transport->port(), siege.credentials(id));
        if (!connecting) {
            std::abort();
        }
        transport = std::move(*connecting);
        client = std::make_unique<Client>(siege.data, ClientSettings{}, *transport);
    }
    void run() {
        (void)client->receive(now());
        if (client->state() == ClientState::playing && !bots) {
            bots.emplace(client->view());
            bots->add(who, ShooterId{0});
        }
        while (client->is_tick_due(now())) {
            const auto wanted = bots->think(client->view());
            (void)client->tick(wanted.empty() ? Intent{} : wanted.front());
        }
    }
};

struct Lived {
    std::vector<double> ticks{}; // seconds
    std::uint64_t corrections = 0;
    std::uint64_t lost = 0;
    double joined_after = -1.0; // a late honest player; -1: never
    double memory = 0.0;

    double share(double part) {
        const auto at = static_cast<std::size_t>(part * static_cast<double>(ticks.size() - 1));
        std::nth_element(ticks.begin(), ticks.begin() + static_cast<std::ptrdiff_t>(at), ticks.end());
        return 1e3 * ticks[at];
    }
};

// Runs the server and the honest for a while. A late one comes after half of it.
Lived lived(Siege& siege, std::vector<Player>& players, double seconds) {
    Lived measured;
    std::atomic<bool> over = false;
    std::atomic<std::uint64_t> corrections = 0;
    std::atomic<std::uint64_t> lost = 0;
    std::atomic<double> joined = -1.0;
    std::thread clients{[&] {
        std::optional<Player> newcomer;
        const Time half = now() + from_seconds(0.5 * seconds);
        std::uint64_t before = 0;
        for (const Player& one : players) {
            before += one.client->counts().corrections;
        }
        while (!over) {
            for (Player& one : players) {
                one.run();
            }
            if (now() >= half && !newcomer) {
                newcomer.emplace(siege, late);
            }
            if (newcomer) {
                newcomer->run();
                if (joined < 0.0 && newcomer->client->state() == ClientState::playing) {
                    joined = to_seconds(now() - half);
                }
            }
            std::this_thread::sleep_for(std::chrono::milliseconds{1});
        }
        std::uint64_t after = 0;
        for (const Player& one : players) {
            after += one.client->counts().corrections;
            lost += one.client->state() == ClientState::playing ? 0 : 1;
        }
        corrections = after - before;
        if (newcomer) {
            newcomer->client->leave();
        }
    }};
    const Time until = now() + from_seconds(seconds);
    Time due = now();
    while (now() < until) {
        std::this_thread::sleep_until(began + (due - Time{}));
        const Clock::time_point before = Clock::now();
        siege.server->tick(day);
        measured.ticks.push_back(std::chrono::duration<double>(Clock::now() - before).count());
        due = std::max(due + from_seconds(1.0 / 64), now());
    }
    over = true;
    clients.join();
    measured.corrections = corrections;
    measured.lost = lost;
    measured.joined_after = joined;
    measured.memory = memory_mb();
    return measured;
}

void print(const char* when, Lived& measured) {
    std::printf(
        "%-6s  tick %.3f ms median, %.3f ms p99; corrections %llu; connections lost %llu; a late one is in "
        "after %.2f s; memory %.1f MB\n",
        when, measured.share(0.5), measured.share(0.99),
        static_cast<unsigned long long>(measured.corrections), static_cast<unsigned long long>(measured.lost),
        measured.joined_after, measured.memory);
}

} // namespace

int main(int count, char** words) {
    const double seconds = count > 1 ? std::atof(words[1]) : 20.0;
    Siege siege;
    std::vector<Player> players;
    for (std::uint32_t id = 1; id <= honest; ++id) {
        players.emplace_back(siege, id);
    }
    std::thread flood{[&] { siege.flood(); }};
    std::thread shake{[&] { siege.shake_hands(); }};
    std::thread forge{[&] { siege.forge(); }};
    (void)lived(siege, players, 3.0); // all come in
    Lived peace = lived(siege, players, seconds);
    siege.attacks = true;
    Lived war = lived(siege, players, seconds);
    siege.ends = true;
    flood.join();
    shake.join();
    forge.join();
    print("peace", peace);
    print("siege", war);
    const QuicCounts counts = siege.transport->counts();
    std::printf(
        "sent a second: %.0f of a peer, %.0f forged, %.0f handshakes begun; the server began %llu, asked "
        "%llu for "
        "a token, refused %llu, put off %llu\n",
        static_cast<double>(siege.sent_floods) / seconds, static_cast<double>(siege.sent_forged) / seconds,
        static_cast<double>(siege.begun_handshakes) / seconds,
        static_cast<unsigned long long>(counts.handshakes),
        static_cast<unsigned long long>(counts.not_validated),
        static_cast<unsigned long long>(counts.refused), static_cast<unsigned long long>(counts.put_off));
    std::printf("ratios: median %.2f, p99 %.2f; memory %+.1f MB\n", war.share(0.5) / peace.share(0.5),
                war.share(0.99) / peace.share(0.99), war.memory - peace.memory);
    return war.lost == 0 ? 0 : 1;
}
