#include "../../bench/allocations.h"
#include "../digest/bots_fight.h"
#include "../scene/random_scene.h"
#include <avrek/skirmish/walking_locomotion.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <map>
#include <set>

namespace avrek {
namespace {

using trial::bots_arsenal;
using trial::BotsFight;

const Combatant& who(const Skirmish& skirmish, std::uint32_t id) {
    return *skirmish.match().find(BodyId{id});
}

BodyMotion walked(const Scene& scene, BodyMotion who, const Vector3& velocity, double seconds,
                  bool jump = false) {
    const MovementSpec body;
    for (Tick tick = 0; tick < static_cast<Tick>(64 * seconds); ++tick) {
        advance_walking(scene, body, who, {velocity, jump && tick == 0}, from_seconds(1.0 / 64));
    }
    return who;
}

TEST(BodyMotion, WalksClimbsFallsJumpsAndIsStopped) {
    const auto box = [](const Vector3& at, const Vector3& half) {
        return LevelPiece{Box{{at, Rotation::Identity()}, half}};
    };
    const Scene scene{Level{{{HalfSpace{world_up(), 0}},
                             box({0, 0.15, 5}, {2, 0.15, 1}),                           // a step of 0.3 m
                             box({10, 1, 5}, {2, 1, 0.2}),                              // a wall
                             {Box{{{-10, 1, 5}, turned_to({0.8, 0})}, {3, 1, 0.2}}}}}}; // one at a slant
    const Vector3 ahead{0, 0, 3};
    EXPECT_NEAR(walked(scene, {}, ahead, 1.0).position.z(), 3.0, 0.3);
    EXPECT_NEAR(walked(scene, {}, ahead, 1.6).position.y(), 0.3, 1e-9) << "up the step";
    const BodyMotion over = walked(scene, {}, ahead, 3.0);
    EXPECT_NEAR(over.position.y(), 0.0, 1e-9) << "and down again";
    const BodyMotion stopped = walked(scene, {.position = {10, 0, 0}}, ahead, 4.0);
    EXPECT_NEAR(stopped.position.z(), 4.8 - MovementSpec{}.radius, 0.02);
    EXPECT_NEAR(stopped.position.x(), 10.0, 1e-6);
    const BodyMotion slid = walked(scene, {.position = {-10, 0, 0}}, ahead, 4.0);
    EXPECT_GT(std::abs(slid.position.x() + 10.0), 1.0) << "along the slanted wall";
    const BodyMotion fallen = walked(scene, {.position = {0, 5, -5}, .airborne = true}, Vector3::Zero(), 2.0);
    EXPECT_NEAR(fallen.position.y(), 0.0, 1e-9);
    EXPECT_FALSE(fallen.airborne);
    // It jumps as high as its speed says: v^2 / 2g.
    double highest = 0.0;
    for (const double seconds : {0.2, 0.35, 0.41, 0.5}) {
        highest = std::max(highest, walked(scene, {{0, 0, -5}}, Vector3::Zero(), seconds, true).position.y());
    }
    EXPECT_NEAR(highest, 16.0 / 2 / 9.81, 0.05);
    EXPECT_NEAR(walked(scene, {{0, 0, -5}}, Vector3::Zero(), 1.5, true).position.y(), 0.0, 1e-9);
}

TEST(Fighting, CombatantsComeInWhereTheyBelong) {
    const LevelPlan plan = trial::bots_plan();
    Skirmish skirmish{bots_arsenal(), trial::bots_level(), {.limits = {.combatants = 12}}, 8, plan};
    std::set<std::pair<double, double>> taken;
    for (std::uint32_t id = 1; id <= 12; ++id) {
        const TeamId team{static_cast<std::uint8_t>(id % 2)};
        ASSERT_TRUE(skirmish.add({.id = BodyId{id}, .team = team}));
        const Vector3& at = skirmish.find(BodyId{id})->motion.position;
        EXPECT_TRUE(taken.emplace(at.x(), at.z()).second) << "nobody stands on another";
        EXPECT_EQ(at.z() < 0.0, team == TeamId{0});
    }
    EXPECT_FALSE(skirmish.add({.id = BodyId{13}})) << "there is no room";
    ASSERT_TRUE(skirmish.remove(BodyId{5}));
    const std::uint16_t own[] = {7};
    ASSERT_TRUE(skirmish.add({.id = BodyId{5}, .team = TeamId{0}, .spawns = own}));
    EXPECT_EQ(skirmish.find(BodyId{5})->motion.position, plan.spawns[7].position)
        << "a spawn point of its own";
    // Killed, it comes back there, after the delay, with an event.
    Skirmish alone{bots_arsenal(), trial::bots_level(), {}, 8, plan};
    ASSERT_TRUE(alone.add({.id = BodyId{5}, .team = TeamId{0}, .spawns = own, .at = Vector3{0, 0, 20}}));
    alone.advance({});
    IncomingHit hit;
    hit.damage.multiply(DamageStepKind::base, 1e6);
    alone.match().hit(BodyId{5}, hit, alone.now());
    EXPECT_EQ(who(alone, 5).vitals.life, LifeState::dead);
    const Time died = alone.now();
    std::optional<SpawnEvent> spawned;
    while (!spawned && alone.now() < died + from_seconds(3)) {
        const std::span<const Event> events = alone.advance({});
        if (const SpawnEvent* spawn = first_of<SpawnEvent>(events)) {
            spawned = *spawn;
        }
    }
    ASSERT_TRUE(spawned);
    EXPECT_EQ(spawned->position, plan.spawns[7].position);
    EXPECT_GE(spawned->at, died + from_seconds(1));
    EXPECT_LT(spawned->at, died + from_seconds(1) + from_seconds(2.0 / 64));
    EXPECT_EQ(alone.scene().pose_of(BodyId{5})->position, spawned->position);
}

// Two within reach of each other's blade; the second can guard.
struct Blades {
    Arsenal arsenal = [] {
        Arsenal made = bots_arsenal();
        made.bodies[0].guard = GuardSpec{.arc = 2.5, .perfect = from_seconds(0.1), .perfect_staggers = true};
        return made;
    }();
    Skirmish skirmish{arsenal, Level{{{HalfSpace{world_up(), 0}}}}, {.moves_bodies = false}, 4};

    Blades() {
        (void)skirmish.add({.id = BodyId{1}, .team = TeamId{0}, .melee = MeleeId{0}, .at = Vector3{0, 0, 0}});
        (void)skirmish.add(
            {.id = BodyId{2}, .team = TeamId{1}, .melee = MeleeId{0}, .at = Vector3{0, 0, 1.1}, .yaw = pi});
    }
    Intent striking() const { return {.who = BodyId{1}, .strike = 0}; }
    Intent guarding(bool held) const {
        Intent intent{.who = BodyId{2}, .yaw = static_cast<float>(pi)};
        intent.buttons.set(Button::guard, held);
        return intent;
    }
};

TEST(Fighting, BladesHurtGuardsStopThemAndAPerfectOneStaggers) {
    for (const int guard : {0, 1, 2}) { // none, early, just in time
        Blades blades;
        std::size_t hurt = 0;
        std::size_t stopped = 0;
        std::size_t cancelled = 0;
        for (Tick tick = 0; tick < 64; ++tick) {
            const bool held = guard == 1 || (guard == 2 && tick >= 8);
            const Intent intents[] = {blades.striking(), blades.guarding(held)};
            const std::span<const Event> events = blades.skirmish.advance(intents);
            hurt += count_of<DamageEvent>(events);
            stopped += count_of<StoppedHitEvent>(events);
            for (const SwingEvent& swing : events_of<SwingEvent>(events)) {
                cancelled += swing.event.kind == MeleeEventKind::cancelled ? 1 : 0;
                EXPECT_TRUE(swing.event.kind != MeleeEventKind::cancelled ||
                            std::any_of(events.begin(), events.end(),
                                        [&](const Event& event) {
                                            return who_of(event) == BodyId{1} &&
                                                   time_of(event) == swing.event.at &&
                                                   words_of(event) == "reacted";
                                        }))
                    << "at the very moment";
            }
        }
        EXPECT_EQ(hurt > 0, guard == 0) << guard;
        EXPECT_EQ(stopped > 0, guard > 0) << guard;
        EXPECT_EQ(blades.skirmish.find(BodyId{1})->swing.swings, 1U) << "held is one press";
        EXPECT_EQ(cancelled, guard == 2 ? 1U : 0U) << "who is staggered stops striking";
    }
}

TEST(Fighting, AWeaponWaitsForABlowToTheNanosecondAtAnyTickRate) {
    // When its shots leave, with a blow after a while; every press lies in a tick of its own.
    const auto shots_at = [](std::int32_t hertz) {
        Skirmish skirmish{bots_arsenal(), Level{}, {.rate = {hertz}, .moves_bodies = false}, 1};
        const WeaponId rifle{0};
        (void)skirmish.add(
            {.id = BodyId{1}, .melee = MeleeId{0}, .weapons = {&rifle, 1}, .at = Vector3{0, 0, 0}});
        const Time strikes = Time{} + std::chrono::milliseconds{303};
        std::vector<Time> shots;
        while (skirmish.now() < Time{from_seconds(1.2)}) {
            const Span span = tick_span(skirmish.tick(), {hertz});
            Intent intent{.who = BodyId{1}, .buttons = {Button::trigger}};
            if (strikes < span.end) {
                intent.strike = 0;
                intent.press_offset =
                    strikes >= span.begin ? static_cast<std::uint32_t>((strikes - span.begin).count()) : 0U;
            }
            for (const ShotEvent& shot : events_of<ShotEvent>(skirmish.advance({&intent, 1}))) {
                if (shot.at < Time{from_seconds(1.2)}) {
                    shots.push_back(shot.at);
                }
            }
        }
        return shots;
    };
    const std::vector<Time> shots = shots_at(64);
    const Time free = Time{} + std::chrono::milliseconds{303} + length_of(bots_arsenal().melee[0].attacks[0]);
    EXPECT_TRUE(std::none_of(shots.begin(), shots.end(), [&](Time at) {
        return at > Time{} + std::chrono::milliseconds{303} && at < free;
    }));
    EXPECT_TRUE(std::any_of(shots.begin(), shots.end(), [&](Time at) { return at >= free; }));
    for (const std::int32_t hertz : {10, 20, 90, 240}) {
        EXPECT_EQ(shots_at(hertz), shots) << hertz;
    }
}

TEST(Fighting, PickupsAreTakenOnRequestAndByTouch) {
    Arsenal arsenal = bots_arsenal();
    arsenal.pickups[0].on_request = true;
    arsenal.pickups[0].condition = {};
    LevelPlan plan;
    plan.pickups = {{PickupId{0}, {0, 0, 0.3}}};
    Skirmish skirmish{arsenal, trial::bots_level(), {}, 1, plan};
    ASSERT_TRUE(skirmish.add({.id = BodyId{1}, .at = Vector3{0, 0, 0}}));
    skirmish.match().edit(BodyId{1})->vitals.health = 50;
    Intent intent{.who = BodyId{1}};
    skirmish.advance({&intent, 1});
    EXPECT_EQ(who(skirmish, 1).vitals.health, 50.0);
    intent.buttons.set(Button::take, true);
    for (int tick = 0; tick < 4; ++tick) {
        skirmish.advance({&intent, 1});
    }
    EXPECT_EQ(who(skirmish, 1).vitals.health, 59.0) << "one press takes it once";
    EXPECT_FALSE(skirmish.match().pickups()[0].there);
}

TEST(Bots, WaitTheirReactionReloadAndSpareTheirFriends) {
    BotsFight fight{bots_arsenal(), 16, 31};
    std::map<BodyId, Time> noticed;
    std::size_t reloads = 0;
    double to_foes = 0.0;
    double to_friends = 0.0;
    for (Tick tick = 0; tick < 2500; ++tick) {
        const std::span<const Event> events = fight.advance();
        for (const Bot& bot : fight.bots.bots()) {
            if (bot.intent.spotted != nobody) {
                noticed[bot.id] = bot.noticed_at;
            }
        }
        for (const ShotEvent& shot : events_of<ShotEvent>(events)) {
            ASSERT_TRUE(noticed.contains(shot.who)) << "nobody fires at nothing";
            // A charge is let go when its owner lets go of it, such as when it spots another foe.
            const bool charged = bots_arsenal()[*shot.weapon].modes[0] == TriggerMode::charge;
            EXPECT_TRUE(charged || shot.at >= noticed[shot.who] + bots_arsenal().shooters[1].reaction);
        }
        for (const HandlingEvent& hands : events_of<HandlingEvent>(events)) {
            reloads += hands.event.kind == WeaponEventKind::reload_finished ? 1 : 0;
        }
        for (const DamageEvent& hurt : events_of<DamageEvent>(events)) {
            const Match& match = std::as_const(fight.skirmish).match();
            if (const Combatant* by = match.find(hurt.source)) {
                const bool foe = by->team != match.find(hurt.who)->team;
                (foe ? to_foes : to_friends) += points_of(hurt);
            }
        }
    }
    EXPECT_GT(reloads, 5U);
    EXPECT_GT(to_foes, 4.0 * to_friends);
}

TEST(Fighting, TicksAllocateNothingAfterTheFirstSecond) {
    if (allocations() == 0) {
        GTEST_SKIP() << "nothing is counted under sanitizers";
    }
    BotsFight fight{bots_arsenal(), 32, 17};
    while (fight.skirmish.now() < Time{from_seconds(1)}) {
        fight.advance();
    }
    for (Tick tick = 0; tick < 1500; ++tick) {
        const std::size_t before = allocations();
        fight.advance();
        ASSERT_EQ(allocations(), before) << "in tick " << fight.skirmish.tick() - 1;
    }
}

TEST(Waypoints, LeadFromAnywhereToAnywhere) {
    const Skirmish skirmish{bots_arsenal(), trial::bots_level(), {}, 1, trial::bots_plan()};
    const Waypoints ways{skirmish.scene(), skirmish.plan().points, 0.35};
    const std::size_t count = ways.points().size();
    ASSERT_EQ(count, 36U);
    std::size_t led = 0;
    for (std::size_t from = 0; from < count; ++from) {
        for (std::size_t to = 0; to < count; ++to) {
            std::size_t at = from;
            for (std::size_t steps = 0; at != to && steps <= count; ++steps) {
                const std::size_t next = ways.next_step(at, to);
                const auto joined = ways.joined_to(at);
                const bool leads = std::find(joined.begin(), joined.end(), next) != joined.end();
                ASSERT_TRUE(leads || (at == from && next == to)) << "straight there where there is no way";
                led += leads && next == to ? 1 : 0;
                at = next;
            }
            EXPECT_EQ(at, to);
        }
    }
    EXPECT_GT(10 * led, 8 * count * (count - 1));
    EXPECT_EQ(ways.nearest({-24, 0, -26}), 0U);
    EXPECT_FALSE(Waypoints{}.nearest({0, 0, 0}));
}

TEST(SavedScene, AnswersAsTheOneItWasSavedFrom) {
    Draw draw{15};
    for (int round = 0; round < 30; ++round) {
        RandomScene random{draw};
        std::vector<std::byte> bytes(1U << 20U);
        StateWriter writer{bytes};
        random.scene.save(writer);
        ASSERT_LE(writer.size(), bytes.size());
        Scene other = random.scene;
        // Something else happens to it meanwhile.
        other.begin_frame(other.now() + Duration{1000});
        for (std::uint32_t id = 0; id < 9; id += 2) {
            other.move(BodyId{id}, {draw.point(9), Rotation::Identity()});
            other.remove(BodyId{id + 1});
        }
        StateReader reader{std::span{bytes}.first(writer.size())};
        ASSERT_TRUE(other.restore(reader) && reader.is_at_end());
        EXPECT_EQ(other.body_count(), random.scene.body_count());
        for (int query = 0; query < 50; ++query) {
            const Cast cast{{draw.point(6), draw.direction(), draw(0, 12)},
                            draw(0, 0.3),
                            random.scene.oldest(),
                            random.scene.now()};
            const auto one = random.scene.closest_hit(cast, {});
            const auto two = other.closest_hit(cast, {});
            ASSERT_EQ(one.has_value(), two.has_value());
            EXPECT_TRUE(!one || (one->distance == two->distance && one->body == two->body));
        }
        StateReader cut{std::span{bytes}.first(writer.size() / 2)};
        EXPECT_FALSE(other.restore(cut));
    }
}

} // namespace
} // namespace avrek
