#include "../rounds.h"
#include "../test_data.h"
#include <avrek/data/arsenal_digest.h>
#include <avrek/net/link_trial.h>
#include <avrek/tuning/duel.h>
#include <avrek/tuning/engagement_trial.h>
#include <avrek/tuning/link_effects.h>

#include <gtest/gtest.h>

#include <cmath>

namespace avrek {
namespace {

Engagement between(const char* armament, Metres distance) {
    return *engagement_of(shipped(), armament, "gardener", "crew", distance);
}

TEST(Duel, IsFairAndThatOfFights) {
    const auto fights = static_cast<std::uint32_t>(rounds(600));
    const double chance = 1.6 / std::sqrt(fights);
    for (const auto& [one, other, distance] : {std::tuple{"thorn-rifle", "reed-carbine", 12.0},
                                               {"needle-pistol", "thorn-rifle", 20.0},
                                               {"burr-gun", "reed-carbine", 5.0},
                                               {"seed-lobber", "thorn-rifle", 10.0}}) {
        const std::array sides{between(one, distance), between(other, distance)};
        const auto kills = kill_distributions(sides, {512});
        const Duration spread = sides[0].shooter.reaction_spread;
        const DuelSide first{&kills[0], {}, spread};
        const DuelSide second{&kills[1], {}, spread};
        const DuelOutcome outcome = duel(first, second);
        EXPECT_NEAR(outcome.wins[0] + outcome.wins[1] + outcome.trades + outcome.neither, 1.0, 1e-9);
        EXPECT_NEAR(outcome.win_rate(0), 1.0 - duel(second, first).win_rate(0), 1e-9);
        EXPECT_NEAR(duel(first, first).win_rate(0), 0.5, 1e-9);
        double before = 1.0;
        for (int later = -200; later <= 300; later += 50) {
            const DuelSide late{&kills[0], std::chrono::milliseconds{later}, spread};
            const double rate = duel(late, second).win_rate(0);
            EXPECT_LE(rate, before + 1e-9);
            before = rate;
        }
        EXPECT_LE(duel(first, second, false).trades, outcome.trades + 1e-9);
        DuelTrial trial{sides[0], sides[1]};
        double wins = 0.0;
        double trades = 0.0;
        for (std::uint32_t fight = 0; fight < fights; ++fight) {
            const DuelEnd end = trial.fight(fight);
            wins += end.died[1] && !end.died[0] ? 1.0 / fights : 0.0;
            trades += end.died[1] && end.died[0] ? 1.0 / fights : 0.0;
        }
        EXPECT_NEAR(wins, outcome.wins[0], chance + outcome.error) << one;
        EXPECT_NEAR(trades, outcome.trades, chance + outcome.error) << one;
    }
}

TEST(Duel, MatrixHoldsEveryPair) {
    const std::vector<std::string> names{"thorn-rifle", "burr-gun", "sickle heavy"};
    const std::vector<Metres> distances{1.0, 12.0};
    const DuelMatrix matrix =
        duel_matrix(shipped(), names, distances, {{"gardener", "gardener"}, "crew", {}, true, {64}});
    ASSERT_EQ(matrix.outcomes.size(), 18U);
    for (std::size_t distance = 0; distance < 2; ++distance) {
        for (std::size_t row = 0; row < 3; ++row) {
            for (std::size_t column = 0; column < 3; ++column) {
                EXPECT_NEAR(matrix.at(distance, row, column).win_rate(0),
                            1.0 - matrix.at(distance, column, row).win_rate(0), 1e-9);
            }
        }
    }
    const auto all = standings(matrix);
    EXPECT_EQ(all[0].dominates, (std::vector<std::string>{"burr-gun", "sickle heavy"}));
    EXPECT_EQ(all[0].best_at, (std::vector<std::size_t>{0, 1}));
    EXPECT_TRUE(all[2].best_at.empty());
}

TEST(Duel, TradesAreWhatIsUnderWay) {
    // Two slow projectiles cross: the one that fires first also dies.
    const Engagement sling = between("burl-sling", 20);
    const KillDistribution kills = kill_distribution(sling, {256});
    const DuelSide side{&kills, {}, {}};
    DuelSide late = side;
    late.view_delay = from_seconds(0.3);
    EXPECT_GT(duel(side, late).trades, 0.5);
    EXPECT_LT(duel(side, late, false).trades, 1e-9);
    late.view_delay = from_seconds(5);
    EXPECT_LT(duel(side, late).trades, 0.2);
    // Hitscan shots trade only when both are fired at the same time.
    const KillDistribution rifle = kill_distribution(between("thorn-rifle", 10), {64});
    const DuelSide one{&rifle, {}, {}};
    DuelSide other = one;
    EXPECT_GT(duel(one, other).trades, 0.1);
    other.view_delay = Duration{1};
    EXPECT_LT(duel(one, other).trades, 1e-9);
    // The health that is left is between nothing and all of it, and more of it is left against who comes
    // late.
    const DuelOutcome even = duel(one, other);
    other.view_delay = from_seconds(0.2);
    const DuelOutcome easy = duel(one, other);
    EXPECT_GT(even.health_left[0], 0.0);
    EXPECT_GT(easy.health_left[0], even.health_left[0]);
    EXPECT_LE(easy.health_left[0], 1.0);
}

TEST(LinkEffects, SayWhatASimulatedMatchShows) {
    LinkSpec link{.id = "clean", .latency = from_seconds(0.1)};
    const NetworkSetup network;
    const LinkView view = view_over(link, network);
    Arsenal arsenal = shipped();
    arsenal.links = {link};
    LinkTrialSetup setup;
    setup.bout.crew = 2;
    setup.bout.weapons = {WeaponId{0}};
    setup.bout.shooters = {ShooterId{0}};
    setup.links = {link};
    LevelPlan plan;
    plan.spawns = {{{0, 0, 0}, 0.0, TeamId{0}}, {{0, 0, 15}, pi, TeamId{1}}};
    const GameData data{arsenal, {.whole = 1}, {engagement_level(), plan}}; // both ends are here
    LinkTrial trial{data, setup, 1};
    double sum = 0.0;
    double count = 0.0;
    for (int tick = 0; tick < 600; ++tick) {
        trial.step();
        for (const Intent& intent : trial.server().intents()) {
            if (tick > 400 && intent.view_delay > 0) {
                sum += intent.view_delay * 1e-6;
                count += 1.0;
            }
        }
    }
    ASSERT_GT(count, 0.0);
    EXPECT_NEAR(sum / count, to_milliseconds(view.view_delay), 25.0);
    // More of anything bad is never better.
    LinkSpec worse = link;
    worse.latency = from_seconds(0.3);
    worse.jitter = from_seconds(0.03);
    worse.loss = 0.1;
    const LinkView bad = view_over(worse, network);
    EXPECT_GT(bad.view_delay, view.view_delay);
    EXPECT_GT(bad.news_delay, view.news_delay);
    EXPECT_GT(bad.unrewound, view.unrewound);
    EXPECT_GT(corner_advantage(bad, bad), corner_advantage(view, view));
    EXPECT_GE(death_after_cover(bad, bad, network).felt, death_after_cover(view, view, network).felt);
    // A target that moves is missed by what is not rewound; one that stands is not.
    Engagement standing = between("thorn-rifle", 15);
    Engagement moving = standing;
    moving.target_speed = 5.0;
    EXPECT_EQ(kill_distribution(engagement_over(standing, bad), {64}).killed(),
              kill_distribution(standing, {64}).killed());
    EXPECT_LT(killed_at(kill_distribution(engagement_over(moving, bad), {64}), from_seconds(1)),
              killed_at(kill_distribution(moving, {64}), from_seconds(1)));
    const ExperiencedTimes times =
        experienced(standing, view, link, standing.shooter.reaction, network, {64});
    EXPECT_GT(times.answerable, 0.0);
    EXPECT_LE(times.answerable, 1.0);
    EXPECT_GT(times.as_shooter_adds, from_seconds(0.1));
}

} // namespace
} // namespace avrek
