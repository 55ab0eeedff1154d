#include "../rounds.h"
#include "random_body.h"
#include <avrek/vitals/conditions.h>
#include <avrek/vitals/guard.h>
#include <avrek/vitals/retune.h>

#include <gtest/gtest.h>

namespace avrek {
namespace {

// A body that has lived for a while by chance.
Vitals lived(RandomLife& draw, const Arsenal& arsenal, const BodySpec& body) {
    Vitals vitals = full_vitals(body);
    std::vector<VitalsEvent> events;
    for (int happening = 4 + draw.below(12); happening > 0; --happening) {
        const Time now = vitals.now + draw.time(0.6);
        const EffectSpec effect = draw.effect();
        switch (draw.below(4)) {
        case 0:
            hold_guard({arsenal.conditions, body, vitals}, draw.one_in(2), now, events);
            break;
        case 1:
            add_condition({arsenal.conditions, body, vitals},
                          {ConditionId{draw.below(RandomLife::conditions)}, draw.between(0.1, 2)}, now,
                          events);
            break;
        case 2:
            take_hit({arsenal.conditions, body, vitals}, draw.hit(effect, 3), now, events);
            break;
        default:
            advance({arsenal.conditions, body, vitals}, now, events);
        }
    }
    return vitals;
}

// Holds a state against the values.
void expect_allowed(const Arsenal& arsenal, const BodySpec& body, const Vitals& vitals) {
    ASSERT_EQ(vitals.maximum, body.health);
    ASSERT_LE(vitals.health, vitals.maximum);
    ASSERT_EQ(vitals.life == LifeState::alive, vitals.health > 0.0);
    for (std::size_t layer = 0; layer < max_defence_layers; ++layer) {
        const double points = defence_points(body, vitals, layer);
        ASSERT_GE(points, 0.0);
        ASSERT_LE(points, layer < body.defence.size() ? body.defence[layer].max + 1e-9 : 0.0);
    }
    if (body.guard) {
        ASSERT_LE(stamina_at(*body.guard, vitals.guard, vitals.now), body.guard->stamina + 1e-9);
    } else {
        ASSERT_FALSE(vitals.guard.up);
    }
    const ReactionSpec* reaction = reaction_of(body, vitals.reaction);
    ASSERT_EQ(reaction == nullptr, vitals.reaction == ReactionClass::none);
    for (std::size_t index = 0; index < vitals.condition_count; ++index) {
        const ConditionSpec& spec = arsenal.conditions[to_index(vitals.conditions[index].spec)];
        ASSERT_FALSE(is_instant(spec) || body.immune_set.contains(vitals.conditions[index].spec));
        ASSERT_LE(vitals.conditions[index].count, static_cast<std::uint32_t>(spec.max_count));
        ASSERT_GE(vitals.conditions[index].until, vitals.now);
    }
    ASSERT_GE(vitals.due, vitals.now);
}

TEST(RetunedVitals, KeepSharesWithinWhatTheNewValuesAllow) {
    RandomLife draw{21};
    int ended = 0;
    int reacting = 0;
    int guarding = 0;
    const int trials = rounds(4000, "AVREK_RETUNE_TRIALS");
    for (int trial = 0; trial < trials; ++trial) {
        const Arsenal was = draw.arsenal(1);
        Arsenal is = draw.one_in(2) ? was : draw.arsenal(1);
        is.bodies[0].health *= draw.one_in(2) ? 1.0 : draw.between(0.2, 3);
        const Vitals before = lived(draw, was, was.bodies[0]);
        ASSERT_NO_FATAL_FAILURE(expect_allowed(was, was.bodies[0], before)) << "before, trial " << trial;
        Vitals vitals = before;
        const auto rule = draw.one_in(2) ? RetunedHealth::share : RetunedHealth::points;
        std::vector<VitalsEvent> events;
        retune({was.conditions, was.bodies[0]}, {is.conditions, is.bodies[0]}, vitals, rule, events);
        ASSERT_NO_FATAL_FAILURE(expect_allowed(is, is.bodies[0], vitals)) << "trial " << trial;
        ASSERT_EQ(vitals.life, before.life);
        if (rule == RetunedHealth::share) {
            ASSERT_NEAR(vitals.fraction(), before.fraction(), 1e-12);
        } else {
            ASSERT_EQ(vitals.health, std::min(before.health, is.bodies[0].health));
        }
        for (const VitalsEvent& event : events) {
            ASSERT_EQ(time_of(event), before.now);
            ended += std::holds_alternative<ConditionEvent>(event) ? 1 : 0;
        }
        ASSERT_TRUE(events.empty() || std::holds_alternative<RetunedEvent>(events.back()));
        reacting += before.reaction != ReactionClass::none ? 1 : 0;
        guarding += before.guard.up ? 1 : 0;
        // It goes on, and cutting time changes nothing.
        Vitals cut = vitals;
        std::vector<VitalsEvent> whole;
        std::vector<VitalsEvent> pieces;
        const Time end = vitals.now + std::chrono::seconds{2};
        advance({is.conditions, is.bodies[0], vitals}, end, whole);
        for (Time at = cut.now; at < end; at = std::min(end, at + draw.time(0.3))) {
            advance({is.conditions, is.bodies[0], cut}, at, pieces);
        }
        advance({is.conditions, is.bodies[0], cut}, end, pieces);
        ASSERT_EQ(whole.size(), pieces.size()) << "trial " << trial;
        ASSERT_EQ(vitals.health, cut.health);
        ASSERT_TRUE(whole.empty() || time_of(whole.front()) >= before.now);
    }
    for (const int seen : {ended, reacting, guarding}) {
        EXPECT_GT(seen, trials / 100);
    }
}

TEST(RetunedVitals, TheSameValuesChangeNothing) {
    RandomLife draw{22};
    for (int trial = 0; trial < rounds(2000); ++trial) {
        const Arsenal arsenal = draw.arsenal(1);
        const LivingSpecs specs{arsenal.conditions, arsenal.bodies[0]};
        Vitals vitals = lived(draw, arsenal, specs.body);
        const Vitals before = vitals;
        std::vector<VitalsEvent> events;
        retune(specs, specs, vitals, RetunedHealth::share, events);
        ASSERT_TRUE(events.empty()) << "trial " << trial << ", " << words_of(events.front());
        ASSERT_EQ(vitals.health, before.health);
        ASSERT_EQ(vitals.due, before.due);
        ASSERT_EQ(vitals.state_until, before.state_until);
    }
}

TEST(RetunedVitals, ReactionsConditionsAndGuardsGoOnWhereTheyWere) {
    Arsenal arsenal;
    arsenal.conditions = {{.id = "rot", .lasts = from_seconds(4), .period = from_seconds(1), .amount = 1}};
    BodySpec body{.id = "crew"};
    body.defence = {{.name = "sap", .max = 40, .start = 40}};
    body.guard = GuardSpec{.stamina = 50, .refill = 10, .broken = from_seconds(2)};
    body.heavy_reaction = {.lasts = from_seconds(2), .shows = BodyState::down, .rise = from_seconds(1)};
    arsenal.bodies = {body};
    resolve_references(arsenal);
    Vitals vitals = full_vitals(body);
    std::vector<VitalsEvent> events;
    const LivingBody living{arsenal.conditions, arsenal.bodies[0], vitals};
    react(living, ReactionClass::heavy, {}, Time{}, events);
    add_condition(living, {ConditionId{0}}, Time{}, events);
    advance(living, Time{from_seconds(0.5)}, events);
    Arsenal slow = arsenal;
    slow.conditions[0].lasts = from_seconds(8);
    slow.conditions[0].period = from_seconds(2);
    slow.bodies[0].health = 150;
    slow.bodies[0].defence = {{.name = "bark", .max = 10, .start = 5}, {.name = "sap", .max = 20}};
    slow.bodies[0].heavy_reaction.lasts = from_seconds(1);
    events.clear();
    retune({arsenal.conditions, arsenal.bodies[0]}, {slow.conditions, slow.bodies[0]}, vitals,
           RetunedHealth::share, events);
    EXPECT_EQ(vitals.health, 150.0);
    EXPECT_EQ(vitals.state_until, Time{from_seconds(0.5 + 0.75)}) << "three quarters were left";
    EXPECT_EQ(vitals.conditions[0].until, Time{from_seconds(0.5 + 7)});
    EXPECT_EQ(vitals.conditions[0].next_tick, Time{from_seconds(0.5 + 1)});
    EXPECT_EQ(vitals.defence[0].points, 5.0);
    EXPECT_EQ(vitals.defence[1].points, 20.0);
    const RetunedEvent& event = std::get<RetunedEvent>(events.back());
    EXPECT_EQ(event.maximum, 150.0);
    EXPECT_EQ(event.lost, 20.0) << "half of the sap";
    // A reaction that lasts no time is over.
    Arsenal none = slow;
    none.bodies[0].heavy_reaction.lasts = {};
    none.bodies[0].guard.reset();
    retune({slow.conditions, slow.bodies[0]}, {none.conditions, none.bodies[0]}, vitals, RetunedHealth::share,
           events);
    EXPECT_EQ(vitals.state, BodyState::active);
    EXPECT_EQ(vitals.guard.stamina, 0.0);
}

} // namespace
} // namespace avrek
