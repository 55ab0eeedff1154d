#include "../skirmish/own_game.h"
#include <avrek/data/replay_player.h>

#include <gtest/gtest.h>
#include <unistd.h>

#include <filesystem>

namespace avrek {
namespace {

using trial::bots_arsenal;

// Any tick of a recording, in any order, with the game's own state and without its code.
TEST(ReplayPlayer, GoesToAnyTick) {
    const std::string file = ::testing::TempDir() + "avrek-player-" + std::to_string(getpid()) + ".replay";
    const GameData data{bots_arsenal(), {7, {}}, {trial::bots_level(), trial::bots_plan()}};
    const trial::Leaping leaping{3};
    Skirmish fight{data.arsenal,
                   data.arena.level,
                   {.locomotions = {&leaping}, .limits = {.combatants = 10}},
                   5,
                   data.arena.plan};
    trial::Tally tally;
    fight.set_companion(&tally);
    Bots bots{fight};
    const BoutSetup setup = trial::bots_setup(6);
    ReplayWriter writer;
    ASSERT_TRUE(writer.open(file, head_of(fight, data.digest, "", "a test"), {4, 64}).empty());
    for (const BoutMember& member : bout_members(setup)) {
        writer.add(data.arsenal, entrant_of(setup, member));
    }
    begin_bout(setup, bout_members(setup), fight, bots);
    Draw draw{5};
    std::vector<std::uint64_t> hashes{fight.state_hash()};
    while (hashes.size() <= 300) {
        const auto intents = bots.think(fight);
        const GameAction action = trial::random_action(draw, fight, 6);
        tally.seen[0] += hashes.size() % 7 == 0 ? 1 : 0;
        fight.advance(intents, {}, {&action, 1});
        EXPECT_TRUE(writer.tick(fight, intents, {}, {&action, 1}));
        hashes.push_back(fight.state_hash());
    }
    EXPECT_TRUE(writer.close().empty());
    trial::Tally replayed;
    ReplayPlayer player;
    ASSERT_TRUE(
        player.open(file, data, {&leaping}, &replayed, {.key_every = 1 + static_cast<int>(draw.below(90))})
            .empty());
    EXPECT_EQ(player.length(), 300);
    EXPECT_FALSE(player.departure());
    EXPECT_GT(player.key_bytes(), 0U);
    for (int round = 0; round < 100; ++round) {
        const auto tick = static_cast<Tick>(draw.below(301));
        player.seek(tick);
        ASSERT_EQ(player.fight().state_hash(), hashes[static_cast<std::size_t>(tick)]) << tick;
    }
    player.seek(10'000);
    EXPECT_EQ(player.tick(), 300);
    // Stopped on the way, and cut off: what there is can be played.
    EXPECT_TRUE(
        player.open(file, data, {&leaping}, nullptr, {}, [](Tick tick) { return tick < 20; }).empty());
    EXPECT_EQ(player.length(), 20);
    std::filesystem::resize_file(file, std::filesystem::file_size(file) / 2);
    const auto faults = player.open(file, data, {&leaping});
    ASSERT_EQ(faults.size(), 1U);
    EXPECT_EQ(faults[0].severity, Severity::warning);
    EXPECT_GT(player.length(), 60);
    EXPECT_FALSE(player.open(file, data).empty()) << "the locomotion is missing";
    std::filesystem::remove(file);
}

TEST(ReplayWriter, SaysWhoIsInTheFightButNotInTheRecording) {
    const std::string file = ::testing::TempDir() + "avrek-missing-" + std::to_string(getpid()) + ".replay";
    Skirmish fight{bots_arsenal(), Level{}, {}, 1};
    ReplayWriter writer;
    ASSERT_TRUE(writer.open(file, head_of(fight, {7, {}}, "", "a test")).empty());
    const Entrant known{.id = BodyId{4}};
    const GameAction enters{.what = EnterAction{.who = BodyId{5}}};
    writer.add(bots_arsenal(), known);
    ASSERT_TRUE(fight.add(known));
    ASSERT_TRUE(fight.add({.id = BodyId{6}}));
    fight.advance({}, {}, {&enters, 1});
    EXPECT_TRUE(writer.tick(fight, {}, {}, {&enters, 1}));
    const auto faults = writer.close();
    ASSERT_EQ(faults.size(), 1U);
    EXPECT_EQ(faults[0].where, "combatant 6");
    std::filesystem::remove(file);
}

} // namespace
} // namespace avrek
