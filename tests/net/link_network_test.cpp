// Messages over simulated links, by the protocol that also goes over UDP.
#include <avrek/net/link_network.h>
#include <avrek/net/quic_endpoint.h>

#include <gtest/gtest.h>

#include <cstring>
#include <string>
#include <vector>

namespace avrek {
namespace {

std::vector<std::byte> message_of(std::uint32_t number, std::size_t size = 16) {
    std::vector<std::byte> bytes(size, static_cast<std::byte>(number));
    std::memcpy(bytes.data(), &number, sizeof number);
    return bytes;
}

std::uint32_t number_of(const TransportEvent& event) {
    std::uint32_t number = 0;
    std::memcpy(&number, event.bytes.data(), sizeof number);
    return number;
}

struct Arrival {
    std::uint32_t number;
    Duration after; ///< since it was sent
};

struct Sending {
    Channel channel = Channel::unreliable;
    std::uint64_t seed = 3;
    std::uint32_t count = 2000;
    int every = 20; ///< milliseconds
    std::size_t size = 16;
};

// Sends messages from the server to a client over a link, and waits for the last.
std::vector<Arrival> sent_over(const LinkSpec& link, const Sending& sending, LinkTraffic* traffic = nullptr) {
    LinkNetwork network{sending.seed};
    Transport& client = network.connect({.latency = link.latency});
    network.advance(Time{std::chrono::seconds{2}});
    TransportEvent event;
    EXPECT_TRUE(network.server().receive(event) && event.kind == TransportEventKind::connected);
    EXPECT_NE(event.key, PublicKey{});
    EXPECT_TRUE(client.receive(event) && event.kind == TransportEventKind::connected);
    EXPECT_EQ(event.key, network.server_key());
    network.change(PeerId{1}, link);
    const LinkTraffic before = network.down(PeerId{1});
    std::vector<Arrival> arrivals;
    std::vector<Time> sent;
    const std::uint32_t steps = sending.count * static_cast<std::uint32_t>(sending.every) + 20'000;
    for (std::uint32_t step = 0; step < steps; ++step) {
        const auto every = static_cast<std::uint32_t>(sending.every);
        if (step % every == 0 && step / every < sending.count) {
            sent.push_back(network.now());
            EXPECT_TRUE(
                network.server().send(PeerId{1}, sending.channel, message_of(step / every, sending.size)));
            network.server().flush();
        }
        network.advance(network.now() + std::chrono::milliseconds{1});
        while (client.receive(event)) {
            if (event.kind == TransportEventKind::packet) {
                EXPECT_EQ(event.channel, sending.channel);
                EXPECT_EQ(event.bytes, message_of(number_of(event), sending.size));
                arrivals.push_back({number_of(event), network.now() - sent[number_of(event)]});
            }
        }
    }
    if (traffic != nullptr) {
        *traffic = network.down(PeerId{1});
        traffic->packets -= before.packets;
        traffic->lost -= before.lost;
    }
    return arrivals;
}

TEST(LinkNetwork, DoesToDatagramsWhatTheLinkSays) {
    struct Case {
        const char* what;
        LinkSpec link;
        double min_lost, max_lost;
    };
    const Duration latency = from_seconds(0.1);
    for (const Case& one : {Case{"clean", {.latency = latency}, 0, 0},
                            Case{"loss", {.latency = latency, .loss = 0.3}, 0.26, 0.34},
                            Case{"bursts", {.latency = latency, .loss = 0.1, .loss_run = 3}, 0.06, 0.14}}) {
        LinkTraffic traffic;
        const auto arrivals = sent_over(one.link, {}, &traffic);
        const double lost = static_cast<double>(traffic.lost) / static_cast<double>(traffic.packets);
        EXPECT_GE(lost, one.min_lost) << one.what;
        EXPECT_LE(lost, one.max_lost) << one.what;
        EXPECT_NEAR(1.0 - static_cast<double>(arrivals.size()) / 2000.0, lost, 0.05) << one.what;
        for (std::size_t index = 1; index < arrivals.size(); ++index) {
            EXPECT_GT(arrivals[index].number, arrivals[index - 1].number) << one.what;
        }
        if (one.min_lost == 0.0) {
            for (const Arrival& arrival : arrivals) {
                EXPECT_NEAR(to_seconds(arrival.after), 0.05, 0.0011);
            }
        }
    }
    // Jitter alone keeps the order; reordering does not; duplicates come once.
    const auto is_sorted = [](const std::vector<Arrival>& all) {
        return std::is_sorted(all.begin(), all.end(), [](const Arrival& one, const Arrival& other) {
            return one.number < other.number;
        });
    };
    const auto jittered = sent_over({.latency = latency, .jitter = from_seconds(0.03)}, {});
    EXPECT_EQ(jittered.size(), 2000U);
    EXPECT_TRUE(is_sorted(jittered));
    EXPECT_FALSE(is_sorted(sent_over({.latency = latency, .reordered = 0.05}, {})));
    EXPECT_EQ(sent_over({.latency = latency, .duplicated = 0.2}, {}).size(), 2000U);
}

TEST(LinkNetwork, ReliableMessagesComeOnceAndInOrderWhateverTheLink) {
    const LinkSpec storm{.latency = from_seconds(0.3),
                         .jitter = from_seconds(0.1),
                         .loss = 0.3,
                         .loss_run = 3,
                         .duplicated = 0.2,
                         .reordered = 0.2};
    for (const Channel channel : {Channel::reliable, Channel::notices, Channel::ledger}) {
        const auto arrivals = sent_over(storm, {.channel = channel, .seed = 9});
        ASSERT_EQ(arrivals.size(), 2000U);
        for (std::uint32_t index = 0; index < 2000; ++index) {
            ASSERT_EQ(arrivals[index].number, index);
        }
    }
    // The same seed gives the same, another does not.
    const auto times = [&storm](std::uint64_t seed) {
        std::vector<Duration> after;
        for (const Arrival& one :
             sent_over(storm, {.channel = Channel::reliable, .seed = seed, .count = 300})) {
            after.push_back(one.after);
        }
        return after;
    };
    EXPECT_EQ(times(9), times(9));
    EXPECT_NE(times(9), times(10));
}

// Most connections live through what ends one that waits longer and longer before it asks again: of 60
// without that, 44 do.
TEST(LinkNetwork, ConnectionsStayOpenWhereSevenOfTenPacketsAreLost) {
    int whole = 0;
    for (std::uint64_t seed = 1; seed <= 60; ++seed) {
        const LinkSpec bad{.latency = from_seconds(0.1), .loss = 0.7};
        const auto arrivals = sent_over(bad, {.channel = Channel::reliable, .seed = seed, .count = 200});
        whole += arrivals.size() == 200 ? 1 : 0;
    }
    EXPECT_GE(whole, 51);
}

// Messages that fill no datagram alone, and those that need many.
TEST(LinkNetwork, MessagesOfAllSizesArriveAsTheyWereSent) {
    const LinkSpec link{.latency = from_seconds(0.05)};
    for (const std::size_t size : {4U, 1149U, 1150U, 1151U, 2300U, 9'000U}) {
        EXPECT_EQ(sent_over(link, {.count = 30, .every = 200, .size = size}).size(), 30U) << size;
        EXPECT_EQ(
            sent_over(link, {.channel = Channel::ledger, .count = 30, .every = 200, .size = size}).size(),
            30U)
            << size;
    }
    LinkNetwork network;
    Transport& client = network.connect({});
    network.advance(Time{std::chrono::seconds{1}});
    EXPECT_FALSE(client.send(server_peer, Channel::unreliable, std::vector<std::byte>(100'000)));
    EXPECT_FALSE(client.send(server_peer, Channel::reliable, {})) << "there is nothing to send";
    EXPECT_FALSE(client.send(PeerId{7}, Channel::reliable, message_of(1)));
    EXPECT_TRUE(client.send(server_peer, Channel::reliable, std::vector<std::byte>(70'000)));
    network.advance(Time{std::chrono::seconds{3}});
    TransportEvent event;
    std::string told;
    while (client.receive(event)) {
        told += event.reason;
    }
    EXPECT_NE(told, "") << "the server takes no message that long";
}

TEST(LinkNetwork, AFullLinkLosesWhatIsNewestAndKeepsWhatIsReliable) {
    const LinkSpec narrow{.latency = from_seconds(0.02), .down = 5'000};
    LinkTraffic traffic;
    const Sending much{.count = 500, .every = 10, .size = 100}; // more than twice what it carries
    const auto arrivals = sent_over(narrow, much, &traffic);
    EXPECT_GT(arrivals.size(), 100U);
    EXPECT_LT(arrivals.size(), 250U);
    EXPECT_EQ(
        sent_over(narrow, {.channel = Channel::reliable, .count = 500, .every = 10, .size = 100}).size(),
        500U);
}

TEST(LinkNetwork, ClosingComesAfterWhatWasReliableAndSilenceEndsTheRest) {
    LinkNetwork network;
    Transport& first = network.connect({.latency = from_seconds(0.2)});
    Transport& second = network.connect({});
    network.advance(Time{from_seconds(2)});
    TransportEvent event;
    std::vector<PeerId> came;
    while (network.server().receive(event)) {
        came.push_back(event.peer);
    }
    EXPECT_EQ(came, (std::vector<PeerId>{PeerId{2}, PeerId{1}}))
        << "the nearer comes first, by its own number";
    EXPECT_TRUE(network.server().send(PeerId{1}, Channel::reliable, message_of(7)));
    network.server().close(PeerId{1}, "the door is shut");
    network.unplug(PeerId{2});
    second.send(server_peer, Channel::reliable, message_of(8));
    network.advance(Time{from_seconds(30)});
    std::string told;
    while (first.receive(event)) {
        told += event.kind == TransportEventKind::connected ? 'c'
                : event.kind == TransportEventKind::packet  ? 'p'
                                                            : 'w';
    }
    EXPECT_EQ(told, "cpw");
    EXPECT_EQ(event.reason, "the door is shut");
    Transport& rude = network.connect({});
    network.advance(network.now() + from_seconds(2));
    rude.close(server_peer, "\033[2Jbye\n");
    network.advance(network.now() + from_seconds(2));
    ASSERT_TRUE(network.server().receive(event)) << "the second was cut off";
    EXPECT_EQ(event.kind, TransportEventKind::disconnected);
    EXPECT_EQ(event.peer, PeerId{2});
    ASSERT_TRUE(network.server().receive(event) && event.kind == TransportEventKind::connected);
    ASSERT_TRUE(network.server().receive(event) && event.kind == TransportEventKind::disconnected);
    EXPECT_EQ(event.reason, "?[2Jbye?") << "words of others steer no terminal";
    EXPECT_FALSE(network.server().receive(event)) << "the first was closed by this end";
}

// A greeting that is refused opens nothing, and its sender learns why; so does who finds another key.
TEST(LinkNetwork, StrangersAreTurnedAwayBeforeTheyAreConnected) {
    LinkNetwork network;
    network.server().check_greetings([](std::span<const std::byte> greeting) {
        return greeting.empty() || greeting[0] == std::byte{0} ? std::string{"it is not known"}
                                                               : std::string{};
    });
    Credentials known{.keys = make_keys()};
    known.ticket[0] = std::byte{9};
    Transport& stranger = network.connect({});
    Transport& friendly = network.connect({}, known);
    const Ticket elsewhere = issue_ticket(make_keys(), {.server = make_keys().open});
    Transport& lost = network.connect({}, {elsewhere, make_keys()});
    network.advance(Time{from_seconds(2)});
    TransportEvent event;
    ASSERT_TRUE(friendly.receive(event));
    ASSERT_EQ(event.reason, "");
    ASSERT_TRUE(network.server().receive(event));
    EXPECT_EQ(event.peer, PeerId{2});
    EXPECT_EQ(event.key, known.keys.open);
    EXPECT_EQ(event.bytes, (std::vector<std::byte>(known.ticket.begin(), known.ticket.end())));
    EXPECT_FALSE(network.server().receive(event));
    ASSERT_TRUE(stranger.receive(event));
    EXPECT_EQ(event.kind, TransportEventKind::disconnected);
    EXPECT_EQ(event.reason, "it is not known");
    ASSERT_TRUE(lost.receive(event));
    EXPECT_EQ(event.kind, TransportEventKind::disconnected);
    EXPECT_NE(event.reason.find("key"), std::string::npos) << event.reason;
}

} // namespace
} // namespace avrek
