#include "tool_rig.h"

#include <sqlite3.h>

#include <cmath>

namespace avrek {
namespace {

using nlohmann::json;

const std::string wishes = AVREK_SOURCE_DIR "/data/wishes/";
const std::string overlays = AVREK_SOURCE_DIR "/data/overlays/";

std::size_t widest(const std::string& text) {
    std::istringstream lines{text};
    std::size_t most = 0;
    for (std::string line; std::getline(lines, line);) {
        most = std::max(most, line.size());
    }
    return most;
}

TEST_F(Tool, TuningCommandsFitATerminalAndAgreeWithTheirJson) {
    for (const std::string words :
         {"ttk --distribution thorn-rifle \"sickle heavy\" --at 1,12 --fights 50",
          "ttk --distribution --curves needle-pistol --at 9", "duel --at 5,20 --points 32",
          "duel thorn-rifle seed-lobber --at 12 --fights 50 --link storm --points 32",
          "duel burr-gun reed-carbine --at 6 --link station-lan,far-dock --corner --points 32"}) {
        const Answer text = run(words);
        ASSERT_EQ(text.status, 0) << words << text.err;
        EXPECT_LE(widest(text.out), 100U) << words;
        const Answer rows = run(words + " --json");
        ASSERT_EQ(rows.status, 0) << words;
        const json parsed = json::parse(rows.out);
        EXPECT_FALSE(parsed.empty()) << words;
        const Answer csv = run(words + " --format csv");
        EXPECT_EQ(static_cast<std::size_t>(std::count(csv.out.begin(), csv.out.end(), '\n')),
                  parsed.size() + 1)
            << words;
        EXPECT_EQ(run(words).out, text.out) << "the second time";
    }
    const json kills = json::parse(run("ttk --distribution thorn-rifle --at 12 --fights 400 --json").out);
    EXPECT_NEAR(kills[0]["killed_percent"].get<double>(), kills[0]["fought_killed_percent"].get<double>(),
                2.0);
    EXPECT_LT(kills[0]["largest_difference_percent"].get<double>(), 8.2);
}

TEST_F(Tool, SolvesWritesAndExplainsTheDifference) {
    const Answer solved = run("solve " + wishes + "rifle-in-a-third.toml --overlay o.toml");
    ASSERT_EQ(solved.status, 0) << solved.err;
    EXPECT_NE(solved.out.find("All wishes are met"), std::string::npos);
    EXPECT_EQ(run("check " AVREK_SOURCE_DIR "/data/halm-ring.toml o.toml").status, 0);
    const Answer diff = run("diff o.toml");
    ASSERT_EQ(diff.status, 0) << diff.err;
    EXPECT_NE(diff.out.find("weapon.thorn-rifle.damage: 22 -> "), std::string::npos) << diff.out;
    EXPECT_LE(widest(diff.out), 100U);
    EXPECT_EQ(
        run("diff " AVREK_SOURCE_DIR "/data/halm-ring.toml " AVREK_SOURCE_DIR "/data/halm-ring.toml").out,
        "Nothing differs.\n");
    const Answer impossible = run("solve " + wishes + "impossible-fast-and-slow.toml --json");
    EXPECT_EQ(impossible.status, 1);
    const json parsed = json::parse(impossible.out);
    EXPECT_EQ(parsed["met"], false);
    EXPECT_EQ(parsed["not_met_together"][0], (json{1, 2}));
}

// Killed, or interrupted, with ever more of it done; left to end: the same bytes as undisturbed.
TEST_F(Tool, AKilledSweepGoesOn) {
    const std::string sweep = " sweep thorn-rifle --vary weapon.thorn-rifle.damage=16:30:2 --vary "
                              "weapon.thorn-rifle.rate_of_fire=600:700:50 --at 12 --points 32 ";
    for (const std::string name : {"all.csv", "all.db"}) {
        ASSERT_EQ(run(sweep + "--store " + name).status, 0);
        const auto whole = static_cast<long>(std::filesystem::file_size(file(name)));
        for (int kill = 1; kill <= 3; ++kill) {
            // As soon as so much of the file of parts is there, or the sweep is over.
            const std::string enough = std::to_string(whole * kill / 4);
            shell(AVREK_TOOL + sweep + "--store again" + name +
                  " & P=$!; while kill -0 $P && test $(stat -c %s again" + name + ".part || echo 0) -lt " +
                  enough + "; do :; done 2> /dev/null; kill -" + (kill % 3 == 0 ? "INT" : "KILL") +
                  " $P 2> /dev/null; wait $P");
        }
        const Answer last = run(sweep + "--store again" + name);
        ASSERT_EQ(last.status, 0) << last.err;
        EXPECT_EQ(read_file(file("again" + name)), read_file(file(name))) << name;
        EXPECT_FALSE(std::filesystem::exists(file("again" + name + ".part")));
    }
    // Another sweep does not go on in its place.
    write("y.csv.part", "another\n");
    const Answer other = run(sweep + "--store y.csv");
    EXPECT_EQ(other.status, 2);
    EXPECT_NE(other.err.find("is of another sweep"), std::string::npos);
    const Answer alone = shell("command -v mpirun");
    const Answer two = shell(
        "mpirun --version > /dev/null 2>&1 && mpirun --allow-run-as-root --oversubscribe -n 2 " AVREK_TOOL +
        sweep + "--store two.csv");
    if (alone.status == 0 && two.status == 0 && two.out.find("points,") != std::string::npos) {
        EXPECT_EQ(read_file(file("two.csv")), read_file(file("all.csv")));
    }
}

TEST_F(Tool, ObservesWhatABoutLeft) {
    ASSERT_EQ(run("bout --crew 6 --seed 3 --for 94 --telemetry play.db").status, 0);
    const Answer observed = run("observe play.db --target-speed 2 --json");
    EXPECT_LE(observed.status, 1) << observed.err;
    const json rows = json::parse(observed.out);
    sqlite3* base = nullptr;
    ASSERT_EQ(sqlite3_open(file("play.db").c_str(), &base), SQLITE_OK);
    int deaths = 0;
    sqlite3_exec(
        base, "SELECT count(*) FROM deaths",
        [](void* count, int, char** values, char**) {
            *static_cast<int*>(count) = std::atoi(values[0]);
            return 0;
        },
        &deaths, nullptr);
    sqlite3_close(base);
    int kills = 0;
    for (const json& row : rows) {
        kills += row["kills"].get<int>();
        EXPECT_LE(row["low_ms"], row["observed_median_ms"]);
    }
    EXPECT_GT(kills, 0);
    EXPECT_LE(kills, deaths);
    EXPECT_LE(widest(run("observe play.db").out), 100U);
}

TEST_F(Tool, SweepsAskAnything) {
    // The same numbers as the commands give.
    ASSERT_EQ(run("sweep thorn-rifle burr-gun --vary weapon.thorn-rifle.damage=22:26:4 --measure duel --at 9 "
                  "--points 64 "
                  "--store duel.db --json")
                  .status,
              0);
    sqlite3* base = nullptr;
    ASSERT_EQ(sqlite3_open(file("duel.db").c_str(), &base), SQLITE_OK);
    double rate = -1.0;
    sqlite3_exec(
        base, "SELECT \"thorn-rifle_over_burr-gun_9m_win_rate\" FROM sweep WHERE point = 0",
        [](void* value, int, char** values, char**) {
            *static_cast<double*>(value) = std::atof(values[0]);
            return 0;
        },
        &rate, nullptr);
    sqlite3_close(base);
    const json board = json::parse(run("duel thorn-rifle burr-gun amber-rail --at 9 --points 64 --json").out);
    double expected = -2.0;
    for (const json& row : board) {
        if (row["one"] == "thorn-rifle" && row["other"] == "burr-gun") {
            expected = row["win_rate_percent"].get<double>() / 100.0;
        }
    }
    EXPECT_NEAR(rate, expected, 1e-9);
    // Whole matches over links; the same with one thread and with two.
    const std::string match =
        "sweep thorn-rifle --measure match --vary link.storm.latency=0.1:0.3:0.2 --link storm "
        "--crew 4 --for 9 ";
    ASSERT_EQ(run(match + "--threads 1 --store one.csv").status, 0);
    ASSERT_EQ(run(match + "--threads 2 --store two.csv").status, 0);
    EXPECT_EQ(read_file(file("one.csv")), read_file(file("two.csv")));
    EXPECT_EQ(read_file(file("one.csv")).substr(0, 40), "point,link.storm.latency,kills,trades,de");
    // Samples, and values that contradict each other: an empty row.
    ASSERT_EQ(run("sweep amber-rail --vary weapon.amber-rail.rounds_per_shot=10:60:10 --samples 12 --at 20 "
                  "--points 32 "
                  "--store odd.csv")
                  .status,
              0);
    const std::string odd = read_file(file("odd.csv"));
    EXPECT_EQ(std::count(odd.begin(), odd.end(), '\n'), 13);
    EXPECT_NE(odd.find(",,,,"), std::string::npos) << odd;
}

TEST_F(Tool, SensitivityNamesWhatMatters) {
    const json rows = json::parse(run("ttk --sensitivity needle-pistol --at 12 --points 32 --json").out);
    ASSERT_GT(rows.size(), 20U);
    EXPECT_LT(std::abs(rows.back()["time_percent_per_percent"].get<double>()),
              std::abs(rows.front()["time_percent_per_percent"].get<double>()));
    bool has_damage = false;
    for (const json& row : rows) {
        has_damage |= row["path"] == "weapon.needle-pistol.damage";
        EXPECT_EQ(row["path"].get<std::string>().find(".handling."), std::string::npos);
    }
    EXPECT_TRUE(has_damage);
    EXPECT_EQ(run("ttk --sensitivity").status, 2);
    EXPECT_EQ(run("ttk --sensitivity thorn-rifle burr-gun").status, 2);
}

TEST_F(Tool, ReportStandsAlone) {
    const Answer made = run("report thorn-rifle --at 5,15 --points 32 --page r.html --overlay " + overlays +
                            "hot-burr-gun.toml");
    ASSERT_EQ(made.status, 0) << made.err;
    const std::string page = read_file(file("r.html"));
    EXPECT_NE(page.find("\"digest\""), std::string::npos);
    EXPECT_NE(page.find("avrek report thorn-rifle"), std::string::npos);
    const json data =
        json::parse(run("report thorn-rifle --at 5,15 --points 32 --page again.html --json").out);
    EXPECT_EQ(data["weapons"], json{"thorn-rifle"});
    for (const char* part : {"kills", "duels", "standings", "overview", "handling", "links", "link_wins",
                             "breakpoints", "sensitivity"}) {
        EXPECT_FALSE(data[part].empty()) << part;
    }
    EXPECT_EQ(data["kills"]["gardener"]["thorn-rifle"].size(), 2U);
    EXPECT_EQ(data["breakpoints"][0]["stretches"][0][2], 5) << "five shots near by, as ttk says";
    EXPECT_NEAR(data["link_wins"]["thorn-rifle"][0][1].get<double>(), 50.0, 1e-6);
    EXPECT_NE(page.find("Chart.js"), std::string::npos);
    for (const char* outside : {"<link rel=\"stylesheet", "src=\"http", "@import", "fetch("}) {
        EXPECT_EQ(page.find(outside), std::string::npos) << outside;
    }
}

TEST_F(Tool, TuningSaysWhatIsAllowed) {
    write("empty.toml", "");
    write("bad.toml", "[[wish]]\nat = 3\n");
    write("note.session", "a note");
    const struct {
        const char* words;
        const char* message;
    } calls[] = {
        {"ttk --distribution --at 0", "over 0"},
        {"ttk --distribution --points 100", "a power of two"},
        {"ttk --distribution --shooter gardner", "did you mean 'gardener'?"},
        {"ttk --distribution axe", "there is no weapon 'axe'"},
        {"duel --shooter gardener,apprentice,old-hand", "two sides"},
        {"duel --corner", "--corner needs --link"},
        {"duel --fights 10", "--fights is for two weapons"},
        {"duel --link wire", "there is no link 'wire'"},
        {"solve", "which wishes?"},
        {"solve nowhere.toml", "cannot be read"},
        {"solve empty.toml", "there is no wish"},
        {"solve bad.toml", "wishes for nothing"},
        {"diff", "what differs?"},
        {"fold", "what is folded?"},
        {"session", "which session?"},
        {"session none.session", "unable to open"},
        {"session note.session", "not a database"},
        {"diff none.session@x", "no change of a session"},
        {"ttk thorn-rifle --session e.session", "--session has no change to keep"},
        {"bout --watch none.session", "unable to open"},
        {"sweep --store x.csv", "sweep over what?"},
        {"sweep --vary weapon.thorn-rifle.damage=1:2:1", "--store"},
        {"sweep --vary weapon.thorn-rifle.damage=1:2:1 --store /nowhere/x.csv", "cannot be written"},
        {"sweep --vary weapon.thorn-rifle.damage=1:2:1 --measure why --store x.csv", "ttk, duel, match"},
        {"sweep --vary weapon.thorn-rifle.dmage=1:2:1 --store x.csv", "did you mean 'damage'?"},
        {"report", "--page FILE.html"},
        {"report --page /nowhere/r.html --at 5 --points 32 --shooter gardener burr-gun", "cannot write"},
        {"observe", "observed where?"},
        {"observe nothing.db", "cannot be read"},
        {"observe empty.toml.db", "cannot be read"},
    };
    for (const auto& call : calls) {
        const Answer answer = run(call.words);
        EXPECT_EQ(answer.status, 2) << call.words;
        EXPECT_NE(answer.err.find(call.message), std::string::npos) << call.words << '\n' << answer.err;
        EXPECT_TRUE(answer.out.empty()) << call.words;
    }
}

// A session keeps the changes of a bout, and its changes stand for arsenal files.
TEST_F(Tool, ASessionGoesBackComparesAndStartsOthers) {
    for (const auto& [name, rate] : {std::pair{"a.toml", 800}, {"b.toml", 900}}) {
        write(name, "[weapon.thorn-rifle]\nrate_of_fire = " + std::to_string(rate) + "\n");
    }
    ASSERT_EQ(run("bout --crew 2 --for 2 --retune 0.5=a.toml --retune 1=b.toml --session e.session").status,
              0);
    const auto all = nlohmann::json::parse(run("session e.session --json").out);
    ASSERT_EQ(all.size(), 3U);
    EXPECT_EQ(all[1]["path"], "weapon.thorn-rifle.rate_of_fire");
    EXPECT_EQ(all[2]["before"], "800");
    EXPECT_EQ(all[2]["by"], "bout at 1.000 s");
    EXPECT_NE(run("diff e.session@1 e.session@2").out.find("rate_of_fire: 800 -> 900 (+12.5 %)"),
              std::string::npos);
    EXPECT_NE(run("diff e.session").out.find("rate_of_fire: 720 -> 900"), std::string::npos);
    EXPECT_EQ(run("ttk thorn-rifle e.session@1").out,
              run("ttk thorn-rifle " AVREK_SOURCE_DIR "/data/halm-ring.toml a.toml").out);
    EXPECT_NE(run("fold e.session@2").out.find("rate_of_fire = 900"), std::string::npos);
    EXPECT_EQ(run("solve e.session@1").status, 2);
    EXPECT_LT(run("solve " + wishes + "rifle-in-a-third.toml e.session@2 --tries 10").status, 2);
    ASSERT_EQ(run("session e.session@2 --overlay o.toml").status, 0);
    EXPECT_EQ(read_file(file("o.toml")), "[weapon.thorn-rifle]\nrate_of_fire = 900\n");
    // Going back keeps what is there now, unless it has faults.
    write("a.toml", "[weapon.thorn-rifle]\nrate_of_fire = 850\n");
    ASSERT_EQ(run("session e.session@1 --restore").status, 0);
    EXPECT_EQ(read_file(file("a.toml")), "[weapon.thorn-rifle]\nrate_of_fire = 800\n");
    EXPECT_FALSE(std::filesystem::exists(file("halm-ring.toml"))) << "the shipped one is no file of ours";
    EXPECT_NE(run("session e.session").out.find("rate_of_fire: 900 -> 850"), std::string::npos);
    write("a.toml", "[weapon.thorn-rifle]\nrate = 850\n");
    EXPECT_EQ(run("session e.session@2 --restore").status, 2);
    EXPECT_EQ(read_file(file("a.toml")), "[weapon.thorn-rifle]\nrate = 850\n");
}

// Options on how shots are fired count in every table, not only in the details of two.
TEST_F(Tool, TablesHeedTheWayOfShooting) {
    const std::string changes[] = {"--stance crouching", "--target-speed 5", "--for 0.4", "--plan taps:0.5"};
    const std::string sweep =
        "sweep thorn-rifle --vary weapon.thorn-rifle.damage=20:22:2 --at 9 --points 32 ";
    const std::string duel = "duel thorn-rifle burr-gun needle-pistol --at 8 --points 32 ";
    ASSERT_EQ(run(sweep + "--store as-is.csv").status, 0);
    const std::string as_is = run(duel).out;
    for (const std::string& change : changes) {
        EXPECT_NE(run(duel + change).out, as_is) << change;
        ASSERT_EQ(run(sweep + "--store changed.csv " + change).status, 0);
        EXPECT_NE(read_file(file("changed.csv")), read_file(file("as-is.csv"))) << change;
        std::filesystem::remove(file("changed.csv"));
    }
}

} // namespace
} // namespace avrek
