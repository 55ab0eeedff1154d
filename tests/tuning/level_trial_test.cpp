#include "../scene/random_scene.h"
#include "../test_data.h"
#include <avrek/data/arsenal_toml.h>
#include <avrek/scene/cross_section.h>
#include <avrek/tuning/level_trial.h>
#include <avrek/tuning/time_to_kill.h>

#include <gtest/gtest.h>

#include <map>

namespace avrek {
namespace {

const Level& field() {
    static const Level level{{{HalfSpace{world_up(), 0.0}}, {Box{{{3, 1, 12}}, {1, 1, 0.1}}}}};
    return level;
}

LevelTrialSetup setup_at(Metres distance) {
    LevelTrialSetup setup;
    setup.muzzle = {0, 1.5, 0};
    setup.length = std::chrono::seconds{3};
    setup.body = &shipped().bodies.front();
    setup.bodies = {{{0, 0, distance}, turned_to({pi, 0})}, {{1.5, 0, distance + 1}, turned_to({pi, 0})}};
    return setup;
}

// Whatever is fired: what the wounds took is what the bodies lost, and legs hang together.
TEST(LevelTrial, AccountsForEverythingThatIsFired) {
    std::map<std::string, double> taken;
    const auto check = [&](const std::string& name, const LevelTrial& trial) {
        SCOPED_TRACE(name);
        std::vector<double> lost(trial.bodies.size(), 0.0);
        Time before{};
        for (const TrialWound& wound : trial.wounds) {
            EXPECT_GE(wound.at, before);
            before = wound.at;
            lost[static_cast<std::size_t>(wound.body) - 1] += wound.damage.amount();
            taken[name] += wound.damage.amount();
        }
        for (std::size_t body = 0; body < lost.size(); ++body) {
            EXPECT_NEAR(trial.bodies[body].maximum - trial.bodies[body].health, lost[body] + trial.worn[body],
                        1e-9);
        }
        std::map<std::pair<std::uint32_t, std::int32_t>, Vector3> last;
        for (const TrialSegment& segment : trial.segments) {
            ASSERT_GE(segment.way.size(), 2U);
            EXPECT_LE(segment.begins, segment.ends);
            const auto [found, first] = last.try_emplace({segment.shot, segment.pellet}, segment.way.back());
            if (!first) {
                EXPECT_LT((segment.way.front() - found->second).norm(), 0.2) << "goes on where it ended";
                found->second = segment.way.back();
            }
        }
        EXPECT_GT(trial.shots, 0);
    };
    for (const WeaponSpec& weapon : shipped().weapons) {
        LevelTrialSetup setup = setup_at(delivery_of(weapon) == Delivery::spray ? 5.0 : 14.0);
        setup.look = *look_at(shipped(), weapon, setup.muzzle, setup.bodies[0].position + 1.2 * world_up());
        check(weapon.id, run_in_level(shipped(), weapon, field(), setup));
    }
    const MeleeSpec& sickle = *find(shipped().melee, "sickle");
    for (std::size_t attack = 0; attack < sickle.attacks.size(); ++attack) {
        check(sickle.attacks[attack].name, strike_in_level(sickle, attack, field(), setup_at(0.9)));
    }
    for (const auto& [name, damage] : taken) {
        EXPECT_GT(damage, 25.0) << name;
    }
    EXPECT_EQ(taken.size(), shipped().weapons.size() + 2);
}

TEST(LevelTrial, WatchesWhatIsFiredLateAndTellsWhatStillFlies) {
    WeaponSpec sling = *find(shipped().weapons, "burl-sling");
    sling.supply = AmmoSupply::endless;
    LevelTrialSetup setup = setup_at(10.0);
    setup.length = std::chrono::seconds{40};
    setup.look = {0.0, 1.5}; // almost straight up
    const LevelTrial all = run_in_level(shipped(), sling, field(), setup);
    EXPECT_GT(all.shots, 25);
    EXPECT_EQ(all.still_flying, 0U);
    EXPECT_EQ(all.segments.back().shot + 1, static_cast<std::uint32_t>(all.shots));
    setup.after = std::chrono::seconds{1};
    EXPECT_GT(run_in_level(shipped(), sling, field(), setup).still_flying, 0U);
}

TEST(LevelTrial, AProjectileKillsWhenTheTableSaysSo) {
    for (const char* const id : {"seed-lobber", "burl-sling"}) {
        WeaponSpec exact = *find(shipped().weapons, id);
        exact.spread = {};
        exact.recoil = {};
        exact.charge.min = exact.charge.full;
        const ProjectileSpec* projectile = find(shipped().projectiles, exact.projectile.id);
        for (const Metres distance : {6.0, 18.0, 30.0}) {
            LevelTrialSetup setup = setup_at(distance);
            setup.bodies.resize(1);
            setup.look = *look_at(shipped(), exact, setup.muzzle, {0, 1.2, distance});
            const LevelTrial trial = run_in_level(shipped(), exact, field(), setup);
            const IdealKill ideal = ideal_time_to_kill(exact, *setup.body, distance,
                                                       *find_region(setup.body->rig, "torso"), projectile);
            ASSERT_EQ(ideal.verdict, KillVerdict::kills);
            const auto death = std::find_if(trial.wounds.begin(), trial.wounds.end(),
                                            [](const TrialWound& wound) { return wound.died; });
            ASSERT_NE(death, trial.wounds.end());
            // The table's target is a point; the body is met up to 0.3 m before it.
            EXPECT_NEAR(to_seconds(death->at - Time{}), to_seconds(ideal.time), 0.4 / projectile->speed)
                << id << distance;
        }
    }
    EXPECT_EQ(ideal_time_to_kill(*find(shipped().weapons, "seed-lobber"), shipped().bodies[0], 59.0,
                                 RegionId{1}, find(shipped().projectiles, "seed"))
                  .verdict,
              KillVerdict::out_of_range)
        << "its fuse is shorter than the flight";
}

TEST(CrossSection, LiesInThePlaneAndOnTheSurfaceOfSomething) {
    Draw draw{91};
    std::size_t lines = 0;
    for (int round = 0; round < 60; ++round) {
        const RandomScene random{draw};
        const HalfSpace plane{draw.direction(), draw(-2, 2)};
        for (const SectionLine& line : cross_section(random.scene.level(), plane)) {
            ++lines;
            for (const Vector3& end : {line.from, line.to}) {
                EXPECT_NEAR(plane.normal.dot(end), plane.offset, 1e-9);
                double nearest = 1e9;
                random.each({.hits = {line.layer}}, present,
                            [&](const Hit& hit, const Pose&, const auto& solid) {
                                if (hit.surface == line.surface) {
                                    nearest = std::min(nearest, std::abs(distance_to(solid, end)));
                                }
                            });
                EXPECT_LT(nearest, 1e-6);
            }
        }
    }
    EXPECT_GT(lines, 1000U);
    EXPECT_TRUE(cross_section(Level{}, {}).empty());
}

} // namespace
} // namespace avrek
