#include "../rounds.h"
#include "random_body.h"
#include <avrek/vitals/conditions.h>
#include <avrek/vitals/guard.h>

#include <gtest/gtest.h>

#include <cstdlib>
#include <map>

namespace avrek {
namespace {

// A body in a random arsenal, and what is due to be true of it after everything that happens.
struct Checked {
    const Arsenal& arsenal;
    const BodySpec& body = arsenal.bodies.front();
    Vitals vitals = full_vitals(body);
    std::vector<VitalsEvent> events{};
    int deaths = 0;
    double credited = 0.0;
    Time last{};

    void check(const char* after) {
        double taken = 0.0;
        for (const VitalsEvent& event : events) {
            const Time at = time_of(event);
            ASSERT_GE(at, last) << words_of(event) << " after " << after;
            last = at;
            ASSERT_EQ(deaths, 0) << "the dead feel " << words_of(event);
            deaths += std::holds_alternative<DeathEvent>(event) ? 1 : 0;
            std::visit(EventHandlers{[&](const DamageEvent& hurt) {
                                         ASSERT_TRUE(multiplies_out(hurt.damage));
                                         taken += hurt.source != nobody ? points_of(hurt) : 0.0;
                                         ASSERT_GE(hurt.health_left, 0.0);
                                     },
                                     [](const HealEvent& heal) { ASSERT_TRUE(multiplies_out(heal.healing)); },
                                     [](const StoppedHitEvent& stopped) {
                                         ASSERT_TRUE(multiplies_out(stopped.damage));
                                     },
                                     [](const auto&) {}},
                       event);
        }
        credited += taken;
        events.clear();
        ASSERT_GE(vitals.health, 0.0);
        ASSERT_LE(vitals.health, vitals.maximum);
        ASSERT_EQ(vitals.life == LifeState::dead, vitals.health == 0.0);
        ASSERT_EQ(deaths, vitals.life == LifeState::dead ? 1 : 0);
        for (std::size_t layer = 0; layer < body.defence.size(); ++layer) {
            ASSERT_GE(defence_points(body, vitals, layer), 0.0) << layer << " after " << after;
            ASSERT_LE(defence_points(body, vitals, layer), body.defence[layer].max * (1 + 1e-12));
        }
        ASSERT_LE(vitals.condition_count, Vitals::max_conditions);
        double sum = 0.0;
        for (const Credit& credit : vitals.credits) {
            sum += credit.damage;
        }
        ASSERT_NEAR(sum, credited, 1e-6) << "no credit is lost";
        if (vitals.life == LifeState::dead) {
            ASSERT_EQ(forbidden_acts(arsenal.conditions, body, vitals), ActSet::all());
        }
    }
};

TEST(Life, KeepsItsLawsWhateverHappens) {
    RandomLife draw{11};
    int ended = 0;
    for (int life = 0; life < rounds(2'000, "AVREK_LIVES"); ++life) {
        const Arsenal arsenal = draw.arsenal(1);
        Checked checked{arsenal};
        const std::span<const ConditionSpec> conditions = arsenal.conditions;
        Time now{};
        for (int event = 0; event < 100; ++event) {
            now += draw.one_in(4) ? Duration::zero() : draw.time(0.5);
            const EffectSpec effect = draw.effect();
            switch (draw.below(6)) {
            case 0:
                add_condition(
                    {conditions, checked.body, checked.vitals},
                    {ConditionId{draw.below(RandomLife::conditions)}, draw.between(0.1, 2), BodyId{3}}, now,
                    checked.events);
                break;
            case 1:
                hold_guard({conditions, checked.body, checked.vitals}, !draw.one_in(3), now, checked.events);
                break;
            case 2:
                end_conditions({conditions, checked.body, checked.vitals},
                               static_cast<ConditionEnd>(draw.below(5)), now, checked.events);
                break;
            case 3:
                advance({conditions, checked.body, checked.vitals}, now, checked.events);
                break;
            default:
                take_hit({conditions, checked.body, checked.vitals}, draw.hit(effect, 8), now,
                         checked.events);
            }
            ASSERT_NO_FATAL_FAILURE(checked.check("something")) << "life " << life << ", event " << event;
        }
        ended += checked.deaths;
    }
    EXPECT_GT(ended, rounds(2'000, "AVREK_LIVES") / 4);
    EXPECT_LT(ended, rounds(2'000, "AVREK_LIVES"));
}

// A hit that is stopped whole changes the stamina and nothing else; a protected_hit one changes nothing.
TEST(Life, LeavesNoTraceOfAHitThatIsStopped) {
    RandomLife draw{12};
    int guarded = 0;
    int protected_hit = 0;
    for (int life = 0; life < 8'000; ++life) {
        const Arsenal arsenal = draw.arsenal(1);
        const BodySpec& body = arsenal.bodies.front();
        Vitals vitals = full_vitals(body);
        std::vector<VitalsEvent> events;
        hold_guard({arsenal.conditions, body, vitals}, true, Time{}, events);
        const Time at = Time{} + draw.time(1);
        advance({arsenal.conditions, body, vitals}, at, events);
        if (draw.one_in(3)) {
            protect(vitals, at + Duration{1'000'000});
        }
        Vitals before = vitals;
        const EffectSpec effect = draw.effect();
        const IncomingHit hit = draw.hit(effect, 8);
        events.clear();
        const HitResult result = take_hit({arsenal.conditions, body, vitals}, hit, at, events);
        if (result == HitResult::taken || result == HitResult::nothing) {
            continue;
        }
        ASSERT_EQ(events.size(), 1U);
        ASSERT_EQ(std::get<StoppedHitEvent>(events[0]).damage.amount() == 0.0,
                  result != HitResult::protected_hit || hit.damage.amount() * hit.dealt == 0.0);
        protected_hit += result == HitResult::protected_hit ? 1 : 0;
        if (result != HitResult::protected_hit) {
            ++guarded;
            ASSERT_LE(hit.off_front, 0.5 * body.guard->arc);
            ASSERT_EQ(result == HitResult::guarded_perfectly, at < before.guard.perfect_until);
            ASSERT_LE(vitals.guard.stamina, stamina_at(*body.guard, before.guard, at));
        }
        before.guard.stamina = vitals.guard.stamina;
        before.guard.stamina_at = vitals.guard.stamina_at;
        ASSERT_EQ(vitals.health, before.health);
        ASSERT_EQ(vitals.condition_count, before.condition_count);
        ASSERT_EQ(vitals.reaction, before.reaction);
        ASSERT_EQ(vitals.last_hurt, before.last_hurt);
        ASSERT_EQ(vitals.credits.count, before.credits.count);
        ASSERT_EQ(vitals.due, before.due);
    }
    EXPECT_GT(guarded, 200);
    EXPECT_GT(protected_hit, 200);
}

// Events that happen by themselves do not depend on how time is cut: the same at the same nanoseconds.
TEST(Life, IsTheSameAtAnyTickRate) {
    RandomLife draw{13};
    for (int life = 0; life < 400; ++life) {
        const Arsenal arsenal = draw.arsenal(1);
        const BodySpec& body = arsenal.bodies.front();
        struct Blow {
            Time at;
            EffectSpec effect;
            IncomingHit hit;
        };
        std::vector<Blow> blows(12);
        for (Blow& blow : blows) {
            blow = {Time{from_seconds(draw.between(0, 5))}, draw.effect(), {}};
            blow.hit = draw.hit(blow.effect, 4);
            blow.hit.effect = &blow.effect;
        }
        std::sort(blows.begin(), blows.end(), [](const Blow& a, const Blow& b) { return a.at < b.at; });
        for (Blow& blow : blows) {
            blow.hit.effect = &blow.effect;
        }
        std::vector<VitalsEvent> first;
        Vitals reference;
        for (const std::int32_t hertz : {20, 30, 60, 64, 128, 240}) {
            Vitals vitals = full_vitals(body);
            std::vector<VitalsEvent> events;
            std::size_t next = 0;
            for (Tick tick = 0; tick < 6 * hertz; ++tick) {
                const Span span = tick_span(tick, {hertz});
                for (; next < blows.size() && blows[next].at < span.end; ++next) {
                    take_hit({arsenal.conditions, body, vitals}, blows[next].hit, blows[next].at, events);
                }
                advance({arsenal.conditions, body, vitals}, span.end, events);
            }
            if (hertz == 20) {
                first = events;
                reference = vitals;
                continue;
            }
            ASSERT_EQ(events.size(), first.size()) << hertz << " Hz, life " << life;
            for (std::size_t index = 0; index < events.size(); ++index) {
                ASSERT_EQ(time_of(events[index]), time_of(first[index])) << words_of(first[index]);
                ASSERT_EQ(words_of(events[index]), words_of(first[index]));
                if (const auto* hurt = std::get_if<DamageEvent>(&events[index])) {
                    ASSERT_EQ(points_of(*hurt), points_of(std::get<DamageEvent>(first[index])));
                    ASSERT_EQ(hurt->health_left, std::get<DamageEvent>(first[index]).health_left);
                }
            }
            ASSERT_EQ(vitals.health, reference.health);
            for (std::size_t layer = 0; layer < body.defence.size(); ++layer) {
                ASSERT_EQ(defence_points(body, vitals, layer), defence_points(body, reference, layer));
            }
        }
    }
}

} // namespace
} // namespace avrek
