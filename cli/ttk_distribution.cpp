#include "ttk_distribution.h"

#include "arsenal_options.h"
#include "board_script.h"
#include "crew_options.h"
#include "gnuplot.h"
#include "progress.h"
#include "table.h"
#include <avrek/tuning/engagement_trial.h>
#include <avrek/tuning/sensitivity.h>

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace avrek::cli {

namespace {

// One engagement, computed and perhaps fought.
struct Line {
    std::string armament;
    std::string shooter;
    Metres distance = 0.0;
    Engagement engagement{};
    KillDistribution kills{};
    Duration begin{};               // start of its times, as `kills` counts them
    std::vector<Duration> deaths{}; // simulated deaths in order, as `kills` counts them
    double fought = 0.0;

    double fought_by(Duration at) const {
        const auto after = std::upper_bound(deaths.begin(), deaths.end(), at);
        return static_cast<double>(after - deaths.begin()) / fought;
    }
    // The largest difference of the two curves, where times that differ by less than this count as one:
    // things that fly, and blades, do not all arrive at the same time.
    double difference() const {
        const bool at_once =
            engagement.weapon != nullptr && delivery_of(*engagement.weapon) != Delivery::projectile;
        const Duration slack = at_once ? Duration{1} : Duration{5'000'000};
        double most = 0.0;
        const auto look = [&](Duration at) {
            most = std::max({most, killed_at(kills, at) - fought_by(at + slack),
                             fought_by(at) - killed_at(kills, at + slack)});
        };
        for (const KillPoint& point : kills.points) {
            look(point.at);
        }
        for (const Duration death : deaths) {
            look(death);
        }
        return most;
    }
};

std::vector<Line> lines_of(const Arsenal& arsenal, const Target& target, const DistributionAsked& asked,
                           const DistributionOptions& options) {
    std::vector<Line> lines;
    for (const std::string& armament : armaments_of(arsenal, asked.ids)) {
        for (const std::string& shooter : shooters_of(arsenal, options.shooting)) {
            for (const double distance : asked.distances) {
                Line& line = lines.emplace_back(Line{armament, shooter, distance});
                line.engagement =
                    engagement_of(arsenal, armament, shooter, target, distance, options.shooting);
                if (!asked.region.empty()) {
                    line.engagement.aim = region_named(*target.body, asked.region);
                }
            }
        }
    }
    std::vector<Engagement> engagements;
    for (const Line& line : lines) {
        engagements.push_back(line.engagement);
    }
    const DistributionSettings settings = settings_of(options.shooting);
    std::vector<KillDistribution> all = kill_distributions(engagements, settings);
    for (std::size_t index = 0; index < lines.size(); ++index) {
        lines[index].kills = asked.base == TimeBase::hit
                                 ? since_first_hit(all[index], engagements[index], settings)
                                 : std::move(all[index]);
        lines[index].begin = begin_of(lines[index].kills, asked.base);
    }
    return lines;
}

void fight(std::vector<Line>& lines, const DistributionOptions& options, TimeBase base) {
    const auto fights = static_cast<std::uint32_t>(whole("--fights", options.fights));
    Progress progress{"fighting", static_cast<std::int64_t>(lines.size()) * fights};
    std::int64_t done = 0;
    for (Line& line : lines) {
        EngagementTrial trial{line.engagement};
        line.fought = fights;
        for (std::uint32_t number = 0; number < fights; ++number) {
            const EngagementEnd end = trial.fight(number);
            if (end.death) {
                const bool since_hit = base == TimeBase::hit && end.first_hit;
                line.deaths.push_back(*end.death - (since_hit ? *end.first_hit : Duration{}));
            }
            if (++done % 256 == 0) {
                progress.show(done);
            }
        }
        std::sort(line.deaths.begin(), line.deaths.end());
    }
}

Cell time_cell(const std::optional<Duration>& time) {
    return time ? Cell{to_milliseconds(*time)} : Cell{};
}

Table table_of(const std::vector<Line>& lines, const Target& target, bool fought, TimeBase base) {
    Table table{{{"weapon", "", "weapon"},
                 {"shooter", "", "shooter"},
                 {"at", "m", "distance_m", 1},
                 {"killed", "%", "killed_percent", 1},
                 {"magazine", "%", "in_magazine_percent", 1},
                 {"shots", "mean", "mean_shots", 1},
                 {"mean", "ms", "mean_ms"},
                 {"10 %", "ms", "tenth_ms"},
                 {"half", "ms", "median_ms"},
                 {"90 %", "ms", "ninetieth_ms"},
                 {"error", "+-%", "error_percent", 1}},
                {}};
    if (fought) {
        table.columns.push_back({"fought", "%", "fought_killed_percent", 1});
        table.columns.push_back({"apart", "%", "largest_difference_percent", 2});
    }
    table.columns.push_back({"", "", "body"});
    table.columns.push_back({"", "", "plan"});
    table.columns.push_back({"", "", "first_shot_ms"});
    table.columns.push_back({"", "", "since"});
    for (const Line& line : lines) {
        const KillDistribution& kills = line.kills;
        const auto mean = mean_time(kills, base);
        std::vector<Cell> row{line.armament,
                              line.shooter,
                              line.distance,
                              100.0 * kills.killed(),
                              100.0 * kills.in_magazine,
                              mean_shots(kills) > 0.0 ? Cell{mean_shots(kills)} : Cell{},
                              time_cell(mean),
                              time_cell(time_of_share(kills, 0.1, base)),
                              time_cell(time_of_share(kills, 0.5, base)),
                              time_cell(time_of_share(kills, 0.9, base)),
                              100.0 * kills.error};
        if (fought) {
            row.emplace_back(100.0 * static_cast<double>(line.deaths.size()) / line.fought);
            row.emplace_back(100.0 * line.difference());
        }
        row.emplace_back(target.body->id);
        row.emplace_back(line.engagement.melee != nullptr ? "again and again" : line.engagement.plan.name);
        row.emplace_back(to_milliseconds(kills.first_shot));
        row.emplace_back(std::string{to_string(base)});
        table.rows.push_back(std::move(row));
    }
    return table;
}

// Cuts a table to the rows that text shows.
Table for_people(Table table) {
    table.columns.resize(table.columns.size() - 4);
    for (auto& row : table.rows) {
        row.resize(table.columns.size());
    }
    return table;
}

Table curves_of(const std::vector<Line>& lines) {
    Table table{{{"weapon", "", "weapon"},
                 {"shooter", "", "shooter"},
                 {"at", "m", "distance_m", 1},
                 {"time", "ms", "time_ms", 1},
                 {"killed", "%", "killed_percent", 2},
                 {"hurt", "%", "hurt_percent", 2},
                 {"health", "%", "mean_health_percent", 2}},
                {}};
    for (const Line& line : lines) {
        for (const KillPoint& point : line.kills.points) {
            table.rows.push_back({line.armament, line.shooter, line.distance,
                                  to_milliseconds(point.at - line.begin), 100.0 * point.killed,
                                  100.0 * point.hit, 100.0 * point.health});
        }
    }
    return table;
}

// The curves, one for each line; what was fought as points on them.
std::string script_of(const std::vector<Line>& lines, const std::string& title, TimeBase base) {
    static constexpr std::array colours{"#2060a0", "#b3432b", "#4c8c4a", "#8a6aa5", "#d98c3f",
                                        "#333333", "#5b9aa0", "#a05070", "#9a8a2a"};
    std::string script = "set title " + quoted(title) +
                         " font ',14' noenhanced\nset border 3 lc rgb '#404040'\nset tics nomirror out\n"
                         "set grid lc rgb '#ececec'\nset xlabel 'milliseconds since " +
                         std::string{words_of(base)} +
                         "'\n"
                         "set ylabel 'dead, % of all engagements'\nset yrange [0:102]\nset key outside right "
                         "Left reverse samplen 3 noenhanced\n";
    std::vector<double> lates;
    std::vector<std::string> layers;
    for (std::size_t index = 0; index < lines.size(); ++index) {
        const Line& line = lines[index];
        script += fmt::format("$curve{} << EOD\n0 0\n", index);
        for (const KillPoint& point : line.kills.points) {
            script +=
                fmt::format("{:.3f} {:.4f}\n", to_milliseconds(point.at - line.begin), 100.0 * point.killed);
        }
        script += "EOD\n";
        const auto late = time_of_share(line.kills, 0.97 * line.kills.killed(), base);
        lates.push_back(late ? to_milliseconds(*late) : 0.0);
        const std::string name = fmt::format("{}, {}, {:g} m", line.armament, line.shooter, line.distance);
        const std::size_t style = index % colours.size();
        layers.push_back(fmt::format("$curve{} with steps lw 2 dt {} lc rgb '{}' title {}", index,
                                     1 + index / colours.size() % 4, colours[style], quoted(name)));
        if (line.fought > 0.0) {
            script += fmt::format("$fought{} << EOD\n", index);
            const std::size_t step = std::max<std::size_t>(1, line.deaths.size() / 24);
            for (std::size_t death = 0; death < line.deaths.size(); death += step) {
                const Duration at = line.deaths[death];
                script += fmt::format("{:.3f} {:.4f}\n", to_milliseconds(at - line.begin),
                                      100.0 * line.fought_by(at));
            }
            script += "EOD\n";
            if (!line.deaths.empty()) {
                layers.push_back(fmt::format("$fought{} with points pt {} ps 1.1 lc rgb '{}' notitle", index,
                                             4 + 2 * (index % 5), colours[style]));
            }
        }
    }
    // A few that take very long must not squeeze the others.
    std::sort(lates.begin(), lates.end());
    const double usual = lates[lates.size() / 2];
    const double most = std::max(200.0, 1.1 * std::min(lates.back(), 3.0 * std::max(usual, 100.0)));
    script += fmt::format("set xrange [0:{}]\n", most);
    return script + plot_of(layers);
}

} // namespace

void add_distribution(Command& command, DistributionOptions& options) {
    command.flag("--distribution", options.wanted,
                 "The distribution for a shooter profile, instead of the ideal time");
    command.flag("--curves", options.curves, "All points of the distribution curves");
    command.flag("--sensitivity", options.sensitivity,
                 "Effect of each number of one weapon, at the first distance");
    command.number("--fights", options.fights, {0, 10'000'000, "fights"}, "COUNT",
                   "Also simulate this many fights of each distribution, and compare");
    add_shooting(command, options.shooting);
}

void run_sensitivity(const std::vector<std::string>& files, const Target& target,
                     const DistributionAsked& asked, const DistributionOptions& options) {
    const Arsenal arsenal = arsenal_of(files);
    const std::vector<std::string> armaments = armaments_of(arsenal, asked.ids);
    if (asked.ids.empty() || armaments.size() != 1 || asked.distances.front() <= 0.0) {
        throw WrongCall{
            {"error: --sensitivity is of one weapon, such as: avrek ttk --sensitivity burr-gun --at 8"}};
    }
    const std::string shooter = shooters_of(arsenal, options.shooting).front();
    // The same points for every value, so that differences are those of the numbers.
    ShootingOptions shooting = options.shooting;
    shooting.points = shooting.points.value_or(256);
    const auto all = sensitivities(arsenal_texts(files), {armaments.front(), shooter, target.body->id,
                                                          asked.distances.front(), settings_of(shooting)});
    Table table{{{"number", "", "path"},
                 {"is", "", "value", 3},
                 {"time to kill", "% per %", "time_percent_per_percent", 2},
                 {"wins", "points per %", "win_points_per_percent", 2},
                 {"does something from", "%", "acts_from_percent", 0}},
                {}};
    for (const Sensitivity& one : all) {
        table.rows.push_back({one.number.path, one.number.value, one.of_time, one.of_wins,
                              one.acts_from ? Cell{100.0 * *one.acts_from} : Cell{}});
    }
    write_table(table,
                fmt::format("What the numbers of {} do at {:g} m, as {} against {}\n\n", armaments.front(),
                            asked.distances.front(), shooter, target.body->id) +
                    to_text(table, has_colour(asked.output)) +
                    "\ntime to kill: the mean, up to ten seconds; wins: duels against all others\n",
                asked.output);
}

void run_distribution(const Arsenal& arsenal, const Target& target, const DistributionAsked& asked,
                      const DistributionOptions& options) {
    for (const double distance : asked.distances) {
        if (distance <= 0.0) {
            throw WrongCall{
                {"error: --at: 0 is not allowed with --distribution; allowed: over 0 to 10000 m"}};
        }
    }
    std::vector<Line> lines = lines_of(arsenal, target, asked, options);
    const bool fought = options.fights > 0.0;
    if (fought) {
        fight(lines, options, asked.base);
    }
    const std::string title = "Time to kill " + target_text(arsenal, target) + ", as it is distributed";
    if (!asked.plot.empty()) {
        draw(script_of(lines, title + (fought ? "; points: fought" : ""), asked.base), asked.plot);
    }
    if (options.curves) {
        const Table curves = curves_of(lines);
        write_table(curves, title + '\n' + to_text(curves, has_colour(asked.output)), asked.output);
        return;
    }
    const Table table = table_of(lines, target, fought, asked.base);
    std::string text =
        wrapped(title + ": from " + std::string{words_of(asked.base)} + " to the death, of all engagements",
                text_columns, 2) +
        "\n\n" + to_text(for_people(table), has_colour(asked.output)) + "\nkilled: by " +
        fmt::format("{:g} s after the first pull of the trigger; magazine: before the first "
                    "reload;\nmean and shots: of those that kill; error: of killed, at any "
                    "time\n",
                    options.shooting.seconds.value_or(10.0));
    if (fought) {
        text += wrapped(fmt::format("fought: of {} in a skirmish each; apart: the largest distance between "
                                    "the computed curve and theirs, which is chance up to about {:.2f} %",
                                    whole("--fights", options.fights), 136.0 / std::sqrt(options.fights)),
                        text_columns, 0) +
                '\n';
    }
    write_table(table, text, asked.output);
}

} // namespace avrek::cli
