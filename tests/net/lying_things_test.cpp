// Pickups, dropped weapons and hazards: a client is told of them as its player could see them.
#include "../rounds.h"
#include "../scene/draw.h"
#include "lying_things.h"
#include "sight.h"
#include "walled.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <map>
#include <set>
#include <tuple>
#include <utility>

namespace avrek {
namespace {

using trial::Walled;

TEST(LyingThings, AreMissedWhenTheirPlaceIsSeen) {
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

TEST(LyingThings, AreFoundWhenTheirPlaceIsSeen) {
    Arsenal arsenal = trial::bots_arsenal();
    arsenal.matches[0].drops_weapon = true;
    arsenal.hazards[0].lasts = std::chrono::seconds{6};
    Walled rig{{.latency = from_seconds(0.05)}, 3.0, arsenal};
    const Pose pose{{0, 0, -20}, turned_to({.yaw = 1.0, .pitch = 0.2})};
    rig.server->on_tick([pose, done = false](GameTick& tick) mutable {
        if (!std::exchange(done, true)) {
            const Time now = tick.fight.now();
            const HazardAction cloud{HazardId{0}, pose, TeamId{0}, BodyId{77}}; // who has left
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

// The place of a weapon in the list is another one than in its event, when one before it is taken.
TEST(LyingThings, NameWhoDroppedThem) {
    Arsenal arsenal = trial::bots_arsenal();
    arsenal.matches[0].drops_weapon = true;
    const GameData data = trial::net_data(arsenal);
    Skirmish fight{data.arsenal, data.arena.level, {}, 1, data.arena.plan};
    const std::array weapons{WeaponId{0}};
    for (const std::uint32_t id : {1U, 2U, 3U}) { // the first lies nearest to the last
        const Vector3 place{0, 0, id == 2 ? 12.0 : 6.0 + id};
        ASSERT_TRUE(fight.add({.id = BodyId{id}, .role = Role::combatant, .weapons = weapons, .at = place}));
    }
    detail::LyingThings things;
    DropEvent last;
    for (const BodyId who : {BodyId{1}, BodyId{2}}) {
        const std::array hits{GameAction{.at = fight.now(), .what = HitAction{.who = who, .damage = 1e5}}};
        for (const Event& event : fight.advance({}, {}, hits)) {
            if (const auto* drop = std::get_if<DropEvent>(&event)) {
                things.note(last = *drop);
            }
        }
        ASSERT_EQ(last.who, who);
        ASSERT_TRUE(who == BodyId{1} || fight.match().take_dropped(BodyId{3}, 1000.0, fight.now()));
        things.look(fight);
    }
    const auto& lie = things.of_kind[static_cast<std::size_t>(detail::ThingKind::weapon)];
    ASSERT_EQ(lie.size(), 2U);
    EXPECT_FALSE(lie[0].there);
    EXPECT_TRUE(lie[1].there);
    EXPECT_EQ(lie[1].who, BodyId{2});
    EXPECT_EQ(lie[1].at, last.at);
}

// Behind a wall a hazard after the other: what its friend sees ends behind its back, too, and is not kept for
// ever.
TEST(LyingThings, AreNoMoreThanCanBeKept) {
    Arsenal arsenal = trial::bots_arsenal();
    arsenal.hazards[0].lasts = std::chrono::milliseconds{250}; // 32 at a time
    Walled rig{{.latency = from_seconds(0.05)}, 3.0, arsenal};
    rig.server->on_tick([](GameTick& tick) { // on the side of player 2 and its friend; player 2 lays them all
        const HazardAction cloud{HazardId{0}, {{0, 0, 20}}, TeamId{0}, BodyId{2}};
        tick.actions.assign(2, {.at = tick.fight.now(), .what = cloud});
    });
    std::size_t most = 0;
    for (int second = 0; second < 8; ++second) {
        rig.run(1.0);
        most = std::max(most, rig.clients[2]->hazards().size());
    }
    EXPECT_GT(most, 256U) << "it knows of those on the other side, and not that they end";
    EXPECT_LT(most, 256U + 3 * 128U);
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
TEST(LyingThings, AreKnownToWhoSeesThem) {
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
                ASSERT_LT(ticks, 64) << "kind " << kind << " at tick " << tick;
            }
        }
    }
    EXPECT_GE(*std::min_element(changes.begin(), changes.end()), enough(6));
}

} // namespace
} // namespace avrek
