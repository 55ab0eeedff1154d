// Credit and layers against their plain rules.
#include <avrek/vitals/credit.h>
#include <avrek/vitals/defence_layers.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <map>
#include <random>

namespace avrek {
namespace {

Time after_ms(std::int64_t ms) {
    return Time{std::chrono::milliseconds{ms}};
}

TEST(Credit, IsWhatEachSourceHasDoneAndNobodyGetsNone) {
    std::mt19937 random{1};
    for (int life = 0; life < 200; ++life) {
        Credits credits;
        std::map<BodyId, Credit> expected;
        const std::uint32_t sources = 1 + random() % Credits::max_sources;
        std::int64_t now = 0;
        for (int hit = 0; hit < 60; ++hit) {
            now += random() % 3 * 100;
            const BodyId source =
                random() % 9 == 0 ? nobody : BodyId{static_cast<std::uint32_t>(random() % sources)};
            const double damage = 1.0 + static_cast<double>(random() % 40);
            add_credit(credits, source, damage, after_ms(now));
            if (source != nobody) {
                Credit& credit = expected[source];
                credit = {source, credit.damage + damage, after_ms(now)};
            }
            const Time since = after_ms(now - 150);
            BodyId last = nobody;
            Time newest = Time::min();
            for (const auto& [id, credit] : expected) {
                if (credit.last >= since && credit.last > newest) {
                    newest = credit.last;
                    last = id; // ids rise, so that of equals the lowest stays
                }
            }
            ASSERT_EQ(last_source(credits, since), last);
        }
        ASSERT_EQ(credits.count, expected.size());
        for (const Credit& credit : credits) {
            EXPECT_EQ(credit.damage, expected.at(credit.source).damage);
            EXPECT_EQ(credit.last, expected.at(credit.source).last);
        }
    }
}

TEST(Credit, ForgetsWhoDidLeastOfTooMany) {
    Credits credits;
    for (std::uint32_t source = 0; source < Credits::max_sources; ++source) {
        add_credit(credits, BodyId{source}, source == 5 ? 1.0 : 10.0 + source, after_ms(source));
    }
    add_credit(credits, BodyId{99}, 3.0, after_ms(100));
    EXPECT_EQ(credits.count, Credits::max_sources);
    const auto has = [&](std::uint32_t id) {
        return std::any_of(credits.begin(), credits.end(),
                           [id](const Credit& credit) { return credit.source == BodyId{id}; });
    };
    EXPECT_FALSE(has(5));
    EXPECT_TRUE(has(99) && has(0) && has(15));
}

// In closed form, whenever it is asked: what it is later does not depend on what was asked before.
TEST(LayerPoints, ComeBackAfterTheirDelayAndWearOffByThemselves) {
    std::mt19937 random{2};
    std::uniform_real_distribution<double> unit{0.0, 1.0};
    for (int round = 0; round < 300; ++round) {
        DefenceLayerSpec spec{.name = "bark", .max = 10.0 + 90.0 * unit(random)};
        spec.delay = from_seconds(3.0 * unit(random));
        (round % 2 == 0 ? spec.refill : spec.decay) = 1.0 + 30.0 * unit(random);
        const DefenceLayerState state{spec.max * unit(random), after_ms(1'000)};
        const Time hurt = after_ms(static_cast<std::int64_t>(2'000 * unit(random)));
        double before = points_at(spec, state, hurt, state.at);
        EXPECT_NEAR(before, state.points, 1e-9);
        for (std::int64_t ms = 1'000; ms < 20'000; ms += 137) {
            const double points = points_at(spec, state, hurt, after_ms(ms));
            EXPECT_TRUE(points >= 0.0 && points <= spec.max);
            EXPECT_TRUE(spec.refill > 0.0 ? points >= before - 1e-9 : points <= before + 1e-9);
            const DefenceLayerState later{points, after_ms(ms)};
            EXPECT_NEAR(points_at(spec, later, hurt, after_ms(20'000)),
                        points_at(spec, state, hurt, after_ms(20'000)), 1e-6);
            const bool waits = after_ms(ms) < std::max(hurt + spec.delay, state.at);
            EXPECT_TRUE(spec.refill <= 0.0 || !waits || points == state.points) << "it waits";
            before = points;
        }
        const Time full = full_at(spec, state, hurt);
        if (full == Time::max()) {
            EXPECT_TRUE(spec.refill <= 0.0 || state.points >= spec.max);
        } else {
            EXPECT_EQ(points_at(spec, state, hurt, full), spec.max);
            EXPECT_LT(points_at(spec, state, hurt, full - std::chrono::milliseconds{1}), spec.max);
        }
    }
}

} // namespace
} // namespace avrek
