#include <avrek/core/elementary.h>
#include <avrek/weapon/cone.h>
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
        for (const Look look : {Look{0, 0}, Look{2.0, 0.5}, Look{-1.0, -1.5}, Look{0.1, 0.1}}) {
            const bool centred = look.yaw == 0.1;
            const auto shape = centred ? SpreadShape::centred : SpreadShape::uniform;
            const Vector3 aim = direction_of(look);
            const Across axes = across(aim);
            std::array<int, rings * sectors> cells{};
            for (std::uint32_t shot = 0; shot < shots; ++shot) {
                const Vector3 direction =
                    spread_direction(aim, half_angle, {.seed = 11, .shot = shot}, shape);
                ASSERT_NEAR(direction.norm(), 1.0, 1e-12);
                const double drop = 0.5 * (direction - aim).squaredNorm(); // 1 - cos, with all its digits
                const double most = 2.0 * std::pow(std::sin(half_angle / 2.0), 2);
                ASSERT_LE(drop, most * (1.0 + 1e-9));
                const double around =
                    std::atan2(direction.dot(axes.up), direction.dot(axes.left)) / (2 * pi) + 0.5;
                const double share = centred ? std::sqrt(drop / most) : drop / most;
                const auto ring = std::min(static_cast<int>(share * rings), rings - 1);
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

// Pellets on a figure: where it says, in shares of the cone, and never out of it however much they jitter.
TEST(Spread, PelletsKeepToTheirFigure) {
    SpreadSpec spread;
    spread.pellet_pattern = {{0.0, 0.0}, {0.6, 0.0}, {0.0, -1.0}};
    const Vector3 aim = direction_of({0.5, -0.3});
    const Across axes = across(aim);
    const double half_angle = from_degrees(4.0);
    for (const double jitter : {0.0, 0.3}) {
        spread.pellet_jitter = jitter;
        for (std::uint32_t shot = 0; shot < 500; ++shot) {
            for (std::int32_t pellet = 0; pellet < 5; ++pellet) {
                const Vector3 out =
                    pellet_direction(spread, aim, half_angle, {.seed = 2, .shot = shot}, pellet);
                const PatternPoint& point = spread.pellet_pattern[static_cast<std::size_t>(pellet) % 3];
                const double off = std::hypot(out.dot(axes.left) - std::sin(half_angle * point.left),
                                              out.dot(axes.up) - std::sin(half_angle * point.up));
                ASSERT_LE(off, half_angle * jitter + 1e-9) << pellet;
                ASSERT_LE(std::acos(out.dot(aim)), half_angle * (1.0 + 1e-6));
                ASSERT_NEAR(out.norm(), 1.0, 1e-12);
            }
        }
    }
    EXPECT_EQ(pellet_direction(spread, aim, 0.0, {}, 2), aim);
    spread.pellet_pattern.clear();
    EXPECT_NE(pellet_direction(spread, aim, half_angle, {}, 0),
              pellet_direction(spread, aim, half_angle, {}, 1));
}

TEST(Spread, IsTheProductOfItsFactorsAndIsStatedInThreeWays) {
    SpreadSpec spread;
    spread.hip = from_degrees(2.0);
    spread.aimed = from_degrees(0.5);
    spread.crouching = 0.5;
    spread.airborne = 3.0;
    spread.moving = {{{0.0, 1.0}, {4.0, 2.0}}};
    spread.bloom.max = from_degrees(1.0);
    spread.bloom.per_shot = {{{0.0, 0.001}}};
    const auto degrees = [&](double aim, const Stance& stance, double bloom) {
        return to_degrees(cone_of(spread, aim, stance, from_degrees(bloom)));
    };
    EXPECT_NEAR(degrees(0.0, {}, 0.0), 2.0, 1e-12);
    EXPECT_NEAR(degrees(1.0, {}, 0.25), 0.75, 1e-12);
    EXPECT_NEAR(degrees(0.5, {2.0, true, true}, 0.5), 1.25 * 1.5 * 0.5 * 3.0 + 0.5, 1e-12);
    EXPECT_NEAR(degrees(0.0, {9.0, false, true}, 100.0), 60.0, 1e-9) << "no cone is wider";
    EXPECT_EQ(first_shot_cone(spread, 0.0, {}), 0.0);
    EXPECT_NEAR(to_degrees(first_shot_cone(spread, 0.0, {4.0, false, false})), 2.0, 1e-12);
    const ConeRange range = cone_range(spread);
    EXPECT_NEAR(to_degrees(range.min), 0.25, 1e-12);
    EXPECT_NEAR(to_degrees(range.max), 2.0 * 2.0 * 3.0 + 1.0, 1e-12);
    EXPECT_EQ(accuracy_of(spread, range.min), 1.0);
    EXPECT_EQ(accuracy_of(spread, range.max), 0.0);
    EXPECT_EQ(accuracy_of(SpreadSpec{}, 0.0), 1.0) << "a cone that never changes";
    EXPECT_NEAR(crosshair_gap(from_degrees(30.0), {from_degrees(60.0), 1080.0}), 540.0, 1e-9)
        << "half the field of view reaches the edge of the screen";
}

} // namespace
} // namespace avrek
