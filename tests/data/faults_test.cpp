#include "../rounds.h"
#include "../test_data.h"
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/nearest_name.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <chrono>
#include <fstream>
#include <sstream>

namespace avrek {
namespace {

// A sound weapon and body; each case replaces a line of it or adds one.
std::string sound(const std::string& weapon_line, const std::string& body_line = "") {
    return "[weapon.thorn]\nrate_of_fire = 600\nmagazine = 30\nreload.time = 2\nrange = 90\ndamage = 20\n" +
           weapon_line + "\n[body.crew]\n" + body_line +
           "\n[body.crew.region.head]\nshapes = [{ sphere = [0, 1, 0], radius = 0.1 }]\n";
}

struct Fault {
    const char* name;
    std::string text;
    std::string place;   ///< "line:column"
    std::string message; ///< part of the whole line
};

std::string dotted_key(int dots) {
    std::string key{"a"};
    for (int dot = 0; dot < dots; ++dot) {
        key += ".a";
    }
    return key.append(" = 1");
}

std::vector<Fault> faults() {
    const auto weapon = [](const char* line) { return sound(line); };
    return {
        {"not a number", weapon("spread.hip = nan"), "7:14",
         "weapon.thorn.spread.hip: is nan; allowed: 0 to 60 degrees"},
        {"infinite", weapon("spread.hip = -inf"), "7:14", "is -inf"},
        {"negative", weapon("spread.hip = -0.5"), "7:14", "is -0.5"},
        {"too large", weapon("spread.hip = 61"), "7:14", "is 61"},
        {"the wrong type", weapon("spread.hip = \"wide\""), "7:14",
         "is \"wide\" (text); allowed: 0 to 60 degrees"},
        {"a truth", weapon("spread.hip = true"), "7:14", "is true"},
        {"a date", weapon("spread.hip = 2026-01-01"), "7:14", "is a date or time"},
        {"a zero rate",
         "[weapon.a]\nrate_of_fire = 0\nmagazine = 1\nreload.time = 0\nrange = 1\ndamage = 1\n", "2:16",
         "is 0; allowed: over 0 to 6000 rounds/min"},
        {"half a round", weapon("reserve = 1.5"), "7:11",
         "is 1.5; allowed: a whole number from 0 to 100000 rounds"},
        {"a huge number", weapon("reserve = 9223372036854775807"), "7:11", "is 9223372036854775807"},
        {"a misspelt key", weapon("spred = 1"), "7:1",
         "has no key 'spred', did you mean 'spread'?; allowed: like, trigger"},
        {"a misspelt word", weapon("trigger = \"singel\""), "7:11",
         "did you mean 'single'?; allowed: a list of 1 to 8 of \"single\" or \"automatic\""},
        {"a misspelt region", weapon("region = { haed = 2 }"), "7:12",
         "no body has a region 'haed', did you mean 'head'?"},
        {"a negative multiplier", weapon("region = { head = -2 }"), "7:19",
         "weapon.thorn.region.head: is -2"},
        {"regions that are no table", weapon("region = 2"), "7:10", "is 2; allowed: a table"},
        {"an unsorted curve", weapon("falloff = [[5, 1], [5, 0.5]]"), "7:20",
         "has an x of 5 after one that is not less"},
        {"an empty curve", weapon("falloff = []"), "7:11", "is a list of 0"},
        {"a curve of numbers", weapon("falloff = [1, 2]"), "7:12", "has a point that is 1"},
        {"a curve with words", weapon("falloff = [[0, \"x\"]]"), "7:12", "has a y that is \"x\""},
        {"an unknown base", weapon("like = \"thron\""), "7:8",
         "names no weapon: \"thron\", did you mean 'thorn'?"},
        {"a base that is no id", weapon("like = 3"), "7:8", "weapon.thorn.like: is 3"},
        {"like itself", weapon("like = \"thorn\""), "7:8", "is like itself: thorn -> thorn"},
        {"a circle", weapon("like = \"b\"\n[weapon.b]\nlike = \"thorn\""), "9:8",
         "is like itself: b -> thorn -> b"},
        {"a second definition", weapon("[weapon.thorn]\nspread = 1"), "7:1",
         "weapon.thorn: is defined a second time"},
        {"a key twice", weapon("damage = 3"), "7:1", "weapon.thorn.damage: is defined a second time"},
        {"a quoted key twice", weapon("\n[a.\"weapon.b\"]\nc = 1\n[ a.\"weapon.b\" ]"), "10:1",
         "a.\"weapon.b\": is defined a second time"},
        {"a bad id", "[weapon.Thorn_1]\n", "1:9",
         "weapon.Thorn_1: is not an id; allowed: lower-case letters"},
        {"a missing key", "[weapon.a]\nmagazine = 3\nreload.time = 1\nrange = 1\ndamage = 1\n", "1:9",
         "weapon.a.rate_of_fire: is missing; allowed: over 0"},
        {"a ray without a range", "[weapon.a]\nrate_of_fire = 60\nsupply = \"endless\"\ndamage = 1\n", "1:9",
         "weapon.a.range: is missing; allowed: over 0"},
        {"a ray that does nothing", "[weapon.a]\nrate_of_fire = 60\nsupply = \"endless\"\nrange = 1\n", "1:9",
         "weapon.a.damage: is missing; allowed: 0 to"},
        {"an unknown section", sound("") + "[bdoy.x]\n", "",
         "there is no section 'bdoy', did you mean 'body'?"},
        {"a section that is no table", "weapon = 3\n", "1:10",
         "weapon: is 3; allowed: tables of entries: [weapon.ID]"},
        {"an entry that is no table", "weapon.a = 3\n", "1:12", "weapon.a: is 3"},
        {"no health", sound("", "health = 0"), "9:10", "body.crew.health: is 0; allowed: over 0"},
        {"a body without regions", "[body.crew]\nhealth = 1\n", "1:7", "body.crew.region: is missing"},
        {"a region without shapes", sound("", "[body.crew.region.arm]"), "9:1",
         "body.crew.region.arm.shapes: is missing"},
        {"no such shape", sound("", "[body.crew.region.arm]\nshapes = [{ cone = 1 }]"), "10:13",
         "has no key 'cone'"},
        {"half a shape", sound("", "[body.crew.region.arm]\nshapes = [{ radius = 1 }]"), "10:11",
         "has keys that do not make one shape"},
        {"a flat point", sound("", "[body.crew.region.arm]\nshapes = [{ sphere = [1, 2], radius = 1 }]"),
         "10:22", "is a list of 2; allowed: [x, y, z], each -100 to 100 m"},
        {"no radius", sound("", "[body.crew.region.arm]\nshapes = [{ sphere = [1, 2, 3], radius = 0 }]"),
         "10:42", "is 0; allowed: over 0"},
        {"not TOML", weapon("spread.hip = = 1"), "7:14", "not valid TOML: could not determine value type"},
        {"broken text", weapon("spread = \"\x01\""), "7:11", "not valid TOML"},
        {"control characters in a value", weapon("trigger = \"\\u001b[31m\""), "7:11", "is \"?[31m\""},
        {"a letter that TOML does not know", weapon("sch\u00e4rfe = 1\nspread.hip = 61"), "7:4",
         "a character outside of text and remarks"},
        {"what follows such a letter", weapon("\ufea0\nspread.hip = 61"), "8:14", "is 61"},
        {"a brace that closes a list", weapon("falloff = [}"), "7:12", "not valid TOML"},
        {"a header without a name", weapon("[ = ]"), "7:3", "not valid TOML"},
        {"letters after a text that ends in a quote", weapon("trigger = \"\"\"x\"\"\"\" \u00e9"), "7:20",
         "a character outside of text and remarks"},
        {"an open text before such letters", weapon("trigger = \"\"\"\n\u00e9"), "", "not valid TOML"},
        {"no end of a list", weapon("falloff = [[0, 1],"), "", "not valid TOML"},
        {"a key of a thousand dots", dotted_key(1000), "1:", "a key with too many dots"},
        {"nothing", "", "1:1", "the arsenal is empty; allowed: at least one entry"},
        {"only a remark", "# ......................................................\n", "1:1",
         "the arsenal is empty"},
    };
}

TEST(Faults, EachSaysWhereWhatAndWhatIsAllowed) {
    for (const Fault& one : faults()) {
        SCOPED_TRACE(one.name);
        const Loaded<Arsenal> loaded = parse_arsenal(one.text, "a.toml");
        EXPECT_FALSE(loaded);
        const bool found =
            std::any_of(loaded.diagnostics.begin(), loaded.diagnostics.end(), [&](const Diagnostic& fault) {
                const std::string line = to_string(fault);
                return line.starts_with("a.toml:" + one.place) && line.find(one.message) != std::string::npos;
            });
        EXPECT_TRUE(found) << one.message << "\n  got "
                           << (loaded.diagnostics.empty() ? "nothing" : to_string(loaded.diagnostics[0]));
    }
}

TEST(Faults, LettersOfAnyLanguageAreFineInTextAndRemarks) {
    const std::string text =
        sound("# gar\u00e7on \u00e9\ntrigger = \"automatic\" # \ufea0") + "\n[weapon.b]\nlike = '\u00e9'";
    const Loaded<Arsenal> loaded = parse_arsenal(text, "a.toml");
    ASSERT_EQ(loaded.diagnostics.size(), 1U) << to_string(loaded.diagnostics[0]);
    EXPECT_EQ(loaded.diagnostics[0].message, "names no weapon: \"\u00e9\"");
}

TEST(Faults, AreReportedAllAtOnceInOrder) {
    const std::string text = "[weapon.a]\nspread = = 1\nrate_of_fire = -5\nmagzine = 3\ndamage = nan\n"
                             "[weapon.a]\nspread = 1\n[weapon.b]\nlike = \"c\"\n";
    const Loaded<Arsenal> loaded = parse_arsenal(text, "a.toml");
    std::vector<std::uint32_t> lines;
    for (const Diagnostic& fault : loaded.diagnostics) {
        lines.push_back(fault.line);
    }
    // Three keys of the first entry are missing, on its own line.
    EXPECT_EQ(lines, (std::vector<std::uint32_t>{1, 1, 1, 2, 3, 4, 5, 6, 9}));
}

TEST(Faults, ThousandsAreCutShort) {
    std::string text;
    for (int entry = 0; entry < 3000; ++entry) {
        text += "wrong" + std::to_string(entry) + " = 1\n";
    }
    const Loaded<Arsenal> loaded = parse_arsenal(text, "a.toml");
    ASSERT_EQ(loaded.diagnostics.size(), 1001U);
    EXPECT_EQ(loaded.diagnostics.back().message, "more faults than are shown");
}

TEST(Faults, LongChainsAndManyEntriesAreRefusedNotFollowed) {
    std::string text;
    for (int entry = 0; entry < 1200; ++entry) {
        text += "[weapon.w" + std::to_string(entry) + "]\nlike = \"w" + std::to_string(entry + 1) + "\"\n";
    }
    const Loaded<Arsenal> loaded = parse_arsenal(text, "a.toml");
    EXPECT_FALSE(loaded);
    const auto has = [&](const char* message) {
        return std::any_of(
            loaded.diagnostics.begin(), loaded.diagnostics.end(),
            [&](const Diagnostic& fault) { return fault.message.find(message) != std::string::npos; });
    };
    EXPECT_TRUE(has("too many times over"));
    EXPECT_TRUE(has("is one entry too many"));
}

// A verdict for every damaged text, never a crash, and never a value along with an error.
void expect_verdict(const std::string& text) {
    const Loaded<Arsenal> loaded = parse_arsenal(text, "a.toml");
    const bool errors =
        std::any_of(loaded.diagnostics.begin(), loaded.diagnostics.end(),
                    [](const Diagnostic& fault) { return fault.severity == Severity::error; });
    ASSERT_NE(static_cast<bool>(loaded), errors) << text.size();
}

// Between the places at which the shipped arsenal is damaged.
std::size_t step() {
    return static_cast<std::size_t>(13'000 / rounds(1'000));
}

TEST(Faults, FilesAreAnsweredWhereverTheyAreCutOff) {
    const std::string whole = contents(AVREK_SOURCE_DIR "/data/halm-ring.toml");
    ASSERT_GT(whole.size(), 1000U);
    for (std::size_t at = 0; at < whole.size(); at += step()) {
        expect_verdict(whole.substr(0, at));
    }
}

TEST(Faults, FilesAreAnsweredWhereverTheyBreak) {
    const std::string whole = contents(AVREK_SOURCE_DIR "/data/halm-ring.toml");
    for (std::size_t at = 0; at < whole.size(); at += step()) {
        std::string damaged = whole;
        damaged[at] = "\"[]{}=.,\n\xff"[at % 10];
        expect_verdict(damaged);
    }
}

TEST(Faults, FilesThatCannotBeReadSaySo) {
    const std::string folder = ::testing::TempDir();
    std::ofstream{folder + "/huge.toml"} << std::string(10'000'000, '#');
    EXPECT_EQ(load_arsenal(folder + "/huge.toml").diagnostics.at(0).allowed, "at most 4 MiB");
    EXPECT_NE(load_arsenal(folder + "/none.toml").diagnostics.at(0).message.find("No such file"),
              std::string::npos);
    EXPECT_EQ(load_arsenal(folder).diagnostics.at(0).message, "this is a directory");
    EXPECT_EQ(parse_arsenal(std::string(5'000'000, '#'), "a").diagnostics.at(0).message,
              "the text is too large");
    std::remove((folder + "/huge.toml").c_str());
}

TEST(NearestName, FindsSlipsAndNothingElse) {
    const std::vector<std::string> names{"magazine", "range", "reserve", "reload.time"};
    EXPECT_EQ(nearest_name("magzine", names), "magazine");
    EXPECT_EQ(nearest_name("arnge", names), "range");
    EXPECT_EQ(nearest_name("reserv", names), "reserve");
    EXPECT_EQ(nearest_name("colour", names), "");
    EXPECT_EQ(nearest_name("", names), "");
    EXPECT_EQ(nearest_name(std::string(100000, 'r'), names), "");
}

} // namespace
} // namespace avrek
