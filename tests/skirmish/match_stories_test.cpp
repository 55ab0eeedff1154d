#include "match_rig.h"

#include <gtest/gtest.h>

namespace avrek {
namespace {

// A small match: bodies of 100 health, two of each team; 0 and 2 against 1 and 3.
struct Duel {
    Arsenal arsenal{};
    MatchSpec rules{.id = "r"};
    Balls world{};
    std::optional<Match> match{};

    Duel() {
        arsenal.weapons = {plain_weapon()};
        assign_ammo(arsenal);
        arsenal.bodies = {{.id = "body"}, {.id = "crate", .health = 10}};
        arsenal.conditions = {
            {.id = "rot", .lasts = from_seconds(4), .period = from_seconds(1), .amount = 30},
            {.id = "bold", .damage_dealt = 2}};
        arsenal.damage_types = {{.id = "mend", .heals = true}};
    }

    Match& begin() {
        resolve_references(arsenal);
        match.emplace(arsenal, rules, world);
        const WeaponId weapon{0};
        for (std::uint32_t id = 0; id < 4; ++id) {
            const TeamId team{static_cast<std::uint8_t>(id % 2)};
            world.bodies.push_back(BodyId{id});
            world.teams[BodyId{id}] = team;
            world.fixed[BodyId{id}] = {10.0 * id, 0, 0};
            (void)match->join({.id = BodyId{id}, .team = team, .weapons = {&weapon, 1}});
        }
        return *match;
    }
    HitResult hit(std::uint32_t by, std::uint32_t target, double damage, double when) {
        IncomingHit hit{.source = BodyId{by}};
        hit.damage.multiply(DamageStepKind::base, damage);
        return match->hit(BodyId{target}, hit, at(when));
    }
    double health(std::uint32_t id) const { return match->find(BodyId{id})->vitals.health; }
    std::vector<double> times_of(std::string_view words, std::uint32_t who) const {
        std::vector<double> times;
        for (const Event& event : match->events()) {
            if (words_of(event) == words && who_of(event) == BodyId{who}) {
                times.push_back(to_seconds(time_of(event) - Time{}));
            }
        }
        return times;
    }
    const MatchOverEvent& end() const { return std::get<MatchOverEvent>(match->events().back()); }
};

TEST(Match, CreditsTheKillerAndWhoHelped) {
    Duel duel;
    duel.rules.assist = {20, from_seconds(5)};
    duel.rules.score = {.kill = 3, .assist = 1, .death = -1};
    Match& match = duel.begin();
    duel.hit(2, 1, 30, 0);
    duel.hit(0, 1, 10, 1);
    match.give_condition(BodyId{1}, {ConditionId{0}, 1, BodyId{0}}, at(1));
    match.advance(at(3.5));
    EXPECT_EQ(duel.times_of("killed", 1), std::vector<double>{3}) << "by the second tick";
    EXPECT_EQ(match.find(BodyId{0})->stats.kills, 1) << "a condition keeps its credit";
    EXPECT_EQ(match.find(BodyId{2})->stats.assists, 1);
    EXPECT_EQ(match.find(BodyId{2})->stats.score, 1);
    EXPECT_EQ(match.find(BodyId{1})->stats.score, -1);
    EXPECT_EQ(match.team_score(TeamId{0}), 4);
    EXPECT_DOUBLE_EQ(match.find(BodyId{0})->stats.damage_dealt, 70);
    // Help that is too long ago, or too little, is none.
    Duel late;
    late.rules.assist = {20, from_seconds(5)};
    late.begin();
    late.hit(2, 1, 30, 0);
    late.hit(0, 1, 200, 6);
    EXPECT_EQ(late.match->find(BodyId{2})->stats.assists, 0);
    // A death by nobody is credited to the last attacker, if that is not long ago.
    duel.hit(0, 3, 50, 4);
    IncomingHit fall;
    fall.damage.multiply(DamageStepKind::base, 200);
    match.hit(BodyId{3}, fall, at(5));
    EXPECT_EQ(match.find(BodyId{0})->stats.kills, 2);
}

// A body's first conditions are there from the start of each life, and a weapon may come with its reserve.
TEST(Match, GivesALifeWhatItsDataSay) {
    Duel duel;
    duel.arsenal.bodies[0].first_conditions = {{"bold"}};
    duel.arsenal.pickups = {{.id = "bare", .weapon = {"w"}},
                            {.id = "laden", .weapon = {"w"}, .with_reserve = true}};
    duel.rules.respawn.delay = from_seconds(1);
    Match& match = duel.begin();
    const auto is_bold = [&] {
        return find_condition(match.find(BodyId{1})->vitals, ConditionId{1}) != nullptr;
    };
    EXPECT_TRUE(is_bold());
    duel.hit(0, 1, 200, 1);
    EXPECT_FALSE(is_bold());
    match.advance(at(2.5));
    EXPECT_TRUE(is_bold());
    (void)match.join({.id = BodyId{7}, .team = TeamId{0}});
    (void)match.join({.id = BodyId{8}, .team = TeamId{1}});
    for (const std::uint32_t id : {7U, 8U}) {
        duel.world.bodies.push_back(BodyId{id});
        duel.world.teams[BodyId{id}] = TeamId{static_cast<std::uint8_t>(id % 2)};
        duel.world.fixed[BodyId{id}] = {100.0 * id, 0, 0};
        match.place_pickup(PickupId{static_cast<std::int32_t>(id) - 7}, duel.world.fixed[BodyId{id}]);
    }
    match.advance(at(3));
    const auto reserve = [&](std::uint32_t id) { return match.find(BodyId{id})->loadout.ammo[0].rounds; };
    EXPECT_EQ(match.find(BodyId{7})->loadout.slots[0].weapon, WeaponId{0});
    EXPECT_EQ(reserve(7), 0);
    EXPECT_EQ(reserve(8), 40);
}

TEST(Match, TreatsTheOwnSideAsTheRulesSay) {
    const struct {
        FriendlyFire policy;
        double victim;
        double shooter;
    } cases[] = {{FriendlyFire::off, 100, 100},
                 {FriendlyFire::reduced, 90, 100},
                 {FriendlyFire::full, 60, 100},
                 {FriendlyFire::reflected, 100, 90}};
    for (const auto& expected : cases) {
        Duel duel;
        duel.rules.friendly_fire = expected.policy;
        duel.rules.team_share = 0.25;
        duel.rules.self_share = 0.5;
        Match& match = duel.begin();
        duel.hit(0, 2, 40, 0);
        EXPECT_EQ(duel.health(2), expected.victim) << to_string(expected.policy);
        EXPECT_EQ(duel.health(0), expected.shooter) << to_string(expected.policy);
        duel.hit(1, 1, 40, 0);
        EXPECT_EQ(duel.health(1), 80) << "to oneself, whatever the rule for others";
        match.give_condition(BodyId{0}, {ConditionId{1}}, at(0));
        duel.hit(0, 3, 40, 0);
        EXPECT_EQ(duel.health(3), 20) << "bold";
        const EffectSpec mend{.type = {"mend", DamageTypeId{0}}, .heals = true};
        IncomingHit heal{.effect = &mend, .source = BodyId{2}};
        heal.damage.multiply(DamageStepKind::base, 5);
        match.hit(BodyId{0}, heal, at(0));
        EXPECT_EQ(duel.health(0), std::min(100.0, expected.shooter + 5)) << "healing is no harm";
    }
}

TEST(Match, BringsBackWhoHasALifeLeftAndEndsWithOneSide) {
    Duel duel;
    duel.rules.lives = {1, 0, 2};
    duel.rules.last_one_wins = true;
    duel.rules.respawn = {from_seconds(2), from_seconds(1), true};
    duel.rules.corpse_lifetime = from_seconds(1.2);
    Match& match = duel.begin();
    const Combatant& victim = *match.find(BodyId{1});
    match.change_lives(BodyId{1}, +5, at(0));
    EXPECT_EQ(victim.lives, 2) << "never more";
    duel.hit(0, 1, 500, 1);
    duel.hit(2, 1, 500, 1);
    EXPECT_EQ(victim.stats.deaths, 1) << "whatever arrives at the same time";
    EXPECT_EQ(match.stops_shots(BodyId{1}), duel.rules.corpses_stop_shots);
    match.advance(at(2.5));
    EXPECT_FALSE(match.stops_shots(BodyId{1})) << "gone";
    EXPECT_TRUE(match.stops_shots(BodyId{3}));
    ASSERT_EQ(match.dropped().size(), 1U);
    EXPECT_EQ(match.dropped()[0].position.x(), 10.0);
    match.advance(at(3.5));
    EXPECT_EQ(duel.times_of("respawned", 1), std::vector<double>{3});
    EXPECT_EQ(victim.loadout.slots[0].weapon, WeaponId{0}) << "with what it started with";
    EXPECT_EQ(duel.hit(0, 1, 500, 3.6), HitResult::protected_hit);
    match.report_action(BodyId{1}, Act::fire, 1, at(3.7));
    duel.hit(0, 1, 500, 3.8);
    EXPECT_TRUE(victim.out);
    EXPECT_FALSE(match.is_over()) << "one is left";
    match.change_lives(BodyId{1}, +1, at(3.9));
    EXPECT_FALSE(victim.out) << "a life came in time";
    duel.hit(0, 3, 500, 4);
    duel.hit(0, 1, 500, 7);
    ASSERT_TRUE(match.is_over());
    EXPECT_EQ(duel.end().winner, 0);
    EXPECT_EQ(match.now(), at(7));
}

TEST(Match, EndsByScoreOrTimeOnce) {
    Duel by_score;
    by_score.rules.score_to_win = 2;
    by_score.rules.corpses_stop_shots = false;
    by_score.rules.respawn.delay = from_seconds(1);
    by_score.begin();
    by_score.hit(1, 0, 500, 1);
    by_score.hit(1, 2, 500, 1);
    EXPECT_TRUE(by_score.match->is_over());
    EXPECT_FALSE(by_score.match->stops_shots(BodyId{0})) << "the dead do not";
    EXPECT_EQ(by_score.end().winner, 1);
    Duel alone;
    alone.rules.teams = false;
    alone.rules.score_to_win = 2;
    alone.begin();
    alone.hit(0, 1, 500, 1);
    alone.hit(2, 3, 500, 1);
    EXPECT_FALSE(alone.match->is_over()) << "one each, though of one team";
    alone.hit(2, 0, 500, 1);
    EXPECT_TRUE(alone.match->is_over());
    EXPECT_EQ(alone.end().winner, 2) << "the combatant";
    Duel by_time;
    by_time.rules.time_limit = from_seconds(3);
    Match& match = by_time.begin();
    by_time.hit(1, 0, 50, 2);
    match.notice(BodyId{0}, BodyId{1}, true, at(2));
    match.advance(at(3));
    EXPECT_FALSE(match.is_over()) << "what is due at the end belongs to the next";
    EXPECT_EQ(by_time.hit(1, 0, 500, 3.5), HitResult::nothing);
    ASSERT_TRUE(match.is_over());
    EXPECT_EQ(by_time.end().at, at(3));
    EXPECT_EQ(by_time.end().winner, -1) << "nobody leads";
    EXPECT_EQ(by_time.times_of("alert cleared", 0), std::vector<double>{3});
}

// 0 and 2, who win with three points, against 1 and 3, who share one respawn and warn each other.
TEST(Match, HasRulesForEachSide) {
    Duel duel;
    duel.rules.score_to_win = 9;
    duel.rules.respawn.delay = from_seconds(1);
    duel.rules.lives = {.start = 5, .max = 9};
    duel.rules.sides = {{.name = "few", .team = 1, .lives = 3, .respawns = 1, .alert_spreads = true},
                        {.name = "many", .team = 0, .score_to_win = 3}};
    Match& match = duel.begin();
    EXPECT_EQ(match.find(BodyId{0})->lives, 5);
    EXPECT_EQ(match.find(BodyId{1})->lives, 3);
    EXPECT_EQ(match.respawns_left(TeamId{0}), -1);
    EXPECT_EQ(match.respawns_left(TeamId{1}), 1);
    match.notice(BodyId{1}, BodyId{0}, true, at(0.5));
    match.notice(BodyId{2}, BodyId{1}, true, at(0.6));
    EXPECT_TRUE(match.is_alert(BodyId{1}) && match.is_alert(BodyId{3})) << "it spreads";
    EXPECT_TRUE(match.is_alert(BodyId{2}) && !match.is_alert(BodyId{0})) << "here it does not";
    duel.hit(0, 1, 1000, 1);
    EXPECT_EQ(duel.times_of("alert cleared", 3), std::vector<double>{1});
    EXPECT_EQ(match.respawns_left(TeamId{1}), 0);
    duel.hit(0, 3, 1000, 1.5);
    EXPECT_TRUE(match.find(BodyId{3})->out) << "none is left";
    EXPECT_FALSE(match.find(BodyId{1})->out);
    match.advance(at(3));
    EXPECT_EQ(duel.times_of("respawned", 1), std::vector<double>{2});
    EXPECT_TRUE(duel.times_of("respawned", 3).empty());
    match.change_lives(BodyId{3}, 1, at(4));
    EXPECT_TRUE(match.find(BodyId{3})->out) << "a life does not help where no respawn is left";
    EXPECT_FALSE(match.is_over());
    duel.hit(0, 1, 1000, 5);
    ASSERT_TRUE(match.is_over()) << "three points are its goal";
    EXPECT_EQ(duel.end().winner, 0);
}

TEST(Hazards, HarmAtTheirPeriodWhoeverTouchesThem) {
    Duel duel;
    duel.arsenal.hazards = {
        {.id = "mist", .damage = 10, .period = from_seconds(0.4), .lasts = from_seconds(3)},
        {.id = "leak", .damage = 10, .side = HazardSide::others}};
    Match& match = duel.begin();
    duel.world.fixed[BodyId{1}] = {5, 0, 0};
    match.lay_hazard({.spec = HazardId{0}, .source = BodyId{0}}, at(0)); // about body 0
    match.lay_hazard({.spec = HazardId{1}, .pose = {{20, 0, 0}}, .team = TeamId{0}}, at(0));
    match.advance(at(0.5));
    EXPECT_EQ(duel.health(0), 80);
    EXPECT_EQ(duel.health(2), 100) << "of the team that laid it";
    duel.world.fixed[BodyId{0}] = {5, 0, 0};
    match.advance(at(0.6));
    duel.world.fixed[BodyId{0}] = {0, 0, 0};
    match.advance(at(0.75));
    EXPECT_EQ(duel.times_of("hazard entered", 0).size(), 2U);
    EXPECT_EQ(duel.times_of("hazard left", 0), std::vector<double>{0.5});
    EXPECT_EQ(duel.health(0), 80) << "coming back does not beat the period";
    match.advance(at(0.85));
    EXPECT_EQ(duel.health(0), 70);
    match.advance(at(5));
    EXPECT_EQ(duel.health(0), 20) << "until 2.8 s";
    EXPECT_EQ(duel.times_of("hazard left", 0).back(), 3);
}

TEST(Hazards, EndWithTheCrateThatTheyComeFrom) {
    Duel duel;
    duel.arsenal.hazards = {{.id = "leak", .damage = 1}};
    Match& match = duel.begin();
    duel.world.bodies.push_back(BodyId{9});
    duel.world.teams[BodyId{9}] = TeamId{5};
    duel.world.fixed[BodyId{9}] = {10, 0, 0};
    ASSERT_TRUE(match.join({.id = BodyId{9}, .team = TeamId{5}, .body = BodySpecId{1}, .role = Role::prop}));
    match.lay_hazard({.spec = HazardId{0}, .pose = {{10, 0, 0}}, .carrier = BodyId{9}}, at(0));
    match.advance(at(1));
    EXPECT_LT(duel.health(1), 100);
    EXPECT_EQ(duel.health(9), 10);
    duel.hit(0, 9, 50, 1);
    EXPECT_FALSE(match.hazards()[0].spec);
    EXPECT_EQ(match.find(BodyId{0})->stats.kills, 0) << "a crate is no kill";
    EXPECT_FALSE(match.is_over());
}

TEST(Pickups, AreTakenByTouchOrRequestWhenTheyAreOfUse) {
    Duel duel;
    duel.rules.lives = {1, 0, 3};
    duel.arsenal.pickups = {{.id = "nectar", .respawn_delay = from_seconds(2), .health = 30},
                            {.id = "life", .on_request = true, .lives = 5},
                            {.id = "rounds", .ammo = {"w"}, .rounds = 7}};
    Match& match = duel.begin();
    const Combatant& who = *match.find(BodyId{0});
    match.place_pickup(PickupId{0}, {0, 0, 0});
    match.place_pickup(PickupId{1}, {0, 0, 0});
    match.place_pickup(PickupId{2}, {10, 0, 0});
    match.advance(at(0.5));
    EXPECT_TRUE(match.pickups()[0].there) << "nothing to heal";
    EXPECT_EQ(match.find(BodyId{1})->loadout.ammo[0].rounds, 47);
    duel.hit(1, 0, 50, 0.5);
    match.advance(at(1));
    EXPECT_EQ(duel.health(0), 80);
    EXPECT_FALSE(match.pickups()[0].there);
    duel.hit(1, 0, 10, 1.5);
    match.advance(at(2.6));
    EXPECT_EQ(duel.health(0), 100) << "back after two seconds";
    EXPECT_EQ(who.lives, 1);
    EXPECT_FALSE(match.request_pickup(BodyId{3}, at(2.7))) << "out of reach";
    EXPECT_TRUE(match.request_pickup(BodyId{0}, at(2.7)));
    EXPECT_EQ(who.lives, 3);
    EXPECT_FALSE(match.request_pickup(BodyId{0}, at(2.8))) << "it is gone";
}

TEST(Acting, IsForbiddenAndAllowedAgainOnTime) {
    Duel duel;
    duel.arsenal.conditions = {{.id = "stiff", .lasts = from_seconds(0.55), .forbids = {Act::fire}},
                               {.id = "shaky", .lasts = from_seconds(0.6), .speed = 0.5, .spread = 3}};
    duel.arsenal.weapons[0].spread.hip = 0.02;
    Match& match = duel.begin();
    match.give_condition(BodyId{0}, {ConditionId{1}}, at(0));
    EXPECT_EQ(match.factors(BodyId{0}).speed, 0.5);
    match.give_condition(BodyId{0}, {ConditionId{0}}, at(0));
    EXPECT_FALSE(match.can_act(BodyId{0}, Act::fire));
    EXPECT_TRUE(match.can_act(BodyId{0}, Act::reload));
    const LoadoutIntent pull{.weapon = {.trigger = true}};
    std::vector<WeaponEvent> felt;
    match.act(BodyId{0}, at(1), {&pull, 1}, felt);
    ASSERT_GE(felt.size(), 6U);
    EXPECT_EQ(felt[0].refusal, WeaponRefusal::forbidden);
    EXPECT_EQ(felt[1].kind, WeaponEventKind::shot);
    EXPECT_EQ(felt[1].at, at(0.55)) << "not at the end of the tick";
    EXPECT_DOUBLE_EQ(felt[1].spread, 0.06);
    EXPECT_DOUBLE_EQ(felt[2].spread, 0.02) << "nothing widens the cone any more";
    duel.hit(1, 0, 500, 1);
    felt.clear();
    match.act(BodyId{0}, at(2), {}, felt);
    EXPECT_TRUE(felt.empty());
}

} // namespace
} // namespace avrek
