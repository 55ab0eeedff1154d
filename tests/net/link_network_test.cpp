#include <avrek/net/link_network.h>

#include <gtest/gtest.h>

#include <cstring>
#include <string>
#include <vector>

namespace avrek {
namespace {

std::vector<std::byte> packet(std::uint32_t number, std::size_t size = 16) {
    std::vector<std::byte> bytes(size);
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
    Time at;
};

// Sends 4000 packets, one a millisecond, from the server to a client over a link.
std::vector<Arrival> sent_over(const LinkSpec& link, Channel channel, std::uint64_t seed,
                               LinkTraffic* traffic = nullptr, std::size_t size = 16) {
    LinkNetwork network{seed};
    Transport& client = network.connect(link);
    std::vector<Arrival> arrivals;
    TransportEvent event;
    for (int step = 1; step <= 40'000; ++step) {
        network.advance(Time{std::chrono::milliseconds{step}});
        if (step <= 4000) {
            network.server().send(PeerId{1}, channel, packet(static_cast<std::uint32_t>(step), size));
        }
        while (client.receive(event)) {
            if (event.kind == TransportEventKind::packet) {
                EXPECT_EQ(event.channel, channel);
                arrivals.push_back({number_of(event), network.now()});
            }
        }
    }
    if (traffic != nullptr) {
        *traffic = network.down(PeerId{1});
    }
    return arrivals;
}

TEST(LinkNetwork, DoesToPacketsWhatTheLinkSays) {
    struct Case {
        const char* what;
        LinkSpec link;
        double min_lost, max_lost;
    };
    const Duration latency = from_seconds(0.1);
    for (const Case& one : {Case{"clean", {.latency = latency}, 0, 0},
                            Case{"loss", {.latency = latency, .loss = 0.3}, 0.27, 0.33},
                            Case{"bursts", {.latency = latency, .loss = 0.1, .loss_run = 6}, 0.06, 0.14}}) {
        const auto arrivals = sent_over(one.link, Channel::unreliable, 3);
        const double lost = 1.0 - static_cast<double>(arrivals.size()) / 4000.0;
        EXPECT_GE(lost, one.min_lost) << one.what;
        EXPECT_LE(lost, one.max_lost) << one.what;
        double gaps = 0;
        for (std::size_t index = 1; index < arrivals.size(); ++index) {
            EXPECT_GT(arrivals[index].number, arrivals[index - 1].number) << one.what;
            gaps += arrivals[index].number > arrivals[index - 1].number + 1 ? 1 : 0;
            EXPECT_NEAR(to_seconds(arrivals[index].at - Time{}), 0.001 * arrivals[index].number + 0.05,
                        0.0011);
        }
        if (one.link.loss_run > 1) {
            EXPECT_NEAR(lost * 4000 / gaps, one.link.loss_run, 2.0) << "lost in a row";
        }
    }
    // Jitter alone keeps the order; reordering does not; duplicates come.
    const auto jittered =
        sent_over({.latency = latency, .jitter = from_seconds(0.03)}, Channel::unreliable, 4);
    const auto is_sorted = [](const std::vector<Arrival>& all) {
        return std::is_sorted(all.begin(), all.end(), [](const Arrival& one, const Arrival& other) {
            return one.number < other.number;
        });
    };
    EXPECT_EQ(jittered.size(), 4000U);
    EXPECT_TRUE(is_sorted(jittered));
    EXPECT_FALSE(is_sorted(sent_over({.latency = latency, .reordered = 0.05}, Channel::unreliable, 4)));
    EXPECT_NEAR(static_cast<double>(
                    sent_over({.latency = latency, .duplicated = 0.2}, Channel::unreliable, 4).size()),
                4800, 120);
}

TEST(LinkNetwork, CertainPacketsComeOnceAndInOrderWhateverTheLink) {
    const LinkSpec storm{.latency = from_seconds(0.3),
                         .jitter = from_seconds(0.1),
                         .loss = 0.4,
                         .loss_run = 4,
                         .duplicated = 0.2,
                         .reordered = 0.2};
    const auto arrivals = sent_over(storm, Channel::reliable, 9);
    ASSERT_EQ(arrivals.size(), 4000U);
    for (std::uint32_t index = 0; index < 4000; ++index) {
        ASSERT_EQ(arrivals[index].number, index + 1);
    }
    // The same seed gives the same, another does not.
    const auto times = [](const std::vector<Arrival>& all) {
        std::vector<Time> at;
        for (const Arrival& one : all) {
            at.push_back(one.at);
        }
        return at;
    };
    EXPECT_EQ(times(arrivals), times(sent_over(storm, Channel::reliable, 9)));
    EXPECT_NE(times(arrivals), times(sent_over(storm, Channel::reliable, 10)));
}

TEST(LinkNetwork, AFullLinkLosesWhatIsNewestAndKeepsWhatIsCertain) {
    const LinkSpec narrow{.latency = from_seconds(0.02), .down = 50'000};
    LinkTraffic traffic;
    const auto arrivals = sent_over(narrow, Channel::unreliable, 1, &traffic, 100); // twice what it carries
    EXPECT_NEAR(static_cast<double>(arrivals.size()), 2125, 60) << "and what waited at the end";
    EXPECT_EQ(traffic.lost + arrivals.size(), 4000U);
    EXPECT_EQ(sent_over(narrow, Channel::reliable, 1, nullptr, 100).size(), 4000U);
}

TEST(LinkNetwork, ClosingComesAfterWhatWasCertainAndAPulledPlugTellsNobody) {
    LinkNetwork network;
    Transport& first = network.connect({});
    Transport& second = network.connect({});
    TransportEvent event;
    network.server().send(PeerId{1}, Channel::reliable, packet(7));
    network.server().close(PeerId{1});
    network.unplug(PeerId{2});
    second.send(server_peer, Channel::reliable, packet(8));
    network.advance(Time{from_seconds(2)});
    std::string told;
    while (first.receive(event)) {
        told += event.kind == TransportEventKind::connected ? 'c'
                : event.kind == TransportEventKind::packet  ? 'p'
                                                            : 'w';
    }
    EXPECT_EQ(told, "cpw");
    EXPECT_FALSE(second.receive(event));
    EXPECT_FALSE(network.server().receive(event)) << "the first was closed, the second cut off";
}

} // namespace
} // namespace avrek
