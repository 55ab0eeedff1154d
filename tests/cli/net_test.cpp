#include "tool_rig.h"

#include <fcntl.h>
#include <netinet/in.h>
#include <sqlite3.h>
#include <sys/socket.h>
#include <unistd.h>

#include <chrono>
#include <set>
#include <thread>

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

// A TCP port that nobody has: tests of other processes ask at the same time.
std::string free_port() {
    const int listening = socket(AF_INET, SOCK_STREAM, 0);
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    socklen_t size = sizeof address;
    EXPECT_EQ(bind(listening, reinterpret_cast<sockaddr*>(&address), size), 0);
    EXPECT_EQ(getsockname(listening, reinterpret_cast<sockaddr*>(&address), &size), 0);
    close(listening);
    return std::to_string(ntohs(address.sin_port));
}

TEST_F(Tool, MatchSaysWhatTheNetworkDid) {
    const std::string call = "match --crew 6 --for 12.5 --seed 4 --link ring-wifi,storm ";
    const Answer answer = run(call + "--record m.replay --plot m.svg --json");
    ASSERT_EQ(answer.status, 0) << answer.err;
    const auto match = nlohmann::json::parse(answer.out);
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
    const std::string short_call = "match --crew 6 --for 4 --seed 4 --link ring-wifi,storm ";
    const Answer text = run(short_call);
    EXPECT_EQ(text.out, run(short_call).out) << "the same seed gives the same match";
    std::stringstream lines{text.out};
    for (std::string line; std::getline(lines, line);) {
        EXPECT_LE(line.size(), 100U) << line;
    }
    EXPECT_NE(text.out.find("ledgers equal to the server's: 6 of 6"), std::string::npos) << text.out;
    EXPECT_NE(run(short_call + "--no-rewind").out, text.out);
    const auto poor = nlohmann::json::parse(run(short_call + "--budget 2500 --json").out);
    for (std::size_t client = 0; client < 6; ++client) {
        EXPECT_GT(poor["clients"][client]["left_out_bodies"], match["clients"][client]["left_out_bodies"]);
    }
}

// How many rows a table has, and the largest value of one column, the latest moment for one.
std::pair<int, double> rows_of(const std::string& database, const std::string& table,
                               const std::string& column = "at") {
    sqlite3* base = nullptr;
    sqlite3_stmt* query = nullptr;
    std::pair<int, double> found{-1, 0.0};
    const std::string text = "SELECT count(*), coalesce(max(" + column + "), 0) FROM " + table;
    if (sqlite3_open(database.c_str(), &base) == SQLITE_OK &&
        sqlite3_prepare_v2(base, text.c_str(), -1, &query, nullptr) == SQLITE_OK &&
        sqlite3_step(query) == SQLITE_ROW) {
        found = {sqlite3_column_int(query, 0), sqlite3_column_double(query, 1)};
    }
    sqlite3_finalize(query);
    sqlite3_close(base);
    return found;
}

// Servers and clients that run beside the test, which waits for what they say and not for the clock.
class Hosted : public Tool {
  protected:
    ~Hosted() override {
        for (const std::string name : {"host", "join"}) {
            if (std::filesystem::exists(file(name + ".pid")) && read_file(file(name + ".status")).empty()) {
                signal(name, "KILL");
            }
        }
        ::close(pipe_);
    }
    void start(const std::string& name, const std::string& call) const {
        shell("(sh -c 'echo $$ > " + name + ".pid; exec " AVREK_TOOL " " + call + "' > " + name + ".txt 2> " +
              name + ".err; echo $? > " + name + ".status) < /dev/null &");
    }
    void signal(const std::string& name, const std::string& which) const {
        shell("kill -" + which + " $(cat " + name + ".pid)");
    }
    // Polls; the limit is only there so that a broken tool ends.
    template <class Condition>
    static bool until(Condition condition) {
        using namespace std::chrono_literals;
        const auto limit = std::chrono::steady_clock::now() + 100s;
        bool is_met = condition();
        while (!is_met && std::chrono::steady_clock::now() < limit) {
            std::this_thread::sleep_for(20ms);
            is_met = condition();
        }
        return is_met;
    }
    bool says(const std::string& name, const std::string& text) const {
        return until([&] { return read_file(file(name)).find(text) != std::string::npos; });
    }
    std::string status(const std::string& name) const {
        until([&] { return !read_file(file(name + ".status")).empty(); });
        return read_file(file(name + ".status"));
    }
    // A host in the pen, at any free port, and the words that join it.
    std::string host(const std::string& more) const {
        write("pen.toml", pen);
        start("host", "host --level pen.toml --port 0 --crew 2 " + more);
        EXPECT_TRUE(says("host.err", "; the server file is")) << read_file(file("host.err"));
        return "join --level pen.toml "; // the server file says where
    }
    // A host that records into a pipe which is full from then on. The test holds both of its ends.
    std::string host_beside_a_full_pipe(const std::string& more) {
        shell("mkfifo stuck.replay");
        pipe_ = ::open(file("stuck.replay").c_str(), O_RDWR | O_NONBLOCK | O_CLOEXEC);
        const std::string join = host("--record stuck.replay " + more);
        const std::vector<char> filling(4096);
        while (::write(pipe_, filling.data(), filling.size()) > 0) {
        }
        EXPECT_EQ(errno, EAGAIN);
        return join + "--bots 2";
    }
    bool has_shots(const std::string& database) const {
        return until([&] { return rows_of(file(database), "shots").first > 0; });
    }

  private:
    int pipe_ = -1;
};

TEST_F(Hosted, PlaysOverUdpAndEndsCleanly) {
    start("join", host("--telemetry h.db --record h.replay") + "--bots 2");
    EXPECT_TRUE(has_shots("h.db")) << read_file(file("host.err")) << read_file(file("join.err"));
    signal("host", "INT");
    EXPECT_EQ(status("host"), "0\n") << read_file(file("host.err"));
    EXPECT_EQ(status("join"), "0\n") << read_file(file("join.err"));
    const std::string host = read_file(file("host.txt"));
    for (const char* part : {"canopy-1", "rootward-1", "2 players", "interrupted"}) {
        EXPECT_NE(host.find(part), std::string::npos) << host;
    }
    EXPECT_NE(read_file(file("join.txt")).find("canopy-1"), std::string::npos);
    EXPECT_NE(read_file(file("join.err")).find("the server was stopped"), std::string::npos);
    const Answer played = run("replay h.replay");
    EXPECT_EQ(played.status, 0) << played.err;
}

TEST_F(Hosted, ServesNumbersAndEndsByItself) {
    const std::string port = free_port();
    host("--metrics " + port);
    const std::string ask =
        "python3 -c \"import urllib.request; print(urllib.request.urlopen('http://127.0.0.1:" + port + '/';
    const Answer metrics = shell(ask + "metrics').read().decode())\"");
    EXPECT_NE(metrics.out.find("avrek_tick_seconds"), std::string::npos) << metrics.err;
    EXPECT_NE(shell(ask + "health').status)\"").out.find("200"), std::string::npos);
    signal("host", "INT");
    EXPECT_EQ(status("host"), "0\n");
    const Answer alone = run("host --level pen.toml --port 0 --crew 2 --for 0.3");
    EXPECT_EQ(alone.status, 0) << alone.err;
    EXPECT_NE(alone.out.find("time is up"), std::string::npos);
}

// A replay into a pipe without a reader: the tool waits to open it, and nothing ticks until there is one.
TEST_F(Hosted, SaysWhetherItTicks) {
    const std::string port = free_port();
    write("pen.toml", pen);
    shell("mkfifo late.replay");
    start("host", "host --level pen.toml --port 0 --crew 2 --record late.replay --metrics " + port);
    const std::string ask =
        "python3 -c \"import urllib.request; print(urllib.request.urlopen('http://127.0.0.1:" + port +
        "/health').read().decode())\"";
    const auto says_health = [&](const std::string& what) {
        return until([&] { return shell(ask).out.find(what) != std::string::npos; });
    };
    EXPECT_TRUE(says_health("avrek_up 0")) << shell(ask).out;
    shell("cat late.replay > read.replay &");
    EXPECT_TRUE(says_health("avrek_up 1")) << shell(ask).out;
    signal("host", "INT");
    EXPECT_EQ(status("host"), "0\n") << read_file(file("host.err"));
}

// The ticks go on beside it as long as parts may wait, telemetry is whole.
TEST_F(Hosted, TicksBesideADiskThatTakesNothing) {
    host_beside_a_full_pipe("--rate 500 --telemetry t.db ");
    EXPECT_EQ(status("host"), "2\n");
    EXPECT_NE(
        read_file(file("host.err")).find("stuck.replay: error: cannot be written: the disk takes nothing"),
        std::string::npos);
    EXPECT_NE(read_file(file("host.txt")).find("0 players"), std::string::npos);
    EXPECT_EQ(rows_of(file("t.db"), "matches", "ticks").first, 1);
    EXPECT_GT(rows_of(file("t.db"), "matches", "ticks").second, 1000.0);
}

TEST_F(Hosted, EndsBesideADiskThatTakesNothing) {
    start("join", host_beside_a_full_pipe(""));
    EXPECT_TRUE(says("host.err", "connected"));
    signal("host", "TERM");
    EXPECT_EQ(status("host"), "2\n");
    EXPECT_NE(read_file(file("host.err")).find("the disk takes nothing"), std::string::npos);
}

TEST_F(Hosted, LeavesWhatWasWrittenWhenItIsKilled) {
    start("join", host("--telemetry k.db") + "--bots 2 --for 600");
    ASSERT_TRUE(has_shots("k.db"));
    const auto [before, at] = rows_of(file("k.db"), "shots");
    signal("host", "KILL");
    signal("join", "KILL");
    EXPECT_EQ(status("host"), "137\n");
    EXPECT_EQ(status("join"), "137\n");
    const auto [shots, latest] = rows_of(file("k.db"), "shots");
    EXPECT_GE(shots, before);
    EXPECT_GE(latest, at);
}

TEST_F(Hosted, TakesWhatIsSavedWhileItRuns) {
    const std::string base = read_file(AVREK_SOURCE_DIR "/data/halm-ring.toml");
    write("live.toml", base);
    start("join", host("--watch live.toml") + "--bots 2 --for 600 live.toml");
    ASSERT_TRUE(says("host.err", "connected"));
    std::filesystem::rename(write("new.toml", base + "[body.mouse]\nlike = 'crew'\nhealth = 5\n"),
                            file("live.toml"));
    ASSERT_TRUE(says("host.err", "counts from tick")) << read_file(file("host.err"));
    ASSERT_TRUE(says("join.err", "live.toml counts from tick")) << read_file(file("join.err"));
    write("live.toml", "[body.mouse]\nhaelth = 3\n");
    ASSERT_TRUE(says("host.err", "the values stay as they were"));
    signal("host", "INT");
    EXPECT_EQ(status("host"), "0\n");
    EXPECT_EQ(status("join"), "0\n");
}

TEST_F(Hosted, HearsAPlayerWhoMayTuneAndKeepsWhatCounts) {
    write("bad.toml", "[weapon.thorn-rifle]\nmagasine = 3\n");
    write("good.toml", tiny);
    start("join",
          host("--session h.session") + "--bots 2 --for 600 --propose 0=bad.toml --propose 0=good.toml");
    ASSERT_TRUE(says("join.err", "good.toml counts from tick")) << read_file(file("join.err"));
    nlohmann::json kept;
    ASSERT_TRUE(until([&] {
        kept = nlohmann::json::parse(run("session h.session --json").out);
        return kept.size() > 1;
    }));
    signal("host", "INT");
    EXPECT_EQ(status("host"), "0\n");
    EXPECT_EQ(status("join"), "0\n");
    const std::string heard = read_file(file("join.err"));
    EXPECT_NE(heard.find("bad.toml:2:1: error: weapon.thorn-rifle: has no key 'magasine'"), std::string::npos)
        << heard;
    EXPECT_NE(heard.find("is refused"), std::string::npos);
    EXPECT_EQ(kept[1]["after"], "50");
    EXPECT_EQ(kept[1]["by"].get<std::string>().rfind("host at tick ", 0), 0U);
}

TEST_F(Hosted, TakesTicketsOfAnotherService) {
    const std::string key = run("ticket --keys service.json").out.substr(0, 64);
    EXPECT_EQ(run("ticket --keys service.json").out, key + '\n') << "the same keys again";
    const std::string join = host("--for 600 --issuer " + key);
    EXPECT_EQ(read_file(file("avrek-server.json")).find("secret"), std::string::npos);
    const Answer own = run(join);
    EXPECT_EQ(own.status, 2);
    EXPECT_NE(own.err.find("allowed: --ticket FILE"), std::string::npos) << own.err;
    const Answer other = run("ticket --keys other.json --server-file avrek-server.json");
    EXPECT_EQ(other.status, 2);
    EXPECT_NE(other.err.find("--issuer"), std::string::npos) << other.err;
    EXPECT_EQ(run("ticket --keys service.json --player 2").status, 2) << "there is no server to let it in";
    const Answer made = run("ticket --keys service.json --server-file avrek-server.json --player 2 --json");
    ASSERT_EQ(made.status, 0) << made.err;
    const std::string with =
        join + "--ticket " + nlohmann::json::parse(made.out)["ticket"].get<std::string>();
    start("join", with);
    EXPECT_TRUE(says("host.err", "rootward-1")) << read_file(file("host.err")) << read_file(file("join.err"));
    const Answer again = run(with);
    EXPECT_EQ(again.status, 1) << "it is good once";
    EXPECT_NE(again.err.find("used"), std::string::npos) << again.err;
    signal("host", "INT");
    EXPECT_EQ(status("join"), "0\n") << read_file(file("join.err"));
    write("avrek-ticket-2.json", "{\"ticket\": \"00\"}");
    const Answer broken = run(with);
    EXPECT_EQ(broken.status, 2);
    EXPECT_NE(broken.err.find("ticket: is not 322 hexadecimal digits"), std::string::npos) << broken.err;
    EXPECT_EQ(run("host --port 0 --crew 2 --for 0.1 --issuer " + key.substr(1)).status, 2);
}

TEST_F(Hosted, SaysWhyNobodyIsLetIn) {
    write("tune.toml", tiny);
    start("join", host("") + "--bots 1 " AVREK_SOURCE_DIR "/data/halm-ring.toml tune.toml");
    EXPECT_EQ(status("join"), "1\n");
    signal("host", "INT");
    EXPECT_EQ(status("host"), "0\n");
    const std::string refused = read_file(file("join.err"));
    EXPECT_NE(refused.find("the arsenal is not the one"), std::string::npos) << refused;
    EXPECT_NE(refused.find("differs: weapon.thorn-rifle"), std::string::npos) << refused;
    EXPECT_NE(read_file(file("host.err")).find("was refused"), std::string::npos);
}

TEST_F(Tool, JoinAndHostSayWhatIsWrongWithTheCall) {
    write("server.json", "{\"match\": 1}");
    const Answer no_server_file = run("join --server-file server.json");
    EXPECT_EQ(no_server_file.status, 2);
    EXPECT_NE(no_server_file.err.find("server.json: error: is not a server file"), std::string::npos)
        << no_server_file.err;
    EXPECT_EQ(run("join --server-file none.json").status, 2);
    EXPECT_EQ(run("host --at 300.1.1.1 --for 0.02").status, 2);
    EXPECT_NE(run("match --link strom").err.find("did you mean 'storm'?"), std::string::npos);
}

} // namespace
} // namespace avrek
