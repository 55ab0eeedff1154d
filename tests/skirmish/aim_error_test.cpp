// How far off a shooter's aim is: the one rule that bots and computed times share.
#include "../scene/draw.h"
#include "../test_data.h"
#include <avrek/skirmish/aim_error.h>

#include <gtest/gtest.h>

#include <cmath>

namespace avrek {
namespace {

TEST(AimError, IsBoundedSettlesAndIsNothingForWhoNeverErrs) {
    Draw draw{61};
    for (const ShooterSpec& shooter : shipped().shooters) {
        EXPECT_NEAR(error_left(shooter, Duration{}), 1.0, 1e-9) << shooter.id;
        double mean = 0.0;
        double mean_later = 0.0;
        constexpr int draws = 2'000;
        for (int trial = 0; trial < draws; ++trial) {
            const AimDraw drawn = aim_draw_of({draw(0, 1), draw(0, 1), draw(0, 1), draw(0, 1), draw(0, 1)});
            EXPECT_LE(std::abs(drawn.first.yaw), 2.0);
            EXPECT_LE(std::abs(drawn.first.pitch), 1.0);
            EXPECT_LE(std::abs(drawn.lag), 1.0);
            const Look first = aim_error(shooter, drawn, Duration{});
            const Look later = aim_error(shooter, drawn, from_seconds(3));
            const double bound = 2.0 * shooter.error + 3.0 * shooter.min_error + 1e-9;
            EXPECT_LE(std::abs(first.yaw), bound) << shooter.id;
            EXPECT_LE(std::abs(first.pitch), bound) << shooter.id;
            mean += (std::abs(first.yaw) + std::abs(first.pitch)) / draws;
            mean_later += (std::abs(later.yaw) + std::abs(later.pitch)) / draws;
            // A target that moves across is followed late, by the same share both ways.
            const Look across = aim_error(shooter, drawn, from_seconds(1), 0.5);
            const Look back = aim_error(shooter, drawn, from_seconds(1), -0.5);
            const Look still = aim_error(shooter, drawn, from_seconds(1));
            EXPECT_NEAR(across.yaw + back.yaw, 2.0 * still.yaw, 1e-12);
            EXPECT_NEAR(across.pitch, still.pitch, 1e-12);
            EXPECT_LE(std::abs(across.yaw - still.yaw), 0.5 * 2.0 * to_seconds(shooter.tracking) + 1e-12);
        }
        EXPECT_LE(mean_later, mean) << shooter.id;
        double left = 1.0;
        for (int ms = 0; ms < 5'000; ms += 50) {
            const double now = error_left(shooter, std::chrono::milliseconds{ms});
            EXPECT_TRUE(now >= 0.0 && now <= left + 1e-12);
            left = now;
        }
    }
    ShooterSpec perfect;
    perfect.error = perfect.min_error = 0.0;
    perfect.tracking = {};
    const AimDraw worst = aim_draw_of({0.999, 0.999, 0.999, 0.999, 0.999});
    EXPECT_EQ(aim_error(perfect, worst, from_seconds(0.1), 1.0), (Look{}));
}

} // namespace
} // namespace avrek
