// States as bytes: what is written comes back, and what is damaged is told from it.
#include <avrek/core/state_bytes.h>
#include <avrek/core/state_delta.h>
#include <avrek/core/state_hash.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <random>
#include <set>

namespace avrek {
namespace {

std::vector<std::byte> random_bytes(std::mt19937_64& random, std::size_t size) {
    std::vector<std::byte> bytes(size);
    for (std::byte& byte : bytes) {
        byte = static_cast<std::byte>(random());
    }
    return bytes;
}

struct Plain {
    std::int32_t whole = 0;
    float real = 0.0F;
    friend bool operator==(const Plain&, const Plain&) = default;
};

std::size_t write_all(std::span<std::byte> room, double number, const std::vector<Plain>& list) {
    StateWriter writer{room};
    writer.value(number);
    writer.list(list);
    writer.value(std::uint8_t{7});
    return writer.size();
}

TEST(StateBytes, ComeBackAndSayHowMuchRoomTheyNeed) {
    std::mt19937_64 random{3};
    for (std::size_t count = 0; count < 40; ++count) {
        std::vector<Plain> list;
        for (std::size_t item = 0; item < count; ++item) {
            list.push_back({static_cast<std::int32_t>(random()), static_cast<float>(item) / 3.0F});
        }
        const std::size_t needed = write_all({}, 0.1, list);
        EXPECT_EQ(needed, sizeof(double) + sizeof(std::uint64_t) + count * sizeof(Plain) + 1);
        std::vector<std::byte> room(needed);
        ASSERT_EQ(write_all(room, 0.1, list), needed);
        StateReader reader{room};
        double number = 0.0;
        std::vector<Plain> read;
        read.reserve(count);
        std::uint8_t last = 0;
        EXPECT_TRUE(reader.value(number) && reader.list(read, count) && reader.value(last));
        EXPECT_TRUE(reader.is_at_end() && reader.is_sound());
        EXPECT_EQ(number, 0.1);
        EXPECT_EQ(read, list);
        EXPECT_EQ(last, 7);
        EXPECT_FALSE(reader.value(last)) << "there is nothing after the end";
        EXPECT_FALSE(reader.is_sound());
    }
}

TEST(StateBytes, CutOffOrTooLongListsFailAndSoDoesWhatFollows) {
    const std::vector<Plain> list{{1, 1.0F}, {2, 2.0F}, {3, 3.0F}};
    std::vector<std::byte> whole(write_all({}, 1.0, list));
    write_all(whole, 1.0, list);
    for (std::size_t size = 0; size < whole.size(); ++size) {
        StateReader reader{std::span<const std::byte>{whole}.first(size)};
        double number = 0.0;
        std::vector<Plain> read;
        std::uint8_t last = 0;
        const bool sound = reader.value(number) && reader.list(read, 3) && reader.value(last);
        EXPECT_FALSE(sound) << size;
        EXPECT_FALSE(reader.value(number)) << "after a failure every read fails";
    }
    StateReader reader{whole};
    double number = 0.0;
    std::vector<Plain> read;
    EXPECT_TRUE(reader.value(number));
    EXPECT_FALSE(reader.list(read, 2)) << "at most two were allowed";
    EXPECT_TRUE(read.empty());
}

TEST(StateBytes, TheCheckSeesEveryChangedByteAndExchangedWord) {
    std::mt19937_64 random{5};
    for (const std::size_t size : {1U, 7U, 8U, 9U, 31U, 32U, 33U, 64U, 200U}) {
        std::vector<std::byte> bytes = random_bytes(random, size);
        const std::uint64_t sound = bytes_check(bytes);
        EXPECT_EQ(bytes_check(bytes), sound);
        for (std::size_t at = 0; at < size; ++at) {
            const std::byte kept = bytes[at];
            bytes[at] ^= static_cast<std::byte>(1U << (random() % 8));
            EXPECT_NE(bytes_check(bytes), sound) << size << ' ' << at;
            bytes[at] = kept;
        }
        for (std::size_t word = 0; 8 * (word + 2) <= size; ++word) {
            const auto first = bytes.begin() + static_cast<std::ptrdiff_t>(8 * word);
            std::swap_ranges(first, first + 8, first + 8);
            EXPECT_NE(bytes_check(bytes), sound) << size << ' ' << word;
            std::swap_ranges(first, first + 8, first + 8);
        }
        bytes.push_back(std::byte{0});
        EXPECT_NE(bytes_check(bytes), sound) << "a zero more";
    }
}

// Any two states, and a delta that is damaged in any way gives a state of allowed size or none.
TEST(StateDelta, TurnsOneStateIntoTheOther) {
    std::mt19937_64 random{7};
    for (int round = 0; round < 400; ++round) {
        const std::vector<std::byte> before = random_bytes(random, random() % 300);
        std::vector<std::byte> after = before;
        after.resize(random() % 4 == 0 ? random() % 300 : before.size());
        for (std::size_t change = random() % 6; change > 0 && !after.empty(); --change) {
            after[random() % after.size()] = static_cast<std::byte>(random());
        }
        std::vector<std::byte> delta = make_delta(before, after);
        ASSERT_EQ(apply_delta(before, delta), after);
        if (after.size() == before.size()) {
            EXPECT_LE(delta.size(), 6 * 8U + 16U) << "a few changes are small";
        }
        if (!after.empty()) {
            EXPECT_FALSE(apply_delta(before, delta, after.size() - 1)) << "more than was allowed";
        }
        for (int damage = 0; damage < 8; ++damage) {
            std::vector<std::byte> damaged = delta;
            damaged.resize(random() % (delta.size() + 1));
            if (!damaged.empty()) {
                damaged[random() % damaged.size()] ^= static_cast<std::byte>(1U + random() % 255U);
            }
            const auto made = apply_delta(before, damaged, 1000);
            EXPECT_TRUE(!made || made->size() <= 1000U);
        }
    }
}

TEST(StateHash, DependsOnEveryWordAndItsOrder) {
    std::set<std::uint64_t> seen;
    for (std::uint64_t word = 0; word < 1000; ++word) {
        StateHash hash;
        hash.add(word);
        seen.insert(hash.value());
        hash.add(std::uint64_t{0});
        seen.insert(hash.value());
    }
    EXPECT_EQ(seen.size(), 2000U);
    StateHash one;
    one.add(Vector3{1, 2, 3});
    StateHash other;
    other.add(1.0);
    other.add(2.0);
    other.add(3.0);
    EXPECT_EQ(one.value(), other.value());
    StateHash turned;
    turned.add(Vector3{2, 1, 3});
    EXPECT_NE(one.value(), turned.value());
    StateHash plus;
    plus.add(0.0);
    StateHash minus;
    minus.add(-0.0);
    EXPECT_NE(plus.value(), minus.value()) << "bit for bit";
}

} // namespace
} // namespace avrek
