#include "../rounds.h"
#include "../scene/draw.h"
#include "../test_data.h"
#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/data/tuning_session.h>

#include <gtest/gtest.h>
#include <sys/resource.h>
#include <unistd.h>

#include <csignal>

// Session files, and overlays made from what has changed.
namespace avrek {
namespace {

std::string fresh_file(const std::string& name) {
    const std::string file = ::testing::TempDir() + name + std::to_string(getpid()) + ".session";
    std::filesystem::remove(file);
    return file;
}

SessionTime second(std::int64_t number) {
    return SessionTime{std::chrono::seconds{number}};
}

bool same(std::span<const ArsenalText> one, std::span<const ArsenalText> other) {
    return std::equal(one.begin(), one.end(), other.begin(), other.end(),
                      [](const auto& a, const auto& b) { return a.name == b.name && a.text == b.text; });
}

// The shipped arsenal, and an overlay that changes some of its numbers.
std::vector<ArsenalText> tuned_texts(Draw& draw) {
    static const ArsenalValues values{shipped_texts()};
    std::vector<ArsenalChange> changes;
    for (const WeaponSpec& weapon : shipped().weapons) {
        for (const ArsenalNumber& number : values.numbers_of("weapon." + weapon.id)) {
            if (draw.below(30) == 0 && number.value < number.max) {
                const double more = number.whole ? number.value + 1 : number.value * 1.0625;
                changes.push_back({number.path, std::min(more, number.max)});
            }
        }
    }
    std::vector<ArsenalText> all = shipped_texts();
    all.push_back(*values.overlay(changes, "o.toml", "tried"));
    return all;
}

// Whatever was kept comes back as it was, through two handles, closed and opened again.
TEST(TuningSession, GoesBackToAnyChange) {
    const std::string file = fresh_file("avrek-kept-");
    Draw draw{5};
    std::vector<std::vector<ArsenalText>> kept{shipped_texts()};
    auto one = TuningSession::open(file);
    auto other = TuningSession::open(file);
    ASSERT_TRUE(one && other);
    EXPECT_FALSE(one->last_texts()) << "nothing is kept yet";
    ASSERT_EQ(*one->keep(kept[0], second(0), "begin"), 0);
    for (int trial = 1; trial <= rounds(30); ++trial) {
        // Now and then a text from before, or the last one again.
        std::vector<ArsenalText> texts =
            draw.below(4) == 0 ? kept[draw.below(kept.size())] : tuned_texts(draw);
        const bool is_new = !same(texts, kept.back());
        const auto number = (draw.below(2) == 0 ? one : other)->keep(texts, second(trial), "trial");
        ASSERT_TRUE(number);
        if (is_new) {
            kept.push_back(std::move(texts));
        }
        ASSERT_EQ(*number, static_cast<std::int64_t>(kept.size()) - 1);
        if (draw.below(5) == 0) {
            one = TuningSession::open(file);
        }
    }
    const auto session = TuningSession::read(file);
    const auto changes = session->changes();
    ASSERT_EQ(changes->size(), kept.size());
    for (std::size_t number = 0; number < kept.size(); ++number) {
        const SessionChange& change = changes->at(number);
        EXPECT_EQ(change.number, static_cast<std::int64_t>(number));
        EXPECT_EQ(change.by, number == 0 ? "begin" : "trial");
        EXPECT_TRUE(number == 0 || change.at > changes->at(number - 1).at);
        EXPECT_EQ(change.files.size(), kept[number].size());
        ASSERT_TRUE(same(*session->texts(change.number), kept[number])) << number;
        const auto values =
            number == 0 ? std::vector<ArsenalDifference>{} : differences(kept[number - 1], kept[number]);
        ASSERT_EQ(change.values.size(), values.size());
        for (std::size_t at = 0; at < values.size(); ++at) {
            EXPECT_EQ(change.values[at].path, values[at].path);
            EXPECT_EQ(change.values[at].after, values[at].after);
        }
    }
    EXPECT_TRUE(same(*session->last_texts(), kept.back()));
    const auto beyond = session->texts(static_cast<std::int64_t>(kept.size()));
    ASSERT_FALSE(beyond);
    EXPECT_NE(to_string(beyond.diagnostics[0]).find("changes 0 to "), std::string::npos);
    EXPECT_LT(std::filesystem::file_size(file), 200'000U + 5'000U * kept.size())
        << "a text that stays is kept once";
    std::filesystem::remove(file);
}

TEST(TuningSession, OtherFilesAreLeftAlone) {
    const std::string file = fresh_file("avrek-other-");
    EXPECT_FALSE(TuningSession::read(file)) << "it is missing";
    EXPECT_FALSE(std::filesystem::exists(file));
    std::ofstream{file} << "a shopping list";
    EXPECT_FALSE(TuningSession::open(file));
    EXPECT_FALSE(TuningSession::read(file));
    EXPECT_EQ(contents(file), "a shopping list");
    EXPECT_FALSE(TuningSession::open(::testing::TempDir() + "no/such/folder/e.session"));
    // Changed bytes are faults or other texts, no crash.
    std::filesystem::remove(file);
    ASSERT_TRUE(TuningSession::open(file)->keep(shipped_texts(), {}, ""));
    const std::string whole = contents(file);
    Draw draw{2};
    for (int trial = 0; trial < rounds(200); ++trial) {
        std::string bytes = whole.substr(0, draw.below(3) == 0 ? draw.below(whole.size()) : whole.size());
        for (std::size_t change = draw.below(20); change > 0 && !bytes.empty(); --change) {
            bytes[draw.below(bytes.size())] = static_cast<char>(draw.below(256));
        }
        std::ofstream{file, std::ios::binary | std::ios::trunc} << bytes;
        if (auto opened = TuningSession::open(file)) {
            (void)opened->changes();
            (void)opened->last_texts();
            (void)opened->keep({}, {}, "");
        }
    }
    std::filesystem::remove(file);
}

// A full disk: a limit on the size of files stands for it.
TEST(TuningSession, AFullDiskLosesNothingThatWasKept) {
    const std::string file = fresh_file("avrek-full-");
    auto session = TuningSession::open(file);
    ASSERT_TRUE(session->keep(shipped_texts(), second(1), "begin"));
    rlimit before{};
    ASSERT_EQ(getrlimit(RLIMIT_FSIZE, &before), 0);
    const auto old = std::signal(SIGXFSZ, SIG_IGN);
    const rlimit full{std::filesystem::file_size(file) + 4096, before.rlim_max};
    ASSERT_EQ(setrlimit(RLIMIT_FSIZE, &full), 0);
    std::vector<ArsenalText> large = shipped_texts();
    large.push_back({"large.toml", std::string(1 << 20, '#')});
    const auto refused = session->keep(large, second(2), "too much");
    setrlimit(RLIMIT_FSIZE, &before);
    std::signal(SIGXFSZ, old);
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.diagnostics[0].message.find("not kept"), std::string::npos);
    EXPECT_TRUE(same(*session->last_texts(), shipped_texts()));
    EXPECT_EQ(*session->keep(large, second(3), "again"), 1) << "there is room again";
    std::filesystem::remove(file);
}

TEST(OverlayBetween, TurnsOneArsenalIntoTheOther) {
    Draw draw{9};
    for (int trial = 0; trial < rounds(20); ++trial) {
        const std::vector<ArsenalText> before = tuned_texts(draw);
        const std::vector<ArsenalText> after = tuned_texts(draw);
        const auto is = parse_arsenal(after);
        const auto overlay = overlay_between(before, after, "o.toml");
        // The base gives whatever only the first overlay has.
        ASSERT_TRUE(overlay) << to_string(overlay.diagnostics[0]);
        std::vector<ArsenalText> both = before;
        both.push_back(*overlay);
        EXPECT_TRUE(differences(both, after).empty());
        EXPECT_TRUE(!is || hash_of(*parse_arsenal(both)) == hash_of(*is));
    }
    const std::vector<ArsenalText> was{{"a", "[weapon.a]\nname = \"x\"\nshares = { b = 1, c = 2 }\n"}};
    const std::vector<ArsenalText> is{
        {"a", "[weapon.a]\nname = \"a \\\"b\\\\\\n\\u0001\"\nshares = { b = 1, c = 3 }\n"
              "more = [{ d = 1 }, { \"e f\" = 2 }]\n[weapon.new]\n"}};
    std::vector<ArsenalText> both = was;
    both.push_back(*overlay_between(was, is, "o"));
    EXPECT_TRUE(differences(both, is).empty()) << both.back().text;
    EXPECT_NE(both.back().text.find("[weapon.new]"), std::string::npos) << "an entry without values";
    const auto gone = overlay_between(is, was, "o");
    ASSERT_EQ(gone.diagnostics.size(), 2U);
    EXPECT_EQ(gone.diagnostics[0].where, "weapon.a.more");
}

} // namespace
} // namespace avrek
