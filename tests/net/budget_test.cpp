// A client gets no more bytes than its budget.
#include "../rounds.h"
#include "net_rig.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cstdio>
#include <map>

namespace avrek {
namespace {

// With less than it would take: what is left out moves on in the picture.
TEST(Budget, LeavesOutOfSnapshotsAndShowsAllTheSame) {
    LinkTrialSetup setup = trial::net_setup(16, {.latency = from_seconds(0.05)});
    setup.budget = 9'300;
    setup.interest.everything = true;
    const GameData data = trial::net_data();
    LinkTrial match{data, setup, 4};
    const int ticks = rounds(640);
    std::map<Tick, std::map<BodyId, Vector3>> places;
    std::vector<double> errors;
    std::size_t missing = 0;
    std::uint64_t bytes = 0;
    const auto sent = [&match] {
        std::uint64_t all = 0;
        for (std::uint32_t client = 1; client <= 16; ++client) {
            const LinkTraffic down = match.network().down(PeerId{client});
            all += down.bytes + 28 * down.packets;
        }
        return all;
    };
    for (int tick = 0; tick < 192 + ticks; ++tick) {
        match.step();
        const Skirmish& fight = match.server().skirmish();
        for (const Fighter& fighter : fight.fighters()) {
            places[fight.tick() - 1][fighter.id] = fighter.motion.position;
        }
        bytes = tick == 192 ? sent() : bytes;
        for (std::size_t index = 0; tick > 192 && tick % 16 == 0 && index < 16; ++index) {
            const Client& client = match.client(index);
            const Time at = client.shown_at();
            const Tick then = at.time_since_epoch() / (tick_span(0, TickRate{64}).end - Time{});
            for (const auto& [id, place] : places[then]) {
                const Combatant* who = fight.match().find(id);
                if (id == client.you() || who->vitals.life != LifeState::alive ||
                    fight.find(id)->alive_since > at - std::chrono::seconds{1}) {
                    continue;
                }
                const auto seen = client.seen(id);
                missing += seen ? 0 : 1;
                errors.push_back(seen ? (seen->position - place).norm() : 0.0);
            }
        }
    }
    std::sort(errors.begin(), errors.end());
    std::uint64_t left_out = 0;
    for (const PeerReadout& peer : match.server().peers()) {
        left_out += peer.left_out;
    }
    std::printf("%zu bodies drawn, %.3f m off in the median, %.2f m for 99 of 100; %llu left out\n",
                errors.size(), errors[errors.size() / 2], errors[errors.size() * 99 / 100],
                static_cast<unsigned long long>(left_out));
    EXPECT_GT(left_out, 1000U);
    EXPECT_EQ(missing, 0U);
    EXPECT_LT(errors[errors.size() / 2], 0.1);
    EXPECT_LT(errors[errors.size() * 99 / 100], 1.0);
    EXPECT_LT(static_cast<double>(sent() - bytes) / 16, 1.1 * setup.budget * ticks / 64.0);
}

} // namespace
} // namespace avrek
