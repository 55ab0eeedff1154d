// Digests of arsenals, and timed intents out of files.
#include "../test_data.h"
#include <avrek/data/arsenal_digest.h>
#include <avrek/data/arsenal_values.h>
#include <avrek/data/intents_toml.h>
#include <avrek/data/nearest_name.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <random>

namespace avrek {
namespace {

ArsenalDigest digest_with(const std::string& more) {
    std::vector<ArsenalText> texts = shipped_texts();
    texts.push_back({"more.toml", more});
    return digest_of(texts);
}

TEST(ArsenalDigest, IsOfKeysAndValuesAlone) {
    const ArsenalDigest shipped_one = digest_of(shipped_texts());
    EXPECT_EQ(digest_with("# a remark\n").whole, shipped_one.whole);
    EXPECT_TRUE(differing_entries(shipped_one, digest_with("")).empty());
    std::vector<ArsenalText> spaced = shipped_texts();
    for (std::size_t at = 0; (at = spaced[0].text.find(" = ", at)) != std::string::npos; at += 5) {
        spaced[0].text.replace(at, 3, "  =  ");
    }
    EXPECT_EQ(digest_of(spaced).whole, shipped_one.whole) << "blanks are not what it is about";
    EXPECT_TRUE(std::is_sorted(shipped_one.entries.begin(), shipped_one.entries.end(),
                               [](const EntryDigest& a, const EntryDigest& b) { return a.name < b.name; }));
}

// Every number of the shipped arsenal that is changed shows, in the entry that it is of and in no other.
TEST(ArsenalDigest, ShowsEveryChangedNumberInItsEntry) {
    const ArsenalDigest before = digest_of(shipped_texts());
    const ArsenalValues values{shipped_texts()};
    std::size_t changed = 0;
    for (const char* entry : {"weapon.amber-rail", "shooter.apprentice", "body.crew", "projectile.seed"}) {
        for (const ArsenalNumber& number : values.numbers_of(entry)) {
            const double value = number.value < number.max ? std::min(number.max, number.value + 1.0)
                                                           : std::max(number.min, number.value - 1.0);
            const ArsenalChange change{number.path, value};
            const auto overlay = values.overlay({&change, 1}, "overlay");
            ASSERT_TRUE(overlay) << number.path;
            const ArsenalDigest after = digest_with(overlay.value->text);
            EXPECT_NE(after.whole, before.whole) << number.path;
            const auto differ = differing_entries(before, after);
            ASSERT_FALSE(differ.empty()) << number.path;
            EXPECT_NE(std::find(differ.begin(), differ.end(), entry), differ.end()) << number.path;
            EXPECT_EQ(differ, differing_entries(after, before)) << "whichever comes first";
            ++changed;
        }
    }
    EXPECT_GT(changed, 30U);
    const auto gone = differing_entries(before, digest_of(std::vector<ArsenalText>{}));
    EXPECT_EQ(gone.size(), before.entries.size());
}

TEST(Intents, ChangeOnlyWhatTheyName) {
    const auto read = parse_intents("[[intent]]\nat = 0.5\ntrigger = true\n"
                                    "[[intent]]\nat = 0.75\nreload = true\n"
                                    "[[intent]]\nat = 1.0\ntrigger = false\nreload = false\n",
                                    "plan.toml", {.aim = true, .speed = 2.0});
    ASSERT_TRUE(read) << to_string(read.diagnostics.front());
    ASSERT_EQ(read->size(), 3U);
    const std::vector<WeaponIntent>& intents = *read;
    for (const WeaponIntent& intent : intents) {
        EXPECT_TRUE(intent.aim) << "what nobody names stays";
        EXPECT_EQ(intent.speed, 2.0);
    }
    EXPECT_EQ(intents[0].at, Time{from_seconds(0.5)});
    EXPECT_TRUE(intents[0].trigger && !intents[0].reload);
    EXPECT_TRUE(intents[1].trigger && intents[1].reload);
    EXPECT_TRUE(!intents[2].trigger && !intents[2].reload);
    for (const auto& [text, message] : {std::pair{"[[intent]]\ntrigger = true\n", "at"},
                                        {"[[intent]]\nat = 1\ntriger = true\n", "did you mean 'trigger'"},
                                        {"[[intent]]\nat = 1\ntrigger = 3\n", "trigger"},
                                        {"[[intent]]\nat = 2\n[[intent]]\nat = 1\n", "at"},
                                        {"intent = 3\n", "intent"},
                                        {"[[intnet]]\nat = 1\n", "a list of tables [[intent]]"}}) {
        const auto refused = parse_intents(text, "plan.toml");
        ASSERT_FALSE(refused) << text;
        const std::string said = to_string(refused.diagnostics.front());
        EXPECT_NE(said.find(message), std::string::npos) << said;
        EXPECT_EQ(said.rfind("plan.toml:", 0), 0U) << said;
    }
    EXPECT_FALSE(load_intents("/nowhere/at/all.toml"));
}

// A name with one slip in it is found among others that are nothing like it.
TEST(NearestName, IsFoundDespiteAnyOneSlip) {
    const std::vector<std::string> names{"thorn-rifle", "needle-pistol", "amber-rail", "pollen-spray"};
    std::mt19937 random{9};
    for (int trial = 0; trial < 500; ++trial) {
        const std::string& name = names[random() % names.size()];
        std::string slipped = name;
        const std::size_t at = random() % (name.size() - 1);
        switch (random() % 4) {
        case 0:
            slipped.erase(at, 1);
            break;
        case 1:
            slipped.insert(at, 1, 'x');
            break;
        case 2:
            slipped[at] = 'x';
            break;
        default:
            std::swap(slipped[at], slipped[at + 1]);
        }
        EXPECT_EQ(nearest_name(slipped, names), name) << slipped;
    }
}

} // namespace
} // namespace avrek
