// Listening on the way tells nothing, and meddling with datagrams changes nothing.
#include "../scene/draw.h"
#include "net_rig.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <cstring>

namespace avrek {
namespace {

using Captured = std::vector<std::byte>;

template <class Value>
Captured bytes_of(const Value& value) {
    Captured bytes(sizeof value);
    std::memcpy(bytes.data(), &value, sizeof value);
    return bytes;
}

bool holds(const Captured& all, const Captured& part) {
    return std::search(all.begin(), all.end(), part.begin(), part.end()) != all.end();
}

// A datagram must not show these: names, and numbers of the fight as memory has them.
std::vector<Captured> secrets_of(const Skirmish& fight) {
    std::vector<Captured> secrets;
    for (const Fighter& fighter : fight.fighters()) {
        const Vector3& at = fighter.motion.position;
        const double health = fight.match().find(fighter.id)->vitals.health;
        for (const double number : {at.x(), at.z(), health}) {
            if (number != 0.0 && number != 90.0) { // other things are round too
                secrets.push_back(bytes_of(number));
                secrets.push_back(bytes_of(static_cast<float>(number)));
            }
        }
    }
    return secrets;
}

// The heads of datagrams are the same each time; the rest is to look like noise, or something shows through.
struct ByteCounts {
    static constexpr std::size_t head = 9; // kind and connection id of RFC 9000, 17.3
    std::array<double, 256> seen{};
    double count = 0;

    void take(std::span<const std::byte> datagram) {
        const bool is_short = (datagram[0] & std::byte{0x80}) == std::byte{0};
        for (std::size_t at = head; is_short && at < datagram.size(); ++at) {
            ++seen[static_cast<std::size_t>(datagram[at])];
            ++count;
        }
    }
    // Pearson's chi squared against even bytes: 255 on average, with a deviation of 23.
    double unevenness() const {
        double sum = 0;
        for (const double one : seen) {
            sum += (one - count / 256) * (one - count / 256) / (count / 256);
        }
        return sum;
    }
};

TEST(Capture, HoldsNoNamePositionOrHealth) {
    const GameData data = trial::net_data();
    LinkTrial match{data, trial::net_setup(4, {.latency = from_seconds(0.06), .loss = 0.05}), 3};
    std::vector<Captured> heard;
    ByteCounts noise;
    match.network().listen([&](PeerId, bool, std::span<const std::byte> bytes) {
        heard.emplace_back(bytes.begin(), bytes.end());
        noise.take(bytes);
    });
    Captured all;
    for (int tick = 0; tick < 400; ++tick) {
        match.step();
        all.clear();
        for (const Captured& one : heard) {
            all.insert(all.end(), one.begin(), one.end());
        }
        heard.clear();
        for (const char* name : {"canopy", "rootward", "health", "score"}) {
            const std::string text = name;
            const auto* from = reinterpret_cast<const std::byte*>(text.data());
            ASSERT_FALSE(holds(all, Captured(from, from + text.size()))) << name;
        }
        for (const Captured& secret : secrets_of(match.server().skirmish())) {
            ASSERT_FALSE(holds(all, secret)) << tick;
        }
    }
    EXPECT_GT(noise.count, 100'000.0);
    EXPECT_LT(noise.unevenness(), 255.0 + 6 * 23.0);
    const LinkTrialReport report = match.finish();
    EXPECT_TRUE(std::all_of(report.players.begin(), report.players.end(), [](const LinkTrialPlayer& one) {
        return one.state == ClientState::playing && one.ledger_equal;
    }));
}

// Every datagram may come again, changed or not, later or to another; links drop and reorder them besides.
TEST(Capture, MeddlingEndsNoSessionAndDoublesNoNotice) {
    Draw draw{11};
    const GameData data = trial::net_data();
    const LinkSpec link{
        .latency = from_seconds(0.08), .jitter = from_seconds(0.02), .loss = 0.05, .reordered = 0.05};
    LinkTrial match{data, trial::net_setup(4, link), 8};
    struct Heard {
        PeerId client;
        bool to_server;
        Captured bytes;
    };
    std::vector<Heard> heard;
    match.network().listen([&](PeerId client, bool to_server, std::span<const std::byte> bytes) {
        heard.push_back({client, to_server, {bytes.begin(), bytes.end()}});
    });
    std::size_t injected = 0;
    for (int tick = 0; tick < 1'000; ++tick) {
        match.step();
        for (int times = 0; times < 8 && !heard.empty(); ++times) {
            const std::size_t late =
                draw.below(2) == 0 ? heard.size() : std::min<std::size_t>(64, heard.size());
            Heard one = heard[heard.size() - 1 - draw.below(late)];
            switch (draw.below(5)) {
            case 0:
                one.bytes[draw.below(one.bytes.size())] ^= static_cast<std::byte>(1U << draw.below(8));
                break;
            case 1:
                one.bytes.resize(1 + draw.below(one.bytes.size()));
                break;
            case 2:
                one.client = PeerId{static_cast<std::uint32_t>(1 + draw.below(4))};
                break;
            case 3:
                one.to_server = !one.to_server;
                break;
            default: // as it was
                break;
            }
            match.network().inject(one.client, one.to_server, one.bytes);
            ++injected;
        }
    }
    EXPECT_GT(injected, 5'000U);
    match.network().listen({});
    const LinkTrialReport report = match.finish();
    EXPECT_GT(report.kills, 0U);
    for (const LinkTrialPlayer& player : report.players) {
        EXPECT_EQ(player.state, ClientState::playing) << player.reason;
        EXPECT_TRUE(player.ledger_equal && player.dead_equal && player.notices_equal) << player.member.name;
        EXPECT_EQ(player.doubled, 0U);
        EXPECT_EQ(player.counts.not_understood, 0U);
        EXPECT_EQ(player.faults.guilty(), 0U);
    }
}

} // namespace
} // namespace avrek
