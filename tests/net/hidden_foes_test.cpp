// A client hears noises of foes that its player does not see, and is told of projectiles that come into view.
#include "walled.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace avrek {
namespace {

using trial::wall_height;
using trial::Walled;

TEST(HiddenFoes, AreHeardFromWhereTheyShootAndWalk) {
    // Each noise comes once, whether packets are lost or not; with some lost, hardly any is missed.
    for (const double loss : {0.0, 0.1}) {
        Walled rig{{.latency = from_seconds(0.05), .loss = loss}};
        rig.wants[1] = {.buttons = {Button::trigger}};
        const std::uint32_t before = rig.server->skirmish().find(BodyId{2})->shots;
        rig.run(1.5);
        rig.wants[1] = {};
        rig.run(0.5);
        const auto fired = static_cast<double>(rig.server->skirmish().find(BodyId{2})->shots - before);
        const auto heard = static_cast<double>(rig.noises[0].size());
        EXPECT_GT(fired, 10);
        EXPECT_LE(heard, fired);
        EXPECT_GE(heard, loss == 0.0 ? fired - 1 : 0.9 * fired);
        const Vector3 way = rig.server->skirmish().find(BodyId{2})->motion.position + Vector3{0, 1, 0} -
                            rig.server->skirmish().readout(BodyId{1}).eye;
        for (const Noise& noise : rig.noises[0]) {
            EXPECT_EQ(noise.kind, NoiseKind::shot);
            EXPECT_EQ(noise.weapon, WeaponId{0});
            EXPECT_LT(std::abs(shortest_turn(noise.direction.yaw - look_of(way).yaw)), pi / 64 + 1e-9);
            EXPECT_LT(std::abs(noise.direction.pitch - look_of(way).pitch), pi / 32 + 1e-9);
            EXPECT_NEAR(noise.loudness, 1.0 - way.norm() / InterestSettings{}.hears_shots, 0.07);
        }
        EXPECT_TRUE(rig.noises[2].empty()) << "who is seen is not told as a noise";
    }
    Walled rig;
    rig.wants[1] = {.yaw = static_cast<float>(pi / 2), .ahead = 1.0F};
    rig.run(1.0);
    EXPECT_GT(rig.noises[0].size(), 1U);
    for (const Noise& noise : rig.noises[0]) {
        EXPECT_EQ(noise.kind, NoiseKind::step);
    }
    rig.wants[1].buttons.set(Button::crouch, true);
    rig.run(0.3);
    rig.forget();
    rig.run(0.5);
    EXPECT_TRUE(rig.noises[0].empty()) << "who crouches makes no noise";
    rig.wants[1] = {.yaw = static_cast<float>(pi), .ahead = 1.0F};
    rig.run(3.0);
    rig.forget();
    rig.run(1.0);
    EXPECT_TRUE(rig.noises[0].empty()) << "nor who is too far away";
}

TEST(HiddenFoes, ThrowThingsThatAreToldWhenTheyComeIntoView) {
    Walled rig;
    rig.wants[1] = {.pitch = 1.2F, .slot = 1};
    rig.run(1.0);
    rig.throw_one();
    rig.run(0.4);
    rig.join(rig.ticket(3)); // comes while it is in the air
    rig.wants.back() = {};
    rig.noises.emplace_back();
    rig.notices.emplace_back();
    rig.run(2.5);
    const auto theirs = rig.of_kind(2, NoticeKind::launched);
    const auto ours = rig.of_kind(0, NoticeKind::launched);
    ASSERT_EQ(theirs.size(), 1U);
    EXPECT_LT((theirs[0].point - Vector3{0, 1.5, -4}).norm(), 1.0) << "its friends see it leave the hand";
    ASSERT_EQ(ours.size(), 1U);
    EXPECT_EQ(ours[0].by, BodyId{2});
    EXPECT_GT(ours[0].at, theirs[0].at);
    // In view of where the eye can get within a moment: it is over the edge of the wall from there.
    const Metres far = 5.5;
    EXPECT_GT(ours[0].point.y(), wall_height + (wall_height - 2.5) * std::abs(ours[0].point.z()) / far);
    EXPECT_LT(ours[0].point.y(), 3.0 * wall_height);
    EXPECT_EQ(rig.of_kind(3, NoticeKind::launched).size(), 1U);
    EXPECT_EQ(rig.of_kind(0, NoticeKind::landed).size(), 1U);
    ASSERT_EQ(rig.of_kind(0, NoticeKind::exploded).size(), 1U);
    EXPECT_EQ(rig.of_kind(0, NoticeKind::exploded)[0].by, nobody) << "its shooter is hidden";
    EXPECT_EQ(rig.explosions_heard(0), 0) << "what is seen is not told as a noise";

    rig.forget(); // low, and away from the wall: never in view
    rig.wants[1] = {.yaw = static_cast<float>(pi), .slot = 1};
    rig.run(0.3);
    rig.throw_one();
    rig.run(2.5);
    EXPECT_EQ(rig.of_kind(2, NoticeKind::launched).size(), 1U);
    EXPECT_TRUE(rig.of_kind(0, NoticeKind::launched).empty());
    EXPECT_TRUE(rig.of_kind(0, NoticeKind::landed).empty());
    EXPECT_TRUE(rig.of_kind(0, NoticeKind::exploded).empty());
    const auto blasts = rig.of_kind(2, NoticeKind::exploded);
    ASSERT_EQ(blasts.size(), 1U);
    EXPECT_EQ(blasts[0].by, BodyId{2});
    EXPECT_EQ(rig.explosions_heard(2), 0);
    ASSERT_EQ(rig.explosions_heard(0), 1);
    const Noise& bang = rig.noises[0].back();
    const Vector3 way = blasts[0].point - rig.server->skirmish().readout(BodyId{1}).eye;
    EXPECT_EQ(bang.weapon, WeaponId{1});
    EXPECT_LT(std::abs(shortest_turn(bang.direction.yaw - look_of(way).yaw)), pi / 64 + 1e-9);
    EXPECT_NEAR(bang.loudness, 1.0 - way.norm() / InterestSettings{}.hears_explosions, 0.07);
}

// Else the place of the hand that threw it would be told, long after its owner was there.
TEST(HiddenFoes, LeaveThingsBehindThatAreToldFromWhereTheyStick) {
    Arsenal arsenal = trial::bots_arsenal();
    const WeaponSpec& thrower = arsenal[WeaponId{1}];
    ProjectileSpec& thrown = arsenal.projectiles[to_index(*thrower.projectile.spec)];
    thrown.sticks = true;
    thrown.bounce.count = 0;
    thrown.fuse = Duration{};
    thrown.lifetime = std::chrono::seconds{20};
    Walled rig{{.latency = from_seconds(0.05)}, 3.0, arsenal};
    rig.wants[1] = {.yaw = static_cast<float>(pi), .pitch = -0.1F, .slot = 1}; // away from the wall
    rig.run(0.5);
    rig.throw_one();
    rig.run(1.0);
    ASSERT_EQ(rig.of_kind(2, NoticeKind::stuck).size(), 1U);
    EXPECT_TRUE(rig.of_kind(0, NoticeKind::launched).empty());
    const Vector3 sticks = rig.of_kind(2, NoticeKind::stuck)[0].point;
    ASSERT_GT((sticks - Vector3{0, 1.5, -4}).norm(), 3.0);
    rig.wants[0] = {.yaw = static_cast<float>(pi / 2), .ahead = 1.0F}; // out from behind the wall
    rig.run(3.0);
    const auto launched = rig.of_kind(0, NoticeKind::launched);
    const auto stuck = rig.of_kind(0, NoticeKind::stuck);
    ASSERT_EQ(launched.size(), 1U);
    ASSERT_EQ(stuck.size(), 1U);
    EXPECT_LT((launched[0].point - sticks).norm(), 0.2);
    EXPECT_LT((stuck[0].point - sticks).norm(), 0.2);
    EXPECT_EQ(launched[0].direction, Vector3::Zero());
    EXPECT_GT(launched[0].at, rig.of_kind(2, NoticeKind::stuck)[0].at);
    const ProjectilePool& pool = rig.clients[0]->view().projectiles()[to_index(*thrower.projectile.spec)];
    std::array<ProjectileHandle, 4> there;
    ASSERT_EQ(pool.list(there), 1U);
    EXPECT_TRUE(pool.find(there[0])->stuck);
    EXPECT_LT((pool.find(there[0])->position - sticks).norm(), 0.2);
}

TEST(HiddenFoes, ComeBackSomewhere) {
    Walled rig;
    bool done = false;
    rig.server->on_tick([&done](GameTick& tick) {
        if (!std::exchange(done, true)) {
            tick.actions.push_back(
                {.at = tick.fight.now(), .what = HitAction{.who = BodyId{2}, .damage = 1e5}});
        }
    });
    rig.run(4.0);
    for (const std::size_t client : {0U, 1U, 2U}) {
        const auto back = rig.of_kind(client, NoticeKind::respawn);
        ASSERT_EQ(back.size(), 1U);
        EXPECT_EQ(back[0].who, BodyId{2});
        EXPECT_EQ(back[0].point == Vector3::Zero(), client == 0);
    }
}

TEST(HiddenFoes, SpreadTheirShotsByASeedThatNobodyElseKnows) {
    Walled rig;
    std::set<std::uint64_t> seeds{rig.server->skirmish().seed()};
    for (const auto& client : rig.clients) {
        const std::uint64_t its = rig.server->skirmish().find(client->you())->spread_seed;
        EXPECT_EQ(client->predicted().seed(), its) << "or it could not show its own shots";
        EXPECT_EQ(client->view().seed(), its);
        EXPECT_TRUE(seeds.insert(its).second);
    }
}

} // namespace
} // namespace avrek
