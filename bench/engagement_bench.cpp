// How far the computed distributions are from engagements that are fought, and how much sooner they are
// there:
//     engagement_bench [FIGHTS of each engagement] [POINTS of the integral] [ARMAMENT]
#include <avrek/data/arsenal_toml.h>
#include <avrek/tuning/engagement_trial.h>
#include <avrek/tuning/kill_distribution.h>

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <cstdlib>
#include <string>
#include <vector>

using namespace avrek;

namespace {

struct Case {
    std::string armament;
    std::array<Metres, 5> distances;
};

// Near, usual and far for each of them.
const std::vector<Case> cases{
    {"thorn-rifle", {4, 10, 18, 33, 50}},       {"needle-pistol", {4, 10, 18, 26, 40}},
    {"reed-carbine", {4, 10, 20, 37, 60}},      {"burr-gun", {2, 5, 9, 14, 24}},
    {"seed-lobber", {7, 12, 18, 26, 36}},       {"amber-rail", {5, 15, 30, 60, 90}},
    {"pollen-spray", {1.5, 3, 5, 7, 8.5}},      {"burl-sling", {3, 7, 12, 18, 26}},
    {"sickle light", {0.6, 0.8, 1, 1.2, 1.35}},
};

double seconds() {
    return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

// The largest distance between the computed curve and the one of `deaths`; times closer than `slack` are one.
double apart(const KillDistribution& kills, const std::vector<Duration>& deaths, double fights,
             Duration slack) {
    const auto fought = [&](Duration at) {
        return static_cast<double>(std::upper_bound(deaths.begin(), deaths.end(), at) - deaths.begin()) /
               fights;
    };
    double most = 0.0;
    const auto look = [&](Duration at) {
        most = std::max(
            {most, killed_at(kills, at) - fought(at + slack), fought(at) - killed_at(kills, at + slack)});
    };
    for (const KillPoint& point : kills.points) {
        look(point.at);
    }
    for (const Duration death : deaths) {
        look(death);
    }
    return most;
}

} // namespace

int main(int count, char** words) {
    const auto fights = static_cast<std::uint32_t>(count > 1 ? std::atoi(words[1]) : 20'000);
    const auto points = static_cast<std::size_t>(count > 2 ? std::atoi(words[2]) : 1024);
    const Loaded<Arsenal> arsenal = load_arsenal(AVREK_DATA_DIR "/halm-ring.toml");
    if (!arsenal) {
        return 1;
    }
    fmt::print("{:<14} {:>6} {:>9} {:>9} {:>9} {:>10} {:>12} {:>9}\n", "armament", "at m", "killed", "fought",
               "apart", "computed", "fought each", "sooner");
    double computed_in_all = 0.0;
    double fought_in_all = 0.0;
    for (const Case& one : cases) {
        for (const Metres distance : one.distances) {
            if (count > 3 && one.armament != words[3]) {
                continue;
            }
            const auto engagement = engagement_of(*arsenal.value, one.armament, "gardener", "crew", distance);
            double began = seconds();
            const KillDistribution kills = kill_distribution(*engagement, {points});
            const double computed = seconds() - began;
            began = seconds();
            EngagementTrial trial{*engagement};
            std::vector<Duration> deaths;
            for (std::uint32_t fight = 0; fight < fights; ++fight) {
                if (const auto death = trial.fight(fight).death) {
                    deaths.push_back(*death);
                }
            }
            const double each = (seconds() - began) / fights;
            std::sort(deaths.begin(), deaths.end());
            // Projectiles and blades arrive within some milliseconds of each other.
            const bool at_once =
                engagement->weapon != nullptr && delivery_of(*engagement->weapon) != Delivery::projectile;
            const double most =
                apart(kills, deaths, fights, at_once ? Duration{1} : Duration{std::chrono::milliseconds{5}});
            // So many fights are on average as far from the truth (0.8687 / sqrt(n), Kolmogorov, 1933).
            const double needed = std::pow(0.8687 / std::max(most, 1e-4), 2.0);
            computed_in_all += computed;
            fought_in_all += needed * each;
            fmt::print("{:<14} {:>6g} {:>9.4f} {:>9.4f} {:>9.4f} {:>7.2f} ms {:>9.1f} us {:>8.0f}x\n",
                       one.armament, distance, kills.killed(), static_cast<double>(deaths.size()) / fights,
                       most, 1e3 * computed, 1e6 * each, needed * each / computed);
            std::fflush(stdout);
        }
    }
    fmt::print("all: computed in {:.2f} s, fought to the same distance in {:.0f} s: {:.0f} times\n",
               computed_in_all, fought_in_all, fought_in_all / computed_in_all);
    return 0;
}
