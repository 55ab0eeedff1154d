#include "../skirmish/own_game.h"
#include <avrek/data/telemetry.h>

#include <fcntl.h>
#include <gtest/gtest.h>
#include <sqlite3.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <string>

namespace avrek {
namespace {

std::int64_t count_rows(const std::string& file, const std::string& table) {
    if (std::filesystem::is_directory(file)) {
        std::ifstream lines{file + '/' + table + ".csv"};
        return std::count(std::istreambuf_iterator<char>{lines}, {}, '\n') - 1; // but for the heading
    }
    sqlite3* base = nullptr;
    std::int64_t rows = -1;
    sqlite3_open(file.c_str(), &base);
    sqlite3_exec(
        base, ("SELECT count(*) FROM " + table).c_str(),
        [](void* to, int, char** words, char**) {
            *static_cast<std::int64_t*>(to) = std::stoll(words[0]);
            return 0;
        },
        &rows, nullptr);
    sqlite3_close(base);
    return rows;
}

// Whatever has happened is in the tables, also of a match that nobody ended, and of one after another.
TEST(Telemetry, HoldsEachShotAndEachDeathOnce) {
    for (const char* kind : {".db", ""}) {
        const std::string file = ::testing::TempDir() + "avrek-telemetry-" + std::to_string(getpid()) + kind;
        std::filesystem::remove_all(file);
        std::int64_t shots = 0;
        std::int64_t deaths = 0;
        Telemetry telemetry;
        ASSERT_TRUE(telemetry.open(file).empty());
        for (const std::uint32_t seed : {3U, 4U}) {
            Skirmish fight{trial::bots_arsenal(), trial::bots_level(), {}, seed, trial::bots_plan()};
            Bots bots{fight};
            const BoutSetup setup = trial::bots_setup(8);
            begin_bout(setup, bout_members(setup), fight, bots);
            telemetry.begin(fight, "hall");
            bool ends_with_a_shot = false; // which is not on the disk yet
            while (fight.tick() < 1500 || !ends_with_a_shot) {
                fight.advance(bots.think(fight));
                telemetry.take(fight);
                ends_with_a_shot = false;
                for (const Event& event : fight.events()) {
                    ends_with_a_shot = ends_with_a_shot || std::holds_alternative<ShotEvent>(event);
                    shots += std::holds_alternative<ShotEvent>(event) ? 1 : 0;
                    deaths += std::holds_alternative<KillEvent>(event) ? 1 : 0;
                }
            }
            if (seed == 3) {
                EXPECT_TRUE(telemetry.end(fight).empty());
                EXPECT_EQ(count_rows(file, "shots"), shots) << "at its end everything is on the disk";
                EXPECT_EQ(count_rows(file, "combatants"), 8);
            }
        }
        telemetry = Telemetry{};
        EXPECT_GT(shots, 100);
        EXPECT_GT(deaths, 2);
        EXPECT_EQ(count_rows(file, "shots"), shots);
        EXPECT_EQ(count_rows(file, "deaths"), deaths);
        EXPECT_EQ(count_rows(file, "matches"), 1) << "the other one was not ended";
        std::filesystem::remove_all(file);
    }
}

TEST(Telemetry, SaysWhyItCannotBeWritten) {
    const auto faults = Telemetry{}.open("/dev/null/tables");
    ASSERT_EQ(faults.size(), 1U);
    EXPECT_NE(to_string(faults[0]).find("/dev/null/tables: error: cannot be written"), std::string::npos);
}

// A table is a full pipe that nobody reads: the end says so, instead of waiting for ever.
TEST(Telemetry, EndsBesideADiskThatTakesNothing) {
    const std::string folder = ::testing::TempDir() + "avrek-stuck-" + std::to_string(getpid());
    const std::string file = folder + "/shots.csv";
    std::filesystem::create_directories(folder);
    ASSERT_EQ(mkfifo(file.c_str(), 0600), 0);
    const int pipe = open(file.c_str(), O_RDWR | O_NONBLOCK);
    Skirmish fight{trial::bots_arsenal(), trial::bots_level(), {}, 3, trial::bots_plan()};
    Telemetry telemetry;
    ASSERT_TRUE(telemetry.open(folder).empty());
    telemetry.begin(fight, "hall");
    const std::string filling(4096, ' ');
    while (write(pipe, filling.data(), filling.size()) > 0) {
    }
    for (int tick = 0; tick < 100 * 64; ++tick) { // more seconds than may wait for the disk
        fight.advance({});
        telemetry.take(fight);
    }
    const std::vector<Diagnostic> faults = telemetry.end(fight);
    ASSERT_EQ(faults.size(), 1U);
    EXPECT_NE(to_string(faults[0]).find("cannot be written: the disk takes nothing"), std::string::npos);
    telemetry = Telemetry{};
    close(pipe);
    std::filesystem::remove_all(folder);
}

} // namespace
} // namespace avrek
