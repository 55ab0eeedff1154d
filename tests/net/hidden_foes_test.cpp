// A client hears noises of foes that its player does not see, and is told of projectiles that come into view.
#include "../rounds.h"
#include "../scene/draw.h"
#include "net_rig.h"
#include "sight.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <map>
#include <set>
#include <tuple>

namespace avrek {
namespace {

constexpr Metres wall_height = 4.0;

// Player 1 on one side of a wall, its foe 2 and that one's friend 4 on the other.
struct Walled : trial::NetRig {
    std::vector<std::vector<Noise>> noises;
    std::vector<std::vector<Notice>> notices;

    explicit Walled(const LinkSpec& link = {.latency = from_seconds(0.05)}, Metres half_width = 20.0,
                    const Arsenal& arsenal = trial::bots_arsenal())
        : NetRig(4, wall(half_width), arsenal, plan()) {
        for (PlayerSlot& slot : settings.slots) {
            slot.weapons = {WeaponId{0}, WeaponId{1}};
        }
        server = std::make_unique<Server>(data, settings, 11, network.server());
        for (const std::uint32_t player : {1U, 2U, 4U}) {
            join(ticket(player), link);
            wants.back() = {};
        }
        noises.resize(clients.size());
        notices.resize(clients.size());
        takes = [this](std::size_t client, const ClientEvents& events) {
            noises[client].insert(noises[client].end(), events.noises.begin(), events.noises.end());
            notices[client].insert(notices[client].end(), events.notices.begin(), events.notices.end());
        };
        run(2.0);
        forget();
    }
    static Level wall(Metres half_width) {
        return Level{
            {{HalfSpace{world_up(), 0}, SurfaceId{1}},
             {Box{{{0, wall_height / 2, 0}, Rotation::Identity()}, {half_width, wall_height / 2, 0.2}},
              SurfaceId{1}}}};
    }
    static LevelPlan plan() {
        LevelPlan made;
        made.spawns = {
            {{0, 0, 4}, pi, TeamId{1}}, {{0, 0, -4}, 0.0, TeamId{0}}, {{2, 0, -4}, 0.0, TeamId{0}}};
        made.pickups = {{PickupId{0}, {0, 0, -6}}};
        return made;
    }
    void throw_one() { // by player 2
        wants[1].buttons.set(Button::trigger, true);
        run(0.1);
        wants[1].buttons.set(Button::trigger, false);
    }
    void forget() {
        for (auto& of_one : noises) {
            of_one.clear();
        }
        for (auto& of_one : notices) {
            of_one.clear();
        }
    }
    std::ptrdiff_t explosions_heard(std::size_t client) const {
        return std::count_if(noises[client].begin(), noises[client].end(),
                             [](const Noise& noise) { return noise.kind == NoiseKind::explosion; });
    }
    std::vector<Notice> of_kind(std::size_t client, NoticeKind kind) const {
        std::vector<Notice> some;
        std::copy_if(notices[client].begin(), notices[client].end(), std::back_inserter(some),
                     [kind](const Notice& one) { return one.kind == kind; });
        return some;
    }
};

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

TEST(HiddenFoes, TakeThingsThatAreMissedWhenTheirPlaceIsSeen) {
    Arsenal arsenal = trial::bots_arsenal();
    arsenal.pickups[0].only_when_useful = false;
    arsenal.pickups[0].respawn_delay = std::chrono::seconds{6};
    Walled rig{{.latency = from_seconds(0.05)}, 3.0, arsenal};
    rig.wants[1] = {.yaw = static_cast<float>(pi), .ahead = 1.0F};
    rig.run(1.0);
    ASSERT_FALSE(rig.server->skirmish().match().pickups()[0].there);
    const auto theirs = rig.of_kind(2, NoticeKind::pickup_taken);
    ASSERT_EQ(theirs.size(), 1U);
    EXPECT_EQ(theirs[0].who, BodyId{2});
    EXPECT_FALSE(rig.clients[2]->pickups()[0].there);
    rig.wants[1].ahead = 0.0F;
    rig.run(1.0);
    EXPECT_TRUE(rig.of_kind(0, NoticeKind::pickup_taken).empty());
    EXPECT_TRUE(rig.clients[0]->pickups()[0].there);
    rig.wants[0] = {.yaw = static_cast<float>(pi / 2), .ahead = 1.0F}; // out from behind the wall
    rig.run(2.0);
    const auto ours = rig.of_kind(0, NoticeKind::pickup_taken);
    ASSERT_EQ(ours.size(), 1U);
    EXPECT_GT(ours[0].at, theirs[0].at + std::chrono::seconds{1}) << "or it would know when it comes back";
    EXPECT_FALSE(rig.clients[0]->pickups()[0].there);
    rig.server->on_tick([done = false](GameTick& tick) mutable {
        if (!std::exchange(done, true)) {
            tick.actions.push_back({.at = tick.fight.now(), .what = PickupAction{PickupId{0}, {0, 0, 8}}});
        }
    });
    rig.run(4.0);
    EXPECT_EQ(rig.of_kind(0, NoticeKind::pickup_placed).size(), 2U)
        << "the first is back, the other one is new";
    EXPECT_TRUE(rig.clients[0]->pickups()[0].there);
    ASSERT_EQ(rig.clients[0]->pickups().size(), 2U);
    EXPECT_TRUE(rig.clients[0]->pickups()[1].there);
    EXPECT_LT((rig.clients[0]->pickups()[1].position - Vector3{0, 0, 8}).norm(), 0.1);
    EXPECT_EQ(rig.clients[2]->pickups().size(), 1U) << "it is behind the wall for the others";
}

TEST(HiddenFoes, LeaveTheirWeaponsAndHazardsToBeFound) {
    Arsenal arsenal = trial::bots_arsenal();
    arsenal.matches[0].drops_weapon = true;
    arsenal.hazards[0].lasts = std::chrono::seconds{6};
    Walled rig{{.latency = from_seconds(0.05)}, 3.0, arsenal};
    const Pose pose{{0, 0, -20}, turned_to({.yaw = 1.0, .pitch = 0.2})};
    rig.server->on_tick([pose, done = false](GameTick& tick) mutable {
        if (!std::exchange(done, true)) {
            const Time now = tick.fight.now();
            const HazardAction cloud{HazardId{0}, pose, TeamId{0}, BodyId{4}};
            tick.actions = {{.at = now, .what = HitAction{.who = BodyId{2}, .damage = 1e5}},
                            {.at = now, .what = cloud}};
        }
    });
    rig.run(1.0);
    const auto theirs = rig.of_kind(2, NoticeKind::weapon_dropped);
    ASSERT_EQ(theirs.size(), 1U);
    EXPECT_EQ(theirs[0].who, BodyId{2});
    ASSERT_EQ(rig.clients[2]->hazards().size(), 1U);
    EXPECT_TRUE(rig.clients[0]->dropped().empty());
    EXPECT_TRUE(rig.clients[0]->hazards().empty());
    rig.wants[0] = {.yaw = static_cast<float>(pi / 2), .ahead = 1.0F}; // out from behind the wall
    rig.run(2.5);
    ASSERT_EQ(rig.clients[0]->dropped().size(), 1U);
    EXPECT_EQ(rig.clients[0]->dropped()[0].weapon, WeaponId{0});
    EXPECT_LT((rig.clients[0]->dropped()[0].position - Vector3{0, 0, -4}).norm(), 0.1);
    ASSERT_EQ(rig.clients[0]->hazards().size(), 1U);
    const SeenHazard& cloud = rig.clients[0]->hazards()[0];
    EXPECT_EQ(cloud.team, TeamId{0});
    EXPECT_LT((cloud.pose.position - pose.position).norm(), 0.01);
    EXPECT_GT(std::abs(cloud.pose.rotation.dot(pose.rotation)), 0.99999);
    rig.run(4.0);
    EXPECT_TRUE(rig.clients[0]->hazards().empty());
    EXPECT_EQ(rig.of_kind(0, NoticeKind::hazard_ended).size(), 1U);
}

// Places of pickups, weapons and hazards, with their kind.
using Lying = std::set<std::tuple<int, double, double, double>>;

template <class Side> // a match, or a client
Lying lying(const Side& side) {
    Lying all;
    const auto add = [&all](int kind, const Vector3& at) { all.emplace(kind, at.x(), at.y(), at.z()); };
    for (const PickupState& pickup : side.pickups()) {
        if (pickup.there) {
            add(0, pickup.position);
        }
    }
    for (const auto& weapon : side.dropped()) {
        add(1, weapon.position);
    }
    for (const auto& hazard : side.hazards()) {
        if constexpr (requires { hazard.touched; }) {
            if (!hazard.spec) {
                continue;
            }
        }
        add(2, hazard.pose.position);
    }
    return all;
}

// Among bots: what lies in sight of a player is known to its client soon, and what is gone from there.
TEST(HiddenFoes, KeepNobodyFromKnowingWhatLiesInSight) {
    Arsenal arsenal = trial::bots_arsenal();
    arsenal.matches[0].drops_weapon = true;
    arsenal.hazards[0].lasts = std::chrono::seconds{3};
    const GameData data = trial::net_data(arsenal);
    LinkTrial match{data, trial::net_setup(8, {.latency = from_seconds(0.05), .loss = 0.05}), 4};
    Draw draw{8};
    match.server().on_tick([&draw](GameTick& tick) {
        const Time now = tick.fight.now();
        const Vector3 place{draw(-8, 8), 1.0, draw(-8, 8)};
        if (tick.fight.tick() % 100 == 0) {
            tick.actions.push_back({.at = now, .what = HazardAction{HazardId{0}, {place}}});
        } else if (tick.fight.tick() % 100 == 30) {
            tick.actions.push_back({.at = now, .what = PickupAction{PickupId{0}, place}});
        } else if (tick.fight.tick() % 200 == 160) {
            const auto index = static_cast<std::uint32_t>(tick.fight.tick() / 200);
            tick.actions.push_back({.at = now, .what = RemovePickupAction{index}});
        }
    });
    std::array<std::map<Lying::value_type, int>, 8> wrong; // by client: for how many ticks, in sight
    std::array<int, 3> changes{};
    Lying before;
    constexpr int all_in = 192; // ticks
    for (int tick = 0; tick < all_in + rounds(64 * 27); ++tick) {
        match.step();
        const Skirmish& fight = match.server().skirmish();
        const Lying there = lying(fight.match());
        for (const auto& one : there) {
            changes[static_cast<std::size_t>(std::get<0>(one))] += before.contains(one) ? 0 : 1;
        }
        before = there;
        for (std::size_t client = 0; tick > all_in && client < 8; ++client) {
            const Lying known = lying(match.client(client));
            Lying differing;
            std::set_symmetric_difference(there.begin(), there.end(), known.begin(), known.end(),
                                          std::inserter(differing, differing.end()));
            std::erase_if(wrong[client], [&](const auto& one) { return !differing.contains(one.first); });
            for (const auto& one : differing) {
                const auto& [kind, x, y, z] = one;
                const Vector3 middle{x, y + (kind == 2 ? 0.0 : 0.35), z};
                const BodyId you = match.client(client).you();
                const bool in_sight =
                    fight.find(you) != nullptr && detail::is_free(fight.scene(), fight.eye_of(you), middle);
                int& ticks = wrong[client][one];
                ticks = in_sight ? ticks + 1 : 0;
                ASSERT_LT(ticks, 40) << "kind " << kind << " at tick " << tick;
            }
        }
    }
    EXPECT_GE(*std::min_element(changes.begin(), changes.end()), enough(6));
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
