#include "../rounds.h"
#include "../vitals/random_body.h"
#include "match_rig.h"

#include <gtest/gtest.h>

#include <cstdlib>
#include <map>
#include <set>

namespace avrek {
namespace {

MatchSpec random_rules(RandomLife& draw) {
    MatchSpec rules{.id = "r"};
    rules.teams = !draw.one_in(3);
    rules.score_to_win = draw.one_in(2) ? 0 : 3 + draw.below(20);
    rules.lives = {draw.one_in(3) ? -1 : 1 + draw.below(4), 0, 5};
    rules.last_one_wins = rules.lives.start >= 0 && draw.one_in(2);
    rules.time_limit = draw.one_in(2) ? Duration::max() : from_seconds(draw.between(2, 40));
    rules.friendly_fire = static_cast<FriendlyFire>(draw.below(4));
    rules.team_share = draw.between(0, 1);
    rules.self_share = draw.between(0, 1);
    rules.respawn = {draw.time(2), draw.one_in(2) ? Duration::zero() : draw.time(2), draw.one_in(2)};
    rules.assist = {draw.between(1, 40), draw.time(10)};
    rules.score = {1, draw.below(2), -draw.below(2), -1};
    rules.drops_weapon = draw.one_in(2);
    for (std::int32_t team = 0; team < 2 && draw.one_in(2); ++team) {
        rules.sides.push_back({"s", team, rules.lives.start < 0 || draw.one_in(2) ? -1 : 1,
                               draw.one_in(2) ? -1 : draw.below(9), draw.below(12), draw.one_in(2)});
    }
    rules.corpse_lifetime = draw.time(3);
    return rules;
}

struct RandomMatch {
    static constexpr std::uint32_t count = 10;

    RandomLife& draw;
    Arsenal arsenal;
    MatchSpec rules;
    Balls world{};
    Match match;
    // State of each combatant, by events alone.
    std::array<bool, count + 2> dead{};
    std::array<bool, count + 2> alert{};
    std::array<int, count + 2> deaths{};
    int overs = 0;
    std::map<std::size_t, std::set<std::int64_t>> harmful; ///< shots of each that did damage
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
        PickupSpec pickup{.id = "p", .respawn_delay = draw.time(4), .health = 10, .ammo = {"w"}, .rounds = 5};
        pickup.condition.id = draw.one_in(2) ? "c3" : "";
        pickup.lives = draw.below(2);
        pickup.on_request = draw.one_in(3);
        pickup.weapon.id = draw.one_in(2) ? "w" : "";
        pickup.with_reserve = draw.one_in(2);
        arsenal.pickups = {pickup};
        for (BodySpec& body : arsenal.bodies) {
            if (draw.one_in(3)) {
                body.first_conditions = {{"c0"}, {"c3"}};
            }
        }
        resolve_references(arsenal);
        return arsenal;
    }

    explicit RandomMatch(RandomLife& its_draw)
        : draw(its_draw), arsenal(make(draw)), rules(random_rules(draw)),
          match(arsenal, rules, world, {.combatants = count + 1}) {
        const WeaponId weapon{0};
        for (std::uint32_t id = 0; id < count; ++id) {
            const TeamId team{static_cast<std::uint8_t>(id % 2)};
            world.bodies.push_back(BodyId{id});
            world.teams[BodyId{id}] = team;
            EXPECT_TRUE(match.join({BodyId{id},
                                    team,
                                    BodySpecId{draw.below(4)},
                                    id == 9 ? Role::prop : Role::combatant,
                                    {&weapon, 1}}));
        }
    }

    BodyId anybody() { return BodyId{static_cast<std::uint32_t>(draw.below(count + 1))}; }

    void check() {
        for (const Event& event : match.events()) {
            ASSERT_EQ(overs, 0) << words_of(event) << " after the end";
            ASSERT_GE(time_of(event), last) << words_of(event);
            last = time_of(event);
            const auto who = static_cast<std::size_t>(who_of(event));
            const bool was_dead = who < dead.size() && dead[who];
            std::visit(EventHandlers{[&](const DamageEvent& hurt) {
                                         ASSERT_TRUE(multiplies_out(hurt.damage));
                                         ASSERT_FALSE(was_dead) << "damage of the dead";
                                     },
                                     [&](const HealEvent& heal) {
                                         ASSERT_TRUE(multiplies_out(heal.healing));
                                         ASSERT_FALSE(was_dead) << "healing of the dead";
                                     },
                                     [&](const ConditionEvent&) { ASSERT_FALSE(was_dead); },
                                     [&](const KillEvent&) {
                                         ASSERT_FALSE(was_dead) << "one death for each life";
                                         dead[who] = true;
                                         ++deaths[who];
                                     },
                                     [&](const RespawnEvent&) {
                                         ASSERT_TRUE(was_dead);
                                         dead[who] = false;
                                     },
                                     [&](const AlertEvent& event_of_alert) {
                                         ASSERT_NE(alert[who], event_of_alert.raised);
                                         alert[who] = event_of_alert.raised;
                                     },
                                     [&](const MatchOverEvent&) { ++overs; }, [](const auto&) {}},
                       event);
        }
        match.forget_events();
        std::int32_t score = 0;
        for (const Combatant& who : match.combatants()) {
            const auto index = static_cast<std::size_t>(who.id);
            ASSERT_EQ(who.vitals.life == LifeState::dead, dead[index]);
            ASSERT_EQ(match.is_alert(who.id), alert[index]);
            ASSERT_EQ(who.stats.deaths, who.role == Role::prop ? 0 : deaths[index]);
            if (who.lives >= 0) {
                ASSERT_GE(who.lives, rules.lives.min);
                ASSERT_LE(who.lives, rules.lives.max);
                ASSERT_TRUE(!dead[index] || who.lives > 0 || who.out);
            }
            const bool ends = who.lives == 0 || match.respawns_left(who.team) == 0 || who.role == Role::prop;
            ASSERT_TRUE(!who.out || (dead[index] && ends));
            ASSERT_LE(who.stats.shots_hit, harmful[index].size());
            ASSERT_GE(who.vitals.health, 0.0);
            ASSERT_LE(who.vitals.health, who.vitals.maximum);
            for (const Act act : {Act::fire, Act::reload, Act::move, Act::guard, Act::strike}) {
                ASSERT_FALSE(match.can_act(who.id, act) && (dead[index] || match.is_over()));
            }
            score += who.stats.score;
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
            match.give_condition(
                anybody(), {ConditionId{draw.below(RandomLife::conditions)}, draw.between(0.1, 3), anybody()},
                now);
            break;
        case 1:
            match.hold_guard(anybody(), !draw.one_in(3), now);
            break;
        case 2:
            match.report_action(anybody(), draw.one_in(2) ? Act::fire : Act::strike, 1, now);
            break;
        case 3:
            match.notice(anybody(), anybody(), !draw.one_in(3), now);
            break;
        case 4:
            match.change_lives(anybody(), draw.below(5) - 2, now);
            break;
        case 5:
            if (draw.one_in(2)) {
                match.lay_hazard({HazardId{0},
                                  {{draw.between(-3, 3), 0, 1}},
                                  TeamId{0},
                                  anybody(),
                                  draw.one_in(3) ? anybody() : nobody},
                                 now);
            } else {
                match.place_pickup(PickupId{0}, {draw.between(-3, 3), 0, 1});
                match.request_pickup(anybody(), now);
                match.take_dropped(anybody(), 3, now);
            }
            break;
        case 6:
            match.advance(now);
            ASSERT_NO_FATAL_FAILURE(act(match.now()));
            break;
        default: {
            const EffectSpec effect = draw.effect();
            IncomingHit hit = draw.hit(effect, count);
            hit.shot = draw.below(500);
            const BodyId target = anybody();
            const std::size_t known = match.events().size();
            match.hit(target, hit, now);
            for (const DamageEvent& hurt : events_of<DamageEvent>(match.events().subspan(known))) {
                if (hurt.source == hit.source && !hurt.condition) {
                    harmful[static_cast<std::size_t>(hit.source)].insert(hit.shot);
                }
            }
        }
        }
    }
};

TEST(Match, KeepsItsLawsWhateverHappens) {
    RandomLife draw{21};
    const int matches = std::max(1, rounds(480, "AVREK_LIVES") / 20);
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
    EXPECT_TRUE(over < matches || matches < 10) << "some go on";
}

TEST(Match, IsTheSameAtAnyTickRate) {
    RandomLife draw{22};
    for (int trial = 0; trial < 30; ++trial) {
        const RandomLife before = draw;
        std::vector<Event> first;
        std::uint64_t hash = 0;
        for (const std::int32_t hertz : {20, 37, 64, 240}) {
            draw = before;
            RandomMatch random{draw};
            random.match.lay_hazard({HazardId{0}, {{1, 0, 1}}, TeamId{1}}, Time{});
            random.match.place_pickup(PickupId{0}, {-2, 0, 1});
            Time next = at(0.3);
            for (Tick tick = 0; tick < 12 * hertz; ++tick) {
                for (; next < tick_span(tick, {hertz}).end; next += draw.time(0.1)) {
                    const EffectSpec effect = draw.effect();
                    const BodyId target = random.anybody();
                    random.match.hit(target, draw.hit(effect, RandomMatch::count), next);
                }
                random.match.advance(tick_span(tick, {hertz}).end);
            }
            const std::span<const Event> events = random.match.events();
            if (first.empty()) {
                first.assign(events.begin(), events.end());
                hash = random.match.state_hash();
                continue;
            }
            ASSERT_EQ(events.size(), first.size()) << hertz << " Hz, trial " << trial;
            for (std::size_t index = 0; index < events.size(); ++index) {
                ASSERT_EQ(time_of(events[index]), time_of(first[index])) << index;
                ASSERT_EQ(words_of(events[index]), words_of(first[index])) << index;
                ASSERT_EQ(who_of(events[index]), who_of(first[index])) << index;
            }
            ASSERT_EQ(random.match.state_hash(), hash);
        }
        ASSERT_GT(first.size(), 50U);
    }
}

} // namespace
} // namespace avrek
