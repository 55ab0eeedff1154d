#include "tool_rig.h"

#include <algorithm>
#include <array>
#include <cstdio>
#include <map>

namespace avrek {
namespace {

TEST_F(Tool, TtkTellsTheSameInTextCsvAndJson) {
    const Answer json = run("ttk thorn-rifle needle-pistol --at 5,50 --region head,torso --json");
    ASSERT_EQ(json.status, 0) << json.err;
    const auto rows = nlohmann::json::parse(json.out);
    ASSERT_EQ(rows.size(), 2U * 2U * 2U);
    const auto& torso = rows[2];
    EXPECT_EQ(torso["weapon"], "thorn-rifle");
    EXPECT_EQ(torso["region"], "torso");
    EXPECT_EQ(torso["shots"], 5);                   // 22 each, of 100
    EXPECT_DOUBLE_EQ(torso["time_ms"], 333.333333); // four intervals at 720 a minute
    const std::string csv =
        run("ttk thorn-rifle needle-pistol --at 5,50 --region head,torso --format csv").out;
    EXPECT_NE(csv.find("thorn-rifle,crew,torso,5,kills,22,5,0,333.333333,pull,hold,0,32.95"),
              std::string::npos)
        << csv;
    EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), 9);
    const std::string text = run("ttk thorn-rifle --at 5,50,130 --region torso").out;
    EXPECT_NE(text.find("5   333.3"), std::string::npos) << text;
    EXPECT_NE(text.find("out of range"), std::string::npos) << text;
    // Charge and spin-up count unless it is said otherwise.
    const auto rail = [&](const std::string& options) {
        const Answer answer = run("ttk amber-rail --at 20 --region torso --json " + options);
        return nlohmann::json::parse(answer.out)[0];
    };
    EXPECT_GT(rail("")["time_ms"], 900.0);
    EXPECT_EQ(rail("")["plan"], "part charge");
    EXPECT_EQ(rail("--since shot")["time_ms"], 0.0);
    EXPECT_EQ(run("ttk --since sight").status, 2);
    EXPECT_NE(run("ttk --since shoot").err.find("pull, shot, hit, sight"), std::string::npos);
    double before = 0.0;
    for (const char* const since : {"hit", "shot", "pull", "sight"}) {
        const Answer answer =
            run(std::string{"ttk burl-sling --at 12 --distribution --json --since "} + since);
        const double half = nlohmann::json::parse(answer.out)[0]["median_ms"];
        EXPECT_GT(half, before + 50.0) << since << ": each begins earlier";
        before = half;
    }
}

TEST_F(Tool, TtkAndExplainKnowLayersGuardsAndConditions) {
    const auto shots = [&](const std::string& words) {
        return nlohmann::json::parse(
            run("ttk thorn-rifle --at 10 --region torso --json " + words).out)[0]["shots"];
    };
    EXPECT_EQ(shots(""), 5);
    EXPECT_EQ(shots("--target warden"), 9);
    EXPECT_EQ(shots("--with barked"), 7);
    EXPECT_EQ(shots("--attacker-with roused"), 4);
    EXPECT_EQ(shots("--guard 10"), 9); // 80 stamina stop 3.6 of them
    EXPECT_EQ(shots("--guard 80"), 5); // from beside it
    const Answer json = run("explain seed-lobber --at 10 --target warden --attacker-with roused --json");
    ASSERT_EQ(json.status, 0) << json.err;
    const auto told = nlohmann::json::parse(json.out);
    ASSERT_EQ(told["hits"].size(), 2U);
    for (const auto& hit : told["hits"]) {
        double product = 1.0;
        for (const auto& step : hit["steps"]) {
            product *= step["factor"].get<double>();
            EXPECT_DOUBLE_EQ(step["total"].get<double>(), product);
        }
        EXPECT_NEAR(hit["health_lost"].get<double>(), product, 1e-9);
    }
    EXPECT_EQ(told["hits"][1]["kind"], "burst");
    EXPECT_EQ(told["shots"], 2);
    const std::string text = run("explain thorn-rifle --guard 20").out;
    EXPECT_NE(text.find("left of 100; the guard stops it whole"), std::string::npos) << text;
    const std::string blade = run("explain sickle --attack heavy --target warden --at 1").out;
    EXPECT_NE(blade.find("It kills with 4 strikes"), std::string::npos) << blade;
    EXPECT_EQ(run("explain thorn-rifle --format csv").out.substr(0, 27), "hit,step,defence,factor,tot");
    for (const std::string file_name : {"ttk.png", "ttk.svg"}) {
        EXPECT_EQ(run("ttk --target warden --plot " + file_name).status, 0);
        EXPECT_GT(read_file(file(file_name)).size(), 10'000U);
    }
    EXPECT_EQ(run("ttk pollen-spray --at 500 --plot far.png").status, 0) << "nothing in reach";
    for (const std::string words :
         {"explain thorn-rifle --target warden --at 40 --with barked", "ttk --target warden"}) {
        std::stringstream lines{run(words).out};
        for (std::string line; std::getline(lines, line);) {
            EXPECT_LE(line.size(), 100U) << line;
        }
    }
}

TEST_F(Tool, LaterFilesOverlayEarlierOnes) {
    const std::string base = AVREK_SOURCE_DIR "/data/halm-ring.toml ";
    const Answer tuned =
        run("ttk thorn-rifle --at 5 --region torso --json " + base + write("tune.toml", tiny));
    EXPECT_EQ(nlohmann::json::parse(tuned.out)[0]["shots"], 2) << tuned.err;
    EXPECT_EQ(run("ttk --json --at 5 --region torso thorn-rifle " + base + file("tune.toml")).out, tuned.out)
        << "a list of numbers or names ends with its word";
    const Answer fired = run("range --at 3 --region torso --json " + base + file("tune.toml"));
    EXPECT_EQ(nlohmann::json::parse(fired.out)["shots_to_death"], 2) << fired.err;
}

TEST_F(Tool, TtkKeepsItsColumnsApartHoweverLongTheyGet) {
    const std::string weak =
        "[weapon.weak]\nrate_of_fire = 1\nmagazine = 100\nreserve = 9900\nreload.time = 60\n"
        "range = 100\ndamage = 0.02\n[body.b.region.a]\n"
        "shapes = [{ sphere = [0, 1, 0], radius = 1 }]\n";
    const std::string text = run("ttk --at 1,2,3,4,5,6,7,8 " + write("weak.toml", weak)).out;
    EXPECT_NE(text.find("  5000* 302880000.0  5000* 302880000.0"), std::string::npos) << text;
    std::stringstream lines{text};
    for (std::string line; std::getline(lines, line);) {
        EXPECT_LE(line.size(), 100U) << line;
    }
}

TEST_F(Tool, RangeListsShotsAndIsTheSameForTheSameSeed) {
    const Answer first = run("range thorn-rifle --at 20 --for 3 --seed 5 --json");
    ASSERT_EQ(first.status, 0) << first.err;
    const auto trial = nlohmann::json::parse(first.out);
    ASSERT_EQ(trial["shots"].size(), 30U);
    EXPECT_DOUBLE_EQ(trial["shots"][1]["time_ms"], 83.333333);
    EXPECT_EQ(trial["reloads"].size(), 1U);
    double left = 100.0;
    for (const auto& shot : trial["shots"]) {
        left -= shot["damage"].get<double>();
        EXPECT_NEAR(shot["health_left"].get<double>(), left, 1e-9);
    }
    EXPECT_EQ(run("range thorn-rifle --at 20 --for 3 --seed 5 --json").out, first.out);
    EXPECT_NE(run("range thorn-rifle --at 20 --for 3 --seed 6 --json").out, first.out);
    const std::string text = run("range thorn-rifle --at 20 --for 3 --seed 5").out;
    EXPECT_NE(text.find("reload from 2.500 s to 5.100 s"), std::string::npos) << text;
    std::stringstream lines{text};
    for (std::string line; std::getline(lines, line);) {
        EXPECT_LE(line.size(), 100U) << line;
    }
}

TEST_F(Tool, RangeComparesPlansAndPostures) {
    const std::string call =
        "range thorn-rifle --at 25 --for 3 --plan hold --plan bursts:4,0.35 --speed 0,5 ";
    const auto rows = nlohmann::json::parse(run(call + "--json").out);
    ASSERT_EQ(rows.size(), 4U);
    EXPECT_EQ(rows[1]["plan"], "bursts 4, 0.35 s");
    EXPECT_EQ(rows[3]["posture"], "upright at 5 m/s");
    EXPECT_LT(rows[1]["half_radius_m"], rows[0]["half_radius_m"]);
    EXPECT_LT(rows[1]["half_radius_m"], rows[3]["half_radius_m"]);
    const Answer text = run(call + "--plot plans.png");
    EXPECT_NE(text.out.find("tightest group: bursts 4, 0.35 s, standing still"), std::string::npos)
        << text.out;
    EXPECT_EQ(read_file(file("plans.png")).substr(1, 3), "PNG");
    for (const std::string line :
         {"range burr-gun --at 300 --plan taps:0.5 --plan hold --stance crouching --aim 0.5 --plot far.svg",
          "range needle-pistol --for 0 --plan taps:0.5 --plan hold --plot none.svg"}) {
        EXPECT_EQ(run(line).status, 0) << "nothing in reach, nothing fired";
    }
    write("plan.toml", "[[intent]]\nat = 0.1\ntrigger = true\n[[intent]]\nat = 0.3\ntrigger = false\n");
    write("still.toml", "[[intent]]\nat = 0.1\n");
    const std::string some = run("range thorn-rifle --plan still.toml --plan hold").out;
    EXPECT_NE(some.find("tightest group: hold"), std::string::npos) << some;
    EXPECT_NE(run("range --plan still.toml --plan still.toml").out.find("no shot left"), std::string::npos);
    EXPECT_NE(run("range --at 900 --plan hold --plan taps:1").out.find("nothing hit the body"),
              std::string::npos);
    const auto own = nlohmann::json::parse(run("range --plan plan.toml --json").out);
    EXPECT_EQ(own["plan"], "plan");
    EXPECT_EQ(own["shots"].size(), 3U);
    const auto moving = nlohmann::json::parse(run("range --plan plan.toml --speed 5 --json").out);
    EXPECT_GT(moving["shots"][0]["cone_deg"], own["shots"][0]["cone_deg"])
        << "the file says nothing of speed";
    write("bad.toml", "[[intent]]\nat = 0.1\ntriger = true\n");
    const std::pair<const char*, const char*> wrong[] = {
        {"--plan bad.toml", "bad.toml:3:1: error: intent[0]: has no key 'triger', did you mean 'trigger'?"},
        {"--plan none.toml", "cannot be read"},
        {"--plan taps:0", "'taps:0' is not allowed; allowed: taps:SECONDS, 0.001 to 60 s"},
        {"--plan bursts:3", "allowed: bursts:SHOTS,SECONDS"},
        {"--plan bursts:0,1", "1 to 1000 shots"},
        {"--plan spray", "allowed: hold, taps:SECONDS"},
        {"--stance crouchin", "there is no stance 'crouchin', did you mean 'crouching'?"},
        {"--aim 2", "'2' is not allowed; allowed: 0 to 1"},
        {"--speed 1,2,3,4,5,6,7", "at most 6 trials side by side, not 1 plans at 7 speeds"},
    };
    for (const auto& [words, said] : wrong) {
        const Answer answer = run(std::string{"range "} + words);
        EXPECT_EQ(answer.status, 2) << words;
        EXPECT_NE(answer.err.find(said), std::string::npos) << answer.err;
    }
}

TEST_F(Tool, CardSaysWhatAWeaponComesTo) {
    const auto card = nlohmann::json::parse(run("card thorn-rifle --json --plot card.svg").out);
    std::map<std::string, nlohmann::json> figures;
    for (const auto& figure : card["figures"]) {
        figures[figure["name"]] = figure["value"];
    }
    EXPECT_NEAR(figures["rate while firing"].get<double>(), 720.0, 1e-3);
    EXPECT_NEAR(figures["damage while firing"].get<double>(), 264.0, 1e-3);
    EXPECT_EQ(figures["shots to empty"], 30);
    EXPECT_EQ(figures["reload, from empty"], 2.6);
    EXPECT_EQ(card["spread"][0]["posture"], "hip, standing still");
    EXPECT_EQ(card["recoil"].size(), 24U);
    EXPECT_NE(read_file(file("card.svg")).find("<svg"), std::string::npos);
    for (const std::string id : {"thorn-rifle", "needle-pistol", "reed-carbine", "burr-gun", "seed-lobber",
                                 "amber-rail", "pollen-spray", "burl-sling"}) {
        const Answer shown = run("card " + id + " --plot " + id + ".png");
        ASSERT_EQ(shown.status, 0) << shown.err;
        std::stringstream lines{shown.out};
        for (std::string line; std::getline(lines, line);) {
            EXPECT_LE(line.size(), 100U) << line;
        }
    }
    EXPECT_NE(run("card thorn-rifle burr-gun").err.find("one weapon at a time, not 2"), std::string::npos);
    EXPECT_NE(run("card --format csv").out.find("firing,rate while firing,"), std::string::npos);
}

TEST_F(Tool, RangeDrawsPngAndSvg) {
    ASSERT_EQ(run("range thorn-rifle --plot a.png").status, 0);
    EXPECT_EQ(read_file(file("a.png")).substr(1, 3), "PNG");
    ASSERT_EQ(run("range needle-pistol --at 500 --for 0 --plot b.svg").status, 0)
        << "nothing fired, out of reach";
    const std::string svg = read_file(file("b.svg"));
    EXPECT_NE(svg.find("<svg"), std::string::npos);
    EXPECT_NE(svg.find("no shot left"), std::string::npos);
    EXPECT_EQ(run("range --plot none/b.svg").status, 2);
    for (const char* picture : {"full.png", "full.svg"}) {
        const Answer full =
            shell("trap '' XFSZ; ulimit -f 8; " AVREK_TOOL " range --plot " + std::string{picture});
        EXPECT_EQ(full.status, 2);
        EXPECT_NE(full.err.find("cannot draw full."), std::string::npos) << full.err;
        EXPECT_FALSE(std::filesystem::exists(file(picture))) << "a picture that was cut off";
    }
    const Answer without = shell("PATH=/nowhere " AVREK_TOOL " range --plot c.png");
    EXPECT_EQ(without.status, 2);
    EXPECT_NE(without.err.find("gnuplot"), std::string::npos);
    EXPECT_FALSE(std::filesystem::exists(file("c.png")));
}

TEST_F(Tool, RangeFiresAnythingIntoALevel) {
    write("field.toml", "[[piece]]\nplane = [0, 0, 0]\nnormal = [0, 1, 0]\n");
    for (const std::string what :
         {"seed-lobber", "burl-sling --level field.toml", "pollen-spray --level field.toml",
          "sickle --level field.toml", "sickle --attack heavy --level field.toml",
          "amber-rail --level field.toml --aim 1", "burr-gun --level field.toml --at 9"}) {
        const Answer json = run("range " + what + " --for 2 --json");
        ASSERT_EQ(json.status, 0) << json.err;
        const auto trial = nlohmann::json::parse(json.out);
        double taken = 0.0;
        for (const auto& segment : trial["segments"]) {
            taken += segment["damage"].is_number() ? segment["damage"].get<double>() : 0.0;
        }
        double lost = 0.0;
        for (const auto& body : trial["bodies"]) {
            lost += 100.0 - body["health"].get<double>() - body["worn"].get<double>();
        }
        EXPECT_NEAR(taken, lost, 1e-9) << what;
        EXPECT_GT(taken, 20.0) << what;
    }
    for (const std::string what : {"seed-lobber --look 5,5", "pollen-spray --level field.toml"}) {
        const Answer text = run("range " + what + " --for 1 --plot shot.png");
        EXPECT_EQ(run("range " + what + " --for 1").out, text.out) << "the same again";
        std::istringstream lines{text.out};
        for (std::string line; std::getline(lines, line);) {
            EXPECT_LE(line.size(), 100U) << line;
        }
        EXPECT_EQ(read_file(file("shot.png")).substr(1, 3), "PNG");
        std::filesystem::remove(file("shot.png"));
    }
    write("wall.toml", "[[piece]]\nbox = [0, 0, -10]\nhalf = [5, 5, 0.1]\n");
    const auto own = nlohmann::json::parse(
        run("range thorn-rifle --level wall.toml --from 0,1,-14 --look 0,0 --body-at 0,0,0 --for 0.05 --json")
            .out);
    EXPECT_EQ(own["segments"][0]["met"], "plain");
    EXPECT_NEAR(own["segments"][0]["z_m"].get<double>(), -10.1, 1e-9);
    EXPECT_EQ(
        run("range thorn-rifle --level wall.toml --from 0,99,0 --look 0,0 --for 0 --plot none.svg").status,
        0);
    write("bad.toml", "[[piece]]\nbox = [0, 0, 0]\n");
    const std::pair<const char*, const char*> wrong[] = {
        {"sickel", "there is no weapon 'sickel', did you mean 'sickle'?"},
        {"sickle --attack lght", "there is no attack 'lght', did you mean 'light'?"},
        {"seed-lobber --at 500 --level field.toml",
         "does not reach the first body, 500.0 m away; allowed: a smaller --at"},
        {"seed-lobber --level nowhere",
         "'nowhere' is not allowed; allowed: atrium, or a file ending in .toml"},
        {"seed-lobber --level none.glb", "none.glb: error: cannot be read"},
        {"seed-lobber --level bad.toml", "bad.toml:1:1: error: piece[0]"},
        {"seed-lobber --from 1,2 --level field.toml", "--from: '1,2' is not allowed; allowed: X,Y,Z"},
        {"seed-lobber --body-at 1,2,z --level field.toml", "--body-at: '1,2,z' is not allowed"},
        {"thorn-rifle --look 5,0", "allowed: with --level LEVEL"},
        {"thorn-rifle --attack light", "--attack is for blades, and thorn-rifle is none"},
        {"seed-lobber --look 5 --level field.toml", "--look takes YAW,PITCH in degrees"},
        {"seed-lobber --plan hold --plan taps:1", "one plan at one speed in a level"},
    };
    for (const auto& [words, said] : wrong) {
        const Answer answer = run(std::string{"range "} + words);
        EXPECT_EQ(answer.status, 2) << words;
        EXPECT_NE(answer.err.find(said), std::string::npos) << answer.err;
        EXPECT_TRUE(answer.out.empty());
    }
}

TEST_F(Tool, CheckFindsFaultsAndSaysItWithItsStatus) {
    EXPECT_EQ(run("check").status, 0);
    const std::string bad = write("bad.toml", "[weapon.thorn-rifle]\nrate_of_fire = -5\ndamge = 3\n");
    const Answer text = run("check " + bad);
    EXPECT_EQ(text.status, 1);
    EXPECT_NE(
        text.out.find("bad.toml:2:16: error: weapon.thorn-rifle.rate_of_fire: is -5\n    rate_of_fire = -5\n"
                      "                   ^\n    allowed: over 0 to 6000 rounds/min\n"),
        std::string::npos)
        << text.out;
    const Answer json = run("check --json " + bad);
    EXPECT_EQ(json.status, 1);
    const auto result = nlohmann::json::parse(json.out);
    EXPECT_EQ(result["valid"], false);
    EXPECT_EQ(result["faults"][0]["line"], 1); // what is missing
    EXPECT_EQ(result["faults"].back()["suggestion"], "damage");
    EXPECT_NE(run("check --format csv " + bad).out.find("error,"), std::string::npos);
    const Answer used = run("ttk " + bad);
    EXPECT_EQ(used.status, 2) << "a wrong arsenal is wrong input for the other commands";
    EXPECT_TRUE(used.out.empty());
}

TEST_F(Tool, KeysPrintsTheShippedSchema) {
    EXPECT_EQ(run("keys --schema").out, read_file(AVREK_SOURCE_DIR "/data/arsenal.schema.json"));
    EXPECT_NE(run("keys").out.find("rate_of_fire     over 0 to 6000 rounds/min; required"),
              std::string::npos);
    EXPECT_GT(nlohmann::json::parse(run("keys --json").out).size(), 15U);
}

TEST_F(Tool, WrongCallsSayWhatIsAllowedAndExitWithTwo) {
    const struct {
        const char* words;
        const char* message;
    } calls[] = {
        {"", "subcommand"},
        {"bogus",
         "there is no command 'bogus'; allowed: card, check, keys, ttk, explain, range, bout, match, host"},
        {"completion fish", "there is no shell 'fish'; allowed: bash, zsh"},
        {"range --plan brusts:3,1", "did you mean 'bursts'?"},
        {"card --seed 3", "there is no option '--seed'"},
        {"ttk --format jsn", "there is no format 'jsn', did you mean 'json'?"},
        {"tkt", "did you mean 'ttk'?"},
        {"ttk thorn-rifel", "did you mean 'thorn-rifle'?; allowed: thorn-rifle, needle-pistol"},
        {"ttk --at -1", "'-1' is not allowed; allowed: 0 to 10000 m"},
        {"ttk --at nan", "'nan' is not allowed"},
        {"ttk --at 5,x", "'x' is not allowed"},
        {"ttk --region haed", "there is no region 'haed', did you mean 'head'?"},
        {"ttk --target crow", "there is no body 'crow', did you mean 'crew'?"},
        {"ttk --with polen", "there is no condition 'polen', did you mean 'pollen'?"},
        {"ttk --with pollen:0",
         "'pollen:0' is not allowed; allowed: CONDITION or CONDITION:STRENGTH, over 0 to 1000"},
        {"ttk --target crate --guard 0", "the body 'crate' has no guard; allowed: crew, warden"},
        {"explain sickle --attack lihgt", "there is no attack 'lihgt', did you mean 'light'?"},
        {"explain thorn-rifle --attack light", "--attack is for blades"},
        {"ttk --format xml", "allowed: text, json, csv"},
        {"bout --crew 0", "allowed: 1 to 1024 bots"},
        {"bout --crew 2.5", "--crew: 2.5 is not allowed; allowed: a whole number"},
        {"bout --shooter gardner", "did you mean 'gardener'?"},
        {"bout --rules none", "there is no rules 'none'"},
        {"bout --record none/a", "none/a: error: cannot be written: No such file"},
        {"bout --for 0.05 --record /dev/full", "/dev/full: error: cannot be written: No space left"},
        {"replay", "which replay?"},
        {"card --plot none/a.png", "cannot write none/a.png: No such file"},
        {"ttk --atx 5", "error: there is no option '--atx', did you mean '--at'?; allowed: "},
        {"ttk --at x", "error: --at: 'x' is not allowed"},
        {"", "error: "},
        {"replay no.replay", "no.replay: error: cannot be read: No such file"},
        {"replay out.txt", "is no replay"},
        {"replay a.replay --events 9,3", "--events takes FIRST,LAST"},
        {"ttk none.toml", "none.toml: error: cannot be read: No such file"},
        {"range thorn-rifle needle-pistol", "one weapon at a time, not 2"},
        {"range --plot a.gif", "allowed: a file ending in .png or .svg"},
        {"range --for 1e9", "allowed: 0 to 600 s"},
        {"check thorn-rifle", "'thorn-rifle' is not an arsenal file"},
        {"ttk --out /dev/full", "cannot write /dev/full: No space left on device"},
        {"ttk --out none/x.txt", "cannot write none/x.txt: No such file or directory"},
    };
    for (const auto& call : calls) {
        const Answer answer = run(call.words);
        EXPECT_EQ(answer.status, 2) << call.words;
        EXPECT_NE(answer.err.find(call.message), std::string::npos) << call.words << "\n" << answer.err;
        EXPECT_TRUE(answer.out.empty()) << call.words;
    }
    EXPECT_EQ(shell("(" AVREK_TOOL " ttk > /dev/full)").status, 2);
    EXPECT_NE(run("explain thorn-rifle --target drone").err.find("has no region 'torso'"), std::string::npos);
}

TEST_F(Tool, OutReplacesAFileWholeOrNotAtAll) {
    write("kept.csv", "old");
    EXPECT_EQ(run("ttk --at x --format csv --out kept.csv").status, 2);
    EXPECT_EQ(read_file(file("kept.csv")), "old");
    const Answer full = shell("trap '' XFSZ; ulimit -f 1; " AVREK_TOOL " keys --json --out kept.csv");
    EXPECT_EQ(full.status, 2);
    EXPECT_NE(full.err.find("cannot write kept.csv: File too large"), std::string::npos) << full.err;
    EXPECT_EQ(read_file(file("kept.csv")), "old");
    const Answer second = run("ttk --format csv --out kept.csv");
    EXPECT_EQ(second.status, 0);
    EXPECT_TRUE(second.out.empty());
    EXPECT_EQ(read_file(file("kept.csv")).substr(0, 7), "weapon,");
    EXPECT_EQ(std::distance(std::filesystem::directory_iterator{folder_}, {}), 3)
        << "nothing is left lying about";
}

TEST_F(Tool, HelpHasAnExampleForEveryCommand) {
    for (const std::string command :
         {"bout",  "card",    "check", "diff",   "duel",   "explain", "fold",  "host",  "join",   "keys",
          "match", "observe", "range", "replay", "report", "session", "solve", "sweep", "ticket", "ttk"}) {
        const Answer help = run(command + " --help");
        EXPECT_EQ(help.status, 0);
        EXPECT_NE(help.out.find("Example: avrek " + command), std::string::npos);
    }
    EXPECT_EQ(run("--version").status, 0);
}

} // namespace
} // namespace avrek
