#include "tool_rig.h"

namespace avrek {
namespace {

TEST_F(Tool, BoutFightsRecordsAndDrawsAndReplayHoldsItToThat) {
    const std::string call = "bout --crew 6 --for 10 --seed 5 ";
    const Answer json = run(call + "--record a.replay --telemetry a.db --plot a.svg --json");
    ASSERT_EQ(json.status, 0) << json.err;
    const auto bout = nlohmann::json::parse(json.out);
    EXPECT_EQ(bout["combatants"].size(), 6U);
    EXPECT_EQ(bout["ticks"], 640);
    EXPECT_GT(bout["shots"], 20);
    EXPECT_NE(read_file(file("a.svg")).find("6 bots in atrium"), std::string::npos);
    EXPECT_EQ(read_file(file("a.db")).substr(0, 15), "SQLite format 3");
    const Answer text = run(call);
    EXPECT_NE(text.out.find(bout["hash"].get<std::string>()), std::string::npos) << "files change nothing";
    std::stringstream lines{text.out};
    for (std::string line; std::getline(lines, line);) {
        EXPECT_LE(line.size(), 100U) << line;
    }
    const Answer played = run("replay a.replay --telemetry tables");
    EXPECT_EQ(played.status, 0) << played.err;
    EXPECT_NE(played.out.find("all 40 recorded states are the same"), std::string::npos) << played.out;
    EXPECT_NE(read_file(file("tables/matches.csv")).find("640"), std::string::npos);
    const auto at = nlohmann::json::parse(run("replay a.replay --at 300 --json").out);
    EXPECT_EQ(at["combatants"].size(), 6U);
    EXPECT_EQ(at["ticks"], 301);
    EXPECT_NE(run("replay a.replay --events 0,640").out.find(" fires "), std::string::npos);
    EXPECT_EQ(run("replay a.replay --events 600,600 --at 5").status, 0);
    // Another arsenal, a cut file, no file.
    const Answer other =
        run("replay a.replay " AVREK_SOURCE_DIR "/data/halm-ring.toml " + write("tune.toml", tiny));
    EXPECT_EQ(other.status, 2);
    EXPECT_NE(other.err.find("what differs: weapon.thorn-rifle"), std::string::npos) << other.err;
    const std::string whole = read_file(file("a.replay"));
    write("cut.replay", whole.substr(0, whole.size() - 30));
    const Answer cut = run("replay cut.replay");
    EXPECT_EQ(cut.status, 1);
    EXPECT_NE(cut.err.find("cut off after tick"), std::string::npos) << cut.err;
    // Actions of a file, recorded and played again.
    const Answer drill = run("bout --crew 6 --for 46 --actions " AVREK_SOURCE_DIR
                             "/data/storm-drill.toml --record drill.replay");
    EXPECT_NE(drill.out.find("rules last-stand"), std::string::npos) << drill.out << drill.err;
    EXPECT_NE(drill.out.find("actions done: 7 of 7"), std::string::npos) << drill.out;
    EXPECT_NE(run("replay drill.replay").out.find("all 184 recorded states are the same"), std::string::npos);
    EXPECT_NE(run("replay drill.replay --events 0,3000").out.find("blast"), std::string::npos);
    const Answer nobody_there =
        run("bout --for 1 --actions " +
            write("late.toml", "[[action]]\nat = 0.5\nheal = { who = 99, points = 1 }"));
    EXPECT_NE(nobody_there.out.find("refused: heal at 0.500 s"), std::string::npos) << nobody_there.out;
    EXPECT_EQ(run("bout --for 1 --actions " + write("wrong.toml", "[[action]]\nat = 1\nhti = 3")).status, 2);
    // Values that change on the way.
    write("quick.toml", "[weapon.thorn-rifle]\nmagazine = 4\n[body.crew]\nhealth = 60\n");
    const Answer tuned =
        run("bout --crew 6 --for 4 --retune 1.5=quick.toml --retune 3=" + write("tune.toml", tiny) +
            " --record tuned.replay");
    EXPECT_NE(tuned.out.find("retuned at 1.500 s by quick.toml: weapons 2, bodies 6"), std::string::npos)
        << tuned.out << tuned.err;
    EXPECT_NE(tuned.out.find("retuned at 3.000 s by "), std::string::npos);
    EXPECT_NE(run("replay tuned.replay").out.find("all 16 recorded states are the same"), std::string::npos);
    const Answer wrong = run("bout --retune 1=" + write("wrong.toml", "[weapon.thorn-rifle]\nmagasine = 4"));
    EXPECT_EQ(wrong.status, 2);
    EXPECT_NE(wrong.err.find("wrong.toml:2:1"), std::string::npos) << wrong.err;
    EXPECT_EQ(run("bout --retune soon=quick.toml").status, 2);
    EXPECT_EQ(run("bout --watch").status, 2);
    EXPECT_EQ(run("bout --crew 1 --for 0.05 --rules last-stand --body drone --blade none --shooter old-hand")
                  .status,
              0);
}

} // namespace
} // namespace avrek
