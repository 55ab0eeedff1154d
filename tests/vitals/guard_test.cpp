// A guard that breaks is mended, whatever else happens at that very moment.
#include <avrek/vitals/conditions.h>
#include <avrek/vitals/guard.h>
#include <avrek/vitals/hits.h>

#include <gtest/gtest.h>

#include <algorithm>

namespace avrek {
namespace {

// How often a guard is mended that is held against shots of so many pellets.
std::ptrdiff_t mends(Duration broken, Duration every, int pellets, int shots) {
    GuardSpec guard;
    guard.arc = 2 * pi;
    guard.stamina = 10;
    guard.broken = broken;
    const BodySpec body{.health = 1e9, .guard = guard};
    Vitals vitals = full_vitals(body);
    std::vector<VitalsEvent> events;
    hold_guard({{}, body, vitals}, true, Time{}, events);
    IncomingHit hit;
    hit.damage.multiply(DamageStepKind::base, 25);
    hit.direction = {0, 0, -1};
    hit.off_front = 0.0;
    for (int shot = 0; shot < shots; ++shot) {
        for (int pellet = 0; pellet < pellets; ++pellet) {
            take_hit({{}, body, vitals}, hit, Time{shot * every}, events);
        }
    }
    advance({{}, body, vitals}, Time{shots * every + broken}, events);
    EXPECT_TRUE(vitals.guard.up) << "it is held all the time";
    return std::count_if(events.begin(), events.end(),
                         [](const VitalsEvent& event) { return words_of(event) == "guard mended"; });
}

TEST(Guard, IsMendedAtTheVeryMomentOfAShotToo) {
    const Duration half = from_seconds(0.5);
    for (const int pellets : {1, 2, 9}) {
        // Shots at the moment of the mend meet it broken still; each breaks it again with the next one.
        EXPECT_GE(mends(half, half, pellets, 40), 19) << pellets;
        EXPECT_EQ(mends(half, half + Duration{1}, pellets, 40), 40) << pellets;
        EXPECT_EQ(mends(Duration{}, half, pellets, 40), 40) << pellets << ", and at time 0";
    }
}

// A factor of 0 is a step like any other.
TEST(Damage, OfNothingIsExplainedToo) {
    BodySpec body;
    for (const bool attackers : {true, false}) {
        Vitals vitals = full_vitals(body);
        std::vector<ConditionSpec> conditions{{.id = "calm", .damage_taken = 0.0}};
        std::vector<VitalsEvent> events;
        IncomingHit hit;
        hit.damage.multiply(DamageStepKind::base, 34);
        hit.dealt = attackers ? 0.0 : 1.0;
        if (!attackers) {
            EXPECT_TRUE(add_condition({conditions, body, vitals}, {.spec = ConditionId{0}}, Time{}, events));
        }
        take_hit({conditions, body, vitals}, hit, Time{}, events);
        const auto& stopped = std::get<StoppedHitEvent>(events.back());
        EXPECT_EQ(stopped.by, HitStop::resistance);
        EXPECT_EQ(stopped.damage.amount(), 0.0);
        EXPECT_EQ(stopped.damage.steps[1].kind,
                  attackers ? DamageStepKind::attacker : DamageStepKind::target);
        EXPECT_EQ(vitals.health, vitals.maximum);
    }
}

} // namespace
} // namespace avrek
