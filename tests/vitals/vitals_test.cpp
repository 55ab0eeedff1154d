#include <avrek/vitals/vitals.h>

#include <gtest/gtest.h>

#include <random>

namespace avrek {
namespace {

WeaponSpec rifle() {
    WeaponSpec spec;
    spec.damage = 22.0;
    spec.falloff = {{{0, 1.0}, {25, 1.0}, {60, 0.6}}};
    spec.region_multipliers = {{"head", 2.0}, {"legs", 0.75}};
    return spec;
}

TEST(Damage, IsBaseByFalloffByRegion) {
    const Damage charged = hit_damage(rifle(), 42.5, "head", 0.5);
    const Damage damage = hit_damage(rifle(), 42.5, "head");
    EXPECT_EQ(charged.step_count, damage.step_count + 1);
    EXPECT_EQ(charged.steps[1].kind, DamageStepKind::charge);
    EXPECT_DOUBLE_EQ(charged.amount(), 0.5 * damage.amount());
    ASSERT_EQ(damage.step_count, 3U);
    EXPECT_EQ(damage.steps[0].kind, DamageStepKind::base);
    EXPECT_EQ(damage.steps[1].kind, DamageStepKind::falloff);
    EXPECT_EQ(damage.steps[2].kind, DamageStepKind::region);
    EXPECT_DOUBLE_EQ(damage.amount(), 22.0 * 0.8 * 2.0);
    EXPECT_DOUBLE_EQ(hit_damage(rifle(), 10, "arms").amount(),
                     22.0); // a region that is not named counts once
    EXPECT_EQ(Damage{}.amount(), 0.0);
}

// Random blows at random bodies: all that the damage law promises, for every one.
TEST(Vitals, StayInRangeDieOnceAndExplainEveryPoint) {
    std::mt19937_64 random{4};
    std::uniform_real_distribution<double> amounts{0.0, 60.0};
    std::uniform_real_distribution<double> distances{0.0, 90.0};
    WeaponSpec weapon = rifle();
    for (int life = 0; life < 20000; ++life) {
        BodySpec body;
        body.health = 1.0 + amounts(random) * 5.0;
        Vitals vitals = full_vitals(body);
        std::vector<VitalsEvent> events;
        double sum = 0.0;
        int deaths = 0;
        for (int blow = 0; blow < 30; ++blow) {
            weapon.damage = amounts(random);
            const double before = vitals.health;
            events.clear();
            apply_damage(vitals, hit_damage(weapon, distances(random), "head"), Time{Duration{blow}}, events);
            ASSERT_GE(vitals.health, 0.0);
            ASSERT_LE(vitals.health, before);
            ASSERT_EQ(deaths > 0 && !events.empty(), false) << "the dead take nothing";
            deaths += static_cast<int>(count_of<DeathEvent>(events));
            for (const DamageEvent& hurt : events_of<DamageEvent>(events)) {
                ASSERT_EQ(hurt.at, Time{Duration{blow}});
                double product = 1.0;
                for (std::size_t step = 0; step < hurt.damage.step_count; ++step) {
                    product *= hurt.damage.steps[step].factor;
                    ASSERT_EQ(product, hurt.damage.amount_after(step));
                }
                sum += hurt.damage.amount();
            }
        }
        ASSERT_EQ(deaths, vitals.life == LifeState::dead ? 1 : 0);
        ASSERT_NEAR(sum, body.health - vitals.health, 1e-9);
        ASSERT_EQ(vitals.life == LifeState::dead, vitals.health == 0.0);
    }
}

TEST(Vitals, LeaveNoBodyAliveOnARoundingError) {
    BodySpec body;
    Vitals vitals = full_vitals(body);
    WeaponSpec weapon;
    weapon.damage = 19.999999999999996;
    std::vector<VitalsEvent> events;
    for (int hit = 0; hit < 5; ++hit) {
        apply_damage(vitals, hit_damage(weapon, 0, "torso"), Time{}, events);
    }
    EXPECT_EQ(vitals.life, LifeState::dead);
    EXPECT_EQ(vitals.health, 0.0);
    EXPECT_TRUE(std::holds_alternative<DeathEvent>(events.back()));
}

TEST(Vitals, FractionIsTotal) {
    Vitals vitals;
    EXPECT_EQ(vitals.fraction(), 0.0);
    vitals.health = 25.0;
    vitals.maximum = 100.0;
    EXPECT_EQ(vitals.fraction(), 0.25);
}

TEST(Vitals, ReportsOverkill) {
    BodySpec body;
    body.health = 10.0;
    Vitals vitals = full_vitals(body);
    WeaponSpec weapon;
    weapon.damage = 16.0;
    std::vector<VitalsEvent> events;
    apply_damage(vitals, hit_damage(weapon, 0, "torso"), Time{}, events);
    ASSERT_EQ(events.size(), 2U);
    EXPECT_DOUBLE_EQ(first_of<DamageEvent>(events)->damage.amount(), 10.0);
    EXPECT_DOUBLE_EQ(first_of<DamageEvent>(events)->overkill, 6.0);
}

} // namespace
} // namespace avrek
