#include "../../src/skirmish/action_record.h"
#include "../rounds.h"
#include "own_game.h"
#include <avrek/arsenal/finish.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <limits>
#include <numeric>

// The game's half: locomotions, actions, and a state beside the fight.
namespace avrek {
namespace {

constexpr BodyId walker{1};
constexpr BodyId drone{2};

Arsenal two_kinds() {
    Arsenal arsenal = trial::bots_arsenal();
    arsenal.bodies.push_back(arsenal.bodies[0]);
    arsenal.bodies[1].id = "drone";
    arsenal.bodies[1].movement.locomotion = "gliding";
    return std::move(*finish(std::move(arsenal)).value);
}

struct Gliding final : Locomotion {
    std::string_view name() const override { return "gliding"; }
    std::uint32_t version() const override { return 3; }
    BodyMotion advance(const MotionInput& in, BodyMotion motion) const override {
        motion.velocity = Vector3{0, 1, 0} + in.speed * direction_of({in.intent.yaw, 0});
        motion.position += to_seconds(in.span.end - in.span.begin) * motion.velocity;
        motion.airborne = true;
        return motion;
    }
};

TEST(Locomotion, EachBodyTakesItsOwnAndAllOfItIsSaved) {
    static const Arsenal arsenal = two_kinds();
    const trial::Leaping leaping{5};
    const Gliding gliding;
    const SkirmishSettings settings{.locomotions = {&leaping, &gliding}, .limits = {.combatants = 4}};
    EXPECT_TRUE(validate(arsenal, settings).empty());
    Skirmish fight{arsenal, Level{{{HalfSpace{world_up(), 0}}}}, settings, 1};
    ASSERT_TRUE(fight.add({.id = walker, .at = Vector3{0, 0, 0}}));
    ASSERT_TRUE(fight.add({.id = drone, .body = BodySpecId{1}, .at = Vector3{0, 3, 0}}));
    const Intent intents[] = {{.who = walker, .ahead = 1.0F, .buttons = {game_button(3)}}, {.who = drone}};
    Intent moves[] = {intents[0], intents[1]};
    moves[0].game.words[0] = 7;
    for (int tick = 0; tick < 100; ++tick) {
        fight.advance(moves);
    }
    EXPECT_NEAR(fight.find(drone)->motion.position.y(), 3.0 + 100.0 / 64, 1e-9);
    EXPECT_GT(fight.find(walker)->motion.game.used(), 0U);
    std::vector<std::byte> saved(fight.saved_size());
    ASSERT_FALSE(fight.save(saved).empty());
    const auto further = [&] {
        for (int tick = 0; tick < 200; ++tick) {
            fight.advance(moves);
        }
        return fight.state_hash();
    };
    const std::uint64_t hash = further();
    ASSERT_TRUE(fight.restore(saved));
    EXPECT_EQ(further(), hash);
    BodyMotion other = fight.find(walker)->motion;
    other.game.words[7] = 1;
    fight.edit(walker)->motion = other;
    EXPECT_NE(fight.state_hash(), hash);
    // States of other locomotions are refused.
    const trial::Leaping changed{5, "leaping", 2};
    SkirmishSettings others = settings;
    others.locomotions = {&changed, &gliding};
    Skirmish stranger{arsenal, Level{{{HalfSpace{world_up(), 0}}}}, others, 1};
    EXPECT_FALSE(stranger.restore(saved));
}

TEST(Locomotion, WhatIsWrongWithTheListIsSaid) {
    const Arsenal arsenal = two_kinds();
    const trial::Leaping leaping{5};
    const auto faults = [&](const Locomotions& list) {
        return validate(arsenal, SkirmishSettings{.locomotions = list});
    };
    ASSERT_EQ(faults({&leaping}).size(), 1U);
    EXPECT_EQ(
        to_string(faults({&leaping})[0]),
        "error: locomotions: is without 'gliding' of body.drone; allowed: the locomotions that bodies name; "
        "there are 'leaping'");
    const Gliding gliding;
    EXPECT_EQ(faults({&gliding, &gliding}).size(), 1U);
    EXPECT_EQ(faults({nullptr}).size(), 1U);
    EXPECT_TRUE(faults({}).empty()); // all walk
}

TEST(Locomotion, AMotionThatIsNoneLeavesTheBodyWhereItIs) {
    struct Lost final : Locomotion {
        std::string_view name() const override { return "lost"; }
        std::uint32_t version() const override { return 1; }
        BodyMotion advance(const MotionInput& in, BodyMotion motion) const override {
            motion.position.x() = in.intent.ahead > 0 ? std::numeric_limits<double>::quiet_NaN() : 1e9;
            return motion;
        }
    };
    const Lost lost;
    Skirmish fight{trial::bots_arsenal(), Level{}, {.locomotions = {&lost}}, 1};
    ASSERT_TRUE(fight.add({.id = walker, .at = Vector3{1, 2, 3}}));
    for (const float ahead : {0.0F, 1.0F}) {
        const Intent intent{.who = walker, .ahead = ahead};
        fight.advance({&intent, 1});
        EXPECT_EQ(fight.find(walker)->motion.position, Vector3(1, 2, 3));
    }
}

// A fight of bots with actions of every kind, in which a tick is done again now and then.
TEST(GameAction, FightsWithThemRollBackToTheSame) {
    for (int seed = 1; seed <= rounds(20); ++seed) {
        Draw draw{static_cast<std::uint64_t>(seed)};
        Skirmish fight{trial::bots_arsenal(),
                       trial::bots_level(),
                       {.limits = {.combatants = 10, .hazards = 6, .pickups = 6}},
                       static_cast<std::uint64_t>(seed),
                       trial::bots_plan()};
        Bots bots{fight};
        const BoutSetup setup = trial::bots_setup(6);
        begin_bout(setup, bout_members(setup), fight, bots);
        trial::Tally tally;
        fight.set_companion(&tally);
        std::array<int, std::variant_size_v<ActionKind>> done{};
        struct Input {
            std::vector<Intent> intents{};
            std::vector<GameAction> actions{};
            std::uint64_t hash = 0; // after it
        };
        const auto advance = [&](const Input& input) {
            tally.seen[0] += input.intents.size();
            Time last = fight.now();
            for (const Event& event : fight.advance(input.intents, {}, input.actions)) {
                EXPECT_GE(time_of(event), last) << words_of(event);
                last = std::max(last, time_of(event));
                if (const auto* action = std::get_if<ActionEvent>(&event)) {
                    done[action->kind] += action->done ? 1 : 0;
                    EXPECT_EQ(action->done, action->why.empty());
                }
            }
            return fight.state_hash();
        };
        for (int block = 0; block < 20; ++block) {
            std::vector<std::byte> saved(fight.saved_size());
            ASSERT_FALSE(fight.save(saved).empty());
            std::vector<Input> inputs(15);
            for (Input& input : inputs) {
                const auto thought = bots.think(fight);
                input.intents.assign(thought.begin(), thought.end());
                for (std::size_t count = draw.below(3); count > 0; --count) {
                    input.actions.push_back(trial::random_action(draw, fight, 6));
                    EXPECT_TRUE(validate(trial::bots_arsenal(), input.actions.back()));
                }
                input.hash = advance(input);
            }
            ASSERT_TRUE(fight.restore(saved));
            for (const Input& input : inputs) {
                ASSERT_EQ(advance(input), input.hash) << "seed " << seed << ", tick " << fight.tick();
            }
        }
        EXPECT_GT(std::accumulate(done.begin(), done.end(), 0), 100);
    }
}

TEST(GameAction, EachKindDoesWhatItSays) {
    Arsenal arsenal = trial::bots_arsenal();
    arsenal.bodies[0].heavy_reaction.forbids = {}; // a ragdoll does nothing all the same
    Skirmish fight{arsenal, Level{{{HalfSpace{world_up(), 0}}}}, {.moves_bodies = false}, 1};
    ASSERT_TRUE(fight.add({.id = walker, .team = TeamId{0}, .at = Vector3{0, 0, 0}}));
    ASSERT_TRUE(fight.add({.id = drone, .team = TeamId{1}, .at = Vector3{2, 0, 0}}));
    const auto act = [&](const ActionKind& what) {
        const GameAction action{.at = fight.now() + Duration{77}, .by = walker, .tag = 9, .what = what};
        const auto events = fight.advance({}, {}, {&action, 1});
        const auto* event = first_of<ActionEvent>(events);
        EXPECT_NE(event, nullptr);
        return event != nullptr ? *event : ActionEvent{};
    };
    const auto who = [&](BodyId id) { return std::as_const(fight).match().find(id); };
    const double full = who(drone)->vitals.health;
    EXPECT_TRUE(act(HitAction{.who = drone, .source = walker, .damage = 50}).done); // 30 of it meet the sap
    EXPECT_DOUBLE_EQ(who(drone)->vitals.health, full - 20);
    EXPECT_EQ(who(drone)->vitals.last_hurt.time_since_epoch().count() % 1000, 77);
    EXPECT_TRUE(act(HealAction{.who = drone, .points = 5}).done);
    EXPECT_DOUBLE_EQ(who(drone)->vitals.health, full - 15);
    EXPECT_TRUE(act(ConditionAction{.who = drone, .condition = ConditionId{1}}).done);
    EXPECT_NE(find_condition(who(drone)->vitals, ConditionId{1}), nullptr);
    EXPECT_TRUE(act(ConditionAction{.who = drone, .condition = ConditionId{1}, .ends = true}).done);
    EXPECT_EQ(find_condition(who(drone)->vitals, ConditionId{1}), nullptr);
    EXPECT_EQ(act(ConditionAction{.who = drone, .condition = ConditionId{1}, .ends = true}).done, false);
    EXPECT_TRUE(act(PushAction{.who = drone, .velocity = {1, 0, 2}}).done);
    EXPECT_EQ(fight.find(drone)->motion.velocity, Vector3(1, 0, 2));
    EXPECT_TRUE(act(RagdollAction{.who = drone, .on_back = true}).done);
    EXPECT_EQ(share_of(PoseKind::standing, fight.find(drone)->pose), 1.0); // bodies moved before
    fight.advance({});
    EXPECT_EQ(share_of(PoseKind::on_back, fight.find(drone)->pose), 1.0);
    EXPECT_FALSE(std::as_const(fight).match().can_act(drone, Act::move));
    EXPECT_TRUE(act(StandUpAction{drone}).done);
    EXPECT_EQ(who(drone)->vitals.state, BodyState::rising);
    EXPECT_TRUE(std::as_const(fight).match().can_act(drone, Act::move));
    EXPECT_FALSE(act(StandUpAction{walker}).done);
    EXPECT_TRUE(act(ScoreAction{drone, 3}).done);
    EXPECT_EQ(std::as_const(fight).match().team_score(TeamId{1}), 3);
    EXPECT_EQ(act(HazardAction{.pose = {{50, 0, 0}, Rotation::Identity()}}).index, 0);
    EXPECT_TRUE(act(EndHazardAction{0}).done);
    EXPECT_FALSE(act(EndHazardAction{0}).done);
    EXPECT_EQ(act(PickupAction{.position = {60, 0, 0}}).index, 0);
    EXPECT_TRUE(act(RemovePickupAction{0}).done);
    EXPECT_FALSE(act(RemovePickupAction{0}).done);
    EXPECT_EQ(act(PlaceAction{.who = drone, .position = {5, 1, 5}}).point, Vector3(5, 1, 5));
    EXPECT_EQ(fight.find(drone)->motion.position, Vector3(5, 1, 5));
    EXPECT_TRUE(act(TeamAction{drone, TeamId{0}}).done);
    EXPECT_EQ(who(drone)->team, TeamId{0});
    EXPECT_TRUE(act(EnterAction{.who = BodyId{3}, .role = Role::prop, .is_placed = true}).done);
    EXPECT_EQ(act(EnterAction{.who = BodyId{3}}).why, "the id is taken");
    EXPECT_TRUE(act(LeaveAction{BodyId{3}}).done);
    EXPECT_EQ(act(LeaveAction{BodyId{3}}).why, "it is not there");
    EXPECT_TRUE(act(RulesAction{MatchId{0}}).done);
    EXPECT_EQ(fight.match().rules_set(), MatchId{0});
    EXPECT_TRUE(act(BlastAction{.centre = {5, 1, 5}, .source = walker}).done);
    EXPECT_LT(who(drone)->vitals.health, full - 15);
}

// Whatever numbers are in an action: it is taken whole, or ignored and counted.
TEST(GameAction, NonsenseIsIgnoredAndCounted) {
    Draw draw{8};
    Skirmish fight{trial::bots_arsenal(), trial::bots_level(), {}, 1, trial::bots_plan()};
    ASSERT_TRUE(fight.add({.id = walker}));
    int sound = 0;
    for (int round = 0; round < rounds(20'000); ++round) {
        GameAction action = trial::random_action(draw, fight, 3);
        std::vector<std::uint64_t> words = detail::words_of(action.what);
        EXPECT_EQ(detail::words_of(*detail::action_of(action.what.index(), words)), words);
        if (!words.empty()) {
            auto& word = words[draw.below(words.size())];
            word = draw.below(2) == 0 ? std::bit_cast<std::uint64_t>(std::nan("")) : ~word;
        }
        action.what = detail::action_of(action.what.index(), words).value();
        const bool is_valid = static_cast<bool>(validate(trial::bots_arsenal(), action));
        fight.advance({}, {}, {&action, 1});
        EXPECT_EQ(fight.disregarded(), is_valid || fight.is_over() ? 0U : 1U);
        sound += is_valid ? 1 : 0;
    }
    EXPECT_GT(sound, 0);
    EXPECT_FALSE(detail::action_of(99, {}).has_value());
    EXPECT_FALSE(detail::action_of(0, {1, 2}).has_value());
}

} // namespace
} // namespace avrek
