// Rules at the seams of a life: respawns, pushes, stances, hits of the game's own, and bad calls.
#include "../digest/bots_fight.h"
#include "../rounds.h"
#include "../scene/draw.h"
#include <avrek/skirmish/named_fields.h>

#include <gtest/gtest.h>

#include <cmath>
#include <set>

namespace avrek {
namespace {

IncomingHit blow_of(double damage, const Vector3& push = Vector3::Zero()) {
    IncomingHit hit;
    hit.damage.multiply(DamageStepKind::base, damage);
    hit.push = push;
    hit.direction = push.isZero() ? Vector3::Zero() : Vector3(push.normalized());
    return hit;
}

constexpr BodyId body_one{1};
constexpr BodyId body_two{2};

Arsenal with_respawn(double seconds) {
    Arsenal arsenal = trial::make_bots_arsenal();
    arsenal.matches[0].respawn = {from_seconds(seconds), Duration{}};
    return arsenal;
}

Skirmish two_of(const Arsenal& arsenal, const Vector3& first, const Vector3& second) {
    static const WeaponId weapons[] = {WeaponId{0}, WeaponId{1}};
    const Level floor{{{HalfSpace{world_up(), 0}, SurfaceId{1}}}};
    Skirmish fight{arsenal, floor, {.limits = {.combatants = 4}}, 5, trial::bots_plan()};
    EXPECT_TRUE(
        fight.add({.id = body_one, .team = TeamId{0}, .melee = MeleeId{0}, .weapons = weapons, .at = first}));
    EXPECT_TRUE(fight.add(
        {.id = body_two, .team = TeamId{1}, .melee = MeleeId{0}, .weapons = weapons, .at = second}));
    return fight;
}

// A combatant that gives no intent does what one does that gives its last one again.
TEST(Intents, WithoutOneTheLastIsRepeated) {
    Draw draw{8};
    for (int round = 0; round < rounds(20); ++round) {
        trial::BotsFight said{trial::bots_arsenal(), 6, static_cast<std::uint64_t>(round)};
        Skirmish silent = said.skirmish;
        for (Tick tick = 0; tick < 300; ++tick) {
            const auto wanted = said.bots.think(said.skirmish);
            std::vector<Intent> all(wanted.begin(), wanted.end());
            std::vector<Intent> some;
            for (Intent& intent : all) {
                if ((draw.below(2) == 0)) {
                    some.push_back(intent);
                } else {
                    intent = repeated(said.skirmish.find(intent.who)->intent);
                }
            }
            said.skirmish.advance(all);
            silent.advance(some);
            ASSERT_EQ(said.skirmish.state_hash(), silent.state_hash())
                << tick << ": " << differences(said.skirmish, silent, 1).front().name;
        }
    }
}

// Nothing is done before one stands at one's spawn, and what was held must be pressed again.
TEST(Respawn, NobodyActsBeforeItStandsAtItsSpawn) {
    for (const double delay : {0.0, 0.3, 1.0, 1.0 / 64, 0.517}) {
        const Arsenal arsenal = with_respawn(delay);
        Skirmish fight = two_of(arsenal, {0, 0, 3}, {0, 0, 8});
        fight.advance({});
        fight.match().hit(body_one, blow_of(1e6), fight.now());
        const Intent holds{.who = body_one, .buttons = {Button::trigger, Button::guard}};
        Vector3 spawn = Vector3::Zero();
        std::optional<Time> placed;
        int shots = 0;
        for (int tick = 0; tick < 160; ++tick) {
            Intent intent = holds;
            intent.buttons.set(Button::trigger, tick != 150);
            const std::span<const Event> events = fight.advance({&intent, 1});
            for (const SpawnEvent& event : events_of<SpawnEvent>(events)) {
                placed = event.at;
                spawn = event.position;
            }
            for (const ShotEvent& shot : events_of<ShotEvent>(events)) {
                ASSERT_TRUE(placed) << delay << ": before it has a place";
                EXPECT_GE(shot.at, *placed);
                EXPECT_LT((shot.muzzle - spawn).norm(), 3.0);
                EXPECT_GT(tick, 150) << delay << ": with a trigger that was held all the time";
                ++shots;
            }
        }
        EXPECT_TRUE(placed) << delay;
        EXPECT_GT(shots, 0) << delay << ": after another press";
    }
}

// The look that a spawn gives stays without a new intent.
TEST(Respawn, TurnsTheLookThatIsRepeated) {
    const Arsenal arsenal = with_respawn(0.1);
    Skirmish fight = two_of(arsenal, {0, 0, 3}, {0, 0, 8});
    const Intent looks{.who = body_one, .yaw = 1.0F, .pitch = 0.5F};
    fight.advance({&looks, 1});
    EXPECT_EQ(fight.find(body_one)->look.yaw, 1.0);
    fight.match().hit(body_one, blow_of(1e6), fight.now());
    std::optional<SpawnEvent> spawned;
    for (int tick = 0; tick < 30; ++tick) {
        const std::span<const Event> events = fight.advance({});
        if (const SpawnEvent* spawn = first_of<SpawnEvent>(events)) {
            spawned = *spawn;
        }
    }
    ASSERT_TRUE(spawned);
    EXPECT_EQ(fight.find(body_one)->look, (Look{spawned->yaw, 0.0}));
}

TEST(Pushes, MoveTheLivingAndAreTold) {
    const Arsenal arsenal = with_respawn(1);
    for (const double damage : {0.0, 5.0}) {
        Skirmish fight = two_of(arsenal, {0, 0, 3}, {20, 0, 8});
        fight.advance({});
        EXPECT_NE(fight.match().hit(body_one, blow_of(damage, {4, 0, 0}), fight.now()), HitResult::nothing);
        EXPECT_EQ(count_of<PushEvent>(fight.advance({})), 1U) << damage;
        for (int tick = 0; tick < 30; ++tick) {
            fight.advance({});
        }
        EXPECT_GT(fight.find(body_one)->motion.position.x(), 0.2) << damage;
    }
}

// A blade can push away from who wields it, whichever way it goes.
TEST(Pushes, GoAwayFromTheWielder) {
    Arsenal arsenal = with_respawn(1);
    MeleeAttackSpec& sweep = arsenal.melee[0].attacks[0];
    sweep.push = 0;
    sweep.push_away = 6;
    sweep.damage = 0;
    sweep.effect = {};
    Skirmish fight = two_of(arsenal, {0, 0, 3}, {0, 0, 4.2});
    const Intent strikes{.who = body_one, .strike = 0};
    for (int tick = 0; tick < 40; ++tick) {
        fight.advance({&strikes, 1});
    }
    EXPECT_GT(fight.find(body_two)->motion.position.z(), 4.5);
    EXPECT_LT(std::abs(fight.find(body_two)->motion.position.x()), 0.4);
}

// The first of several projectiles that reach a crate at once removes it; the others fly on.
TEST(Projectiles, FlyOnWhereTheirTargetIsGone) {
    for (const bool explodes : {false, true}) {
        Arsenal arsenal = with_respawn(1);
        arsenal.matches[0].corpses_stop_shots = false;
        arsenal.bodies[0].defence.clear();
        arsenal.bodies[0].health = 10;
        arsenal.weapons[1].pellets = 3;
        ProjectileSpec& seed = arsenal.projectiles[0];
        seed.bounce.count = 0;
        seed.gravity = seed.drag = 0.0;
        seed.blast.radius = explodes ? 0.2 : 0.0;
        seed.fuse = Duration{};
        Skirmish fight = two_of(arsenal, {0, 0, 3}, {40, 0, 60});
        ASSERT_TRUE(
            fight.add({.id = BodyId{3}, .team = TeamId{1}, .role = Role::prop, .at = Vector3{-0.18, 0, 20}}));
        std::vector<ProjectileEvent> events;
        Skirmish copy = fight;
        for (int tick = 0; tick < 400; ++tick) {
            Intent fires{.who = body_one, .slot = 1};
            fires.buttons.set(Button::trigger, tick > 20);
            fight.advance({&fires, 1});
            copy.advance({&fires, 1});
            ASSERT_EQ(copy.state_hash(), fight.state_hash()) << "copies are whole";
            for (const FlightEvent& flight : events_of<FlightEvent>(fight.events())) {
                if (flight.event.number < 3) {
                    events.push_back(flight.event);
                }
            }
        }
        std::size_t stopped = 0;
        std::set<std::uint64_t> ended;
        for (const ProjectileEvent& event : events) {
            stopped += event.kind == ProjectileEventKind::stopped ? 1 : 0;
            const bool ends = event.kind == ProjectileEventKind::expired ||
                              event.kind == ProjectileEventKind::exploded ||
                              (event.kind == ProjectileEventKind::stopped && !explodes);
            EXPECT_TRUE(!ends || ended.insert(event.number).second) << "once each";
        }
        EXPECT_EQ(stopped, 1U);
        EXPECT_EQ(ended.size(), 3U);
        for (const ProjectilePool& pool : fight.projectiles()) {
            EXPECT_EQ(pool.size(), 0U);
        }
    }
}

// The shape that is hit is that of the stance: lower in a crouch, along the ground for one who lies.
TEST(Stances, AreWhereShotsMeet) {
    const Arsenal arsenal = with_respawn(100);
    Skirmish fight = two_of(arsenal, {0, 0, 3}, {0, 0, 8});
    const auto hit_at = [&](const Vector3& from) {
        return fight.scene().any_hit({{from, {0, 0, 1}, 4.0}}, {.hits = {CollisionLayer::bodies}});
    };
    fight.advance({});
    EXPECT_TRUE(hit_at({0, 1.66, 0}));
    const Intent crouches{.who = body_one, .buttons = {Button::crouch}};
    fight.advance({&crouches, 1});
    EXPECT_FALSE(hit_at({0, 1.66, 0}));
    EXPECT_TRUE(hit_at({0, 1.66 - 0.3 * 1.62, 0}));
    fight.match().hit(body_one, blow_of(1e6), fight.now());
    fight.advance({});
    fight.advance({});
    EXPECT_FALSE(hit_at({0, 0.9, 0}));
    EXPECT_TRUE(hit_at({0, 0.2, 0}));
}

TEST(Calls, ThatNameNobodySaySo) {
    const Arsenal arsenal = with_respawn(1);
    Skirmish fight = two_of(arsenal, {0, 0, 3}, {0, 0, 8});
    const Intent intents[] = {{}, {.who = body_one}, {.who = BodyId{77}}};
    const BodyUpdate updates[] = {{.who = body_two}, {.who = BodyId{77}, .position = {1, 0, 1}}};
    const Vector3 before = fight.find(body_two)->motion.position;
    fight.advance(intents, updates);
    EXPECT_EQ(fight.disregarded(), 4U);
    EXPECT_EQ(fight.find(body_two)->motion.position, before) << "a placing without a position moves nobody";
    Match& match = fight.match();
    EXPECT_FALSE(match.hold_guard(BodyId{77}, true, fight.now()));
    EXPECT_FALSE(match.change_lives(BodyId{77}, 1, fight.now()));
    EXPECT_FALSE(match.notice(body_one, BodyId{77}, true, fight.now()));
    EXPECT_FALSE(match.report_action(BodyId{77}, Act::fire, 1, fight.now()));
    EXPECT_EQ(fight.match().hit(BodyId{77}, blow_of(1), fight.now()), HitResult::nothing);
    EXPECT_FALSE(fight.add({.id = BodyId{3}, .team = TeamId{32}})) << "no team";
    EXPECT_FALSE((TeamSet{TeamId{0}}.contains(TeamId{32})));
    EXPECT_EQ((Sphere{{}, 1}.centre), Vector3::Zero());
}

} // namespace
} // namespace avrek
