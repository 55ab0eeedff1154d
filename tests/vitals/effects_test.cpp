// Layers, conditions, guard, reactions and protection, told as stories.
#include "random_body.h"
#include <avrek/vitals/conditions.h>
#include <avrek/vitals/guard.h>

#include <gtest/gtest.h>

#include <string_view>
#include <utility>
#include <vector>

namespace avrek {
namespace {

// A body for stories: everything off that a story does not turn on.
struct Story {
    std::vector<ConditionSpec> conditions{};
    BodySpec body{.id = "body"};
    Vitals vitals{};
    std::vector<VitalsEvent> events{};

    void begin() { vitals = full_vitals(body); }
    HitResult hit(double damage, double at, const EffectSpec* effect = nullptr, Radians off_front = 0.0) {
        IncomingHit hit{.effect = effect, .source = BodyId{7}, .off_front = off_front};
        hit.damage.multiply(DamageStepKind::base, damage);
        hit.direction = world_forward();
        return take_hit({conditions, body, vitals}, hit, Time{from_seconds(at)}, events);
    }
    void until(double at) { advance({conditions, body, vitals}, Time{from_seconds(at)}, events); }
    /// In nanoseconds.
    std::vector<std::pair<std::int64_t, std::string_view>> told() const {
        std::vector<std::pair<std::int64_t, std::string_view>> all;
        for (const VitalsEvent& event : events) {
            const Time at = time_of(event);
            all.emplace_back(at.time_since_epoch().count(), words_of(event));
        }
        return all;
    }
    template <class Kind>
    const Kind& at(std::size_t index) const {
        return std::get<Kind>(events[index]);
    }
    template <class Kind>
    const Kind& last() const {
        return std::get<Kind>(events.back());
    }
    double layer(std::size_t index) const { return defence_points(body, vitals, index); }
};

TEST(Layers, TakeTheirShareInOrderAndComeBack) {
    Story story;
    story.body.defence = {{.name = "shield", .max = 30, .start = 30, .delay = from_seconds(2), .refill = 10},
                          {.name = "plate", .max = 40, .start = 40, .share = 0.5, .wear = 0.5}};
    story.begin();
    story.hit(50, 0); // 30 to the shield, of the other 20 half to the plate, at half its wear
    EXPECT_DOUBLE_EQ(story.vitals.health, 90);
    EXPECT_EQ(story.layer(0), 0.0);
    EXPECT_DOUBLE_EQ(story.layer(1), 35);
    EXPECT_DOUBLE_EQ(story.at<DamageEvent>(0).absorbed, 40);
    EXPECT_FALSE(story.at<DefenceEvent>(1).restored);
    EXPECT_EQ(story.at<DefenceEvent>(1).layer, 0U);
    story.until(3);
    EXPECT_DOUBLE_EQ(story.layer(0), 10) << "two seconds of rest, then one of refill";
    story.hit(4, 3);
    story.until(6);
    EXPECT_DOUBLE_EQ(story.layer(0), 16);
    story.until(10);
    EXPECT_EQ(story.layer(0), 30);
    EXPECT_EQ(story.told().back(),
              std::pair(std::int64_t{7'400'000'000}, std::string_view{"defence restored"}));
    EXPECT_DOUBLE_EQ(story.layer(1), 35);
}

TEST(Layers, LoseWhatIsTooMuchUnlessItCarriesOverAndLetKindsPass) {
    Story story;
    story.body.defence = {{.name = "shell",
                           .max = 10,
                           .start = 10,
                           .carries_over = false,
                           .passes = {{"rot", DamageTypeId{1}}}}};
    story.begin();
    EffectSpec rot{.type = {"rot", DamageTypeId{1}}};
    story.hit(20, 0, &rot);
    EXPECT_EQ(story.vitals.health, 80.0) << "rot passes";
    story.hit(50, 1);
    EXPECT_EQ(story.vitals.health, 80.0) << "40 are lost with the shell";
    story.hit(50, 2);
    EXPECT_EQ(story.vitals.health, 30.0);
}

TEST(Life, ComesBackByItselfAfterAWhileWithoutHarm) {
    Story story;
    story.body.regeneration = {.points = 10, .period = from_seconds(1), .delay = from_seconds(2)};
    story.begin();
    story.hit(25, 0.5);
    story.until(2.5);
    EXPECT_EQ(story.vitals.health, 75.0);
    story.until(3);
    EXPECT_EQ(story.vitals.health, 85.0) << "at 2.5";
    story.hit(5, 3);
    story.until(9);
    EXPECT_EQ(story.vitals.health, 100.0) << "at 5 and 6";
    EXPECT_EQ(story.told().back().first, 6'000'000'000) << "and no more";
    story.hit(200, 10);
    story.until(20);
    EXPECT_EQ(story.vitals.health, 0.0);
}

TEST(Layers, TakeHealingThatIsTooMuchAndLetItGo) {
    Story story;
    story.body.defence = {{.name = "vigour", .max = 20, .decay = 2, .takes_healing = true}};
    story.begin();
    EffectSpec mend{.heals = true};
    story.hit(10, 0);
    story.hit(25, 1, &mend);
    EXPECT_EQ(story.vitals.health, 100.0);
    EXPECT_DOUBLE_EQ(story.layer(0), 15);
    EXPECT_DOUBLE_EQ(story.last<HealEvent>().healing.amount(), 10) << "of the health alone";
    story.until(6);
    EXPECT_DOUBLE_EQ(story.layer(0), 5);
    story.hit(200, 7);
    story.hit(50, 8, &mend);
    EXPECT_EQ(story.vitals.life, LifeState::dead) << "nothing raises the dead";
    EXPECT_EQ(story.vitals.health, 0.0);
}

TEST(Conditions, TickAtTheirTimesAndKeepTheirCredit) {
    Story story;
    story.conditions = {{.id = "rot", .lasts = from_seconds(2), .period = from_seconds(0.2), .amount = 2}};
    story.begin();
    add_condition({story.conditions, story.body, story.vitals}, {ConditionId{0}, 1.5, BodyId{9}},
                  Time{from_seconds(1)}, story.events);
    story.until(1.2);
    EXPECT_EQ(story.vitals.health, 100.0) << "what is due at the end of a span belongs to the next";
    story.until(1.3);
    EXPECT_EQ(story.last<DamageEvent>().at, Time{from_seconds(1.2)});
    EXPECT_EQ(story.last<DamageEvent>().source, BodyId{9});
    story.until(10);
    EXPECT_DOUBLE_EQ(story.vitals.health, 70) << "ten ticks of 2 times 1.5, the last one at the end";
    EXPECT_EQ(story.told().back(),
              std::pair(std::int64_t{3'000'000'000}, std::string_view{"condition ended"}));
    EXPECT_EQ(last_source(story.vitals.credits, Time{}), BodyId{9});
    EXPECT_DOUBLE_EQ(story.vitals.credits.begin()->damage, 30);
}

// Result of a second one of the same condition, half a second after the first and twice as strong.
TEST(Conditions, StackAsTheirDataSay) {
    const struct {
        Stacking stacking;
        double until;
        double strength;
        std::uint32_t count;
    } cases[] = {{Stacking::refresh, 1.5, 2, 1},
                 {Stacking::extend, 2, 1, 1},
                 {Stacking::count, 1.5, 2, 2},
                 {Stacking::strongest, 1.5, 2, 1},
                 {Stacking::ignore, 1, 1, 1}};
    for (const auto& expected : cases) {
        Story story;
        story.conditions = {
            {.id = "c", .lasts = from_seconds(1), .stacking = expected.stacking, .max_count = 2}};
        story.begin();
        for (const auto& [at, strength] : {std::pair{0.0, 1.0}, {0.5, 2.0}}) {
            add_condition({story.conditions, story.body, story.vitals}, {ConditionId{0}, strength},
                          Time{from_seconds(at)}, story.events);
        }
        const ConditionState& state = *find_condition(story.vitals, ConditionId{0});
        EXPECT_EQ(state.until, Time{from_seconds(expected.until)}) << to_string(expected.stacking);
        EXPECT_EQ(state.strength, expected.strength) << to_string(expected.stacking);
        EXPECT_EQ(state.count, expected.count) << to_string(expected.stacking);
    }
    Story story;
    story.conditions = {{.id = "c", .stacking = Stacking::strongest}};
    story.begin();
    add_condition({story.conditions, story.body, story.vitals}, {ConditionId{0}, 2.0}, Time{}, story.events);
    EXPECT_FALSE(add_condition({story.conditions, story.body, story.vitals}, {ConditionId{0}, 1.0}, Time{},
                               story.events));
    EXPECT_EQ(story.last<ConditionEvent>().why, ConditionReason::weaker);
}

TEST(Conditions, ChangeForbidCancelPreventAndAreRefused) {
    Arsenal arsenal;
    arsenal.conditions = {
        {.id = "soft", .damage_taken = 1.5, .forbids = {Act::fire}, .ends_when = {ConditionEnd::struck}},
        {.id = "wash", .lasts = Duration::zero(), .cancels = {{"soft"}}},
        {.id = "ward", .damage_taken = 0, .prevents = {{"soft"}}},
        {.id = "sweat"}};
    arsenal.bodies = {{.id = "body", .immune = {{"sweat"}}}};
    ASSERT_TRUE(resolve_references(arsenal));
    Story story{.conditions = arsenal.conditions, .body = arsenal.bodies[0]};
    story.begin();
    const auto add = [&](std::int32_t condition, double strength) {
        return add_condition({story.conditions, story.body, story.vitals}, {ConditionId{condition}, strength},
                             Time{}, story.events);
    };
    EXPECT_TRUE(add(0, 2.0));
    story.hit(10, 0);
    EXPECT_DOUBLE_EQ(story.vitals.health, 80) << "at a strength of 2, half more counts twice";
    EXPECT_TRUE(forbidden_acts(story.conditions, story.body, story.vitals).contains(Act::fire));
    EXPECT_FALSE(forbidden_acts(story.conditions, story.body, story.vitals).contains(Act::move));
    EXPECT_TRUE(add(1, 1.0));
    EXPECT_EQ(story.vitals.condition_count, 0);
    EXPECT_TRUE(add(0, 1.0));
    end_conditions({story.conditions, story.body, story.vitals}, ConditionEnd::fired, Time{}, story.events);
    EXPECT_EQ(story.vitals.condition_count, 1);
    end_conditions({story.conditions, story.body, story.vitals}, ConditionEnd::struck, Time{}, story.events);
    EXPECT_EQ(story.vitals.condition_count, 0);
    EXPECT_TRUE(add(2, 1.0));
    EXPECT_FALSE(add(0, 1.0));
    EXPECT_EQ(story.last<ConditionEvent>().why, ConditionReason::prevented);
    EXPECT_FALSE(add(3, 1.0));
    EXPECT_EQ(story.last<ConditionEvent>().why, ConditionReason::immune);
    story.hit(1000, 0);
    EXPECT_DOUBLE_EQ(story.vitals.health, 80);
}

TEST(Guard, PaysBreaksMendsAndIsPerfectOnlyWhenPressed) {
    Story story;
    story.body.guard = GuardSpec{.arc = pi,
                                 .stamina = 50,
                                 .refill = 10,
                                 .delay = from_seconds(1),
                                 .broken = from_seconds(3),
                                 .perfect = from_seconds(0.2)};
    story.body.heavy_reaction.lasts = from_seconds(1);
    story.begin();
    const auto hold = [&](bool held, double at) {
        hold_guard({story.conditions, story.body, story.vitals}, held, Time{from_seconds(at)}, story.events);
    };
    hold(true, 0);
    EXPECT_EQ(story.hit(30, 0.1), HitResult::guarded_perfectly);
    EXPECT_EQ(story.hit(30, 0.5), HitResult::guarded);
    EXPECT_EQ(story.last<StoppedHitEvent>().stamina, 20.0);
    EXPECT_EQ(story.hit(30, 1, nullptr, 2.0), HitResult::taken) << "from behind";
    EXPECT_EQ(story.vitals.health, 70.0);
    EXPECT_EQ(story.hit(50, 2.5), HitResult::taken) << "30 of it: the stamina, 30 by now, did not cover all";
    EXPECT_DOUBLE_EQ(story.vitals.health, 50);
    EXPECT_EQ(story.vitals.state, BodyState::stunned);
    EXPECT_FALSE(story.vitals.guard.up);
    story.until(5.6);
    EXPECT_TRUE(story.vitals.guard.up) << "it is held still, and mended";
    EXPECT_EQ(story.hit(10, 5.6), HitResult::guarded) << "but this is no press";
    EXPECT_EQ(story.last<StoppedHitEvent>().stamina, 40.0);
}

TEST(Reactions, GiveWayToHeavierOnesAndWearOff) {
    Story story;
    story.body.light_reaction = {.lasts = from_seconds(0.5), .forbids = {Act::fire}};
    story.body.heavy_reaction = {.lasts = from_seconds(1),
                                 .shows = BodyState::down,
                                 .rise = from_seconds(0.5),
                                 .push = 2,
                                 .repeats = {{{0, 1}, {1, 0.5}, {2, 0}}}};
    story.begin();
    EffectSpec light{.reaction = {"light", ReactionClass::light}};
    EffectSpec heavy{.reaction = {"heavy", ReactionClass::heavy}};
    story.hit(1, 0, &light);
    EXPECT_EQ(forbidden_acts({}, story.body, story.vitals), ActSet{Act::fire});
    story.hit(1, 0.2, &heavy);
    EXPECT_EQ(story.vitals.state, BodyState::down);
    EXPECT_TRUE(story.vitals.on_back);
    EXPECT_DOUBLE_EQ(story.last<BodyEvent>().push.norm(), 2);
    story.hit(1, 0.4, &light);
    EXPECT_EQ(story.vitals.state, BodyState::down) << "a lighter one does nothing";
    story.until(3);
    story.hit(1, 3, &heavy);
    story.hit(1, 5, &heavy);
    const std::vector<std::pair<double, std::string_view>> seconds{
        {0, "damaged"},   {0, "reacted"},  {0.2, "damaged"},   {0.2, "reacted"},
        {0.4, "damaged"}, {1.2, "rising"}, {1.7, "recovered"}, {3, "damaged"},
        {3, "reacted"},   {3.5, "rising"}, {4, "recovered"},   {5, "damaged"}};
    std::vector<std::pair<std::int64_t, std::string_view>> expected;
    for (const auto& [at, kind] : seconds) {
        expected.emplace_back(from_seconds(at).count(), kind);
    }
    EXPECT_EQ(story.told(), expected) << "the second lasts half as long, the third not at all";
}

TEST(Reactions, OfABodysOwnGoByTheirWeights) {
    Story story;
    story.body.light_reaction = {.lasts = from_seconds(0.5)};
    story.body.heavy_reaction = {.lasts = from_seconds(1), .shows = BodyState::stunned};
    story.body.reactions = {{.name = "nudge", .weight = 0.5, .lasts = from_seconds(0.3)},
                            {.name = "shove", .weight = 1.5, .lasts = from_seconds(0.6), .push = 4}};
    Arsenal arsenal;
    arsenal.bodies = {story.body};
    ASSERT_TRUE(resolve_references(arsenal));
    story.body = arsenal.bodies[0];
    story.begin();
    const auto effect = [&](const char* name) {
        return EffectSpec{.reaction = {name, arsenal.reaction(name)}};
    };
    const EffectSpec nudge = effect("nudge");
    const EffectSpec light = effect("light");
    const EffectSpec shove = effect("shove");
    const EffectSpec heavy = effect("heavy");
    EXPECT_FALSE(arsenal.reaction("trip"));
    double at = 0;
    for (const auto& [hit, after] : {std::pair{&nudge, &nudge},
                                     {&light, &light},
                                     {&nudge, &light},
                                     {&shove, &shove},
                                     {&light, &shove},
                                     {&heavy, &heavy},
                                     {&shove, &heavy}}) {
        story.hit(1, at, hit);
        EXPECT_EQ(arsenal.name_of(story.vitals.reaction), after->reaction.id) << at;
        at += 0.01;
    }
    story.until(3);
    story.hit(1, 3, &shove);
    EXPECT_DOUBLE_EQ(story.last<BodyEvent>().push.norm(), 4);
    EXPECT_EQ(forbidden_acts({}, story.body, story.vitals), ActSet::all());
    story.until(4);
    EXPECT_EQ(story.vitals.reaction, ReactionClass::none);
    story.body.own_reactions = {};
    story.hit(1, 4, &shove);
    EXPECT_EQ(story.vitals.reaction, ReactionClass::none) << "it has none of this class";
}

TEST(Protection, EndsByItselfOrByActing) {
    Story story;
    story.begin();
    protect(story.vitals, Time{from_seconds(1)});
    EXPECT_EQ(story.hit(10, 0.999), HitResult::protected_hit);
    EXPECT_EQ(story.hit(10, 1), HitResult::taken);
    protect(story.vitals, Time{from_seconds(3)});
    end_protection(story.vitals, Time{from_seconds(2)}, story.events);
    EXPECT_EQ(story.hit(10, 2), HitResult::taken);
}

} // namespace
} // namespace avrek
