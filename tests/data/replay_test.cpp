#include "../digest/bots_fight.h"
#include "../rounds.h"
#include "../scene/draw.h"
#include "../skirmish/own_game.h"
#include "../test_data.h"
#include "replay_generated.h"
#include "replay_parts.h"
#include <avrek/data/replay_file.h>
#include <avrek/data/telemetry.h>

#include <gtest/gtest.h>
#include <sqlite3.h>
#include <unistd.h>
#define XXH_INLINE_ALL
#include <xxhash.h>
#include <zstd.h>

#include <cstring>
#include <fstream>
#include <map>
#include <sstream>

namespace avrek {
namespace {

using trial::bots_arsenal;

class Recorded : public ::testing::Test {
  protected:
    Recorded() : folder_(::testing::TempDir() + "avrek-replay-" + std::to_string(getpid())) {
        std::filesystem::create_directories(folder_);
    }
    ~Recorded() override { std::filesystem::remove_all(folder_); }

    std::filesystem::path file() const { return folder_ / "fight.replay"; }

    // Fights for `ticks`, somebody leaving and coming back on the way; `meddle` after each tick is not
    // recorded.
    template <class Meddle>
    std::uint64_t record(Tick ticks, const Meddle& meddle, const ReplaySettings& settings = {8, 64}) {
        Skirmish fight{
            bots_arsenal(), trial::bots_level(), {.limits = {.combatants = 8}}, 4, trial::bots_plan()};
        Bots bots{fight};
        const BoutSetup setup = trial::bots_setup(8);
        const std::vector<BoutMember> members = bout_members(setup);
        ReplayWriter writer;
        EXPECT_TRUE(
            writer.open(file(), head_of(fight, {7, {{"weapon.rifle", 1}}}, "blocks", "a test"), settings)
                .empty());
        for (const BoutMember& member : members) {
            writer.add(bots_arsenal(), entrant_of(setup, member));
        }
        begin_bout(setup, members, fight, bots);
        while (fight.tick() < ticks) {
            if (fight.tick() == 150) {
                fight.remove(members[2].id);
                bots.remove(members[2].id);
                writer.remove(members[2].id);
            } else if (fight.tick() == 190) {
                Entrant back = entrant_of(setup, members[2]);
                back.at = Vector3{3, 0, 3};
                back.yaw = 1.0;
                writer.add(bots_arsenal(), back);
                (void)fight.add(back);
                bots.add(back.id, ShooterId{0});
            }
            const BodyUpdate placed{.who = members[5].id,
                                    .position = {0.01 * static_cast<double>(fight.tick()), 0, -9}};
            const std::span<const BodyUpdate> updates{&placed, fight.tick() % 50 < 10 ? 1U : 0U};
            const auto thought = bots.think(fight);
            std::vector<Intent> intents(thought.begin(), thought.end());
            if (fight.tick() % 3 == 1) { // in disorder, and with second ones, which do not count
                std::reverse(intents.begin(), intents.end());
                for (std::size_t index = 0; index < thought.size(); ++index) {
                    intents.push_back({.who = thought[index].who, .yaw = 1.0F, .ahead = -1.0F});
                }
            }
            fight.advance(intents, updates);
            EXPECT_TRUE(writer.tick(fight, intents, updates));
            meddle(fight);
        }
        EXPECT_TRUE(writer.close().empty());
        return fight.state_hash();
    }

    // Plays a file; the first tick after which a hash differs, or -1, and the fields that do.
    struct Played {
        std::vector<Diagnostic> faults;
        Tick ticks = 0;
        Tick departs = -1;
        std::string part;
        std::vector<FieldDifference> fields;
        std::uint64_t hash = 0;
    };
    static Played play_file(ReplayReader& reader, const Arsenal& arsenal = bots_arsenal(),
                            const Locomotions& locomotions = {}) {
        Played played;
        SkirmishSettings settings = reader.head().settings;
        settings.locomotions = locomotions;
        Skirmish fight{arsenal, trial::bots_level(), settings, reader.head().seed, trial::bots_plan()};
        while (const auto chunk = reader.next(played.faults)) {
            for (const ReplayTick& tick : chunk->ticks) {
                EXPECT_TRUE(play(tick, fight).empty());
                if (tick.hash && *tick.hash != fight.state_hash() && played.departs < 0) {
                    played.departs = fight.tick() - 1;
                    played.part = first_difference(fight, tick.parts);
                }
            }
            if (played.fields.empty() && !chunk->fields.empty()) {
                played.fields = differences(named_fields(fight), chunk->fields);
            }
        }
        played.ticks = fight.tick();
        played.hash = fight.state_hash();
        return played;
    }

    std::filesystem::path folder_;
};

TEST_F(Recorded, PlaysAgainTheSameWay) {
    const std::uint64_t hash = record(400, [](const Skirmish&) {});
    ReplayReader reader;
    ASSERT_TRUE(reader.open(file()).empty());
    EXPECT_EQ(reader.head().level_name, "blocks");
    EXPECT_EQ(reader.head().arsenal.entries.size(), 1U);
    const Played played = play_file(reader);
    EXPECT_TRUE(played.faults.empty());
    EXPECT_TRUE(reader.is_at_end());
    EXPECT_EQ(played.ticks, 400);
    EXPECT_EQ(played.departs, -1);
    EXPECT_TRUE(played.fields.empty());
    EXPECT_EQ(played.hash, hash);
    // It belongs to its arsenal and its level.
    const Level level = trial::bots_level();
    EXPECT_TRUE(settings_for(reader.head(), bots_arsenal(), reader.head().arsenal, level, "f"));
    const trial::Leaping leaping{1};
    const auto walks =
        settings_for(reader.head(), bots_arsenal(), reader.head().arsenal, level, "f", {&leaping});
    ASSERT_EQ(walks.diagnostics.size(), 1U);
    EXPECT_EQ(walks.diagnostics[0].message,
              "was recorded with bodies that move by 'walking 1', not by 'leaping 1'");
    const auto other = settings_for(reader.head(), bots_arsenal(), {8, {{"weapon.rifle", 2}}}, Level{}, "f");
    EXPECT_FALSE(other);
    ASSERT_EQ(other.diagnostics.size(), 2U);
    EXPECT_NE(other.diagnostics[0].message.find("what differs: weapon.rifle"), std::string::npos);
    EXPECT_NE(other.diagnostics[1].message.find("'blocks'"), std::string::npos);
}

// Fights of all kinds, in which intents are missing, and combatants come, go, die and come back. Every second
// is one of a game with a locomotion, inputs and actions of its own.
TEST_F(Recorded, FightsOfAllKindsPlayAgainTheSameWay) {
    for (int seed = 1; seed <= rounds(8, "AVREK_REPLAYS"); ++seed) {
        Draw draw{static_cast<std::uint64_t>(seed)};
        Arsenal arsenal = trial::make_bots_arsenal();
        MatchSpec& rules = arsenal.matches[0];
        rules.respawn = {from_seconds(draw(0, 2)), from_seconds(draw(0, 0.5))};
        rules.friendly_fire = static_cast<FriendlyFire>(draw.below(4));
        rules.corpses_stop_shots = (draw.below(2) == 0);
        rules.lag_compensation.trades = (draw.below(2) == 0);
        rules.lives.start = (draw.below(2) == 0) ? 3 : -1;
        const std::size_t crew = 2 + draw.below(7);
        const trial::Leaping leaping{static_cast<std::uint64_t>(seed)};
        const bool is_own = seed % 2 == 0;
        const Locomotions locomotions = is_own ? Locomotions{&leaping} : Locomotions{};
        Skirmish fight{arsenal,
                       trial::bots_level(),
                       {.rate = {20 + static_cast<std::int32_t>(draw.below(90))},
                        .locomotions = locomotions,
                        .limits = {.combatants = 10}},
                       static_cast<std::uint64_t>(seed),
                       trial::bots_plan()};
        Bots bots{fight};
        const BoutSetup setup = trial::bots_setup(crew);
        const std::vector<BoutMember> members = bout_members(setup);
        ReplayWriter writer;
        ASSERT_TRUE(writer.open(file(), head_of(fight, {7, {}}, "", "a test"), {1, 100}).empty());
        for (const BoutMember& member : members) {
            writer.add(arsenal, entrant_of(setup, member));
        }
        begin_bout(setup, members, fight, bots);
        while (fight.tick() < 400 && !fight.is_over()) {
            const BoutMember& someone = members[draw.below(members.size())];
            if ((draw.below(60) == 0) && fight.remove(someone.id)) {
                bots.remove(someone.id);
                writer.remove(someone.id);
            } else if ((draw.below(20) == 0) && fight.find(someone.id) == nullptr) {
                writer.add(arsenal, entrant_of(setup, someone));
                (void)fight.add(entrant_of(setup, someone));
                bots.add(someone.id, ShooterId{0});
            }
            std::vector<Intent> intents;
            for (Intent intent : bots.think(fight)) {
                intent.view_delay = (draw.below(3) == 0) ? 100'000'000U : 0U;
                intent.press_offset = draw.below(3) == 0 ? 0U : 6'000'000U; // the same again, often
                if (is_own && draw.below(5) == 0) {
                    intent.buttons.set(game_button(draw.below(16)), true);
                    intent.game.words[draw.below(4)] = draw.below(100);
                }
                if (!(draw.below(4) == 0)) {
                    intents.push_back(intent);
                }
            }
            std::vector<GameAction> actions;
            if (is_own && draw.below(3) == 0) {
                actions.push_back(trial::random_action(draw, fight, static_cast<std::uint32_t>(crew)));
            }
            fight.advance(intents, {}, actions);
            EXPECT_TRUE(writer.tick(fight, intents, {}, actions));
        }
        EXPECT_TRUE(writer.close().empty());
        ReplayReader reader;
        ASSERT_TRUE(reader.open(file()).empty());
        const Played played = play_file(reader, arsenal, locomotions);
        EXPECT_EQ(played.departs, -1) << seed << ": " << played.part;
        EXPECT_EQ(played.hash, fight.state_hash());
    }
}

TEST_F(Recorded, SaysWhenAndInWhatItDeparts) {
    record(300, [](Skirmish& fight) {
        if (fight.tick() == 100) {
            fight.match().edit(BodyId{4})->stats.assists += 1;
        }
    });
    ReplayReader reader;
    ASSERT_TRUE(reader.open(file()).empty());
    const Played played = play_file(reader);
    EXPECT_EQ(played.departs, 103) << "the first hash after tick 99";
    EXPECT_EQ(played.part, "match.combatant[4].stats");
    ASSERT_EQ(played.fields.size(), 1U);
    EXPECT_EQ(played.fields[0].name, "match.combatant[4].stats.assists");
    EXPECT_EQ(std::stoi(played.fields[0].other), std::stoi(played.fields[0].one) + 1);
}

// A file of a few kilobytes whose ticks share one long list of intents.
std::string shared_lists(std::size_t ticks, std::size_t intents) {
    flatbuffers::FlatBufferBuilder builder;
    std::vector<record::IntentRecord> list(intents);
    const auto shared = builder.CreateVectorOfStructs(list);
    std::vector<flatbuffers::Offset<record::TickRecord>> all;
    for (std::size_t tick = 0; tick < ticks; ++tick) {
        all.push_back(record::CreateTickRecord(builder, 0, 0, 0, shared));
    }
    const auto chunk = record::CreateChunkDirect(builder, 0, &all);
    builder.Finish(record::CreateRecord(builder, record::Part_Chunk, chunk.Union()), "AVRP");
    std::string packed(ZSTD_compressBound(builder.GetSize()), ' ');
    packed.resize(
        ZSTD_compress(packed.data(), packed.size(), builder.GetBufferPointer(), builder.GetSize(), 19));
    const detail::ReplayPartHead head{static_cast<std::uint32_t>(packed.size()), builder.GetSize(),
                                      XXH3_64bits(packed.data(), packed.size())};
    return std::string{reinterpret_cast<const char*>(&head), sizeof head} + packed;
}

TEST_F(Recorded, AHostileFileTakesNoMoreThanItMay) {
    record(8, [](const Skirmish&) {});
    const std::string sound = contents(file());
    detail::ReplayPartHead head{};
    std::memcpy(&head, sound.data() + sizeof(detail::ReplayFileHead), sizeof head);
    const std::string start = sound.substr(0, sizeof(detail::ReplayFileHead) + sizeof head + head.packed);
    for (const auto& [ticks, intents, allowed] :
         {std::tuple{2'000U, 9'000U, false}, std::tuple{100U, 1000U, true}}) {
        const std::string text = start + shared_lists(ticks, intents);
        EXPECT_LT(text.size(), 20'000U);
        ReplayReader reader;
        ASSERT_TRUE(reader.open(std::as_bytes(std::span{text}), "hostile.replay").empty());
        std::vector<Diagnostic> faults;
        EXPECT_EQ(reader.next(faults).has_value(), allowed);
        EXPECT_EQ(faults.empty(), allowed);
    }
}

TEST_F(Recorded, DamagedFilesGiveDiagnostics) {
    record(200, [](const Skirmish&) {});
    const std::string sound = contents(file());
    Draw draw{5};
    for (int round = 0; round < 150; ++round) {
        std::string text = sound;
        if (round % 2 == 0) {
            text[draw.below(text.size())] ^= static_cast<char>(1U << draw.below(7));
        } else {
            text.resize(draw.below(text.size()));
        }
        ReplayReader reader;
        std::vector<Diagnostic> faults = reader.open(std::as_bytes(std::span{text}), "damaged.replay");
        if (faults.empty()) {
            faults = play_file(reader).faults;
        }
        // The four bytes after the version mean nothing.
        if (text.size() != sound.size() || text.substr(16) != sound.substr(16) ||
            text.substr(0, 12) != sound.substr(0, 12)) {
            ASSERT_FALSE(faults.empty());
            EXPECT_EQ(faults[0].file, "damaged.replay");
            EXPECT_FALSE(reader.is_at_end());
        }
    }
    ReplayReader reader;
    EXPECT_NE(reader.open(folder_ / "none.replay").front().message.find("No such file"), std::string::npos);
    ReplayWriter writer;
    EXPECT_FALSE(writer.open("/dev/full", {}).empty()) << "the disk is full";
    EXPECT_FALSE(writer.open(folder_ / "no" / "where", {}).empty());
}

TEST(ArsenalDigestOf, IsOfWhatTheFilesSay) {
    const auto digest = [](const char* text, const char* over = "") {
        const ArsenalText texts[] = {{"a", text}, {"b", over}};
        return digest_of(texts);
    };
    const ArsenalDigest one = digest("[weapon.a]\ndamage = 5\nrange = 9\n[weapon.b]\nlike = \"a\"");
    EXPECT_EQ(one, digest("# said\n[weapon.b]\nlike = 'a'\n[weapon.a]\nrange = 9.0\ndamage = 5"));
    EXPECT_EQ(
        one, digest("[weapon.a]\ndamage = 4\nrange = 9\n[weapon.b]\nlike = \"a\"", "[weapon.a]\ndamage = 5"));
    const ArsenalDigest other =
        digest("[weapon.a]\ndamage = 6\nrange = 9\n[weapon.b]\nlike = \"a\"\n[ammo.c]");
    EXPECT_NE(one.whole, other.whole);
    EXPECT_EQ(differing_entries(one, other), (std::vector<std::string>{"ammo.c", "weapon.a"}));
}

// Result of a query, row by row.
std::vector<std::vector<std::string>> ask(const std::filesystem::path& file, const std::string& query) {
    sqlite3* base = nullptr;
    EXPECT_EQ(sqlite3_open(file.c_str(), &base), SQLITE_OK);
    std::vector<std::vector<std::string>> rows;
    char* fault = nullptr;
    const auto take = [](void* to, int count, char** values, char**) {
        auto& row = static_cast<std::vector<std::vector<std::string>>*>(to)->emplace_back();
        for (int column = 0; column < count; ++column) {
            row.emplace_back(values[column] != nullptr ? values[column] : "");
        }
        return 0;
    };
    EXPECT_EQ(sqlite3_exec(base, query.c_str(), take, &rows, &fault), SQLITE_OK) << fault << " in\n" << query;
    sqlite3_free(fault);
    sqlite3_close(base);
    return rows;
}

TEST_F(Recorded, TelemetryAgreesWithTheFight) {
    const std::filesystem::path base = folder_ / "fights.db";
    trial::BotsFight fight{bots_arsenal(), 8, 3};
    for (int match = 1; match <= 2; ++match) {
        fight = trial::BotsFight{bots_arsenal(), 8, static_cast<std::uint64_t>(match)};
        Telemetry telemetry;
        Telemetry tables;
        ASSERT_TRUE(telemetry.open(base).empty());
        ASSERT_TRUE(tables.open(folder_ / "tables").empty());
        telemetry.begin(fight.skirmish, "blocks");
        tables.begin(fight.skirmish, "a \"level\", so called");
        telemetry.name(BodyId{1}, "first", "one");
        while (fight.skirmish.tick() < 900) {
            fight.advance();
            telemetry.take(fight.skirmish);
            tables.take(fight.skirmish);
        }
        EXPECT_TRUE(telemetry.end(fight.skirmish).empty());
        EXPECT_TRUE(tables.end(fight.skirmish).empty());
    }
    EXPECT_EQ(ask(base, "SELECT id, level, ticks FROM matches"),
              (std::vector<std::vector<std::string>>{{"1", "blocks", "900"}, {"2", "blocks", "900"}}));
    double dealt = 0.0;
    std::uint32_t shots = 0;
    for (const Combatant& who : std::as_const(fight.skirmish).match().combatants()) {
        dealt += who.stats.damage_taken;
        shots += who.stats.shots;
    }
    EXPECT_EQ(ask(base, "SELECT count(*) FROM shots WHERE match = 2")[0][0], std::to_string(shots));
    EXPECT_NEAR(std::stod(ask(base, "SELECT sum(damage + absorbed) FROM hits WHERE match = 2")[0][0]), dealt,
                1e-6 * dealt);
    EXPECT_EQ(
        ask(base,
            "SELECT count(*) FROM hits JOIN hit_steps ON hit = id WHERE step = "
            "(SELECT max(step) FROM hit_steps s WHERE s.hit = id) AND abs(total - damage) > 1e-9")[0][0],
        "0")
        << "steps multiply out to the damage";
    EXPECT_EQ(ask(base, "SELECT sum(deaths) FROM combatants WHERE match = 2"),
              ask(base, "SELECT count(*) FROM deaths WHERE match = 2"));
    EXPECT_EQ(ask(base, "SELECT name, shooter FROM combatants WHERE match = 2 AND id = 1")[0][0], "first");
    // The queries of the documentation.
    const std::string page = contents(AVREK_SOURCE_DIR "/docs/telemetry.md");
    int queries = 0;
    for (std::size_t at = page.find("```sql\n"); at != std::string::npos;
         at = page.find("```sql\n", at + 1)) {
        const std::string query = page.substr(at + 7, page.find("```", at + 7) - at - 7);
        EXPECT_FALSE(ask(base, query).empty()) << query;
        ++queries;
    }
    EXPECT_EQ(queries, 3);
    const std::string csv = contents(folder_ / "tables" / "shots.csv");
    EXPECT_EQ(csv.substr(0, 22), "match,at,who,shot,weap");
    EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), shots + 1);
    EXPECT_NE(contents(folder_ / "tables" / "matches.csv").find("\"a \"\"level\"\", so called\""),
              std::string::npos);
    Telemetry nowhere;
    EXPECT_FALSE(nowhere.open(folder_ / "no" / "where.db").empty());
}

} // namespace
} // namespace avrek
