// No server can break a client. More of this in fuzz/client_fuzz.cpp.
#include "../rounds.h"
#include "../scene/draw.h"
#include "told_client.h"

#include <gtest/gtest.h>

namespace avrek {
namespace {

TEST(ToldClient, LivesThroughWhateverAServerSays) {
    trial::ToldClient fair{{}};
    ASSERT_EQ(fair.run(), ClientState::playing);
    EXPECT_EQ(fair.not_understood, 0U);
    Draw draw{5};
    std::uint64_t not_understood = 0;
    bool any_plays = false;
    for (int round = 0; round < rounds(60); ++round) {
        std::vector<std::uint8_t> changes(400);
        for (std::uint8_t& change : changes) {
            change = static_cast<std::uint8_t>(draw.below(3) == 0 ? draw.below(256) : 0);
        }
        trial::ToldClient client{changes};
        any_plays = client.run() == ClientState::playing || any_plays;
        not_understood += client.not_understood;
    }
    EXPECT_TRUE(any_plays);
    EXPECT_GT(not_understood, 0U) << "or the changes change nothing";
}

} // namespace
} // namespace avrek
