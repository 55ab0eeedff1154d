#include "../rounds.h"
#include "../scene/draw.h"
#include "../test_data.h"
#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/data/arsenal_watch.h>
#include <avrek/data/folded_overlays.h>
#include <avrek/data/replay_player.h>
#include <avrek/skirmish/bout.h>

#include <gtest/gtest.h>
#include <unistd.h>

// Arsenals that change while a fight goes by them.
namespace avrek {
namespace {

TuningStep overlay(const std::string& text) {
    return {.texts = {{"o.toml", text}}};
}

TEST(TunedArsenal, TakesOverlaysAndWholeTextsAndSaysWhatIsWrong) {
    TunedArsenal tuned{shipped_texts()};
    const auto quick = tuned.with(overlay("[weapon.thorn-rifle]\nrate_of_fire = 900\n"));
    ASSERT_TRUE(quick);
    const WeaponId rifle = *shipped().weapon("thorn-rifle");
    EXPECT_EQ((**quick)[rifle].rounds_per_minute, 900);
    EXPECT_EQ(hash_of(**tuned.with({})), hash_of(shipped())) << "nothing was taken in";
    tuned.take(overlay("[weapon.thorn-rifle]\nrate_of_fire = 900\n"));
    const auto strong = tuned.with(overlay("[weapon.thorn-rifle]\ndamage = 30\n"));
    EXPECT_EQ((**strong)[rifle].rounds_per_minute, 900);
    EXPECT_EQ((**strong)[rifle].damage, 30);
    const auto wrong = tuned.with(overlay("[weapon.thorn-rifle]\nrate_of_fire = -1\nmagasine = 3\n"));
    ASSERT_FALSE(wrong);
    ASSERT_EQ(wrong.diagnostics.size(), 2U);
    EXPECT_EQ(wrong.diagnostics[0].file, "o.toml");
    EXPECT_EQ(wrong.diagnostics[0].line, 2);
    EXPECT_EQ(hash_of(**tuned.with({.texts = shipped_texts(), .replaces = true})), hash_of(shipped()));
    EXPECT_EQ(tuned.steps().size(), 1U);
    const TunedArsenal made_in_code;
    EXPECT_FALSE(made_in_code.with(overlay("")));
}

TEST(TunedArsenal, StepsArePackedAndOtherBytesAreNone) {
    Draw draw{1};
    const TuningStep step{{{"a.toml", "[x]\n"}, {"b", std::string(5000, 'b')}, {"", ""}}, true};
    const std::vector<std::byte> packed = pack(step);
    const auto same = unpack_tuning(packed);
    ASSERT_TRUE(same);
    EXPECT_EQ(same->replaces, step.replaces);
    ASSERT_EQ(same->texts.size(), 3U);
    EXPECT_EQ(same->texts[1].text, step.texts[1].text);
    for (int trial = 0; trial < rounds(3000); ++trial) {
        std::vector<std::byte> bytes = packed;
        bytes.resize(draw.below(bytes.size() + 1));
        for (std::size_t change = draw.below(4); change > 0 && !bytes.empty(); --change) {
            bytes[draw.below(bytes.size())] = static_cast<std::byte>(draw.below(256));
        }
        (void)unpack_tuning(bytes);
    }
    EXPECT_TRUE(pack({{{"large", std::string(max_tuning_bytes, ' ')}}}).empty());
}

TEST(ArsenalWatch, SeesWhatIsSavedAndKeepsTheLastGoodOne) {
    const std::string file = ::testing::TempDir() + "avrek-watch-" + std::to_string(getpid()) + ".toml";
    const auto save = [&](const std::string& text, bool replaces) {
        const std::string name = replaces ? file + ".new" : file;
        std::ofstream{name} << text;
        if (replaces) {
            std::filesystem::rename(name, file);
        }
    };
    const std::string good =
        "[weapon.w]\nrate_of_fire = 600\nmagazine = 8\ndamage = 5\nrange = 50\nreload.time = 1\n";
    save(good, false);
    ArsenalWatch watch{{file}};
    EXPECT_FALSE(watch.look() || watch.look());
    for (const bool replaces : {false, true}) {
        std::string quick = good;
        quick.replace(quick.find("600"), 3, replaces ? "900" : "700");
        save(quick, replaces);
        EXPECT_FALSE(watch.look()) << "it may still be written";
        const auto news = watch.look();
        ASSERT_TRUE(news && news->arsenal);
        ASSERT_EQ(news->differences.size(), 1U);
        EXPECT_EQ(news->differences[0].path, "weapon.w.rate_of_fire");
        EXPECT_EQ(news->differences[0].before, replaces ? "700" : "600");
        EXPECT_EQ(news->arsenal->weapons[0].rounds_per_minute, replaces ? 900 : 700);
        EXPECT_FALSE(watch.look() || watch.look());
    }
    save(good + "rate_of_fier = 1\n", false);
    EXPECT_FALSE(watch.look());
    const auto faults = watch.look();
    ASSERT_TRUE(faults);
    EXPECT_FALSE(faults->arsenal);
    EXPECT_EQ(faults->diagnostics.front().line, 7);
    EXPECT_FALSE(watch.look()) << "once is enough";
    std::filesystem::remove(file);
    EXPECT_FALSE(watch.look());
    EXPECT_FALSE(watch.look()->arsenal);
    save(good, true);
    EXPECT_FALSE(watch.look());
    EXPECT_EQ(watch.look()->differences[0].before, "900") << "from the last good one";
    std::filesystem::remove(file);
}

TEST(FoldedOverlays, HaveAllValuesAndTheTextOfTheFirst) {
    const std::string base =
        "# of the ring\n[ammo.thorn]\ncarry_limit = 90  # enough\n\n"
        "[damage.cut]\n[weapon.w]   # the only one\nrate_of_fire = 600\nreload.time = 2.5 # s\n"
        "spread = { hip = 1, aimed = 0.2 }\nmagazine = 8\nrange = 50\ndamage = 5\n"
        "falloff = [[0, 1],\n  [25, 0.5]] # \u00fc\n# the end\n";
    const std::string overlay =
        "[weapon.w]\nfalloff = [[0, 1], [9, 0.1]]\ndamage = 7.5\npellets = 3\n"
        "[weapon.w.reload]\ntime = 1\nempty_time = 1.5\n[weapon.w.spread]\nhip = 3\n"
        "airborne = 2\n[weapon.other]\nlike = 'w'\nrate_of_fire = 700\n[ammo.thorn]\ncarry_limit = 60\n";
    const std::vector<ArsenalText> texts{{"base.toml", base}, {"o.toml", overlay}};
    const auto folded = fold_overlays(texts);
    ASSERT_TRUE(folded) << to_string(folded.diagnostics.front());
    for (const char* part :
         {"# of the ring\n", "carry_limit = 60  # enough\n", "reload.time = 1 # s\n",
          "spread = { hip = 3, aimed = 0.2 , airborne = 2 }\n", "]   # the only one\n",
          "falloff = [[0, 1], [9, 0.1]] # \u00fc\npellets = 3\n", "reload.empty_time = 1.5\n",
          "\n[weapon.other]\nlike = 'w'\nrate_of_fire = 700\n"}) {
        EXPECT_NE(folded->text.find(part), std::string::npos) << part << "is not in\n" << folded->text;
    }
    EXPECT_EQ(hash_of(*parse_arsenal(std::span{&*folded.value, 1})), hash_of(*parse_arsenal(texts)));
    // The shipped arsenal with numbers changed by chance.
    Draw draw{7};
    for (int trial = 0; trial < rounds(40); ++trial) {
        std::vector<ArsenalText> all = shipped_texts();
        const ArsenalValues values{all};
        std::vector<ArsenalChange> changes;
        for (const WeaponSpec& weapon : shipped().weapons) {
            for (const ArsenalNumber& number : values.numbers_of("weapon." + weapon.id)) {
                if (draw.below(20) == 0 && number.value < number.max) {
                    changes.push_back({number.path, number.whole ? number.value + 1 : number.value * 1.0625});
                }
            }
        }
        const auto text = values.overlay(changes, "o.toml");
        ASSERT_TRUE(text);
        all.push_back(*text);
        const auto both = parse_arsenal(all);
        if (both) {
            const auto one = fold_overlays(all);
            ASSERT_TRUE(one) << to_string(one.diagnostics.front());
            ASSERT_EQ(hash_of(*parse_arsenal(std::span{&*one.value, 1})), hash_of(*both));
        }
    }
    EXPECT_FALSE(fold_overlays({}));
}

TEST(TunedArsenal, IsPartOfARecording) {
    const std::string file = ::testing::TempDir() + "avrek-tuned-" + std::to_string(getpid()) + ".replay";
    const std::vector<std::string> files{AVREK_SOURCE_DIR "/data/halm-ring.toml"};
    const Loaded<GameData> data = load_game_data(files, AVREK_SOURCE_DIR "/data/atrium.toml");
    ASSERT_TRUE(data);
    Skirmish fight{data->arsenal, data->arena.level, {.limits = {.combatants = 8}}, 3, data->arena.plan};
    Bots bots{fight};
    const BoutSetup setup{.crew = 6, .weapons = {WeaponId{0}, WeaponId{2}}, .shooters = {ShooterId{0}}};
    ReplayWriter writer;
    ASSERT_TRUE(writer.open(file, head_of(fight, data->digest, "atrium", "a test"), {4, 64}).empty());
    const std::vector<BoutMember> members = bout_members(setup);
    for (const BoutMember& member : members) {
        writer.add(data->arsenal, entrant_of(setup, member));
    }
    begin_bout(setup, members, fight, bots);
    TunedArsenal tuned{data->texts};
    std::vector<std::uint64_t> hashes{fight.state_hash()};
    while (hashes.size() <= 400) {
        if (hashes.size() % 50 == 0) {
            const std::string rate = std::to_string(300 + 2 * hashes.size());
            const TuningStep step = overlay("[weapon.thorn-rifle]\nrate_of_fire = " + rate +
                                            "\n[body.crew]\nhealth = " + rate + "\n");
            const auto arsenal = tuned.with(step);
            ASSERT_TRUE(arsenal);
            ASSERT_TRUE(fight.retune(*arsenal));
            tuned.take(step);
            writer.retune(step);
        }
        const auto intents = bots.think(fight);
        fight.advance(intents);
        ASSERT_TRUE(writer.tick(fight, intents));
        hashes.push_back(fight.state_hash());
    }
    ASSERT_TRUE(writer.close().empty());
    ReplayPlayer player;
    ASSERT_TRUE(player.open(file, *data, {}, nullptr, {.key_every = 37}).empty());
    EXPECT_FALSE(player.departure());
    Draw draw{4};
    for (int round = 0; round < 60; ++round) {
        const std::size_t tick = draw.below(401);
        player.seek(static_cast<Tick>(tick));
        ASSERT_EQ(player.fight().state_hash(), hashes[tick]) << tick;
    }
    GameData without = *data;
    without.texts.clear(); // nobody can make its arsenals then, and it says so
    EXPECT_FALSE(player.open(file, without).empty());
    std::filesystem::remove(file);
}

} // namespace
} // namespace avrek
