#include "../vitals/random_body.h"
#include <avrek/scene/nearest.h>
#include <avrek/skirmish/match.h>

#include <gtest/gtest.h>

#include <cmath>
#include <cstdlib>
#include <map>

namespace avrek {
namespace {

Time at(double seconds) {
    return Time{from_seconds(seconds)};
}

// Balls that go to and fro on lines, exactly, so that what touches what does not depend on ticks.
struct Balls final : World {
    std::vector<BodyId> bodies{};
    std::map<BodyId, TeamId> teams{};
    std::map<BodyId, Vector3> fixed{};

    Vector3 position(BodyId id, Time when) const {
        if (const auto found = fixed.find(id); found != fixed.end()) {
            return found->second;
        }
        const auto number = static_cast<double>(id);
        return {4 * std::sin(0.3 * number + to_seconds(when - Time{})), 0, std::fmod(number, 3)};
    }
    std::optional<Hit> closest_hit(const Cast&, const Filter&) const override { return std::nullopt; }
    std::size_t every_hit(const Cast&, const Filter&, std::span<Hit>) const override { return 0; }
    std::optional<Pose> body_pose(BodyId id, Time when) const override { return Pose{position(id, when)}; }
    std::size_t overlaps(const Volume& volume, Time when, const Filter& filter,
                         std::span<Hit> found) const override {
        std::size_t count = 0;
        for (const BodyId id : bodies) {
            if (count < found.size() && filter.hits.contains(Layer::bodies) &&
                filter.teams.contains(teams.at(id)) && (!filter.only || *filter.only == id) &&
                overlap(volume, Shape{Sphere{position(id, when), 0.5}})) {
                found[count] = {};
                found[count].body = id;
                ++count;
            }
        }
        return count;
    }
};

WeaponSpec plain_weapon() {
    WeaponSpec weapon{.id = "w", .rounds_per_minute = 600, .magazine = 20, .reserve = 40};
    weapon.reload.time = from_seconds(1);
    return weapon;
}

MatchSpec random_rules(RandomLife& draw) {
    MatchSpec rules{.id = "r"};
    rules.teams = !draw.one_in(3);
    rules.score_to_win = draw.one_in(2) ? 0 : 3 + draw.below(20);
    rules.lives = {draw.one_in(3) ? -1 : 1 + draw.below(4), 0, 5};
    rules.last_one_wins = rules.lives.start >= 0 && draw.one_in(2);
    rules.time_limit = draw.one_in(2) ? Duration::max() : from_seconds(draw.between(2, 40));
    rules.own_side = static_cast<OwnSide>(draw.below(4));
    rules.own_share = draw.between(0, 1);
    rules.self_share = draw.between(0, 1);
    rules.respawn = {draw.time(2), draw.one_in(2) ? Duration::zero() : draw.time(2), draw.one_in(2)};
    rules.assist = {draw.between(1, 40), draw.time(10)};
    rules.score = {1, draw.below(2), -draw.below(2), -1};
    rules.drops_weapon = draw.one_in(2);
    rules.body_stays = draw.time(3);
    return rules;
}

struct RandomMatch {
    static constexpr std::uint32_t count = 10;

    RandomLife& draw;
    Arsenal arsenal;
    MatchSpec rules;
    Balls world{};
    Match match;
    std::vector<MatchEvent> events{};
    // What was seen to be true of each, by events alone.
    std::array<bool, count + 2> dead{};
    std::array<bool, count + 2> alert{};
    std::array<int, count + 2> deaths{};
    int overs = 0;
    Time last{};

    static Arsenal make(RandomLife& draw) {
        Arsenal arsenal = draw.arsenal(4);
        arsenal.weapons = {plain_weapon()};
        assign_ammo(arsenal);
        HazardSpec hazard{.id = "h", .volume = Cylinder{{0, -1, 0}, {0, 1, 0}, 1.5}, .damage = 5};
        hazard.effect = draw.effect();
        hazard.period = draw.time(1);
        hazard.lasts = draw.one_in(2) ? Duration::max() : draw.time(10);
        hazard.side = static_cast<HazardSide>(draw.below(3));
        arsenal.hazards = {hazard};
        PickupSpec pickup{.id = "p", .returns = draw.time(4), .health = 10, .ammo = {"w"}, .rounds = 5};
        pickup.condition.id = draw.one_in(2) ? "c3" : "";
        pickup.lives = draw.below(2);
        pickup.on_request = draw.one_in(3);
        arsenal.pickups = {pickup};
        link(arsenal);
        return arsenal;
    }

    explicit RandomMatch(RandomLife& its_draw)
        : draw(its_draw), arsenal(make(draw)), rules(random_rules(draw)),
          match(arsenal, rules, {.combatants = count + 1}) {
        const std::int32_t weapon = 0;
        for (std::uint32_t id = 0; id < count; ++id) {
            const TeamId team{static_cast<std::uint8_t>(id % 2)};
            world.bodies.push_back(BodyId{id});
            world.teams[BodyId{id}] = team;
            EXPECT_TRUE(match.join(
                {BodyId{id}, team, draw.below(4), id == 9 ? Role::prop : Role::combatant, {&weapon, 1}}));
        }
    }

    BodyId anybody() { return BodyId{static_cast<std::uint32_t>(draw.below(count + 1))}; }

    void check() {
        for (const MatchEvent& event : events) {
            ASSERT_EQ(overs, 0) << to_string(event.kind) << " after the end";
            ASSERT_GE(event.at, last) << to_string(event.kind) << ' ' << to_string(event.vitals.kind);
            last = event.at;
            const auto who = static_cast<std::size_t>(event.who);
            switch (event.kind) {
            case MatchEventKind::vitals:
                ASSERT_TRUE(multiplies_out(event.vitals.damage));
                ASSERT_FALSE(dead[who] && event.vitals.kind != VitalsEventKind::vanished)
                    << to_string(event.vitals.kind) << " of the dead";
                break;
            case MatchEventKind::killed:
                ASSERT_FALSE(dead[who]) << "one death for each life";
                dead[who] = true;
                ++deaths[who];
                break;
            case MatchEventKind::respawned:
                ASSERT_TRUE(dead[who]);
                dead[who] = false;
                break;
            case MatchEventKind::alert_raised:
            case MatchEventKind::alert_cleared:
                ASSERT_NE(alert[who], event.kind == MatchEventKind::alert_raised);
                alert[who] = !alert[who];
                break;
            case MatchEventKind::match_over:
                ++overs;
                break;
            default:
                break;
            }
        }
        events.clear();
        std::int32_t score = 0;
        for (const Combatant& who : match.combatants()) {
            const auto place = static_cast<std::size_t>(who.id);
            ASSERT_EQ(who.vitals.life == LifeState::dead, dead[place]);
            ASSERT_EQ(match.is_alert(who.id), alert[place]);
            ASSERT_EQ(who.tally.deaths, who.role == Role::prop ? 0 : deaths[place]);
            if (who.lives >= 0) {
                ASSERT_GE(who.lives, rules.lives.least);
                ASSERT_LE(who.lives, rules.lives.most);
                ASSERT_EQ(who.out, dead[place] && who.lives == 0);
            }
            ASSERT_LE(who.tally.shots_hit, 1000U);
            ASSERT_GE(who.vitals.health, 0.0);
            ASSERT_LE(who.vitals.health, who.vitals.maximum);
            for (const Act act : {Act::fire, Act::reload, Act::move, Act::guard, Act::strike}) {
                ASSERT_FALSE(match.may(who.id, act) && (dead[place] || match.is_over()));
            }
            score += who.tally.score;
        }
        ASSERT_EQ(score, match.team_score(TeamId{0}) + match.team_score(TeamId{1}));
        ASSERT_EQ(match.is_over(), overs == 1);
    }

    void act(Time now) {
        const BodyId id = anybody();
        const Combatant* who = match.find(id);
        if (who == nullptr || who->loadout.now >= now) {
            return;
        }
        const bool was_dead = who->vitals.life == LifeState::dead;
        const LoadoutIntent pull{
            .weapon = {.at = who->loadout.now, .trigger = true, .reload = draw.one_in(4)}};
        std::vector<WeaponEvent> shots;
        match.act(id, now, {&pull, 1}, shots);
        ASSERT_TRUE(shots.empty() || (!was_dead && !match.is_over())) << "the dead do nothing";
    }

    void step(Time now) {
        switch (draw.below(10)) {
        case 0:
            match.give_condition(world, anybody(),
                                 {draw.below(RandomLife::conditions), draw.between(0.1, 3), anybody()}, now,
                                 events);
            break;
        case 1:
            match.hold_guard(world, anybody(), !draw.one_in(3), now, events);
            break;
        case 2:
            match.acted(world, anybody(), draw.one_in(2) ? Act::fire : Act::strike, 1, now, events);
            break;
        case 3:
            match.notice(world, anybody(), anybody(), !draw.one_in(3), now, events);
            break;
        case 4:
            match.change_lives(world, anybody(), draw.below(5) - 2, now, events);
            break;
        case 5:
            if (draw.one_in(2)) {
                match.lay_hazard(world,
                                 {0,
                                  {{draw.between(-3, 3), 0, 1}},
                                  TeamId{0},
                                  anybody(),
                                  draw.one_in(3) ? anybody() : nobody},
                                 now, events);
            } else {
                match.place_pickup(0, {draw.between(-3, 3), 0, 1});
                match.request_pickup(world, anybody(), now, events);
                match.take_dropped(world, anybody(), 3, now, events);
            }
            break;
        case 6:
            match.advance(world, now, events);
            ASSERT_NO_FATAL_FAILURE(act(match.now()));
            break;
        default: {
            const EffectSpec effect = draw.effect();
            match.hit(world, anybody(), draw.hit(effect, count), now, events);
        }
        }
    }
};

TEST(Match, KeepsItsLawsWhateverHappens) {
    RandomLife draw{21};
    const char* more = std::getenv("AVREK_LIVES");
    const int matches = more != nullptr ? std::atoi(more) / 20 : 24;
    int over = 0;
    for (int trial = 0; trial < matches; ++trial) {
        RandomMatch random{draw};
        Time now{};
        for (int step = 0; step < 2'000; ++step) {
            now += draw.one_in(4) ? Duration::zero() : draw.time(0.04);
            const bool was_over = random.match.is_over();
            const std::uint64_t before = was_over ? random.match.state_hash() : 0;
            ASSERT_NO_FATAL_FAILURE(random.step(now)) << "trial " << trial;
            if (was_over) {
                ASSERT_EQ(random.match.state_hash(), before) << "after the end nothing changes";
            }
            ASSERT_NO_FATAL_FAILURE(random.check()) << "trial " << trial << ", step " << step;
        }
        over += random.overs;
    }
    EXPECT_GT(over, matches / 4);
    EXPECT_LT(over, matches);
}

TEST(Match, IsTheSameAtAnyTickRate) {
    RandomLife draw{22};
    for (int trial = 0; trial < 30; ++trial) {
        const RandomLife before = draw;
        std::vector<MatchEvent> first;
        std::uint64_t hash = 0;
        for (const std::int32_t hertz : {20, 37, 64, 240}) {
            draw = before;
            RandomMatch random{draw};
            std::vector<MatchEvent>& events = random.events;
            random.match.lay_hazard(random.world, {0, {{1, 0, 1}}, TeamId{1}}, Time{}, events);
            random.match.place_pickup(0, {-2, 0, 1});
            Time next = at(0.3);
            for (Tick tick = 0; tick < 12 * hertz; ++tick) {
                for (; next < tick_span(tick, {hertz}).end; next += draw.time(0.1)) {
                    const EffectSpec effect = draw.effect();
                    const BodyId target = random.anybody();
                    random.match.hit(random.world, target, draw.hit(effect, RandomMatch::count), next,
                                     events);
                }
                random.match.advance(random.world, tick_span(tick, {hertz}).end, events);
            }
            if (first.empty()) {
                first = events;
                hash = random.match.state_hash();
                continue;
            }
            ASSERT_EQ(events.size(), first.size()) << hertz << " Hz, trial " << trial;
            for (std::size_t index = 0; index < events.size(); ++index) {
                ASSERT_EQ(events[index].at, first[index].at) << index;
                ASSERT_EQ(events[index].kind, first[index].kind) << index;
                ASSERT_EQ(events[index].who, first[index].who) << index;
            }
            ASSERT_EQ(random.match.state_hash(), hash);
        }
        ASSERT_GT(first.size(), 50U);
    }
}

// A small match: bodies of 100 health, two of each team; 0 and 2 against 1 and 3.
struct Duel {
    Arsenal arsenal{};
    MatchSpec rules{.id = "r"};
    Balls world{};
    std::optional<Match> match{};
    std::vector<MatchEvent> events{};

    Duel() {
        arsenal.weapons = {plain_weapon()};
        assign_ammo(arsenal);
        arsenal.bodies = {{.id = "body"}, {.id = "crate", .health = 10}};
        arsenal.conditions = {
            {.id = "rot", .lasts = from_seconds(4), .period = from_seconds(1), .amount = 30},
            {.id = "bold", .damage_dealt = 2}};
        arsenal.damage_kinds = {{.id = "mend", .heals = true}};
    }

    Match& begin() {
        link(arsenal);
        match.emplace(arsenal, rules);
        const std::int32_t weapon = 0;
        for (std::uint32_t id = 0; id < 4; ++id) {
            const TeamId team{static_cast<std::uint8_t>(id % 2)};
            world.bodies.push_back(BodyId{id});
            world.teams[BodyId{id}] = team;
            world.fixed[BodyId{id}] = {10.0 * id, 0, 0};
            match->join({.id = BodyId{id}, .team = team, .weapons = {&weapon, 1}});
        }
        return *match;
    }
    HitResult hit(std::uint32_t by, std::uint32_t target, double damage, double when) {
        IncomingHit hit{.source = BodyId{by}};
        hit.damage.multiply(DamageStepKind::base, damage);
        return match->hit(world, BodyId{target}, hit, at(when), events);
    }
    double health(std::uint32_t id) const { return match->find(BodyId{id})->vitals.health; }
    std::vector<double> times_of(MatchEventKind kind, std::uint32_t who) const {
        std::vector<double> times;
        for (const MatchEvent& event : events) {
            if (event.kind == kind && event.who == BodyId{who}) {
                times.push_back(to_seconds(event.at - Time{}));
            }
        }
        return times;
    }
};

TEST(Match, CreditsTheKillerAndWhoHelped) {
    Duel duel;
    duel.rules.assist = {20, from_seconds(5)};
    duel.rules.score = {.kill = 3, .assist = 1, .death = -1};
    Match& match = duel.begin();
    duel.hit(2, 1, 30, 0);
    duel.hit(0, 1, 10, 1);
    match.give_condition(duel.world, BodyId{1}, {0, 1, BodyId{0}}, at(1), duel.events);
    match.advance(duel.world, at(3.5), duel.events);
    EXPECT_EQ(duel.times_of(MatchEventKind::killed, 1), std::vector<double>{3}) << "by the second tick";
    EXPECT_EQ(match.find(BodyId{0})->tally.kills, 1) << "a condition keeps its credit";
    EXPECT_EQ(match.find(BodyId{2})->tally.assists, 1);
    EXPECT_EQ(match.find(BodyId{2})->tally.score, 1);
    EXPECT_EQ(match.find(BodyId{1})->tally.score, -1);
    EXPECT_EQ(match.team_score(TeamId{0}), 4);
    EXPECT_DOUBLE_EQ(match.find(BodyId{0})->tally.damage_dealt, 70);
    // Help that is too long ago, or too little, is none.
    Duel late;
    late.rules.assist = {20, from_seconds(5)};
    late.begin();
    late.hit(2, 1, 30, 0);
    late.hit(0, 1, 200, 6);
    EXPECT_EQ(late.match->find(BodyId{2})->tally.assists, 0);
    // What nobody did is credited to who hurt last, if that is not long ago.
    duel.hit(0, 3, 50, 4);
    IncomingHit fall;
    fall.damage.multiply(DamageStepKind::base, 200);
    match.hit(duel.world, BodyId{3}, fall, at(5), duel.events);
    EXPECT_EQ(match.find(BodyId{0})->tally.kills, 2);
}

TEST(Match, TreatsTheOwnSideAsTheRulesSay) {
    const struct {
        OwnSide policy;
        double victim;
        double shooter;
    } cases[] = {{OwnSide::off, 100, 100},
                 {OwnSide::reduced, 90, 100},
                 {OwnSide::full, 60, 100},
                 {OwnSide::reflected, 100, 90}};
    for (const auto& expected : cases) {
        Duel duel;
        duel.rules.own_side = expected.policy;
        duel.rules.own_share = 0.25;
        duel.rules.self_share = 0.5;
        Match& match = duel.begin();
        duel.hit(0, 2, 40, 0);
        EXPECT_EQ(duel.health(2), expected.victim) << to_string(expected.policy);
        EXPECT_EQ(duel.health(0), expected.shooter) << to_string(expected.policy);
        duel.hit(1, 1, 40, 0);
        EXPECT_EQ(duel.health(1), 80) << "to oneself, whatever the rule for others";
        match.give_condition(duel.world, BodyId{0}, {1}, at(0), duel.events);
        duel.hit(0, 3, 40, 0);
        EXPECT_EQ(duel.health(3), 20) << "bold";
        const EffectSpec mend{.kind = {"mend", 0}, .heals = true};
        IncomingHit heal{.effect = &mend, .source = BodyId{2}};
        heal.damage.multiply(DamageStepKind::base, 5);
        match.hit(duel.world, BodyId{0}, heal, at(0), duel.events);
        EXPECT_EQ(duel.health(0), std::min(100.0, expected.shooter + 5)) << "healing is no harm";
    }
}

TEST(Match, BringsBackWhoHasALifeLeftAndEndsWithOneSide) {
    Duel duel;
    duel.rules.lives = {1, 0, 2};
    duel.rules.last_one_wins = true;
    duel.rules.respawn = {from_seconds(2), from_seconds(1), true};
    Match& match = duel.begin();
    const Combatant& victim = *match.find(BodyId{1});
    match.change_lives(duel.world, BodyId{1}, +5, at(0), duel.events);
    EXPECT_EQ(victim.lives, 2) << "never more";
    duel.hit(0, 1, 500, 1);
    duel.hit(2, 1, 500, 1);
    EXPECT_EQ(victim.tally.deaths, 1) << "whatever arrives at the same time";
    ASSERT_EQ(match.dropped().size(), 1U);
    EXPECT_EQ(match.dropped()[0].position.x(), 10.0);
    match.advance(duel.world, at(3.5), duel.events);
    EXPECT_EQ(duel.times_of(MatchEventKind::respawned, 1), std::vector<double>{3});
    EXPECT_EQ(victim.loadout.slots[0].weapon, 0) << "with what it started with";
    EXPECT_EQ(duel.hit(0, 1, 500, 3.6), HitResult::shrugged);
    match.acted(duel.world, BodyId{1}, Act::fire, 1, at(3.7), duel.events);
    duel.hit(0, 1, 500, 3.8);
    EXPECT_TRUE(victim.out);
    EXPECT_FALSE(match.is_over()) << "one is left";
    match.change_lives(duel.world, BodyId{1}, +1, at(3.9), duel.events);
    EXPECT_FALSE(victim.out) << "a life came in time";
    duel.hit(0, 3, 500, 4);
    duel.hit(0, 1, 500, 7);
    ASSERT_TRUE(match.is_over());
    EXPECT_EQ(duel.events.back().kind, MatchEventKind::match_over);
    EXPECT_EQ(duel.events.back().count, 0);
    EXPECT_EQ(match.now(), at(7));
}

TEST(Match, EndsByScoreOrTimeOnce) {
    Duel by_score;
    by_score.rules.score_to_win = 2;
    by_score.rules.respawn.delay = from_seconds(1);
    by_score.begin();
    by_score.hit(1, 0, 500, 1);
    by_score.hit(1, 2, 500, 1);
    EXPECT_TRUE(by_score.match->is_over());
    EXPECT_EQ(by_score.events.back().count, 1);
    Duel alone;
    alone.rules.teams = false;
    alone.rules.score_to_win = 2;
    alone.begin();
    alone.hit(0, 1, 500, 1);
    alone.hit(2, 3, 500, 1);
    EXPECT_FALSE(alone.match->is_over()) << "one each, though of one team";
    alone.hit(2, 0, 500, 1);
    EXPECT_TRUE(alone.match->is_over());
    EXPECT_EQ(alone.events.back().count, 2) << "the combatant";
    Duel by_time;
    by_time.rules.time_limit = from_seconds(3);
    Match& match = by_time.begin();
    by_time.hit(1, 0, 50, 2);
    match.notice(by_time.world, BodyId{0}, BodyId{1}, true, at(2), by_time.events);
    match.advance(by_time.world, at(3), by_time.events);
    EXPECT_FALSE(match.is_over()) << "what is due at the end belongs to the next";
    EXPECT_EQ(by_time.hit(1, 0, 500, 3.5), HitResult::nothing);
    ASSERT_TRUE(match.is_over());
    EXPECT_EQ(by_time.events.back().at, at(3));
    EXPECT_EQ(by_time.events.back().count, -1) << "nobody leads";
    EXPECT_EQ(by_time.times_of(MatchEventKind::alert_cleared, 0), std::vector<double>{3});
}

TEST(Hazards, HarmAtTheirPeriodWhoeverTouchesThem) {
    Duel duel;
    duel.arsenal.hazards = {
        {.id = "mist", .damage = 10, .period = from_seconds(0.4), .lasts = from_seconds(3)},
        {.id = "leak", .damage = 10, .side = HazardSide::others}};
    Match& match = duel.begin();
    duel.world.fixed[BodyId{1}] = {5, 0, 0};
    match.lay_hazard(duel.world, {.spec = 0, .source = BodyId{0}}, at(0), duel.events); // about body 0
    match.lay_hazard(duel.world, {.spec = 1, .pose = {{20, 0, 0}}, .team = TeamId{0}}, at(0), duel.events);
    match.advance(duel.world, at(0.5), duel.events);
    EXPECT_EQ(duel.health(0), 80);
    EXPECT_EQ(duel.health(2), 100) << "of the team that laid it";
    duel.world.fixed[BodyId{0}] = {5, 0, 0};
    match.advance(duel.world, at(0.6), duel.events);
    duel.world.fixed[BodyId{0}] = {0, 0, 0};
    match.advance(duel.world, at(0.75), duel.events);
    EXPECT_EQ(duel.times_of(MatchEventKind::hazard_entered, 0).size(), 2U);
    EXPECT_EQ(duel.times_of(MatchEventKind::hazard_left, 0), std::vector<double>{0.5});
    EXPECT_EQ(duel.health(0), 80) << "coming back does not beat the period";
    match.advance(duel.world, at(0.85), duel.events);
    EXPECT_EQ(duel.health(0), 70);
    match.advance(duel.world, at(5), duel.events);
    EXPECT_EQ(duel.health(0), 20) << "until 2.8 s";
    EXPECT_EQ(duel.times_of(MatchEventKind::hazard_left, 0).back(), 3);
}

TEST(Hazards, EndWithTheCrateThatTheyComeFrom) {
    Duel duel;
    duel.arsenal.hazards = {{.id = "leak", .damage = 1}};
    Match& match = duel.begin();
    duel.world.bodies.push_back(BodyId{9});
    duel.world.teams[BodyId{9}] = TeamId{5};
    duel.world.fixed[BodyId{9}] = {10, 0, 0};
    ASSERT_TRUE(match.join({.id = BodyId{9}, .team = TeamId{5}, .body = 1, .role = Role::prop}));
    match.lay_hazard(duel.world, {.spec = 0, .pose = {{10, 0, 0}}, .carrier = BodyId{9}}, at(0), duel.events);
    match.advance(duel.world, at(1), duel.events);
    EXPECT_LT(duel.health(1), 100);
    EXPECT_EQ(duel.health(9), 10);
    duel.hit(0, 9, 50, 1);
    EXPECT_LT(match.hazards()[0].spec, 0);
    EXPECT_EQ(match.find(BodyId{0})->tally.kills, 0) << "a crate is no kill";
    EXPECT_FALSE(match.is_over());
}

TEST(Pickups, AreTakenByTouchOrRequestWhenTheyAreOfUse) {
    Duel duel;
    duel.rules.lives = {1, 0, 3};
    duel.arsenal.pickups = {{.id = "nectar", .returns = from_seconds(2), .health = 30},
                            {.id = "life", .on_request = true, .lives = 5},
                            {.id = "rounds", .ammo = {"w"}, .rounds = 7}};
    Match& match = duel.begin();
    const Combatant& who = *match.find(BodyId{0});
    match.place_pickup(0, {0, 0, 0});
    match.place_pickup(1, {0, 0, 0});
    match.place_pickup(2, {10, 0, 0});
    match.advance(duel.world, at(0.5), duel.events);
    EXPECT_TRUE(match.pickups()[0].there) << "nothing to heal";
    EXPECT_EQ(match.find(BodyId{1})->loadout.ammo[0].rounds, 47);
    duel.hit(1, 0, 50, 0.5);
    match.advance(duel.world, at(1), duel.events);
    EXPECT_EQ(duel.health(0), 80);
    EXPECT_FALSE(match.pickups()[0].there);
    duel.hit(1, 0, 10, 1.5);
    match.advance(duel.world, at(2.6), duel.events);
    EXPECT_EQ(duel.health(0), 100) << "back after two seconds";
    EXPECT_EQ(who.lives, 1);
    EXPECT_FALSE(match.request_pickup(duel.world, BodyId{3}, at(2.7), duel.events)) << "out of reach";
    EXPECT_TRUE(match.request_pickup(duel.world, BodyId{0}, at(2.7), duel.events));
    EXPECT_EQ(who.lives, 3);
    EXPECT_FALSE(match.request_pickup(duel.world, BodyId{0}, at(2.8), duel.events)) << "it is gone";
}

TEST(Acting, IsForbiddenAndAllowedAgainOnTime) {
    Duel duel;
    duel.arsenal.conditions = {{.id = "stiff", .lasts = from_seconds(0.55), .forbids = {Act::fire}}};
    Match& match = duel.begin();
    match.give_condition(duel.world, BodyId{0}, {0}, at(0), duel.events);
    EXPECT_FALSE(match.may(BodyId{0}, Act::fire));
    EXPECT_TRUE(match.may(BodyId{0}, Act::reload));
    const LoadoutIntent pull{.weapon = {.trigger = true}};
    std::vector<WeaponEvent> felt;
    match.act(BodyId{0}, at(1), {&pull, 1}, felt);
    ASSERT_GE(felt.size(), 6U);
    EXPECT_EQ(felt[0].refusal, WeaponRefusal::forbidden);
    EXPECT_EQ(felt[1].kind, WeaponEventKind::shot);
    EXPECT_EQ(felt[1].at, at(0.55)) << "not at the end of the tick";
    duel.hit(1, 0, 500, 1);
    felt.clear();
    match.act(BodyId{0}, at(2), {}, felt);
    EXPECT_TRUE(felt.empty());
}

} // namespace
} // namespace avrek
