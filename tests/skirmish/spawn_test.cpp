// Where combatants come in and come back.
#include "../digest/bots_fight.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <map>
#include <set>

namespace avrek {
namespace {

using trial::BotsFight;

const SpawnPoint* spawn_at(const LevelPlan& plan, const Vector3& position) {
    for (const SpawnPoint& spawn : plan.spawns) {
        if (spawn.position == position) {
            return &spawn;
        }
    }
    return nullptr;
}

TEST(Spawn, IsAFreePointOfOnesOwnTeam) {
    const LevelPlan plan = trial::bots_plan();
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
        Skirmish fight{
            trial::bots_arsenal(), trial::bots_level(), {.limits = {.combatants = 12}}, seed, plan};
        std::set<std::pair<double, double>> taken;
        for (std::uint32_t id = 1; id <= 12; ++id) {
            ASSERT_TRUE(fight.add({.id = BodyId{id}, .team = TeamId{static_cast<std::uint8_t>(id % 2)}}));
            const Fighter& fighter = *fight.find(BodyId{id});
            const SpawnPoint* spawn = spawn_at(plan, fighter.motion.position);
            ASSERT_NE(spawn, nullptr) << id;
            EXPECT_EQ(spawn->team, TeamId{static_cast<std::uint8_t>(id % 2)});
            EXPECT_EQ(fighter.look.yaw, spawn->yaw);
            EXPECT_TRUE(taken.insert({spawn->position.x(), spawn->position.z()}).second)
                << "nobody else stands there";
        }
        EXPECT_FALSE(fight.add({.id = BodyId{13}})) << "there is no room";
        EXPECT_FALSE(fight.add({.id = BodyId{3}})) << "it is there already";
    }
}

TEST(Spawn, IsOneOfItsOwnIfItHasSome) {
    const LevelPlan plan = trial::bots_plan();
    const std::uint16_t own[] = {1, 4};
    std::set<double> chosen;
    for (std::uint64_t seed = 1; seed <= 60; ++seed) {
        Skirmish fight{trial::bots_arsenal(), trial::bots_level(), {.limits = {.combatants = 2}}, seed, plan};
        ASSERT_TRUE(fight.add({.id = BodyId{1}, .team = TeamId{0}, .spawns = own}));
        const Vector3 where = fight.find(BodyId{1})->motion.position;
        EXPECT_TRUE(where == plan.spawns[1].position || where == plan.spawns[4].position);
        chosen.insert(where.x());
    }
    EXPECT_EQ(chosen.size(), 2U) << "at random";
    Skirmish bare{trial::bots_arsenal(), trial::bots_level(), {.limits = {.combatants = 2}}, 1, {}};
    ASSERT_TRUE(bare.add({.id = BodyId{1}, .at = Vector3{3, 0, 4}}));
    EXPECT_EQ(bare.find(BodyId{1})->motion.position, (Vector3{3, 0, 4}));
}

// A respawned combatant stands at a point of its team, with no foe within reach if there is such a point.
TEST(Spawn, ComesBackAwayFromFoes) {
    const LevelPlan plan = trial::bots_plan();
    int back = 0;
    for (const std::uint64_t seed : {1U, 2U, 3U}) {
        BotsFight fight{trial::bots_arsenal(), 8, seed};
        std::map<BodyId, Vector3> before;
        for (Tick tick = 0; tick < 64 * 40; ++tick) {
            const std::span<const Event> events = fight.advance();
            const Match& match = std::as_const(fight.skirmish).match();
            for (const SpawnEvent& spawn : events_of<SpawnEvent>(events)) {
                if (before.empty()) {
                    continue; // they have just come in
                }
                ++back;
                const TeamId team = match.find(spawn.who)->team;
                const SpawnPoint* point = spawn_at(plan, spawn.position);
                ASSERT_NE(point, nullptr);
                EXPECT_EQ(point->team, team);
                const auto nearest_foe = [&](const Vector3& at) {
                    double nearest = 12.0;
                    for (const Combatant& other : match.combatants()) {
                        if (other.team != team && other.vitals.life != LifeState::dead) {
                            nearest = std::min(nearest, (before.at(other.id) - at).norm());
                        }
                    }
                    return nearest;
                };
                double best = 0.0;
                for (const SpawnPoint& other : plan.spawns) {
                    best = std::max(best, other.team == team ? nearest_foe(other.position) : 0.0);
                }
                // Foes move by less than that within the tick, and a point that is taken counts less.
                EXPECT_GE(nearest_foe(spawn.position), std::min(best, 12.0) * 0.25 - 0.3);
            }
            before.clear();
            for (const Fighter& fighter : fight.skirmish.fighters()) {
                before[fighter.id] = fighter.motion.position;
            }
        }
    }
    EXPECT_GT(back, 10);
}

} // namespace
} // namespace avrek
