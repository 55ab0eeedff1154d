#include "tool_rig.h"

#include <sqlite3.h>

#include <set>

namespace avrek {
namespace {

// A bare floor on which two meet at once.
constexpr const char* pen = R"(points = [[-5, 0, -6], [5, 0, -6], [-5, 0, 6], [5, 0, 6]]
[[piece]]
plane = [0, 0, 0]
normal = [0, 1, 0]
[[spawn]]
at = [0, 0, -6]
yaw = 0
team = 0
[[spawn]]
at = [0, 0, 6]
yaw = 180
team = 1
)";

TEST_F(Tool, MatchSaysWhatTheNetworkDid) {
    const std::string call = "match --crew 6 --ticks 800 --seed 4 --link ring-wifi,storm ";
    const Answer json = run(call + "--record m.replay --plot m.svg --json");
    ASSERT_EQ(json.status, 0) << json.err;
    const auto match = nlohmann::json::parse(json.out);
    ASSERT_EQ(match["clients"].size(), 6U);
    std::set<std::string> links;
    for (const auto& client : match["clients"]) {
        EXPECT_TRUE(client["ledger_equal"] && client["dead_equal"] && client["notices_equal"])
            << client.dump(1);
        EXPECT_EQ(client["events_doubled"], 0);
        EXPECT_GT(client["stream_kb_s"], 0.5);
        links.insert(client["link"]);
    }
    EXPECT_EQ(links, (std::set<std::string>{"ring-wifi", "storm"}));
    EXPECT_NE(read_file(file("m.svg")).find("6 clients in atrium"), std::string::npos);
    EXPECT_NE(run("replay m.replay").out.find("recorded states are the same"), std::string::npos);
    const Answer text = run(call);
    EXPECT_EQ(text.out, run(call).out) << "the same seed gives the same match";
    std::stringstream lines{text.out};
    for (std::string line; std::getline(lines, line);) {
        EXPECT_LE(line.size(), 100U) << line;
    }
    EXPECT_NE(text.out.find("at the end 6 of 6 ledgers"), std::string::npos) << text.out;
    EXPECT_NE(run(call + "--no-rewind").out, text.out);
}

// How many rows a table has, and the latest moment in it.
std::pair<int, double> rows_of(const std::string& database, const std::string& table) {
    sqlite3* base = nullptr;
    sqlite3_stmt* query = nullptr;
    std::pair<int, double> found{-1, 0.0};
    const std::string text = "SELECT count(*), coalesce(max(at), 0) FROM " + table;
    if (sqlite3_open(database.c_str(), &base) == SQLITE_OK &&
        sqlite3_prepare_v2(base, text.c_str(), -1, &query, nullptr) == SQLITE_OK &&
        sqlite3_step(query) == SQLITE_ROW) {
        found = {sqlite3_column_int(query, 0), sqlite3_column_double(query, 1)};
    }
    sqlite3_finalize(query);
    sqlite3_close(base);
    return found;
}

// Starts a host, lets bots join, does `meanwhile`, and waits for both. The words of the shell know $PORT and
// $HOST.
std::string session(const std::string& host, const std::string& join, const std::string& meanwhile) {
    return "(" AVREK_TOOL " host --in pen.toml --port 0 " + host +
           " > host.txt 2> host.err & HOST=$!; "
           "for i in $(seq 100); do grep -q 'listens at' host.err 2> /dev/null && break; sleep 0.05; done; "
           "PORT=$(sed -n 's/.*listens at 127.0.0.1:\\([0-9]*\\),.*/\\1/p' host.err); "
           "timeout 60 " AVREK_TOOL " join --in pen.toml --port $PORT " +
           join + " > join.txt 2> join.err & JOIN=$!; " + meanwhile +
           "; wait $HOST; echo host $? > status.txt; wait $JOIN; echo join $? >> status.txt)";
}

TEST_F(Tool, HostAndJoinPlayOverUdpAndEndCleanly) {
    write("pen.toml", pen);
    ASSERT_EQ(
        shell(session("--crew 2 --ticks 320 --telemetry h.db --record h.replay", "--bots 2", "true")).status,
        0);
    EXPECT_EQ(read_file(file("status.txt")), "host 0\njoin 0\n")
        << read_file(file("host.err")) << read_file(file("join.err"));
    const std::string host = read_file(file("host.txt"));
    EXPECT_NE(host.find("canopy-1"), std::string::npos) << host;
    EXPECT_NE(host.find("rootward-1"), std::string::npos) << host;
    EXPECT_NE(host.find("2 players, 5.0 s at 64 Hz"), std::string::npos) << host;
    EXPECT_NE(read_file(file("join.txt")).find("canopy-1"), std::string::npos);
    EXPECT_GT(rows_of(file("h.db"), "shots").first, 0);
    const Answer played = run("replay h.replay");
    EXPECT_EQ(played.status, 0) << played.err;
    // Ctrl-C ends it as well.
    ASSERT_EQ(shell(session("--crew 2", "--bots 1", "sleep 1.5; kill -INT $HOST")).status, 0);
    EXPECT_EQ(read_file(file("status.txt")), "host 0\njoin 0\n");
    EXPECT_NE(read_file(file("host.txt")).find("interrupted"), std::string::npos);
    EXPECT_NE(read_file(file("join.err")).find("the server was stopped"), std::string::npos);
}

TEST_F(Tool, AHostThatIsKilledLeavesTelemetryUpToTheLastSecond) {
    write("pen.toml", pen);
    ASSERT_EQ(shell(session("--crew 2 --telemetry k.db", "--bots 2 --for 30",
                            "for i in $(seq 100); do sleep 0.1; "
                            "test $(wc -c < k.db) -gt 60000 && break; done; "
                            "sleep 2; kill -KILL $HOST $JOIN"))
                  .status,
              0);
    EXPECT_NE(read_file(file("status.txt")).find("host 137"), std::string::npos)
        << read_file(file("status.txt"));
    const auto [shots, latest] = rows_of(file("k.db"), "shots");
    EXPECT_GT(shots, 0);
    EXPECT_GT(latest, 0.0);
}

TEST_F(Tool, JoinSaysWhyItIsNotLetIn) {
    write("pen.toml", pen);
    write("tune.toml", tiny);
    ASSERT_EQ(
        shell(session("--crew 2 --ticks 200",
                      std::string{"--bots 1 " AVREK_SOURCE_DIR "/data/halm-ring.toml tune.toml"}, "true"))
            .status,
        0);
    EXPECT_EQ(read_file(file("status.txt")), "host 0\njoin 1\n");
    const std::string refused = read_file(file("join.err"));
    EXPECT_NE(refused.find("the arsenal is not the one"), std::string::npos) << refused;
    EXPECT_NE(refused.find("differs: weapon.thorn-rifle"), std::string::npos) << refused;
    EXPECT_NE(read_file(file("host.err")).find("was refused"), std::string::npos);
    write("door.json", "{\"match\": 1}");
    const Answer no_door = run("join --door door.json");
    EXPECT_EQ(no_door.status, 2);
    EXPECT_NE(no_door.err.find("door.json: is no door file"), std::string::npos) << no_door.err;
    EXPECT_EQ(run("join --door none.json").status, 2);
    EXPECT_EQ(run("host --at 300.1.1.1 --ticks 1").status, 2);
    EXPECT_NE(run("match --link strom").err.find("did you mean 'storm'?"), std::string::npos);
}

} // namespace
} // namespace avrek
