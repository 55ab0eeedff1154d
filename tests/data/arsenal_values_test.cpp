#include "../rounds.h"
#include "../test_data.h"
#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/data/arsenal_digest.h>
#include <avrek/data/arsenal_values.h>

#include <gtest/gtest.h>

#include <algorithm>

namespace avrek {
namespace {

TEST(ArsenalValues, ComeBackFromAnOverlay) {
    const std::vector<ArsenalText> texts = shipped_texts();
    const ArsenalValues values{texts};
    std::size_t count = 0;
    for (const char* entry :
         {"weapon.thorn-rifle", "weapon.burr-gun", "weapon.pollen-spray", "projectile.seed", "melee.sickle",
          "body.warden", "shooter.gardener", "link.storm", "condition.pollen", "match.atrium"}) {
        for (const ArsenalNumber& number : values.numbers_of(entry)) {
            ++count;
            const double middle = number.whole ? number.value + 1.0 : 0.75 * number.value + 0.015625;
            const double value = std::min(std::max(middle, number.min), number.max);
            const ArsenalChange change{number.path, value};
            const auto overlay = values.overlay({&change, 1}, "overlay");
            ASSERT_TRUE(overlay) << number.path;
            const auto found = ArsenalValues{with_overlay(texts, *overlay.value)}.find(number.path);
            ASSERT_TRUE(found) << number.path;
            EXPECT_EQ(found.value->value, value) << number.path;
            const auto changed = differences(texts, with_overlay(texts, *overlay.value));
            EXPECT_EQ(changed.size(), value == number.value ? 0U : 1U) << number.path;
        }
    }
    EXPECT_GT(count, 120U);
    const ArsenalChange tidy{"weapon.burr-gun.falloff[2].y", 0.65};
    EXPECT_NE(values.overlay({&tidy, 1}, "o").value->text.find("0.65]"), std::string::npos)
        << values.overlay({&tidy, 1}, "o").value->text;
    // Numbers of a profile, written or default, and paths that name no number.
    EXPECT_EQ(values.find("shooter.apprentice.turn").value->value, 220.0);
    EXPECT_EQ(values.find("shooter.apprentice.near").value->value, 12.0);
    for (const auto& [path, message] : {std::pair{"wepon.thorn-rifle.damage", "did you mean 'weapon'"},
                                        {"weapon.thorn-rife.damage", "did you mean 'thorn-rifle'"},
                                        {"weapon.thorn-rifle.damge", "did you mean 'damage'"},
                                        {"weapon.thorn-rifle", "there is no number"},
                                        {"weapon.thorn-rifle.falloff[9].y", "there is no value"},
                                        {"weapon.thorn-rifle.trigger", "there is no number"},
                                        {"", "the path ends before its section"}}) {
        const auto found = values.find(path);
        ASSERT_FALSE(found) << path;
        EXPECT_NE(to_string(found.diagnostics.front()).find(message), std::string::npos)
            << to_string(found.diagnostics.front());
    }
}

// Every number of an arsenal counts in its hash, and only the changed one is read again.
TEST(ArsenalHash, IsAnotherForEveryChange) {
    const std::vector<ArsenalText> texts = shipped_texts();
    const ArsenalValues values{texts};
    const std::uint64_t before = hash_of(*parse_arsenal(texts).value);
    EXPECT_EQ(before, hash_of(*parse_arsenal(texts).value));
    std::size_t count = 0;
    for (const EntryDigest& entry : digest_of(texts).entries) {
        for (const ArsenalNumber& number : values.numbers_of(entry.name)) {
            const double value = number.value < number.max ? std::min(number.max, number.value + 1.0)
                                                           : std::max(number.min, number.value - 1.0);
            const ArsenalChange change{number.path, value};
            const auto quick = values.with({&change, 1});
            const auto changed =
                parse_arsenal(with_overlay(texts, *values.overlay({&change, 1}, "changes").value));
            ASSERT_EQ(quick.value.has_value(), changed.value.has_value()) << number.path;
            if (!changed) {
                Diagnostic expected = changed.diagnostics.front();
                const bool is_ours = expected.file == "changes"; // a text that nobody has seen
                expected.line = is_ours ? 0 : expected.line;
                expected.column = is_ours ? 0 : expected.column;
                EXPECT_EQ(to_string(quick.diagnostics.front()), to_string(expected));
            } else if (count % 3 == 0 || !tests_are_slow) {
                EXPECT_NE(hash_of(*changed.value), before) << number.path;
                EXPECT_EQ(hash_of(*changed.value), hash_of(*quick.value)) << number.path;
            }
            count += changed ? 1 : 0;
        }
    }
    EXPECT_GT(count, 300U);
}

} // namespace
} // namespace avrek
