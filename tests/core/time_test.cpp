#include <avrek/core/time.h>

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace avrek {
namespace {

TEST(Time, TicksTileTimeWithoutGapsAndHoldTheirOwnMoments) {
    std::mt19937_64 random{1};
    for (int trial = 0; trial < 20000; ++trial) {
        const TickRate rate{static_cast<std::int32_t>(random() % 1000 + 1)};
        const auto tick = static_cast<Tick>(random() % 4'000'000'000);
        const Span span = tick_span(tick, rate);
        ASSERT_EQ(span.end, tick_span(tick + 1, rate).begin);
        ASSERT_EQ(tick_at(span.begin, rate), tick);
        ASSERT_EQ(tick_at(span.end - Duration{1}, rate), tick);
        ASSERT_EQ(tick_at(span.end, rate), tick + 1);
        // The begin is tick * 1e9 / hertz, rounded down: within one nanosecond below the real number.
        const long double exact =
            static_cast<long double>(tick) * 1e9L / static_cast<long double>(rate.hertz);
        const auto off = exact - static_cast<long double>(span.begin.time_since_epoch().count());
        ASSERT_GT(off, -0.01L);
        ASSERT_LT(off, 1.01L);
    }
    EXPECT_EQ(tick_span(0, {64}), (Span{Time{}, Time{Duration{15'625'000}}}));
}

TEST(Time, ShotOffsetsAreTheNearestNanosecondAndNeverDrift) {
    std::mt19937_64 random{2};
    for (int trial = 0; trial < 20000; ++trial) {
        const auto rate = static_cast<std::int64_t>(random() % 6000 + 1);
        const auto shot = static_cast<std::uint32_t>(random() % 100'000);
        // In whole numbers: round half up of shot * 60e9 / rate.
        const std::int64_t expected = (2 * std::int64_t{shot} * 60'000'000'000 + rate) / (2 * rate);
        ASSERT_EQ(shot_offset(shot, static_cast<double>(rate)).count(), expected);
    }
    EXPECT_EQ(shot_offset(1, 720.0), Duration{83'333'333});
    EXPECT_EQ(shot_offset(720, 720.0), std::chrono::minutes{1});
}

TEST(Time, SecondsRoundToTheNearestNanosecondAndBack) {
    EXPECT_EQ(from_seconds(2.1), Duration{2'100'000'000});
    EXPECT_EQ(from_seconds(-0.4e-9), Duration{0});
    EXPECT_DOUBLE_EQ(to_seconds(from_seconds(0.083333333)), 0.083333333);
    EXPECT_DOUBLE_EQ(to_milliseconds(Duration{1'500'000}), 1.5);
}

} // namespace
} // namespace avrek
