#include "../test_data.h"
#include <avrek/data/actions_toml.h>

#include <gtest/gtest.h>

namespace avrek {
namespace {

std::vector<GameAction> parsed(const std::string& text) {
    const auto actions = parse_actions(text, "x", shipped());
    for (const Diagnostic& fault : actions.diagnostics) {
        ADD_FAILURE() << to_string(fault);
    }
    return actions ? *actions : std::vector<GameAction>{};
}

template <class Kind>
Kind one(const std::string& table) {
    const std::vector<GameAction> actions = parsed("[[action]]\nat = 1.5\nby = 4\ntag = 9\n" + table);
    EXPECT_EQ(actions.size(), 1U) << table;
    if (actions.size() != 1 || !std::holds_alternative<Kind>(actions[0].what)) {
        ADD_FAILURE() << table;
        return {};
    }
    EXPECT_EQ(actions[0].at, Time{from_seconds(1.5)});
    EXPECT_EQ(actions[0].by, BodyId{4});
    EXPECT_EQ(actions[0].tag, 9U);
    return std::get<Kind>(actions[0].what);
}

TEST(Actions, OfAllKindsAreReadWithTheirValues) {
    const auto hit =
        one<HitAction>("hit = { who = 1, damage = 30, type = \"cut\", reaction = \"shove\", condition = "
                       "\"pollen\", direction = [0, 0, 1], source = 2, melee = true }");
    EXPECT_EQ(hit.who, BodyId{1});
    EXPECT_EQ(hit.source, BodyId{2});
    EXPECT_EQ(hit.type, shipped().damage_type("cut"));
    EXPECT_EQ(hit.condition, shipped().condition("pollen"));
    EXPECT_EQ(shipped().name_of(hit.reaction), "shove");
    EXPECT_TRUE(hit.melee);
    EXPECT_EQ(one<HealAction>("heal = { who = 1, points = 7 }").points, 7.0);
    const auto blast = one<BlastAction>("blast = { projectile = \"burl\", centre = [1, 2, 3], power = 2 }");
    EXPECT_EQ(blast.projectile, shipped().projectile("burl"));
    EXPECT_EQ(blast.centre, Vector3(1, 2, 3));
    EXPECT_TRUE(one<PushAction>("push = { who = 1, velocity = [0, 5, 0], replaces = true }").replaces);
    EXPECT_TRUE(one<ConditionAction>("condition = { who = 1, condition = \"pollen\", ends = true }").ends);
    EXPECT_EQ(one<RagdollAction>("ragdoll = { who = 1, lasts = 3 }").lasts, from_seconds(3));
    EXPECT_EQ(one<StandUpAction>("stand-up = { who = 8 }").who, BodyId{8});
    EXPECT_EQ(one<LivesAction>("lives = { who = 8, by = -2 }").by, -2);
    EXPECT_EQ(one<ScoreAction>("score = { who = 8, points = -3 }").points, -3);
    EXPECT_EQ(
        one<HazardAction>("hazard = { hazard = \"coolant-mist\", position = [1, 0, 0], team = 3 }").team,
        TeamId{3});
    EXPECT_EQ(one<EndHazardAction>("end-hazard = { index = 2 }").index, 2U);
    EXPECT_EQ(one<PickupAction>("pickup = { pickup = \"nectar\", position = [1, 0, 0] }").pickup,
              *shipped().pickup("nectar"));
    EXPECT_EQ(one<RemovePickupAction>("remove-pickup = { index = 3 }").index, 3U);
    EXPECT_NEAR(one<PlaceAction>("place = { who = 1, position = [1, 0, 0], yaw = 90 }").yaw, 0.5 * pi, 1e-12);
    EXPECT_EQ(one<TeamAction>("team = { who = 1, team = 5 }").team, TeamId{5});
    const auto enter = one<EnterAction>("enter = { who = 9, body = \"drone\", weapons = [\"burl-sling\"] }");
    EXPECT_FALSE(enter.is_placed);
    EXPECT_EQ(enter.weapon_count, 1U);
    EXPECT_EQ(enter.weapons[0], *shipped().weapon("burl-sling"));
    EXPECT_TRUE(one<EnterAction>("enter = { who = 9, body = \"crate\", prop = true, position = [0, 0, 0] }")
                    .is_placed);
    EXPECT_EQ(one<LeaveAction>("leave = { who = 9 }").who, BodyId{9});
    EXPECT_EQ(one<RulesAction>("rules = { match = \"uneven\" }").rules, *shipped().match("uneven"));
}

TEST(Actions, AreInOrderOfTime) {
    const auto actions =
        parsed("[[action]]\nat = 3\nleave = { who = 1 }\n[[action]]\nat = 1\nleave = { who = 2 }\n"
               "[[action]]\nat = 3\nleave = { who = 3 }");
    ASSERT_EQ(actions.size(), 3U);
    EXPECT_EQ(std::get<LeaveAction>(actions[0].what).who, BodyId{2});
    EXPECT_EQ(std::get<LeaveAction>(actions[2].what).who, BodyId{3});
}

TEST(Actions, ThatAreWrongAreAllReported) {
    const auto wrong =
        parse_actions("[[action]]\nat = 1\nhti = { who = 1 }\n"
                      "[[action]]\nat = 2\nhit = { who = 1, damage = -3 }\nheal = { who = 2, points = 1 }\n"
                      "[[action]]\nblast = { projectile = \"sed\" }\n"
                      "[[action]]\nat = 4\nenter = { who = 7, body = \"crew\", weapons = [\"burl-sling\", "
                      "\"burl-sling\", \"burl-sling\", \"burl-sling\", \"burl-sling\", \"burl-sling\", "
                      "\"burl-sling\"] }\n[[action]]\nat = 5\npush = 3\n[else]",
                      "x", shipped());
    ASSERT_FALSE(wrong);
    std::string text;
    for (const Diagnostic& fault : wrong.diagnostics) {
        text += to_string(fault) + '\n';
    }
    for (const char* expected :
         {"x:3:1: error: action[0]: has no key 'hti', did you mean 'hit'?", "action[0]: does nothing",
          "action[1]: does two things at once", "x:8:1: error: action[2].at: is missing",
          "did you mean 'seed'?", "action[2].blast.centre: is missing", "it carries too many weapons",
          "action[4].push: is 3", "else: does not belong here"}) {
        EXPECT_NE(text.find(expected), std::string::npos) << expected << '\n' << text;
    }
    EXPECT_FALSE(parse_actions("", "x", shipped()));
    EXPECT_FALSE(load_actions("none.toml", shipped()));
}

} // namespace
} // namespace avrek
