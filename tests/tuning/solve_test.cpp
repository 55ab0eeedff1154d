#include "../rounds.h"
#include "../test_data.h"
#include <avrek/data/arsenal_values.h>
#include <avrek/data/sweep_file.h>
#include <avrek/data/wishes_toml.h>
#include <avrek/tuning/engagement_trial.h>
#include <avrek/tuning/measures.h>
#include <avrek/tuning/observe.h>
#include <avrek/tuning/sensitivity.h>
#include <avrek/tuning/solve.h>
#include <avrek/tuning/sweep.h>

#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>
#include <fstream>
#include <limits>
#include <random>
#include <set>
#include <sstream>

namespace avrek {
namespace {

TEST(Wishes, SayWhatIsWrongWithThem) {
    const std::string change = "[change.\"weapon.thorn-rifle.damage\"]\nfrom = 16\nto = 30\n";
    const std::string wish = "[[wish]]\ntime_to_kill = 0.3\nweapon = \"thorn-rifle\"\nat = 10\n";
    EXPECT_TRUE(parse_wishes(change + wish, "good", shipped_texts()));
    for (const auto& [text, message] :
         {std::pair{change, "there is no wish"},
          {wish, "nothing may be changed"},
          {change + "[[wish]]\nweapon = \"thorn-rifle\"\nat = 1\n", "wishes for nothing"},
          {change + wish + "win_rate = 0.5\n", "wishes for several things"},
          {change + "[[wish]]\ntime_to_kill = 0.3\nat = 1\n", "wish[1].weapon: is missing"},
          {change + "[[wish]]\nwin_rate = 0.5\nweapon = \"burr-gun\"\nat = 1\n",
           "wish[1].against: is missing"},
          {change + "[[wish]]\ntime_to_kill = 0.3\nweapon = \"burr-gn\"\nat = 1\n",
           "did you mean 'burr-gun'"},
          {change + "[[wish]]\ntime_to_kill = [0.5, 0.3]\nweapon = \"burr-gun\"\nat = 1\n",
           "least value is over"},
          {change + "[[wish]]\ntime_to_kill = -1\nweapon = \"burr-gun\"\nat = 1\n", "allowed: 0 to 600 s"},
          {change + wish + "region = \"tail\"\n", "has no region 'tail'"},
          {"[change.\"weapon.thorn-rifle.damge\"]\nfrom = 1\nto = 2\n" + wish, "did you mean 'damage'"},
          {"[change.\"weapon.thorn-rifle.damage\"]\nfrom = 3\nto = 2\n" + wish, "its from is over its to"},
          {"[change.\"weapon.thorn-rifle.damage\"]\nfrom = 3\n" + wish, ".to: is missing"},
          {"wishes = 1\n" + change + wish, "did you mean 'wish'"}}) {
        const auto wishes = parse_wishes(text, "bad", shipped_texts());
        ASSERT_FALSE(wishes) << text;
        std::string all;
        for (const Diagnostic& fault : wishes.diagnostics) {
            all += to_string(fault) + '\n';
        }
        EXPECT_NE(all.find(message), std::string::npos) << all;
    }
}

// The shipped wishes, a test for each file.
std::vector<std::string> wish_files() {
    std::vector<std::string> names;
    for (const auto& entry : std::filesystem::directory_iterator{AVREK_SOURCE_DIR "/data/wishes"}) {
        names.push_back(entry.path().stem());
    }
    std::sort(names.begin(), names.end());
    return names;
}

class ShippedWishes : public ::testing::TestWithParam<std::string> {};

INSTANTIATE_TEST_SUITE_P(Solve, ShippedWishes, ::testing::ValuesIn(wish_files()), [](const auto& given) {
    std::string name = given.param;
    std::replace(name.begin(), name.end(), '-', '_');
    return name;
});

// In fights half of all are dead by the time that was computed.
void expect_half_dead(const Engagement& engagement, double median) {
    EngagementTrial trial{engagement};
    const auto fights = static_cast<std::uint32_t>(rounds(300));
    const double chance = 1.4 / std::sqrt(fights);
    double before = 0.0;
    double by_then = 0.0;
    constexpr double slack = 0.012; // seconds, of what flies
    for (std::uint32_t fight = 0; fight < fights; ++fight) {
        const auto death = trial.fight(fight).death;
        const double at = death ? to_seconds(*death - engagement.shooter.reaction) : Measures::never;
        before += at < median - slack ? 1.0 / fights : 0.0;
        by_then += at <= median + slack ? 1.0 / fights : 0.0;
    }
    EXPECT_LE(before, 0.5 + chance);
    EXPECT_GE(by_then, 0.5 - chance);
}

// Met with presentable numbers, and so it is in fights, or recognised as impossible.
TEST_P(ShippedWishes, AreMetOrItSaysWhyNot) {
    std::vector<ArsenalText> texts = shipped_texts();
    if (GetParam().find("burr-gun") != std::string::npos) {
        texts.push_back(*read_arsenal_text(AVREK_SOURCE_DIR "/data/overlays/hot-burr-gun.toml").value);
    }
    const auto wishes = load_wishes(AVREK_SOURCE_DIR "/data/wishes/" + GetParam() + ".toml", texts);
    ASSERT_TRUE(wishes) << to_string(wishes.diagnostics.front());
    SolveSettings settings;
    settings.finish = {256};
    if (tests_are_slow) { // a few tries of each, whatever they lead to
        settings.search = settings.finish = {32};
        settings.max_tries = 6;
        const auto tried = solve(texts, *wishes.value, settings);
        ASSERT_TRUE(tried);
        EXPECT_TRUE(parse_arsenal(with_overlay(texts, tried.value->overlay)));
        return;
    }
    const auto solved = solve(texts, *wishes.value, settings);
    ASSERT_TRUE(solved);
    const bool possible = GetParam().find("impossible") == std::string::npos;
    EXPECT_EQ(solved.value->met, possible);
    bool explained = possible;
    for (const WishResult& result : solved.value->results) {
        EXPECT_TRUE(!possible || result.miss <= result.error);
        explained |= result.alone > 0.0;
    }
    EXPECT_TRUE(explained || !solved.value->apart.empty());
    for (std::size_t index = 0; index < wishes.value->ranges.size(); ++index) {
        const WishRange& range = wishes.value->ranges[index];
        const double value = solved.value->changes[index].value;
        EXPECT_TRUE(value >= range.from && value <= range.to);
        EXPECT_NEAR(value / range.step, std::round(value / range.step), 1e-9) << range.path;
    }
    const auto arsenal = parse_arsenal(with_overlay(texts, solved.value->overlay));
    ASSERT_TRUE(arsenal);
    for (std::size_t index = 0; index < wishes.value->wishes.size(); ++index) {
        const Wish& wish = wishes.value->wishes[index];
        if (wish.measure == WishMeasure::median_time) {
            expect_half_dead(*engagement_of(*arsenal.value, wish.weapons[0], "gardener",
                                            wish.body.empty() ? "crew" : wish.body, wish.at),
                             solved.value->results[index].after);
        }
    }
}

// Nothing is tried, and nothing changes, where all wishes are met from the start.
TEST(Solve, LeavesAloneWhatIsMet) {
    const auto texts = shipped_texts();
    const auto wishes = parse_wishes("[change.\"weapon.thorn-rifle.damage\"]\nfrom = 10\nto = 40\n"
                                     "[[wish]]\nideal_shots = [1, 9]\nweapon = \"thorn-rifle\"\nat = 10\n",
                                     "met", texts);
    const auto solved = solve(texts, *wishes.value);
    EXPECT_TRUE(solved.value->met);
    EXPECT_EQ(solved.value->tries, 0U);
    EXPECT_EQ(solved.value->changes[0].value, solved.value->before[0]);
    EXPECT_TRUE(differences(texts, with_overlay(texts, solved.value->overlay)).empty());
}

// A profile that is like the changed one changes too.
TEST(Solve, KnowsWhatIsLikeWhatItChanges) {
    const auto texts = with_overlay(shipped_texts(), {"copy", "[shooter.copy]\nlike = \"gardener\"\n"});
    const auto wishes =
        parse_wishes("[change.\"shooter.gardener.min_error\"]\nfrom = 0.1\nto = 3\nstep = 0.1\n"
                     "[[wish]]\nkill_chance = [0.2, 0.6]\nweapon = \"thorn-rifle\"\nat = 45\n"
                     "shooter = \"copy\"\n",
                     "like", texts);
    ASSERT_TRUE(wishes);
    SolveSettings settings;
    settings.search = settings.finish = {32};
    EXPECT_TRUE(solve(texts, *wishes.value, settings).value->met);
}

TEST(Solve, EndsWhenItIsToldToAndKnowsPresentableSteps) {
    const auto wishes =
        load_wishes(AVREK_SOURCE_DIR "/data/wishes/carbine-even-with-rifle.toml", shipped_texts());
    SolveSettings settings;
    settings.search = settings.finish = {512};
    int asked = 0;
    settings.goes_on = [&asked] { return ++asked < 5; };
    const auto solved = solve(shipped_texts(), *wishes.value, settings);
    ASSERT_TRUE(solved);
    EXPECT_TRUE(solved.value->was_cut);
    EXPECT_LT(solved.value->tries, 10U);
    for (const auto& [from, to, step] :
         {std::tuple{16.0, 34.0, 0.5}, {540.0, 900.0, 10.0}, {0.1, 0.6, 0.02}}) {
        EXPECT_NEAR(presentable_step(from, to), step, 1e-12);
    }
}

TEST(Sensitivity, TellsWhatMattersFromWhatDoesNot) {
    const auto all = sensitivities(shipped_texts(), {"needle-pistol", "gardener", "crew", 15.0, {32}});
    const auto of = [&](const std::string& key) {
        const auto found = std::find_if(all.begin(), all.end(), [&](const Sensitivity& one) {
            return one.number.path == "weapon.needle-pistol." + key;
        });
        return found == all.end() ? Sensitivity{} : *found;
    };
    EXPECT_LT(of("rate_of_fire").of_time, -0.1);
    EXPECT_GT(of("rate_of_fire").of_wins, 0.0);
    EXPECT_GT(of("spread.aimed").of_time, 0.0);
    EXPECT_FALSE(of("spread.airborne").acts_from);
    EXPECT_TRUE(of("damage").acts_from);
}

double seconds_with(const ArsenalNumber& number, double value, const SensitivitySetup& setup) {
    const ArsenalChange change{number.path, value};
    const ArsenalText overlay = *ArsenalValues{shipped_texts()}.overlay({&change, 1}, "overlay").value;
    const Arsenal arsenal = *parse_arsenal(with_overlay(shipped_texts(), overlay)).value;
    const Engagement engagement =
        *engagement_of(arsenal, setup.armament, setup.shooter, setup.body, setup.distance);
    const KillDistribution kills = kill_distribution(engagement, setup.settings);
    const double killed = kills.killed();
    const double mean = killed > 0.0 ? to_seconds(*mean_time(kills)) : 0.0;
    return killed * mean + (1.0 - killed) * to_seconds(engagement.limit);
}

// It keeps what a number does not change; so does nobody who begins anew with each.
TEST(Sensitivity, IsThatOfArsenalsMadeAnew) {
    for (const auto& [armament, distance] : {std::pair{"seed-lobber", 9.0}, {"sickle light", 0.8}}) {
        const SensitivitySetup setup{armament, "gardener", "crew", distance, {32}};
        const double now = seconds_with({"weapon.thorn-rifle.damage"}, 22.0, setup);
        std::size_t counted = 0;
        for (const Sensitivity& one : sensitivities(shipped_texts(), setup)) {
            const ArsenalNumber& number = one.number;
            const double step = 0.05 * std::abs(number.value);
            const bool fits = number.value + step <= number.max && number.value - step >= number.min;
            if (number.whole || !fits || ++counted % (tests_are_slow ? 7 : 2) != 0) {
                continue;
            }
            const double rise = seconds_with(number, number.value + step, setup) -
                                seconds_with(number, number.value - step, setup);
            EXPECT_NEAR(one.of_time, rise / now / 0.1, 1e-6) << number.path;
        }
        EXPECT_GT(counted, 8U) << armament;
    }
}

TEST(Sweep, PointsCoverTheirAxes) {
    const auto texts = shipped_texts();
    const SweepPlan grid{
        {{"weapon.thorn-rifle.damage", 18, 22, 2}, {"weapon.thorn-rifle.rate_of_fire", 600, 700, 50}}};
    ASSERT_EQ(point_count(grid), 9U);
    std::set<std::vector<double>> seen;
    for (std::size_t point = 0; point < 9; ++point) {
        seen.insert(values_at(grid, point));
        EXPECT_TRUE(arsenal_at(ArsenalValues{texts}, grid, point));
    }
    EXPECT_EQ(seen.size(), 9U);
    SweepPlan sampled{{{"a", 0, 1, 0.001}, {"b", 5, 9, 0.5}}, 400};
    double mean = 0.0;
    for (std::size_t point = 0; point < 400; ++point) {
        const auto values = values_at(sampled, point);
        EXPECT_TRUE(values[0] >= 0.0 && values[0] <= 1.0 && values[1] >= 5.0 && values[1] <= 9.0);
        EXPECT_EQ(std::fmod(values[1], 0.5), 0.0);
        mean += values[0] / 400;
    }
    EXPECT_NEAR(mean, 0.5, 0.005);
    const SweepQuestion question{{"thorn-rifle", "burr-gun"}, {5, 10}, "gardener", "crew", true, {32}};
    EXPECT_EQ(sweep_columns(question).size(), sweep_row(*parse_arsenal(texts).value, question).size());
    for (const char* bad : {"x", "weapon.thorn-rifle.damage", "weapon.thorn-rifle.damage=1:2",
                            "weapon.thorn-rifle.damage=5:2:1", "weapon.thorn-rifle.damage=1:2:0",
                            "weapon.thorn-rifle.damage=1:1e9:1", "weapon.thorn-rifle.magazine=1.5:3:1"}) {
        EXPECT_FALSE(parse_axis(ArsenalValues{texts}, bad)) << bad;
    }
}

// However the file of parts ends, what is whole of it stays, and the finished file is the same.
TEST(SweepFile, GoesOnFromAnyEnd) {
    const std::filesystem::path folder = std::filesystem::path{::testing::TempDir()} / "avrek-sweep-file";
    std::filesystem::remove_all(folder);
    std::filesystem::create_directories(folder);
    const SweepHead head{"this sweep", {"a", "b"}, 40};
    const auto row = [](std::size_t point) {
        const double value = std::sqrt(static_cast<double>(point) + 0.1);
        return std::array{value, point % 7 == 0 ? std::numeric_limits<double>::quiet_NaN() : 1.0 / value};
    };
    for (const char* name : {"all.csv", "all.db"}) {
        const auto fill = [&](SweepFile& file, std::size_t least) {
            for (std::size_t point = 40; point-- > least;) {
                EXPECT_TRUE(file.add(point, row(point)));
            }
        };
        SweepFile whole;
        ASSERT_TRUE(whole.open(folder / name, head).empty());
        fill(whole, 0);
        EXPECT_TRUE(whole.finish().empty());
        const std::string expected = contents(folder / name);
        std::mt19937 random{7};
        for (int round = 0; round < 20; ++round) {
            const std::filesystem::path again = folder / (std::to_string(round) + name);
            const std::filesystem::path part = again.string() + ".part";
            {
                SweepFile cut;
                ASSERT_TRUE(cut.open(again, head).empty());
                fill(cut, random() % 40);
                SweepFile second;
                EXPECT_FALSE(second.open(again, head).empty()) << "two at once";
            }
            std::filesystem::resize_file(part, random() % (std::filesystem::file_size(part) + 1));
            SweepFile resumed;
            ASSERT_TRUE(resumed.open(again, head).empty());
            fill(resumed, 0);
            EXPECT_EQ(resumed.done(), 40U);
            EXPECT_TRUE(resumed.finish().empty());
            EXPECT_EQ(contents(again), expected);
            EXPECT_FALSE(std::filesystem::exists(part));
        }
    }
    SweepFile one;
    ASSERT_TRUE(one.open(folder / "other.csv", head).empty());
    one = {};
    SweepFile other;
    const auto faults = other.open(folder / "other.csv", {"another sweep", {"a", "b"}, 40});
    ASSERT_FALSE(faults.empty());
    EXPECT_NE(to_string(faults.front()).find("is of another sweep"), std::string::npos);
    EXPECT_FALSE(SweepFile{}.open("/nowhere/at/all.csv", head).empty());
    EXPECT_FALSE(SweepFile{}.open("/dev/null", head).empty());
    EXPECT_FALSE(SweepFile{}.open(folder, head).empty());
    std::filesystem::remove_all(folder);
}

TEST(Observe, TellsWhatDiffersFromChance) {
    const Arsenal arsenal = *parse_arsenal(shipped_texts()).value;
    const Engagement engagement = *engagement_of(arsenal, "thorn-rifle", "gardener", "crew", 12.0);
    EngagementTrial trial{engagement};
    std::vector<ObservedKill> kills;
    for (std::uint32_t fight = 0; fight < 200; ++fight) {
        const EngagementEnd end = trial.fight(fight);
        kills.push_back({"thorn-rifle", "gardener", "crew", 12.0, to_seconds(*end.death - *end.first_hit)});
    }
    std::vector<ObservedKill> slower = kills;
    for (ObservedKill& kill : slower) {
        kill.distance = 20.0;
        kill.seconds *= 3.0;
    }
    kills.insert(kills.end(), slower.begin(), slower.end());
    kills.push_back({"unknown", "gardener", "crew", 12.0, 1.0});
    const auto lines = observe(arsenal, kills, {});
    ASSERT_EQ(lines.size(), 3U);
    EXPECT_EQ(lines[0].kills, 200U);
    EXPECT_FALSE(lines[0].differs);
    EXPECT_TRUE(lines[1].differs);
    EXPECT_FALSE(lines[2].computed);
    EXPECT_LE(lines[0].low, lines[0].median);
    EXPECT_GE(lines[0].high, lines[0].median);
    EXPECT_TRUE(observe(arsenal, {}, {}).empty());
    EXPECT_FALSE(read_kills("/nowhere.db"));
}

} // namespace
} // namespace avrek
