#include <avrek/weapon/spread.h>

#include <gtest/gtest.h>

#include <array>
#include <cmath>

namespace avrek {
namespace {

// Rings of equal solid angle by sectors of equal width: every cell is equally likely.
TEST(Spread, TenThousandDirectionsAreUnitLengthAndUniformInTheCone) {
    constexpr int rings = 10;
    constexpr int sectors = 16;
    constexpr int shots = 10000;
    // Chi-square with 159 degrees of freedom: 1e-6 of uniform samples lie beyond 254.
    constexpr double limit = 254.0;
    for (const double half_angle : {0.0005, from_degrees(0.7), from_degrees(30.0), from_degrees(60.0)}) {
        for (const Look look : {Look{0, 0}, Look{2.0, 0.5}, Look{-1.0, -1.5}}) {
            const Vector3 aim = direction_of(look);
            const Across axes = across(aim);
            std::array<int, rings * sectors> cells{};
            for (std::uint32_t shot = 0; shot < shots; ++shot) {
                const Vector3 direction = spread_direction(aim, half_angle, {.seed = 11, .shot = shot});
                ASSERT_NEAR(direction.norm(), 1.0, 1e-12);
                const double drop = 0.5 * (direction - aim).squaredNorm(); // 1 - cos, with all its digits
                const double most = 2.0 * std::pow(std::sin(half_angle / 2.0), 2);
                ASSERT_LE(drop, most * (1.0 + 1e-9));
                const double around =
                    std::atan2(direction.dot(axes.up), direction.dot(axes.left)) / (2 * pi) + 0.5;
                const auto ring = std::min(static_cast<int>(drop / most * rings), rings - 1);
                const auto sector = std::min(static_cast<int>(around * sectors), sectors - 1);
                ++cells[static_cast<std::size_t>(ring * sectors + sector)];
            }
            double chi_square = 0.0;
            constexpr double expected = static_cast<double>(shots) / (rings * sectors);
            for (const int count : cells) {
                chi_square += (count - expected) * (count - expected) / expected;
            }
            EXPECT_LT(chi_square, limit) << half_angle << ' ' << look.yaw;
        }
    }
}

TEST(Spread, IsTheAimWithoutSpreadAndTheSameForTheSameKey) {
    const Vector3 aim = direction_of({0.3, 0.2});
    EXPECT_EQ(spread_direction(aim, 0.0, {.seed = 5}), aim);
    EXPECT_EQ(spread_direction(aim, 0.1, {.seed = 5, .shot = 2}),
              spread_direction(aim, 0.1, {.seed = 5, .shot = 2}));
    EXPECT_NE(spread_direction(aim, 0.1, {.seed = 5, .shot = 2}),
              spread_direction(aim, 0.1, {.seed = 5, .shot = 3}));
}

} // namespace
} // namespace avrek
