#include <avrek/core/curve.h>
#include <avrek/core/diagnostics.h>
#include <avrek/core/elementary.h>
#include <avrek/core/random.h>
#include <avrek/core/shapes.h>
#include <avrek/core/vectors.h>

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace avrek {
namespace {

TEST(Elementary, AgreesWithTheCLibraryWithinTheStatedError) {
    std::mt19937_64 random{1};
    std::uniform_real_distribution<double> angles{-10.0, 10.0};
    for (int trial = 0; trial < 100000; ++trial) {
        const double angle = angles(random);
        ASSERT_NEAR(sine(angle), std::sin(angle), 2.5e-16) << angle;
        ASSERT_NEAR(cosine(angle), std::cos(angle), 2.5e-16) << angle;
        const double other = angles(random);
        ASSERT_NEAR(arc_tangent(angle, other), std::atan2(angle, other), 7e-16) << angle << ' ' << other;
    }
    for (int trial = 0; trial < 10000; ++trial) {
        const double exponent = 30.0 * angles(random);
        ASSERT_NEAR(power_of_two(exponent) / std::exp2(exponent), 1.0, 1e-15) << exponent;
    }
    EXPECT_EQ(power_of_two(-12.0), 1.0 / 4096.0);
    EXPECT_EQ(power_of_two(-1e9), 0.0);
    for (const double large : {1e3, -1e4, 1e6}) {
        EXPECT_NEAR(sine(large), std::sin(large), 1e-16 * std::abs(large));
    }
    EXPECT_EQ(sine(0.0), 0.0);
    EXPECT_EQ(cosine(0.0), 1.0);
    EXPECT_EQ(arc_tangent(0.0, 0.0), 0.0);
    EXPECT_DOUBLE_EQ(arc_tangent(0.0, -1.0), pi);
    EXPECT_DOUBLE_EQ(arc_tangent(-1.0, 0.0), -pi / 2.0);
}

// The published test vectors of Philox 4x32-10 for an all-zero and an all-one counter and key.
TEST(Random, IsPhiloxAndDependsOnEveryPartOfItsKey) {
    const RandomKey zero{0, 0, RandomPurpose{}, 0, 0};
    EXPECT_EQ(random_words(zero),
              (std::array<std::uint32_t, 4>{0x6627e8d5, 0xe169c58d, 0xbc57ac4c, 0x9b00dbd8}));
    const std::uint32_t ones = 0xffffffff;
    EXPECT_EQ(random_words({~std::uint64_t{0}, ones, RandomPurpose{ones}, ones, ones}),
              (std::array<std::uint32_t, 4>{0x408f276d, 0x41c83b0e, 0xa20bc7c6, 0x6d5451fd}));
    for (const RandomKey& other :
         {RandomKey{1, 0, RandomPurpose{}, 0, 0}, RandomKey{1ULL << 32U, 0, RandomPurpose{}, 0, 0},
          RandomKey{0, 1, RandomPurpose{}, 0, 0}, RandomKey{0, 0, RandomPurpose{1}, 0, 0},
          RandomKey{0, 0, RandomPurpose{}, 1, 0}, RandomKey{0, 0, RandomPurpose{}, 0, 1}}) {
        EXPECT_NE(random_words(other), random_words(zero));
    }
}

TEST(Curve, IsExactAtItsPointsLinearBetweenAndLevelBeyond) {
    const Curve falloff{{{0, 1.0}, {25, 1.0}, {60, 0.6}}};
    EXPECT_EQ(value_at(falloff, -5), 1.0);
    EXPECT_EQ(value_at(falloff, 25), 1.0);
    EXPECT_DOUBLE_EQ(value_at(falloff, 42.5), 0.8);
    EXPECT_EQ(value_at(falloff, 60), 0.6);
    EXPECT_EQ(value_at(falloff, 1e9), 0.6);
    EXPECT_EQ(value_at({}, 3.0), 1.0);
    EXPECT_EQ(value_at({}, 3.0, 0.5), 0.5);
}

TEST(Vectors, LooksTurnLeftAndUpAndComeBack) {
    EXPECT_LT((direction_of({0, 0}) - world_forward()).norm(), 1e-15);
    EXPECT_LT((direction_of({pi / 2, 0}) - world_left()).norm(), 1e-15);
    EXPECT_LT((direction_of({0, pi / 2}) - world_up()).norm(), 1e-15);
    std::mt19937_64 random{3};
    std::uniform_real_distribution<double> yaws{-3.14, 3.14};
    std::uniform_real_distribution<double> pitches{-1.57, 1.57};
    for (int trial = 0; trial < 2000; ++trial) {
        const Look look{yaws(random), pitches(random)};
        const Vector3 direction = direction_of(look);
        ASSERT_NEAR(look_of(direction).yaw, look.yaw, 1e-12);
        ASSERT_NEAR(look_of(direction).pitch, look.pitch, 1e-12);
        const Rotation rotation = turned_to(look);
        ASSERT_LT((rotation * world_forward() - direction).norm(), 1e-14);
        ASSERT_NEAR((rotation * world_left()).y(), 0.0, 1e-15);
        const Across axes = across(direction);
        ASSERT_NEAR(axes.left.dot(direction), 0.0, 1e-14);
        ASSERT_LT((direction.cross(axes.left) - axes.up).norm(), 1e-14);
        const Pose pose{Vector3{1, 2, 3}, rotation};
        ASSERT_LT((to_local(pose, to_world(pose, direction)) - direction).norm(), 1e-14);
    }
    EXPECT_EQ(across(world_up()).left, world_left());
}

TEST(Shapes, HaveTheirMiddle) {
    EXPECT_EQ(centre_of(Sphere{{1, 2, 3}, 1}), Vector3(1, 2, 3));
    EXPECT_EQ(centre_of(Capsule{{0, 0, 0}, {0, 2, 0}, 1}), Vector3(0, 1, 0));
    EXPECT_EQ(centre_of(Box{{{4, 5, 6}, Rotation::Identity()}, {1, 1, 1}}), Vector3(4, 5, 6));
    EXPECT_EQ(centre_of(HalfSpace{world_up(), 2}), Vector3(0, 2, 0));
}

TEST(Diagnostics, SayWhereWhatAndWhatIsAllowed) {
    const Diagnostic fault{Severity::error, "a.toml", 3, 7, "weapon.x.damage", "is -5", "0 to 9", "armage"};
    EXPECT_EQ(to_string(fault),
              "a.toml:3:7: error: weapon.x.damage: is -5, did you mean 'armage'?; allowed: 0 to 9");
    EXPECT_EQ(to_string({Severity::warning, "a.toml", 0, 0, {}, "is odd", {}, {}}),
              "a.toml: warning: is odd");
}

} // namespace
} // namespace avrek
