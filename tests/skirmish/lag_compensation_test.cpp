// Lag compensation: which hits count of a shooter with a delayed view.
#include "../digest/bots_fight.h"
#include <avrek/skirmish/skirmish.h>
#include <avrek/skirmish/snapshots.h>

#include <gtest/gtest.h>

#include <cmath>
#include <limits>
#include <optional>

namespace avrek {
namespace {

constexpr BodyId rifleman{1};
constexpr BodyId runner{2};

// A weapon that is exact, and bodies that stand where they are put.
Arsenal exact_arsenal(const LagCompensationSpec& rules) {
    Arsenal arsenal = trial::bots_arsenal();
    for (WeaponSpec& weapon : arsenal.weapons) {
        weapon.spread = {};
        weapon.bounce.count = 0;
        weapon.recoil = {};
    }
    arsenal.projectiles[0].gravity = 0;
    arsenal.projectiles[0].drag = 0;
    arsenal.projectiles[0].blast = {};
    arsenal.matches[0].lag_compensation = rules;
    return arsenal;
}

// A runner that walks across, ten metres away, and a wall that it walks behind.
struct Crossing {
    Arsenal arsenal;
    Skirmish skirmish;
    double speed = 4.0;

    explicit Crossing(const LagCompensationSpec& rules, WeaponId weapon = WeaponId{},
                      std::int32_t snapshot_interval = 2, double wall_from = 100.0)
        : arsenal(exact_arsenal(rules)),
          skirmish(arsenal,
                   Level{{{Box{{{wall_from + 10, 2, 5}, Rotation::Identity()}, {10, 4, 0.2}}, SurfaceId{1}}}},
                   {.moves_bodies = false,
                    .history_frames = 80,
                    .snapshot_interval = snapshot_interval,
                    .snapshot_history = 40},
                   1) {
        (void)skirmish.add({.id = rifleman, .weapons = {&weapon, 1}, .at = Vector3{0, 0, 0}});
        (void)skirmish.add({.id = runner, .team = TeamId{1}, .at = place(Time{})});
    }
    Vector3 place(Time at) const { return {-4.0 + speed * to_seconds(at - Time{}), 0, 10}; }

    // One tick, in which the rifleman aims at where the runner's chest was `aimed` ago, and sees it as it was
    // `behind` ago.
    std::span<const Event> advance(bool fires, Duration behind = {}) {
        return advance(fires, behind, behind);
    }
    std::span<const Event> advance(bool fires, Duration behind, Duration aimed) {
        const Span span = tick_span(skirmish.tick(), {64});
        const Vector3 way = place(span.begin - aimed) + Vector3{0, 1.0, 0} - Vector3{0, 1.62, 0.08};
        const Look look = look_of(way);
        Intent intent{.who = rifleman,
                      .yaw = static_cast<float>(look.yaw),
                      .pitch = static_cast<float>(look.pitch),
                      .view_delay = static_cast<std::uint32_t>(behind.count())};
        intent.buttons.set(Button::trigger, fires);
        const BodyUpdate updates[] = {
            {.who = rifleman}, {.who = runner, .position = place(span.end), .velocity = {speed, 0, 0}}};
        return skirmish.advance({&intent, 1}, updates);
    }
    void wait(double seconds) {
        while (skirmish.now() < Time{from_seconds(seconds)}) {
            advance(false);
        }
    }
    double health() const { return skirmish.match().find(runner)->vitals.health; }
    double layer() const { return skirmish.match().find(runner)->vitals.defence[0].points; }
};

TEST(Judging, ShotsMeetBodiesWhereTheirShooterSawThem) {
    for (const std::int32_t snapshot_interval : {0, 1, 2, 3}) {
        for (const double behind : {0.0, 0.05, 0.11, 0.2}) {
            Crossing crossing{{.max_rewind = from_seconds(0.3)}, WeaponId{0}, snapshot_interval};
            crossing.wait(1.0);
            for (int ticks = 0; ticks < 2; ++ticks) { // so that the look is there
                crossing.advance(false, from_seconds(behind));
            }
            const std::span<const Event> events = crossing.advance(true, from_seconds(behind));
            ASSERT_EQ(count_of<ShotEvent>(events), 1U);
            EXPECT_EQ(first_of<ShotEvent>(events)->view_delay, from_seconds(behind));
            EXPECT_FALSE(first_of<ShotEvent>(events)->rewind_exceeded);
            ASSERT_EQ(count_of<SegmentEvent>(events), 1U);
            EXPECT_EQ(first_of<SegmentEvent>(events)->segment.hit.has_value(), true)
                << behind << " s, shown every " << snapshot_interval;
            EXPECT_LT(crossing.layer(), 30.0);
        }
    }
}

TEST(Judging, LooksBackNoFartherThanTheRulesAllow) {
    Crossing crossing{{.max_rewind = from_seconds(0.1)}};
    crossing.wait(1.0);
    for (int ticks = 0; ticks < 2; ++ticks) {
        crossing.advance(false, from_seconds(0.5));
    }
    const std::span<const Event> events = crossing.advance(true, from_seconds(0.5));
    ASSERT_EQ(count_of<ShotEvent>(events), 1U);
    EXPECT_TRUE(first_of<ShotEvent>(events)->rewind_exceeded);
    EXPECT_EQ(first_of<ShotEvent>(events)->view_delay, from_seconds(0.1));
    EXPECT_FALSE(first_of<SegmentEvent>(events)->segment.hit) << "it is 1.6 m farther by then";
}

TEST(Judging, WhoHasBeenBehindCoverForLongEnoughIsNotHit) {
    // It is at x = 0 after 1 s, and behind the wall from about x = 0.6 on: the wall stands half-way.
    for (const auto& [cover, verdict] : {std::pair{0.5, Verdict::stands}, {0.02, Verdict::covered}}) {
        Crossing crossing{
            {.max_rewind = from_seconds(0.3), .cover_grace = from_seconds(cover)}, WeaponId{0}, 2, 0.3};
        crossing.wait(1.2); // at x = 0.8, out of sight for a while
        for (int ticks = 0; ticks < 2; ++ticks) {
            crossing.advance(false, from_seconds(0.28));
        }
        const std::span<const Event> events = crossing.advance(true, from_seconds(0.28));
        ASSERT_EQ(count_of<SegmentEvent>(events), 1U);
        ASSERT_TRUE(first_of<SegmentEvent>(events)->segment.hit &&
                    first_of<SegmentEvent>(events)->segment.hit->body)
            << "it was seen before the wall";
        EXPECT_EQ(first_of<SegmentEvent>(events)->verdict, verdict);
        EXPECT_GT(first_of<SegmentEvent>(events)->covered_for, from_seconds(0.02));
        EXPECT_EQ(crossing.layer() < 30.0, verdict == Verdict::stands);
    }
}

TEST(Judging, ProjectilesCatchUpFromWhereTheyWereLaunched) {
    for (const double behind : {0.0, 0.15, 0.25}) {
        Crossing crossing{{.max_rewind = from_seconds(0.3)}, WeaponId{1}};
        const Duration flight = from_seconds(9.2 / crossing.arsenal.projectiles[0].speed);
        crossing.wait(0.8);
        std::optional<Time> fired;
        std::optional<Time> met;
        for (int tick = 0; tick < 64; ++tick) {
            // With a lead from where it is seen: a hit only if the seed flies among bodies as they were seen.
            const std::span<const Event> events =
                crossing.advance(tick == 2, from_seconds(behind), from_seconds(behind) - flight);
            for (const ShotEvent& shot : events_of<ShotEvent>(events)) {
                fired = shot.at;
            }
            for (const FlightEvent& flown : events_of<FlightEvent>(events)) {
                EXPECT_GE(flown.event.at, *fired) << "nothing happens in what is past";
                if (flown.event.hit && flown.event.hit->body == runner) {
                    met = flown.event.at;
                    EXPECT_EQ(flown.verdict, Verdict::stands);
                }
            }
        }
        ASSERT_TRUE(met) << behind;
        EXPECT_NEAR(to_seconds(*met - *fired), to_seconds(flight) - behind, 0.02) << "it has caught up";
    }
}

TEST(Judging, BodiesOfEarlierLivesAndOfWhoHasLeftAreGone) {
    Crossing crossing{{.max_rewind = from_seconds(0.3)}};
    crossing.wait(1.0);
    crossing.skirmish.remove(runner);
    for (int ticks = 0; ticks < 2; ++ticks) {
        crossing.advance(false, from_seconds(0.2));
    }
    EXPECT_TRUE(first_of<SegmentEvent>(crossing.advance(true, from_seconds(0.2)))->segment.hit)
        << "the past still knows it";
    (void) // Another one under the same id is not hit by what met the first.
        crossing.skirmish.add({.id = runner, .team = TeamId{1}, .at = Vector3{0, 0, 30}});
    const double health = crossing.health();
    for (int tick = 0; tick < 8; ++tick) {
        for (const SegmentEvent& segment :
             events_of<SegmentEvent>(crossing.advance(true, from_seconds(0.25)))) {
            EXPECT_TRUE(!segment.segment.hit || segment.verdict == Verdict::gone);
        }
    }
    EXPECT_EQ(crossing.health(), health);
}

TEST(Judging, TradesAreARule) {
    for (const bool trades : {true, false}) {
        Arsenal arsenal = exact_arsenal({.trades = trades});
        arsenal.weapons[0].damage = 1000;
        Skirmish skirmish{arsenal, Level{}, {.moves_bodies = false}, 1};
        const WeaponId rifle{0};
        (void)skirmish.add({.id = rifleman, .weapons = {&rifle, 1}, .at = Vector3{0, 0, 0}});
        (void)skirmish.add(
            {.id = runner, .team = TeamId{1}, .weapons = {&rifle, 1}, .at = Vector3{0, 0, 10}, .yaw = pi});
        const Intent both[] = {
            {.who = rifleman, .pitch = -0.05F, .buttons = {Button::trigger}},
            {.who = runner, .yaw = static_cast<float>(pi), .pitch = -0.05F, .buttons = {Button::trigger}}};
        const std::span<const Event> events = skirmish.advance(both);
        EXPECT_EQ(count_of<ShotEvent>(events), 2U);
        const auto segments = events_of<SegmentEvent>(events);
        EXPECT_EQ((++segments.begin())->verdict, trades ? Verdict::stands : Verdict::late);
        EXPECT_EQ(skirmish.match().find(rifleman)->vitals.life == LifeState::dead, trades);
        EXPECT_EQ(skirmish.match().find(runner)->vitals.life, LifeState::dead);
    }
}

TEST(Judging, WhatIsShownIsOnAGridAndTheSameEverywhere) {
    for (int step = 0; step < 5000; ++step) {
        const Vector3 at{0.37 * step - 900, 0.011 * step, -0.73 * step};
        const SnapshotPose place = snapshot_pose(at, 0.013 * step);
        EXPECT_LE((position_of(place) - at).cwiseAbs().maxCoeff(), 0.5 / snapshot_grid + 1e-12);
        EXPECT_LE(std::abs(shortest_turn(yaw_of(place) - 0.013 * step)), pi / 4096 + 1e-9);
        EXPECT_EQ(snapshot_pose(position_of(place), yaw_of(place)), place);
    }
    const double endless = std::numeric_limits<double>::infinity();
    EXPECT_EQ(snapshot_pose({endless, -endless, std::nan("")}, endless), SnapshotPose{});
    // A teleported body passes through nothing; a walking one does.
    Scene scene{Level{}, {.bodies = 4, .joints = 1, .frames = 4}};
    BodySpec ball;
    ball.rig = {{{"torso", {Sphere{{0, 1, 0}, 0.3}}}}, {}};
    const auto shown = [&](double seconds, double x) {
        const SnapshotBody body{runner, &ball, TeamId{}, snapshot_pose({x, 0, 0}, 0)};
        add_snapshot(scene, Time{from_seconds(seconds)}, {&body, 1});
    };
    shown(0.1, 0);
    shown(0.2, 2);
    EXPECT_NEAR(scene.pose_of(runner, Time{from_seconds(0.15)})->position.x(), 1.0, 1e-9);
    shown(0.3, 20);
    EXPECT_NEAR(scene.pose_of(runner, Time{from_seconds(0.25)})->position.x(), 2.0, 1e-9);
    add_snapshot(scene, Time{from_seconds(0.4)}, {});
    EXPECT_FALSE(scene.contains(runner));
}

TEST(Judging, WhatWasShownGoesBackWithTheRest) {
    const Arsenal arsenal = trial::bots_arsenal();
    const auto made = [&] {
        return Skirmish{arsenal,
                        trial::bots_level(),
                        {.limits = {.combatants = 8},
                         .history_frames = 24,
                         .snapshot_interval = 2,
                         .snapshot_history = 16},
                        5,
                        trial::bots_plan()};
    };
    Skirmish skirmish = made();
    Bots bots{skirmish};
    const BoutSetup setup = trial::bots_setup(8);
    begin_bout(setup, bout_members(setup), skirmish, bots);
    std::vector<std::vector<Intent>> wanted;
    std::vector<std::byte> state;
    std::vector<std::uint64_t> hashes;
    for (Tick tick = 0; tick < 900; ++tick) {
        const auto intents = bots.think(skirmish);
        wanted.emplace_back(intents.begin(), intents.end());
        for (Intent& intent : wanted.back()) {
            intent.view_delay = 90'000'000U + 1'000'000U * static_cast<std::uint32_t>(intent.who);
        }
        skirmish.advance(wanted.back());
        hashes.push_back(skirmish.state_hash());
        if (tick == 500) {
            state.resize(skirmish.saved_size());
            (void)skirmish.save(state);
        }
    }
    Skirmish other = made();
    ASSERT_TRUE(other.restore(state));
    EXPECT_EQ(other.snapshot_bodies().size(), 8U);
    for (Tick tick = 501; tick < 900; ++tick) {
        other.advance(wanted[static_cast<std::size_t>(tick)]);
        ASSERT_EQ(other.state_hash(), hashes[static_cast<std::size_t>(tick)]) << tick;
    }
}

} // namespace
} // namespace avrek
