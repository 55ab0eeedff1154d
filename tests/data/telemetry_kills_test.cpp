// Kills out of telemetry, against the plain rule.
#include "../rounds.h"
#include "../test_data.h"
#include <avrek/data/telemetry_kills.h>

#include <gtest/gtest.h>
#include <sqlite3.h>
#include <unistd.h>

#include <algorithm>
#include <random>

namespace avrek {
namespace {

// Tables as telemetry has them, as far as kills are read from them.
class KillTables : public ::testing::Test {
  protected:
    KillTables() : file_(::testing::TempDir() + "avrek-kills-" + std::to_string(getpid()) + ".db") {
        std::filesystem::remove(file_);
        EXPECT_EQ(sqlite3_open(file_.c_str(), &base_), SQLITE_OK);
        run("CREATE TABLE combatants (match, id, body TEXT, shooter TEXT);"
            "CREATE TABLE hits (id INTEGER PRIMARY KEY, match, at REAL, who, target, weapon TEXT, distance "
            "REAL, "
            "condition TEXT);"
            "CREATE TABLE deaths (match, at REAL, who, killer, weapon TEXT);");
    }
    ~KillTables() override {
        sqlite3_close(base_);
        std::filesystem::remove(file_);
    }
    void run(const std::string& text) {
        ASSERT_EQ(sqlite3_exec(base_, text.c_str(), nullptr, nullptr, nullptr), SQLITE_OK) << text;
    }
    void hit(int match, double at, int who, int target, const std::string& weapon, double distance,
             const std::string& condition = "") {
        run("INSERT INTO hits (match, at, who, target, weapon, distance, condition) VALUES (" +
            std::to_string(match) + ',' + std::to_string(at) + ',' + std::to_string(who) + ',' +
            std::to_string(target) + ",'" + weapon + "'," + std::to_string(distance) + ",'" + condition +
            "')");
    }
    void death(int match, double at, int who, int killer, const std::string& weapon) {
        run("INSERT INTO deaths VALUES (" + std::to_string(match) + ',' + std::to_string(at) + ',' +
            std::to_string(who) + ',' + std::to_string(killer) + ",'" + weapon + "')");
    }
    std::vector<ObservedKill> kills() {
        const auto read = read_kills(file_);
        EXPECT_TRUE(read) << to_string(read.diagnostics.front());
        return read ? *read : std::vector<ObservedKill>{};
    }

    std::string file_;
    sqlite3* base_ = nullptr;
};

TEST_F(KillTables, HoldTheWorkOfOneAttackerWithOneWeapon) {
    run("INSERT INTO combatants VALUES (1, 1, 'crew', 'gardener'), (1, 2, 'warden', ''), (2, 2, 'crew', "
        "'novice')");
    EXPECT_TRUE(kills().empty());
    hit(1, 10.0, 1, 2, "rifle", 8.0);
    hit(1, 10.5, 1, 2, "rifle", 10.0);
    hit(1, 10.6, 2, 2, "rifle", 0.0);      // its own doing
    hit(1, 10.7, 3, 2, "", 0.0, "pollen"); // a tick of a condition
    hit(2, 10.6, 3, 2, "rifle", 1.0);      // in another match
    death(1, 10.5, 2, 1, "rifle");
    ASSERT_EQ(kills().size(), 1U);
    EXPECT_NEAR(kills()[0].seconds, 0.5, 1e-9);
    EXPECT_NEAR(kills()[0].distance, 9.0, 1e-9);
    EXPECT_EQ(kills()[0].body, "warden");
    EXPECT_EQ(kills()[0].shooter, "gardener");
    hit(1, 9.0, 3, 2, "rifle", 5.0); // somebody else, within three seconds
    EXPECT_TRUE(kills().empty());
    run("UPDATE hits SET at = 6.9 WHERE who = 3"); // and before that it does not count
    EXPECT_EQ(kills().size(), 1U);
    run("UPDATE hits SET weapon = 'pistol' WHERE at = 10.0");
    EXPECT_TRUE(kills().empty()) << "two weapons";
    run("UPDATE deaths SET weapon = ''");
    EXPECT_TRUE(kills().empty()) << "by nobody's weapon";
}

TEST_F(KillTables, AreThoseOfThePlainRuleAtRandom) {
    std::mt19937 random{8};
    struct Row {
        double at;
        int who;
        std::string weapon;
    };
    std::vector<Row> rows;
    for (int index = 0; index < 200; ++index) {
        rows.push_back({static_cast<double>(random() % 6'000) / 10.0, 1 + static_cast<int>(random() % 2),
                        random() % 4 == 0 ? "pistol" : "rifle"});
    }
    run("BEGIN");
    std::sort(rows.begin(), rows.end(), [](const Row& a, const Row& b) { return a.at < b.at; });
    std::size_t expected = 0;
    for (const Row& row : rows) {
        hit(1, row.at, row.who, 9, row.weapon, 4.0);
    }
    for (std::size_t last = 3; last < rows.size(); last += 5) {
        death(1, rows[last].at, 9, rows[last].who, rows[last].weapon);
        bool alone = true;
        double first = rows[last].at;
        const auto until = std::upper_bound(rows.begin(), rows.end(), rows[last].at,
                                            [](double at, const Row& row) { return at < row.at; });
        for (auto row = until; row != rows.begin();) {
            --row;
            if (first - row->at > 3.0) {
                break;
            }
            alone = alone && row->who == rows[last].who && row->weapon == rows[last].weapon;
            first = row->at;
        }
        expected += alone ? 1 : 0;
    }
    run("COMMIT");
    EXPECT_EQ(kills().size(), expected);
    EXPECT_GT(expected, 3U);
}

TEST_F(KillTables, SayWhatIsWrongWithAFileThatIsNone) {
    for (const std::string name : {"/nowhere/at/all.db", AVREK_SOURCE_DIR "/data/halm-ring.toml", "/"}) {
        const auto read = read_kills(name);
        ASSERT_FALSE(read) << name;
        EXPECT_NE(to_string(read.diagnostics.front()).find(name), std::string::npos);
    }
    run("DROP TABLE deaths");
    const auto read = read_kills(file_);
    ASSERT_FALSE(read);
    EXPECT_NE(read.diagnostics.front().message.find("deaths"), std::string::npos)
        << read.diagnostics.front().message;
}

} // namespace
} // namespace avrek
