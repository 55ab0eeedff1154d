#include "../rounds.h"
#include "../test_data.h"
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/save_file.h>

#include <gtest/gtest.h>
#include <sys/resource.h>

#include <csignal>
#include <filesystem>
#include <fstream>
#include <sstream>

namespace avrek {
namespace {

Save some_save(std::int32_t lives) {
    return {"atrium",
            {{"keeper \"of\" wood",
              lives,
              62.5,
              {{"thorn-rifle", 17, 1}, {"needle-pistol", 3, 0}},
              1,
              {{"cartridge", 44}}},
             {"second", -1, 0.0, {}, -1, {}}}};
}

class SaveFile : public ::testing::Test {
  protected:
    SaveFile() : folder_(::testing::TempDir() + "avrek-save-" + std::to_string(getpid())) {
        std::filesystem::create_directories(folder_);
    }
    ~SaveFile() override { std::filesystem::remove_all(folder_); }

    std::filesystem::path file() const { return folder_ / "game.json"; }
    void put(const std::string& text) const { std::ofstream{file()} << text; }
    std::string text() const {
        std::ifstream stream{file()};
        std::stringstream all;
        all << stream.rdbuf();
        return all.str();
    }

    std::filesystem::path folder_;
};

TEST_F(SaveFile, ComesBackAsItWas) {
    ASSERT_TRUE(write_save(file(), some_save(2)).empty());
    const Loaded<Save> back = load_save(file());
    ASSERT_TRUE(back);
    EXPECT_EQ(*back, some_save(2));
    EXPECT_TRUE(back.diagnostics.empty());
    EXPECT_EQ(std::distance(std::filesystem::directory_iterator{folder_}, {}), 1)
        << "nothing else lies about";
}

TEST_F(SaveFile, SurvivesBeingCutOffAtEveryByteAndAnyOtherByte) {
    ASSERT_TRUE(write_save(file(), some_save(1)).empty());
    ASSERT_TRUE(write_save(file(), some_save(2)).empty());
    const std::string whole = text();
    const std::size_t stride = tests_are_slow ? 7 : 1;
    for (std::size_t size = whole.size() % stride; size < whole.size(); size += stride) {
        const std::string cut = whole.substr(0, size);
        const Loaded<Save> alone = parse_save(cut, "x");
        if (alone) { // but for the end of the last line, all of it is there
            ASSERT_EQ(*alone, some_save(2));
            ASSERT_EQ(size, whole.size() - 1);
            continue;
        }
        ASSERT_EQ(alone.diagnostics.size(), 1U);
        put(cut);
        const Loaded<Save> kept = load_save(file());
        ASSERT_TRUE(kept) << "the one before is kept, cut at " << size;
        ASSERT_EQ(*kept, some_save(1));
        ASSERT_EQ(kept.diagnostics.at(0).severity, Severity::warning);
        ASSERT_NE(kept.diagnostics[0].message.find("the one before it was read"), std::string::npos);
    }
    for (std::size_t index = 0; index < whole.size(); index += stride) {
        std::string spoilt = whole;
        spoilt[index] = static_cast<char>(spoilt[index] ^ 1);
        const Loaded<Save> alone = parse_save(spoilt, "x");
        ASSERT_TRUE(!alone || *alone == some_save(2)) << "at " << index << ": " << spoilt;
    }
    // A damaged file does not take the place of the sound one before it.
    put(whole.substr(0, 40));
    ASSERT_TRUE(write_save(file(), some_save(3)).empty());
    put("");
    EXPECT_EQ(*load_save(file()), some_save(1));
}

TEST_F(SaveFile, IsWrittenWholeOrNotAtAll) {
    ASSERT_TRUE(write_save(file(), some_save(1)).empty());
    Save huge = some_save(2);
    huge.combatants.resize(1000, huge.combatants.front());
    ::rlimit before{};
    ::getrlimit(RLIMIT_FSIZE, &before);
    ::rlimit small{10'000, before.rlim_max};
    const auto ignored = std::signal(SIGXFSZ, SIG_IGN);
    ::setrlimit(RLIMIT_FSIZE, &small); // as a disk that is full
    const std::vector<Diagnostic> faults = write_save(file(), huge);
    ::setrlimit(RLIMIT_FSIZE, &before);
    std::signal(SIGXFSZ, ignored);
    ASSERT_EQ(faults.size(), 1U);
    EXPECT_NE(faults[0].message.find("File too large"), std::string::npos) << faults[0].message;
    EXPECT_EQ(*load_save(file()), some_save(1));
    EXPECT_EQ(std::distance(std::filesystem::directory_iterator{folder_}, {}), 1);
    EXPECT_FALSE(write_save(folder_ / "none" / "game.json", huge).empty());
    const Loaded<Save> none = load_save(folder_ / "none.json");
    EXPECT_FALSE(none);
    EXPECT_NE(none.diagnostics.at(0).message.find("No such file"), std::string::npos);
}

TEST(Saves, SayWhereAndWhatIsWrong) {
    const std::string whole = save_text(some_save(2));
    const auto with = [&](const std::string& from, const std::string& to) {
        std::string changed = whole;
        changed.replace(changed.find(from), from.size(), to);
        return to_string(parse_save(changed, "s.json").diagnostics.at(0));
    };
    EXPECT_NE(
        with("\"avrek_save\": 1", "\"avrek_save\": 2")
            .find("s.json: error: save.avrek_save: is no such number; allowed: a whole number from 1 to 1"),
        std::string::npos)
        << with("\"avrek_save\": 1", "\"avrek_save\": 2");
    EXPECT_NE(with("62.5", "63.5").find("save.digest: does not fit the content: the file is damaged"),
              std::string::npos);
    EXPECT_NE(with("{", "[").find("it is not JSON, or cut off"), std::string::npos);
}

TEST(Saves, KeepWhatACombatantCarriesFromLevelToLevel) {
    MatchSpec rules{.id = "r"};
    rules.lives = {3, 0, 4};
    Combatant who;
    who.vitals = full_vitals(shipped().bodies[0]);
    const std::vector<WeaponId> weapons{WeaponId{0}, WeaponId{3}};
    who.loadout = make_loadout(shipped(), weapons);
    who.lives = 2;
    who.vitals.health = 40;
    who.loadout.slots[0].state.rounds = 9;
    const SavedCombatant kept = kept_of(shipped(), who, "keeper");
    Combatant next;
    next.vitals = full_vitals(shipped().bodies[0]);
    next.lives = rules.lives.start;
    EXPECT_TRUE(give_back(shipped(), rules.lives, kept, next).empty());
    EXPECT_EQ(kept_of(shipped(), next, "keeper"), kept);
    // Entries that another arsenal does not have, or has no room for, are reported and left out.
    SavedCombatant strange = kept;
    strange.lives = 9;
    strange.weapons.push_back({"thorn-bow", 1, 0});
    strange.ammo = {{"cartridge", 1'000}, {"arrow", 5}};
    const std::vector<Diagnostic> warnings = give_back(shipped(), rules.lives, strange, next);
    ASSERT_EQ(warnings.size(), 3U);
    EXPECT_NE(to_string(warnings[0]).find("the arsenal has no weapon 'thorn-bow'"), std::string::npos);
    EXPECT_NE(to_string(warnings[1]).find("820 rounds of 'cartridge' are left out"), std::string::npos);
    EXPECT_EQ(next.lives, 4);
    EXPECT_EQ(reserve_of(shipped(), next.loadout, 0).rounds, 180);
}

} // namespace
} // namespace avrek
