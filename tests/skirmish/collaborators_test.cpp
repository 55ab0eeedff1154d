#include "../../src/skirmish/body_moving.h"
#include "../../src/skirmish/shot_resolution.h"
#include "../digest/bots_fight.h"
#include "../scene/draw.h"

#include <gtest/gtest.h>

// Each collaborator of a tick, without the others as far as it needs none.
namespace avrek {
namespace {

constexpr BodyId one_id{1};
constexpr BodyId two_id{2};

// A tick that has begun, with two who face each other 10 m apart.
struct BareFight {
    detail::Fight fight;

    explicit BareFight(const Arsenal& arsenal = trial::bots_arsenal(), Level level = {})
        : fight(arsenal, std::move(level), {.limits = {.combatants = 4}, .history_frames = 40}, 3,
                trial::bots_plan()) {
        enter(one_id, TeamId{0}, {0, 0, 0}, 0.0);
        enter(two_id, TeamId{1}, {0, 0, 10}, pi);
        begin_tick();
    }
    void enter(BodyId id, TeamId team, const Vector3& at, Radians yaw) {
        static const WeaponId rifle{0};
        EXPECT_TRUE(fight.match.join({.id = id, .team = team, .weapons = {&rifle, 1}}));
        Fighter& fighter = fight.fighters.emplace_back();
        fighter.id = fighter.intent.who = id;
        fighter.motion.position = fighter.position_before = at;
        fighter.look = fighter.look_before = {yaw, 0.0};
        fighter.intent.yaw = static_cast<float>(yaw);
        fighter.facing = yaw;
        fighter.in_scene = fight.scene.add({.id = id,
                                            .rig = &fight.body_of(fighter).rig,
                                            .pose = {at, turned_to({yaw, 0.0})},
                                            .team = team});
    }
    void begin_tick() {
        fight.span = tick_span(fight.tick, fight.settings.rate);
        fight.queue.clear();
        fight.parts().events.clear();
    }
    void end_tick() { ++fight.tick; }
};

TEST(ActionQueue, GivesTheEarliestFirstAndAtOneTimeTheLowestId) {
    Draw draw{6};
    detail::ActionQueue queue;
    for (int action = 0; action < 500; ++action) {
        queue.push({.at = Time{Duration{draw.below(20)}},
                    .who = BodyId{static_cast<std::uint32_t>(draw.below(5))},
                    .index = static_cast<std::uint32_t>(action)});
    }
    detail::QueuedAction last = queue.pop();
    while (!queue.empty()) {
        const detail::QueuedAction next = queue.pop();
        EXPECT_LT(std::tie(last.at, last.who, last.kind, last.index),
                  std::tie(next.at, next.who, next.kind, next.index));
        last = next;
    }
    EXPECT_EQ(queue.next_at(Time::max()), Time::max());
}

TEST(WeaponPlanning, PlansShotsAndDropsWhatIsInterrupted) {
    BareFight bare;
    detail::WeaponPlanning planning{bare.fight};
    const Intent pulls{.who = one_id, .press_offset = 1'000'000, .buttons = {Button::trigger}};
    planning.take_intents({&pulls, 1});
    planning.plan_all();
    const Combatant& who = *bare.fight.match.find(one_id);
    const std::int32_t rounds = who.loadout.slots[0].state.rounds;
    ASSERT_FALSE(bare.fight.queue.empty());
    const detail::QueuedAction shot = bare.fight.queue.pop();
    EXPECT_EQ(shot.at, bare.fight.span.begin + Duration{1'000'000});
    EXPECT_EQ(who.loadout.slots[0].state.rounds, rounds) << "a plan changes nothing";
    const detail::PlannedEvent* planned = planning.come_to(shot);
    ASSERT_NE(planned, nullptr);
    EXPECT_EQ(planned->event.kind, WeaponEventKind::shot);
    EXPECT_EQ(who.loadout.slots[0].state.rounds, rounds - 1);
    // Events after an interruption are not done: their plan has an older version.
    const detail::QueuedAction later{shot.at + Duration{5}, one_id, detail::QueuedKind::weapon, 0,
                                     shot.version};
    planning.replan_after(bare.fight.index_of(one_id), shot.at);
    EXPECT_EQ(planning.come_to(later), nullptr);
    planning.finish();
    EXPECT_EQ(who.loadout.now, bare.fight.span.end);
}

TEST(LagCompensation, JudgesAHitByWhatWasSeen) {
    Arsenal arsenal = trial::make_bots_arsenal();
    arsenal.matches[0].lag_compensation = {
        .max_rewind = from_seconds(0.3), .cover_grace = from_seconds(0.05), .trades = false};
    // A wall from x = 0.5 on, half-way between them; the second runs behind it.
    BareFight bare{arsenal, Level{{{Box{{{10.5, 2, 5}}, {10, 2, 0.2}}}}}};
    detail::Fight& fight = bare.fight;
    const detail::LagCompensation lag{fight};
    for (int tick = 0; tick < 20; ++tick) {
        bare.begin_tick();
        fight.scene.begin_frame(fight.span.end);
        fight.scene.move(two_id, {{0.25 * (tick + 1), 0, 10}, turned_to({pi, 0.0})});
        bare.end_tick();
    }
    const auto verdict = [&](double seconds_ago) {
        const Time at = fight.span.begin;
        const Time as_of = at - from_seconds(seconds_ago);
        const Vector3 chest = fight.scene.pose_of(two_id, as_of)->position + Vector3{0, 1.2, 0};
        const Hit hit{.point = chest, .body = two_id, .region = RegionId{1}};
        return lag.validate_hit(two_id, {hit, at, as_of, {0, 1.5, 0}}, one_id).verdict;
    };
    EXPECT_EQ(verdict(0.0), Verdict::stands) << "nothing was rewound";
    EXPECT_EQ(verdict(0.25), Verdict::covered) << "behind the wall for longer than the grace";
    fight.fighters[1].alive_since = fight.span.begin;
    EXPECT_EQ(verdict(0.25), Verdict::gone) << "the body of an earlier life";
    fight.fighters[1].alive_since = Time{};
    fight.parts().find(one_id)->vitals.life = LifeState::dead;
    EXPECT_EQ(verdict(0.25), Verdict::late) << "no trades";
    fight.fighters[0].intent.view_delay = 900'000'000;
    EXPECT_EQ(lag.view_delay_of(fight.fighters[0]), from_seconds(0.3));
}

TEST(BodyMoving, PlacesAwayFromFoesAndMovesAsTheGameSays) {
    BareFight bare;
    detail::Fight& fight = bare.fight;
    detail::BodyMoving bodies{fight};
    for (int life = 0; life < 20; ++life) {
        bodies.place(fight.fighters[1], false);
        const Vector3& at = fight.fighters[1].motion.position;
        const auto fits = [&](const SpawnPoint& spawn) {
            return spawn.position == at && (!spawn.team || *spawn.team == TeamId{1});
        };
        EXPECT_TRUE(std::any_of(fight.plan.spawns.begin(), fight.plan.spawns.end(), fits));
        EXPECT_GT((at - fight.fighters[0].motion.position).norm(), 5.0);
    }
    const BodyUpdate updates[] = {{.who = two_id, .position = {3, 0, 4}, .teleported = true},
                                  {.who = BodyId{9}}};
    bodies.move(updates);
    EXPECT_EQ(fight.scene.pose_of(two_id)->position, Vector3(3, 0, 4));
    EXPECT_EQ(fight.disregarded, 1U);
}

TEST(ShotResolution, TakesAPlannedShotFromMuzzleToBody) {
    BareFight bare;
    detail::Fight& fight = bare.fight;
    detail::LagCompensation lag{fight};
    detail::WeaponPlanning planning{fight};
    detail::Consequences consequences{fight, planning};
    detail::ShotResolution shots{fight, planning, lag, consequences};
    const Intent pulls{.who = one_id, .pitch = -0.05F, .buttons = {Button::trigger}};
    planning.take_intents({&pulls, 1});
    fight.fighters[0].look_before = fight.fighters[0].look;
    fight.scene.begin_frame(fight.span.end);
    planning.plan_all();
    const detail::PlannedEvent* planned = planning.come_to(fight.queue.pop());
    ASSERT_NE(planned, nullptr);
    const double before = fight.match.find(two_id)->vitals.health;
    shots.fire(*planned);
    EXPECT_EQ(count_of<ShotEvent>(fight.events()), 1U);
    const DamageEvent* hurt = first_of<DamageEvent>(fight.events());
    ASSERT_NE(hurt, nullptr);
    EXPECT_EQ(hurt->who, two_id);
    EXPECT_EQ(hurt->source, one_id);
    EXPECT_EQ(before - fight.match.find(two_id)->vitals.health, hurt->damage.amount());
    EXPECT_EQ(first_of<SegmentEvent>(fight.events())->verdict, Verdict::stands);
}

} // namespace
} // namespace avrek
