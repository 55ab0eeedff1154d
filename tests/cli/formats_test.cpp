// Rules that every command keeps: the same result in every format, in a file too, and again.
#include "tool_rig.h"

#include <algorithm>
#include <set>

namespace avrek {
namespace {

using nlohmann::json;

// Commands whose result is a table, with little to do.
const char* const tables[] = {"card thorn-rifle",
                              "range needle-pistol --at 12 --for 0.5 --seed 4",
                              "range thorn-rifle --at 20 --for 0.4 --plan hold --plan taps:0.2",
                              "ttk thorn-rifle burr-gun --at 5,15",
                              "ttk --distribution needle-pistol --at 10 --points 32",
                              "explain thorn-rifle --at 20 --region head",
                              "duel thorn-rifle burr-gun --at 8 --points 32",
                              "bout --crew 4 --for 3 --seed 3",
                              "match --crew 2 --for 3 --seed 3"};

std::vector<std::string> lines_of(const std::string& text) {
    std::vector<std::string> lines;
    std::stringstream stream{text};
    for (std::string line; std::getline(stream, line);) {
        lines.push_back(line);
    }
    return lines;
}

class Formats : public Tool, public ::testing::WithParamInterface<const char*> {};

INSTANTIATE_TEST_SUITE_P(Tool, Formats, ::testing::ValuesIn(tables), [](const auto& given) {
    std::string name = std::to_string(given.index) + '_' + given.param;
    name.resize(std::min(name.find(' '), name.size()));
    return name;
});

TEST_P(Formats, TextIsReadAndJsonAndCsvAreWhole) {
    const std::string call = GetParam();
    const Answer text = run(call);
    ASSERT_EQ(text.status, 0) << text.err;
    EXPECT_FALSE(text.out.empty());
    EXPECT_EQ(text.out.back(), '\n');
    for (const std::string& line : lines_of(text.out)) {
        EXPECT_LE(line.size(), 100U) << line;
        EXPECT_TRUE(line.empty() || line.back() != ' ') << '"' << line << '"';
        EXPECT_EQ(line.find('\x1b'), std::string::npos) << "no colour into a file";
    }
    const Answer as_json = run(call + " --json");
    ASSERT_EQ(as_json.status, 0) << as_json.err;
    const json parsed = json::parse(as_json.out, nullptr, false);
    ASSERT_FALSE(parsed.is_discarded()) << as_json.out;
    EXPECT_FALSE(parsed.empty());
    const Answer as_csv = run(call + " --format csv");
    ASSERT_EQ(as_csv.status, 0) << as_csv.err;
    const std::vector<std::string> rows = lines_of(as_csv.out);
    ASSERT_GT(rows.size(), 1U);
    const auto commas = [](const std::string& row) { return std::count(row.begin(), row.end(), ','); };
    std::set<std::string> names;
    std::stringstream head{rows[0]};
    for (std::string name; std::getline(head, name, ',');) {
        EXPECT_TRUE(names.insert(name).second) << "two columns are called " << name;
        EXPECT_EQ(name.find_first_not_of("abcdefghijklmnopqrstuvwxyz0123456789_"), std::string::npos) << name;
    }
    for (const std::string& row : rows) {
        if (row.find('"') == std::string::npos) {
            EXPECT_EQ(commas(row), commas(rows[0])) << row;
        }
    }
}

TEST_P(Formats, AreTheSameAgainAndInAFile) {
    const std::string call = GetParam();
    for (const char* format : {" --format text", " --format json", " --format csv"}) {
        const Answer shown = run(call + format);
        ASSERT_EQ(shown.status, 0) << shown.err;
        const Answer kept = run(call + format + " --out kept.txt");
        EXPECT_EQ(kept.status, 0) << kept.err;
        EXPECT_TRUE(kept.out.empty()) << "the result is in the file";
        EXPECT_EQ(read_file(file("kept.txt")), shown.out);
    }
    const Answer nowhere = run(call + " --out no/such/folder/kept.txt");
    EXPECT_EQ(nowhere.status, 2);
    EXPECT_NE(nowhere.err.find("no/such/folder/kept.txt"), std::string::npos) << nowhere.err;
}

// Whatever is asked wrongly is answered with what is allowed, and nothing on standard output.
TEST_P(Formats, WrongWordsAreAnsweredWithTheRightOnes) {
    const std::string call = GetParam();
    for (const auto& [more, said] : {std::pair{" --format yaml", "text, json, csv"},
                                     {" --no-such-option", "--no-such-option"},
                                     {" no-such.toml", "no-such.toml"},
                                     {" --seed many", "--seed"}}) {
        const Answer wrong = run(call + more);
        EXPECT_EQ(wrong.status, 2) << more;
        EXPECT_TRUE(wrong.out.empty()) << wrong.out;
        EXPECT_NE(wrong.err.find(said), std::string::npos) << wrong.err;
    }
}

TEST_F(Tool, PicturesAreWrittenWholeByEveryCommandThatDraws) {
    for (const std::string call :
         {"card burr-gun", "range thorn-rifle --at 15 --for 0.5", "ttk thorn-rifle --at 5,20",
          "duel thorn-rifle burr-gun --at 8,16 --points 32", "bout --crew 4 --for 3"}) {
        for (const auto& [name, begin] : {std::pair{"a.svg", "<?xml"}, {"a.png", "\x89PNG"}}) {
            const Answer drawn = run(call + " --plot " + name);
            EXPECT_EQ(drawn.status, 0) << call << drawn.err;
            const std::string picture = read_file(file(name));
            EXPECT_EQ(picture.rfind(begin, 0), 0U) << call << ' ' << name;
            EXPECT_GT(picture.size(), 2'000U) << call;
        }
        EXPECT_EQ(run(call + " --plot a.gif").status, 2) << call;
    }
}

} // namespace
} // namespace avrek
