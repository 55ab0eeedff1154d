// No server can break a client. More of this in fuzz/client_fuzz.cpp.
#include "../rounds.h"
#include "../scene/draw.h"
#include "told_client.h"

#include <gtest/gtest.h>

#include <map>

namespace avrek {
namespace {

TEST(ToldClient, LivesThroughWhateverAServerSays) {
    ASSERT_EQ(trial::ToldClient{{}}.run(), ClientState::playing);
    Draw draw{5};
    std::map<ClientState, int> ends;
    for (int round = 0; round < rounds(60); ++round) {
        std::vector<std::uint8_t> changes(400);
        for (std::uint8_t& change : changes) {
            change = static_cast<std::uint8_t>(draw.below(3) == 0 ? draw.below(256) : 0);
        }
        ++ends[trial::ToldClient{changes}.run()];
    }
    EXPECT_GT(ends[ClientState::playing], 0);
    EXPECT_GT(ends[ClientState::connecting] + ends[ClientState::refused] + ends[ClientState::ended], 0)
        << "or the changes change nothing";
}

} // namespace
} // namespace avrek
