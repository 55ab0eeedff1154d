#include "../rounds.h"
#include "../test_data.h"
#include <avrek/data/arsenal_toml.h>
#include <avrek/tuning/engagement_trial.h>
#include <avrek/tuning/kill_distribution.h>
#include <avrek/tuning/time_to_kill.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <random>

namespace avrek {
namespace {

Engagement engaged(const char* armament, Metres distance, const char* shooter = "gardener",
                   const char* body = "crew") {
    return *engagement_of(shipped(), armament, shooter, body, distance);
}

// The largest distance between a computed curve and that of times; those closer than `slack` are one.
double apart(const std::function<double(Duration)>& computed, std::vector<Duration> times, double fights,
             Duration slack, const std::vector<KillPoint>& points) {
    std::sort(times.begin(), times.end());
    const auto fought = [&](Duration at) {
        return static_cast<double>(std::upper_bound(times.begin(), times.end(), at) - times.begin()) / fights;
    };
    double most = 0.0;
    const auto look = [&](Duration at) {
        most = std::max({most, computed(at) - fought(at + slack), fought(at) - computed(at + slack)});
    };
    std::for_each(times.begin(), times.end(), look);
    for (const KillPoint& point : points) {
        look(point.at);
    }
    return most;
}

constexpr Duration at_once{1};
constexpr Duration in_flight = std::chrono::milliseconds{6};

TEST(KillDistribution, IsThatOfFightsInASkirmish) {
    struct Case {
        Engagement engagement;
        Duration slack = at_once;
    };
    std::vector<Case> cases{
        {engaged("thorn-rifle", 12)},
        {engaged("thorn-rifle", 30, "apprentice")},
        {engaged("thorn-rifle", 15, "old-hand", "warden")},
        {engaged("needle-pistol", 18)},
        {engaged("reed-carbine", 25)},
        {engaged("burr-gun", 7)},
        {engaged("amber-rail", 50)},
        {engaged("pollen-spray", 4)},
        {engaged("pollen-spray", 3, "apprentice", "warden")},
        {engaged("seed-lobber", 16), in_flight},
        {engaged("burl-sling", 14), in_flight},
        {engaged("sickle light", 1.1), in_flight},
        {engaged("thorn-rifle", 12, "gardener", "drone")},
    };
    cases.push_back({engaged("thorn-rifle", 20)});
    cases.back().engagement.target_speed = 5.0;
    cases.back().engagement.shooter.tracking = from_seconds(0.05);
    cases.push_back({engaged("reed-carbine", 16)});
    cases.back().engagement.posture.crouching = true;
    cases.back().engagement.aim = *find_region(shipped().bodies.front().rig, "head");
    cases.push_back({engaged("thorn-rifle", 16)});
    cases.back().engagement.plan = {FiringPlanKind::taps, "taps", from_seconds(0.3), 0, {}};
    const auto fights = static_cast<std::uint32_t>(rounds(800));
    for (Case& one : cases) {
        const std::string name = (one.engagement.weapon != nullptr ? one.engagement.weapon->id : "blade") +
                                 " at " + std::to_string(one.engagement.distance);
        one.engagement.limit = from_seconds(5);
        const KillDistribution kills = kill_distribution(one.engagement, {512});
        EngagementTrial trial{one.engagement};
        std::vector<Duration> deaths;
        for (std::uint32_t fight = 0; fight < fights; ++fight) {
            if (const auto death = trial.fight(fight).death) {
                deaths.push_back(*death);
            }
        }
        // Bound of chance in one of a hundred such comparisons (Kolmogorov, 1933), and the stated error.
        EXPECT_LE(
            apart([&](Duration at) { return killed_at(kills, at); }, deaths, fights, one.slack, kills.points),
            1.63 / std::sqrt(fights) + kills.error)
            << name;
    }
}

TEST(KillDistribution, OfAPerfectShooterIsTheIdealTime) {
    Arsenal arsenal = shipped();
    for (WeaponSpec& weapon : arsenal.weapons) {
        weapon.spread = {};
        weapon.recoil = {};
        weapon.spray = 0.0;
        weapon.projectile = {};
        weapon.effect.condition = {};
        weapon.charge.min = weapon.charge.full; // as shooters do
    }
    arsenal.shooters.push_back({.id = "perfect"});
    ShooterSpec& perfect = arsenal.shooters.back();
    perfect.error = perfect.min_error = 0.0;
    perfect.near = 1000.0;
    for (const WeaponSpec& weapon : arsenal.weapons) {
        const auto engagement = engagement_of(arsenal, weapon.id, "perfect", "crew", 0.4 * weapon.range);
        const KillDistribution kills = kill_distribution(*engagement, {32});
        // From just where it hits the torso.
        const IdealKill ideal =
            ideal_time_to_kill(weapon, engagement->target, engagement->distance - 0.15, engagement->aim);
        if (ideal.verdict != KillVerdict::kills || ideal.time > engagement->limit) {
            EXPECT_EQ(kills.killed(), 0.0) << weapon.id;
            continue;
        }
        ASSERT_NEAR(kills.killed(), 1.0, 1e-4) << weapon.id;
        EXPECT_EQ(time_of_share(kills, 0.5), ideal.time) << weapon.id;
        EXPECT_NEAR(mean_shots(kills), ideal.shots, 1e-3) << weapon.id;
        EXPECT_EQ(kills.error, 0.0) << weapon.id;
    }
}

TEST(KillDistribution, AddsUp) {
    std::vector<Engagement> engagements;
    for (const std::string& armament : armament_names(shipped())) {
        for (const Metres distance : {0.8, 3.0, 9.0, 27.0, 300.0}) {
            for (const char* shooter : {"gardener", "apprentice", "old-hand"}) {
                engagements.push_back(engaged(armament.c_str(), distance, shooter));
            }
        }
    }
    const std::vector<KillDistribution> all = kill_distributions(engagements, {32});
    for (std::size_t index = 0; index < all.size(); ++index) {
        const KillDistribution& kills = all[index];
        double before = 0.0;
        for (const KillPoint& point : kills.points) {
            EXPECT_GE(point.killed, before - 1e-6);
            EXPECT_LE(point.killed, 1.0);
            EXPECT_LE(point.health, 1.0 - point.killed + 1e-3);
            EXPECT_GE(point.hit, point.killed - 1e-3);
            before = point.killed;
        }
        double of_shots = 0.0;
        for (const double chance : kills.shots) {
            of_shots += chance;
        }
        EXPECT_NEAR(of_shots, kills.killed(), 1e-4);
        EXPECT_LE(kills.in_magazine, kills.killed() + 1e-6);
        EXPECT_TRUE(engagements[index].distance < 250.0 || kills.killed() == 0.0);
        const auto early = time_of_share(kills, 0.1);
        const auto late = time_of_share(kills, 0.9);
        EXPECT_TRUE(!late || *early <= *late);
        // Alone it is the same as among others.
        if (index % 29 == 0) {
            EXPECT_EQ(kill_distribution(engagements[index], {32}).killed(), kills.killed());
        }
    }
}

TEST(TimeFromFirstHit, IsThatOfFights) {
    const Engagement engagement = engaged("thorn-rifle", 18);
    const std::vector<KillPoint> computed = time_from_first_hit(engagement, {256});
    EngagementTrial trial{engagement};
    std::vector<Duration> known;
    for (std::uint32_t fight = 0; fight < 800; ++fight) {
        const EngagementEnd end = trial.fight(fight);
        if (end.death) {
            known.push_back(*end.death - *end.first_hit);
        }
    }
    const auto curve = [&](Duration at) {
        double killed = 0.0;
        for (const KillPoint& point : computed) {
            killed = point.at <= at ? point.killed : killed;
        }
        return killed;
    };
    EXPECT_LE(apart(curve, known, static_cast<double>(known.size()), at_once, computed), 0.065);
}

// A table of what must make killing slower, and by what.
TEST(KillDistribution, MovesTheWayItMust) {
    struct Case {
        const char* what;
        const char* armament;
        void (*worse)(Engagement&, WeaponSpec&);
    };
    const Case cases[] = {
        {"less damage", "thorn-rifle", [](Engagement&, WeaponSpec& weapon) { weapon.damage *= 0.7; }},
        {"a wider cone", "reed-carbine", [](Engagement&, WeaponSpec& weapon) { weapon.spread.aimed = 0.03; }},
        {"more bloom", "thorn-rifle",
         [](Engagement&, WeaponSpec& weapon) {
             for (CurvePoint& point : weapon.spread.bloom.per_shot.points) {
                 point.y *= 4.0;
             }
             weapon.spread.bloom.max *= 4.0;
         }},
        {"more recoil", "thorn-rifle",
         [](Engagement& engagement, WeaponSpec& weapon) {
             engagement.shooter.control = 0.0;
             for (Look& step : weapon.recoil.pattern) {
                 step.pitch *= 5.0;
             }
         }},
        {"a slower weapon", "needle-pistol",
         [](Engagement&, WeaponSpec& weapon) { weapon.rounds_per_minute *= 0.6; }},
        {"fewer pellets", "burr-gun", [](Engagement&, WeaponSpec& weapon) { weapon.pellets = 4; }},
        {"a shooter who is farther off", "amber-rail",
         [](Engagement& engagement, WeaponSpec&) {
             engagement.shooter.error *= 4.0;
             engagement.shooter.min_error *= 4.0;
         }},
        {"a tougher target", "seed-lobber",
         [](Engagement& engagement, WeaponSpec&) {
             engagement.target.body = find(shipped().bodies, "warden");
         }},
        {"a guard", "thorn-rifle",
         [](Engagement& engagement, WeaponSpec&) { engagement.target.guard = 0.0; }},
        {"a target that runs", "thorn-rifle",
         [](Engagement& engagement, WeaponSpec&) {
             engagement.target_speed = 6.0;
             engagement.shooter.tracking = from_seconds(0.12);
         }},
        {"small magazines", "reed-carbine", [](Engagement&, WeaponSpec& weapon) { weapon.magazine = 3; }},
    };
    const auto restricted_mean = [](const KillDistribution& kills, Duration limit) {
        double sum = 0.0;
        double before = 0.0;
        for (const KillPoint& point : kills.points) {
            sum += (point.killed - before) * to_seconds(point.at);
            before = point.killed;
        }
        return sum + (1.0 - before) * to_seconds(limit);
    };
    for (const Case& one : cases) {
        const bool near_by = std::string_view{one.armament} == "burr-gun";
        for (const Metres distance : {near_by ? 6.0 : 14.0, near_by ? 9.0 : 20.0}) {
            Arsenal arsenal = shipped();
            Engagement now = *engagement_of(shipped(), one.armament, "gardener", "crew", distance);
            Engagement then = *engagement_of(arsenal, one.armament, "gardener", "crew", distance);
            one.worse(then, arsenal.weapons[static_cast<std::size_t>(then.weapon - arsenal.weapons.data())]);
            const double before = restricted_mean(kill_distribution(now, {128}), now.limit);
            const double after = restricted_mean(kill_distribution(then, {128}), then.limit);
            EXPECT_GT(after, before + 1e-3) << one.what << " at " << distance;
        }
    }
}

// Random engagements, of few points against sixteen times as many.
TEST(KillDistribution, StatedErrorsHoldInNinetyNineOfAHundred) {
    std::mt19937_64 random{19};
    std::uniform_real_distribution<double> unit{0.0, 1.0};
    const std::vector<std::string> armaments = armament_names(shipped());
    const auto cases = static_cast<std::size_t>(rounds(100, "AVREK_ENGAGEMENTS"));
    std::size_t beyond = 0;
    for (std::size_t number = 0; number < cases; ++number) {
        const std::string& armament = armaments[random() % armaments.size()];
        const bool blade = armament.starts_with("sickle");
        const char* const shooters[] = {"apprentice", "gardener", "old-hand"};
        Engagement engagement =
            engaged(armament.c_str(), blade ? 0.8 + 0.8 * unit(random) : 3.0 + 40.0 * unit(random),
                    shooters[random() % 3], random() % 2 == 0 ? "crew" : "drone");
        engagement.limit = from_seconds(4);
        engagement.target_speed = random() % 3 == 0 ? 5.0 * unit(random) : 0.0;
        const std::size_t points = std::size_t{32} << random() % 3;
        const KillDistribution few = kill_distribution(engagement, {points});
        const KillDistribution many = kill_distribution(engagement, {16 * points});
        double apart = 0.0;
        for (const KillPoint& point : many.points) {
            apart = std::max(apart, std::abs(point.killed - killed_at(few, point.at)));
        }
        beyond += apart > few.error + 1e-6 ? 1 : 0;
    }
    EXPECT_LE(beyond, cases / 100 + 1);
}

TEST(KillDistribution, TakesAsManyPointsAsAnErrorNeeds) {
    for (const Metres distance : {6.0, 18.0, 30.0}) {
        std::size_t before = 0;
        for (const double error : {0.2, 0.03, 0.008}) {
            const KillDistribution kills =
                kill_distribution(engaged("reed-carbine", distance), {max_distribution_points, error});
            EXPECT_LE(kills.error, error);
            EXPECT_GE(kills.evaluated, before);
            before = kills.evaluated;
            // In one go it is the same, up to the share that is ignored.
            const KillDistribution again =
                kill_distribution(engaged("reed-carbine", distance), {kills.evaluated});
            EXPECT_NEAR(again.killed(), kills.killed(), 1e-4);
            EXPECT_NEAR(again.error, kills.error, 1e-4);
        }
        EXPECT_GT(before, 64U);
    }
    EXPECT_EQ(kill_distribution(engaged("reed-carbine", 9), {64, 1e-9}).evaluated, 64U)
        << "no more than that";
}

TEST(Engagement, PlansFollowTheProfile) {
    const ShooterSpec& gardener = *find(shipped().shooters, "gardener");
    const WeaponSpec& rifle = *find(shipped().weapons, "thorn-rifle");
    EXPECT_EQ(plan_of(gardener, rifle, gardener.near).kind, FiringPlanKind::hold);
    const FiringPlan far = plan_of(gardener, rifle, gardener.near + 1.0);
    EXPECT_EQ(far.kind, FiringPlanKind::bursts);
    EXPECT_EQ(far.shots, 5); // 0.35 s at 720 a minute: at 0, 83, 167, 250 and 333 ms
    EXPECT_EQ(far.interval, gardener.pause);
    EXPECT_EQ(plan_of(gardener, *find(shipped().weapons, "needle-pistol"), 50.0).kind, FiringPlanKind::hold);
    EXPECT_EQ(posture_of(gardener, 5.0).aim_blend, 0.0);
    EXPECT_EQ(posture_of(gardener, 50.0).aim_blend, 1.0);
    for (const auto& [weapon, shooter, body] : {std::tuple{"axe", "gardener", "crew"},
                                                {"thorn-rifle", "nobody", "crew"},
                                                {"thorn-rifle", "gardener", "none"},
                                                {"sickle wild", "gardener", "crew"}}) {
        EXPECT_FALSE(engagement_of(shipped(), weapon, shooter, body, 5.0));
    }
    // The map of sight holds the targets that the shots hit.
    for (const std::string& armament : armament_names(shipped())) {
        const Engagement engagement = engaged(armament.c_str(), 12);
        const EngagementPlace place = place_of(engagement);
        if (engagement.weapon == nullptr || delivery_of(*engagement.weapon) == Delivery::projectile) {
            continue;
        }
        const Vector3 line =
            line_of(engagement, place.look, seen_of(engagement, place.target, place.look, place.eye));
        const Vector3 wanted = (place.aim_point - place.muzzle).normalized();
        EXPECT_LT(std::acos(std::min(1.0, line.dot(wanted))), 2e-3) << armament;
    }
}

} // namespace
} // namespace avrek
