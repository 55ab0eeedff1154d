// Gun and Body do what the functions below them do, for any weapon and any input.
#include "../weapon/weapon_rig.h"
#include <avrek/vitals/body.h>
#include <avrek/vitals/gun.h>
#include <avrek/weapon/spread.h>

#include <gtest/gtest.h>

namespace avrek {
namespace {

TEST(Gun, IsAFaceOverStateAndAdvance) {
    Chance chance{std::mt19937_64{31}};
    std::size_t shots = 0;
    for (int trial = 0; trial < 60; ++trial) {
        WeaponSpec spec = chance.weapon();
        spec.damage = 10;
        const BodyId shooter{static_cast<std::uint32_t>(trial)};
        Gun gun{spec, {.seed = 5, .shooter = shooter}};
        WeaponState state = full_weapon(spec);
        AmmoReserve reserve = full_reserve(spec);
        const Time end{std::chrono::seconds{6}};
        const std::vector<WeaponIntent> intents = chance.intents(end, 150'000'000);
        auto next = intents.begin();
        std::vector<WeaponEvent> events;
        for (Tick tick = 0; tick_span(tick, {30}).end <= end; ++tick) {
            const Time until = tick_span(tick, {30}).end;
            const auto first = next;
            next =
                std::find_if(first, intents.end(), [&](const WeaponIntent& one) { return one.at >= until; });
            const std::span<const WeaponIntent> said{first, next};
            events.clear();
            advance(spec, state, reserve, until, said, events);
            const std::span<const Shot> left = gun.advance(until, said);
            ASSERT_TRUE(std::equal(events.begin(), events.end(), gun.events().begin(), gun.events().end()));
            ASSERT_EQ(gun.state(), state);
            ASSERT_EQ(gun.reserve(), reserve);
            for (const Shot& shot : left) {
                ++shots;
                const Look view{0.3, -0.1};
                const Vector3 middle =
                    direction_of({view.yaw + shot.event.view.yaw, view.pitch + shot.event.view.pitch});
                std::int32_t pellet = 0;
                for (const Vector3& direction : shot.directions(view)) {
                    const RandomKey key{
                        .seed = 5, .combatant = static_cast<std::uint32_t>(shooter), .shot = shot.event.shot};
                    ASSERT_EQ(direction,
                              pellet_direction(spec.spread, middle, shot.event.spread, key, pellet));
                    ++pellet;
                }
                ASSERT_EQ(pellet, spec.pellets);
                ASSERT_EQ(shot.damage(12, "head").amount(),
                          hit_damage(spec, 12, "head", shot.event.power).amount());
            }
        }
    }
    EXPECT_GT(shots, 200U);
}

TEST(Body, TakesHitsAndLetsTimePassAsItsVitalsDo) {
    BodySpec spec{.id = "crew", .health = 90};
    spec.defence = {{.name = "sap", .max = 30, .start = 30, .delay = from_seconds(0.2), .refill = 50}};
    Body body{spec};
    Vitals vitals = full_vitals(spec);
    std::vector<VitalsEvent> events;
    Damage damage;
    damage.multiply(DamageStepKind::base, 17);
    for (int hit = 0; body.is_alive(); ++hit) {
        const Time at{std::chrono::milliseconds{150 * hit}};
        events.clear();
        EXPECT_EQ(body.take(damage, at), take_hit({{}, spec, vitals}, {.damage = damage}, at, events));
        ASSERT_EQ(body.events().size(), events.size());
        EXPECT_EQ(body.health(), vitals.health);
        EXPECT_EQ(body.take(damage, Time{}), take_hit({{}, spec, vitals}, {.damage = damage}, at, events))
            << "what comes late counts now";
        body.advance(at + std::chrono::milliseconds{100});
        advance({{}, spec, vitals}, at + std::chrono::milliseconds{100}, events);
        EXPECT_EQ(body.vitals().now, vitals.now);
    }
    EXPECT_EQ(vitals.life, LifeState::dead);
    EXPECT_EQ(body.take(damage, Time{}), HitResult::nothing);
}

} // namespace
} // namespace avrek
