// Tunes one weapon from code: what `avrek solve` does, step by step. The rifle shall kill half of all crew at
// fifteen metres within about a third of a second; damage and rate of fire may change. Computed, then fought.
//
//     tune_rifle [data/halm-ring.toml]
#include <avrek/avrek.h>

#include <algorithm>
#include <cstdio>
#include <span>

using namespace avrek;

namespace {

constexpr const char* rifle = "thorn-rifle";
constexpr const char* profile = "gardener";

void tell(const char* what, const Arsenal& arsenal) {
    const auto engagement = engagement_of(arsenal, rifle, profile, "crew", 15.0);
    const auto rival = engagement_of(arsenal, "reed-carbine", profile, "crew", 15.0);
    if (!engagement || !rival) {
        return;
    }
    const KillDistribution kills = kill_distribution(*engagement, {max_distribution_points, 0.01});
    const KillDistribution others = kill_distribution(*rival);
    const Duration spread = engagement->shooter.reaction_spread;
    const DuelOutcome outcome = duel({&kills, {}, spread}, {&others, {}, spread});
    const auto half = time_of_share(kills, 0.5);
    std::printf("%-8s half of all crew are dead %.0f ms after the pull of the trigger; it wins %.0f %% "
                "against the carbine\n",
                what, half ? to_milliseconds(*half) : 0.0, 100.0 * outcome.win_rate(0));
    const IdealKill ideal =
        ideal_time_to_kill(*engagement->weapon, engagement->target, 15.0, engagement->aim);
    std::printf("         at best %.0f ms (%s); chances are within %.1f %%\n", to_milliseconds(ideal.time),
                to_string(ideal.plan).c_str(), 100.0 * kills.error);
}

// One number alone, with all else as it is. What is not allowed is refused with the reason.
void vary_damage(std::span<const ArsenalText> base) {
    const ArsenalValues values{base};
    for (const double damage : {22.0, 25.0, 28.0, -3.0}) {
        const ArsenalChange change{"weapon.thorn-rifle.damage", damage};
        const Loaded<Arsenal> varied = values.with({&change, 1});
        if (!varied) {
            std::printf("%s\n", to_string(varied.diagnostics.front()).c_str());
            continue;
        }
        const auto engagement = engagement_of(*varied, rifle, profile, "crew", 15.0);
        const auto half = time_of_share(kill_distribution(*engagement), 0.5);
        std::printf("damage %.0f: %.0f ms\n", damage, half ? to_milliseconds(*half) : 0.0);
    }
}

// The share that is dead by then, of so many fights in a real skirmish.
double fought(const Arsenal& arsenal, Duration after_pull, std::uint32_t fights) {
    const Engagement engagement = *engagement_of(arsenal, rifle, profile, "crew", 15.0);
    const Duration pulled = engagement.shooter.reaction;
    EngagementTrial trial{engagement};
    std::uint32_t dead = 0;
    for (std::uint32_t fight = 0; fight < fights; ++fight) {
        const auto death = trial.fight(fight).death;
        dead += death && *death - pulled <= after_pull ? 1U : 0U;
    }
    return static_cast<double>(dead) / fights;
}

} // namespace

int main(int count, char** words) {
    const std::string file = count > 1 ? words[1] : "data/halm-ring.toml";
    const Loaded<ArsenalText> text = read_arsenal_text(file);
    if (!text) {
        std::fprintf(stderr, "%s\n", to_string(text.diagnostics.front()).c_str());
        return 2;
    }
    const std::vector<ArsenalText> base{*text.value};
    const Loaded<Arsenal> before = parse_arsenal(base);
    if (!before) {
        std::fprintf(stderr, "%s\n", to_string(before.diagnostics.front()).c_str());
        return 2;
    }
    tell("Now:", *before.value);
    std::printf("\n");
    vary_damage(base);

    Wish wish;
    wish.measure = WishMeasure::median_time;
    wish.min = 0.32;
    wish.max = 0.38;
    wish.weapons[0] = rifle;
    wish.at = 15.0;
    wish.shooter = profile;
    wish.body = "crew";
    const Wishes wishes{
        "Out of tune_rifle.",
        {{"weapon.thorn-rifle.damage", 16, 34, 1}, {"weapon.thorn-rifle.rate_of_fire", 540, 900, 10}},
        {wish}};
    const Loaded<Solution> solved = solve(base, wishes);
    if (!solved) {
        std::fprintf(stderr, "%s\n", to_string(solved.diagnostics.front()).c_str());
        return 2;
    }
    std::printf("\n%s: %s, after %zu tries\n\n%s\n", to_string(wish).c_str(),
                solved.value->met ? "met" : "not met", solved.value->tries,
                solved.value->overlay.text.c_str());

    const Loaded<Arsenal> after = parse_arsenal(std::vector{base.front(), solved.value->overlay});
    if (!after) {
        return 2;
    }
    tell("Then:", *after.value);
    const Duration half = from_seconds(solved.value->results.front().after);
    std::printf("Of 2000 fights in a skirmish %.1f %% were over by then.\n",
                100.0 * fought(*after.value, half, 2000));
    return 0;
}
