#include "../rounds.h"
#include "own_game.h"
#include "tuned.h"
#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/arsenal/places.h>

#include <gtest/gtest.h>

#include <map>

// Values change in a running fight.
namespace avrek {
namespace {

struct RetunedTick {
    std::vector<Intent> intents{};
    std::vector<GameAction> actions{};
    std::shared_ptr<const Arsenal> retuned{}; // before the tick
    std::uint64_t hash = 0;                   // after it
};

struct TunedFight {
    Skirmish skirmish;
    Bots bots;

    explicit TunedFight(std::uint64_t seed)
        : skirmish(trial::bots_arsenal(), trial::bots_level(),
                   {.limits = {.combatants = 10, .hazards = 6, .pickups = 6},
                    .snapshot_interval = 2,
                    .snapshot_history = 8},
                   seed, trial::bots_plan()),
          bots(skirmish) {
        const BoutSetup setup = trial::bots_setup(6);
        begin_bout(setup, bout_members(setup), skirmish, bots);
    }
    std::uint64_t advance(const RetunedTick& input) {
        EXPECT_TRUE(input.retuned == nullptr || skirmish.retune(input.retuned));
        Time last = skirmish.now();
        for (const Event& event : skirmish.advance(input.intents, {}, input.actions)) {
            EXPECT_GE(time_of(event), last) << words_of(event);
            last = std::max(last, time_of(event));
        }
        return skirmish.state_hash();
    }
};

void expect_allowed(const Skirmish& fight) {
    const Arsenal& arsenal = fight.arsenal();
    for (const Combatant& who : fight.match().combatants()) {
        ASSERT_EQ(who.vitals.maximum, arsenal[who.body].health);
        ASSERT_LE(who.vitals.health, who.vitals.maximum);
        for (std::int32_t slot = 0; slot < Loadout::slot_count; ++slot) {
            const WeaponSpec* weapon = weapon_in(arsenal, who.loadout, slot);
            if (weapon != nullptr && weapon->feed == AmmoFeed::magazine) {
                ASSERT_LE(state_in(who.loadout, slot)->rounds,
                          capacity(*weapon, *state_in(who.loadout, slot)));
            }
        }
    }
    for (const Fighter& fighter : fight.fighters()) {
        ASSERT_TRUE(!fighter.in_scene ||
                    fight.scene().rig_of(fighter.id) == &arsenal[fight.match().find(fighter.id)->body].rig);
        ASSERT_TRUE(!fighter.in_scene || fight.snapshots()->rig_of(fighter.id) == nullptr ||
                    fight.snapshots()->rig_of(fighter.id) == fight.scene().rig_of(fighter.id));
    }
}

// Fights of bots with actions, retuned at random: what is played again, from the start or from the middle,
// comes to the same.
TEST(RetunedFight, RollsBackAndReplaysToTheSameHashes) {
    int retunes = 0;
    std::size_t states = 0;
    for (int seed = 1; seed <= rounds(12, "AVREK_RETUNED_FIGHTS"); ++seed) {
        Draw draw{static_cast<std::uint64_t>(seed)};
        TunedFight fight{static_cast<std::uint64_t>(seed)};
        std::vector<RetunedTick> all;
        const std::size_t every = seed % 2 == 0 ? 1 : 20; // ticks
        std::shared_ptr<const Arsenal> now{std::shared_ptr<const Arsenal>{}, &trial::bots_arsenal()};
        for (int block = 0; block < 24; ++block) {
            std::vector<std::byte> saved(fight.skirmish.saved_size());
            ASSERT_FALSE(fight.skirmish.save(saved).empty());
            const std::size_t first = all.size();
            for (int tick = 0; tick < 15; ++tick) {
                RetunedTick& input = all.emplace_back();
                if (draw.below(every) == 0) {
                    const bool goes_on = draw.below(4) != 0;
                    now = std::make_shared<const Arsenal>(
                        trial::tuned(draw, goes_on ? *now : trial::bots_arsenal()));
                    input.retuned = now;
                    ++retunes;
                    states += fight.skirmish.fighters().size();
                }
                const auto thought = fight.bots.think(fight.skirmish);
                input.intents.assign(thought.begin(), thought.end());
                if (draw.below(3) == 0) {
                    input.actions.push_back(trial::random_action(draw, fight.skirmish, 6));
                }
                input.hash = fight.advance(input);
                ASSERT_NO_FATAL_FAILURE(expect_allowed(fight.skirmish)) << "seed " << seed;
            }
            ASSERT_TRUE(fight.skirmish.restore(saved));
            for (std::size_t tick = first; tick < all.size(); ++tick) {
                ASSERT_EQ(fight.advance(all[tick]), all[tick].hash) << "seed " << seed << ", tick " << tick;
            }
        }
        TunedFight again{static_cast<std::uint64_t>(seed)};
        for (const RetunedTick& input : all) {
            ASSERT_EQ(again.advance(input), input.hash) << "seed " << seed;
        }
        // A fresh fight can be taken to the end, once it knows the arsenals.
        std::vector<std::byte> end(fight.skirmish.saved_size());
        ASSERT_FALSE(fight.skirmish.save(end).empty());
        TunedFight fresh{static_cast<std::uint64_t>(seed)};
        EXPECT_EQ(bool{fresh.skirmish.restore(end)}, retunes == 0);
        for (const RetunedTick& input : all) {
            EXPECT_TRUE(input.retuned == nullptr || fresh.skirmish.know(input.retuned));
        }
        ASSERT_TRUE(fresh.skirmish.restore(end));
        EXPECT_EQ(fresh.skirmish.state_hash(), all.back().hash);
    }
    RecordProperty("states", std::to_string(states));
    EXPECT_GT(retunes, enough(100));
}

TEST(RetunedFight, TheSameValuesChangeNothingAndThereAndBackLittle) {
    TunedFight fight{3};
    for (int tick = 0; tick < 300; ++tick) {
        fight.advance(
            {.intents = {fight.bots.think(fight.skirmish).begin(), fight.bots.think(fight.skirmish).end()}});
    }
    const std::uint64_t hash = fight.skirmish.state_hash();
    const auto same = std::make_shared<const Arsenal>(trial::bots_arsenal());
    ASSERT_TRUE(fight.skirmish.retune(same));
    EXPECT_EQ(fight.skirmish.state_hash(), hash);
    Arsenal moved = trial::bots_arsenal();
    moved.matches[0].score.kill = 3; // no state goes by it
    ASSERT_TRUE(fight.skirmish.retune(std::make_shared<const Arsenal>(moved)));
    EXPECT_EQ(fight.skirmish.state_hash(), hash);
    EXPECT_EQ(fight.skirmish.match().rules().score.kill, 3);
    ASSERT_TRUE(fight.skirmish.retune(same));
    EXPECT_EQ(fight.skirmish.state_hash(), hash);
    const auto events = fight.skirmish.advance({});
    const auto told = std::count_if(events.begin(), events.end(), [](const Event& event) {
        return std::holds_alternative<RetunedEvent>(event) && who_of(event) == nobody;
    });
    EXPECT_EQ(told, 2) << "there and back; not the same";
}

TEST(RetunedFight, EntriesGoByTheirNames) {
    Arsenal was = trial::bots_arsenal();
    Arsenal is = was;
    std::swap(is.weapons.front(), is.weapons.back());
    is.weapons.front().id = "other"; // a new name: the old one stays as it was
    is.weapons.back().damage = 77;
    EXPECT_FALSE(keeps_places(was, is));
    const Arsenal placed = with_places_of(was, is);
    ASSERT_TRUE(keeps_places(was, placed));
    ASSERT_EQ(placed.weapons.size(), was.weapons.size() + 1);
    EXPECT_EQ(placed.weapons.front().damage, 77);
    EXPECT_EQ(placed.weapons[was.weapons.size() - 1].damage, was.weapons.back().damage);
    EXPECT_EQ(placed.weapons.back().id, "other");
    EXPECT_EQ(hash_of(with_places_of(was, was)), hash_of(was));
    for (int number = 0; number < 65; ++number) {
        is.conditions.push_back({.id = "c" + std::to_string(number)});
    }
    TunedFight fight{1};
    const std::uint64_t hash = fight.skirmish.state_hash();
    EXPECT_FALSE(fight.skirmish.retune(std::make_shared<const Arsenal>(is)));
    EXPECT_EQ(fight.skirmish.state_hash(), hash);
}

// Forgotten arsenals are those whose states cannot be restored any more; nothing else changes.
TEST(RetunedFight, ForgetsArsenalsThatNobodyNeeds) {
    Draw draw{11};
    TunedFight fight{2};
    std::vector<std::shared_ptr<const Arsenal>> arsenals;
    std::vector<std::vector<std::byte>> states;
    for (int change = 0; change < 12; ++change) {
        arsenals.push_back(std::make_shared<const Arsenal>(
            trial::tuned(draw, arsenals.empty() ? trial::bots_arsenal() : *arsenals.back())));
        ASSERT_TRUE(fight.skirmish.retune(arsenals.back()));
        fight.advance({});
        states.emplace_back(fight.skirmish.saved_size());
        ASSERT_FALSE(fight.skirmish.save(states.back()).empty());
    }
    const std::uint64_t hash = fight.skirmish.state_hash();
    const std::vector<std::shared_ptr<const Arsenal>> keep{arsenals[3], arsenals[7]};
    fight.skirmish.forget_arsenals(keep);
    EXPECT_EQ(fight.skirmish.state_hash(), hash);
    for (std::size_t change = 0; change < states.size(); ++change) {
        const bool is_known = change == 3 || change == 7 || change == 11;
        EXPECT_EQ(bool{fight.skirmish.restore(states[change])}, is_known) << change;
    }
    EXPECT_EQ(fight.skirmish.state_hash(), hash) << "the last of them";
    EXPECT_TRUE(fight.skirmish.retune(arsenals[5])) << "it can come back";
}

// Everything that is under way goes on where it was.
TEST(RetunedFight, WaitsHazardsSwingsAndFlightsKeepTheirPlace) {
    const Arsenal& was = trial::bots_arsenal();
    Skirmish fight{was, Level{{{HalfSpace{world_up(), 0}}}}, {.moves_bodies = false}, 1};
    const WeaponId lobber[] = {WeaponId{1}};
    ASSERT_TRUE(fight.add({.id = BodyId{1}, .melee = MeleeId{0}, .weapons = lobber, .at = Vector3{0, 0, 0}}));
    ASSERT_TRUE(fight.add({.id = BodyId{2}, .team = TeamId{1}, .at = Vector3{30, 0, 0}}));
    const GameAction acts[] = {{.at = fight.now(), .what = HitAction{.who = BodyId{2}, .damage = 1e4}},
                               {.at = fight.now(), .what = HazardAction{.pose = {{9, 0, 9}}}}};
    Intent intent{.who = BodyId{1}, .pitch = 0.6F, .buttons = {Button::trigger}};
    fight.advance({&intent, 1}, {}, acts);
    for (int tick = 0; tick < 20; ++tick) {
        fight.advance({&intent, 1});
    }
    intent.strike = 0;
    fight.advance({&intent, 1});
    fight.advance({&intent, 1});
    ASSERT_GT(fight.projectiles()[0].size(), 0U);
    Arsenal is = was;
    is.matches[0].respawn.delay *= 3;
    is.hazards[0].lasts = from_seconds(5);
    is.melee[0].attacks[0].windup *= 2;
    is.projectiles[0].gravity *= 4;
    is.projectiles[0].fuse = from_seconds(0.01);
    const Time now = fight.now();
    const Time respawn = fight.match().combatants()[1].respawn_at;
    const Time started = fight.find(BodyId{1})->swing.started;
    ASSERT_TRUE(fight.retune(std::make_shared<const Arsenal>(is)));
    EXPECT_EQ(fight.match().combatants()[1].respawn_at, now + 3 * (respawn - now));
    EXPECT_EQ(fight.match().hazards()[0].ends, now + from_seconds(5));
    EXPECT_EQ(now - fight.find(BodyId{1})->swing.started, 2 * (now - started));
    const auto events = fight.advance({&intent, 1});
    const auto exploded = std::find_if(events.begin(), events.end(), [](const Event& event) {
        const auto* flight = std::get_if<FlightEvent>(&event);
        return flight != nullptr && flight->event.kind == ProjectileEventKind::exploded;
    });
    ASSERT_NE(exploded, events.end()) << "its fuse is over by the new values";
    EXPECT_EQ(time_of(*exploded), now);
}

} // namespace
} // namespace avrek
