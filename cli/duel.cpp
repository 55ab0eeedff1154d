#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "crew_options.h"
#include "duel_plot.h"
#include "gnuplot.h"
#include "progress.h"
#include "shooting_options.h"
#include "table.h"
#include <avrek/tuning/duel.h>
#include <avrek/tuning/engagement_trial.h>
#include <avrek/tuning/link_effects.h>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <array>
#include <memory>

namespace avrek::cli {

namespace {

constexpr Duration later_by = std::chrono::milliseconds{50};

struct DuelOptions {
    CommonOptions common;
    std::vector<double> distances{5, 10, 15, 25, 40};
    ShootingOptions shooting;
    std::string body;
    std::vector<std::string> links;
    bool corner = false;
    std::string rules;
    double rate = 64;
    double snapshot_interval = 2;
    double interpolation = 0.07;
    double fights = 0;
    std::string plot;
};

// Both sides of all duels.
struct Sides {
    std::array<std::string, 2> shooters;
    std::array<const LinkSpec*, 2> links{};
    std::array<LinkView, 2> views{};
    std::array<Duration, 2> later{};
    NetworkSetup network;
    std::string body;
};

Sides sides_of(const Arsenal& arsenal, const DuelOptions& options) {
    Sides sides;
    const std::vector<std::string> shooters = shooters_of(arsenal, options.shooting);
    if (shooters.size() > 2 || options.links.size() > 2) {
        throw WrongCall{{"error: a duel has two sides; allowed: one or two of --shooter and of --link"}};
    }
    sides.shooters = {shooters.front(), shooters.back()};
    sides.body = body_of(arsenal, options.body).id;
    sides.network.rate.hertz = static_cast<std::int32_t>(whole("--rate", options.rate));
    sides.network.snapshot_interval =
        static_cast<std::int32_t>(whole("--snapshot-interval", options.snapshot_interval));
    sides.network.interpolation = from_seconds(options.interpolation);
    if (!arsenal.matches.empty() || !options.rules.empty()) {
        sides.network.lag_compensation =
            arsenal[id_named<MatchId>("rules", arsenal.matches, options.rules)].lag_compensation;
    }
    for (std::size_t side = 0; side < 2 && !options.links.empty(); ++side) {
        const std::string& name = side == 0 ? options.links.front() : options.links.back();
        sides.links[side] = &arsenal[id_named<LinkId>("link", arsenal.links, name)];
        sides.views[side] = view_over(*sides.links[side], sides.network);
        sides.later[side] = sides.views[side].view_delay;
    }
    if (options.corner) {
        if (options.links.empty()) {
            throw WrongCall{{"error: --corner needs --link: without a network both see each other at once"}};
        }
        // The side that comes sees the one that stands at once; the one that waits sees it arrive later.
        sides.later = {Duration{}, corner_advantage(sides.views[0], sides.views[1])};
    }
    return sides;
}

DuelMatrix matrix_of(const Arsenal& arsenal, const std::vector<std::string>& names, const Sides& sides,
                     const DuelOptions& options) {
    return duel_matrix(arsenal, names, options.distances,
                       {sides.shooters, sides.body, sides.later, sides.network.lag_compensation.trades,
                        settings_of(options.shooting), overrides_of(options.shooting)});
}

std::string boards_text(const DuelMatrix& matrix, bool colour) {
    std::size_t width = 8;
    for (const std::string& name : matrix.names) {
        width = std::max(width, name.size());
    }
    std::string text;
    for (std::size_t distance = 0; distance < matrix.distances.size(); ++distance) {
        std::string heading =
            fmt::format("{:<{}}", fmt::format("{:g} m", matrix.distances[distance]), width + 4);
        for (std::size_t column = 0; column < matrix.names.size(); ++column) {
            heading += fmt::format("{:>5}", column + 1);
        }
        text += '\n' + emphasised(heading, colour) + '\n';
        for (std::size_t row = 0; row < matrix.names.size(); ++row) {
            text += fmt::format("{:>2}  {:<{}}", row + 1, matrix.names[row], width);
            for (std::size_t column = 0; column < matrix.names.size(); ++column) {
                const DuelOutcome& outcome = matrix.at(distance, row, column);
                text += outcome.neither < 0.995 ? fmt::format("{:>5.0f}", 100.0 * outcome.win_rate(0))
                                                : fmt::format("{:>5}", "-");
            }
            text += '\n';
        }
    }
    return text;
}

std::string standings_text(const DuelMatrix& matrix, bool colour) {
    const std::vector<DuelStanding> all = standings(matrix);
    std::string heading = fmt::format("{:<14}", "against all");
    for (const Metres distance : matrix.distances) {
        heading += fmt::format("{:>8}", fmt::format("{:g} m", distance));
    }
    std::string text = '\n' + emphasised(heading, colour) + '\n';
    std::string never;
    for (std::size_t row = 0; row < matrix.names.size(); ++row) {
        text += fmt::format("{:<14}", matrix.names[row]);
        for (std::size_t distance = 0; distance < matrix.distances.size(); ++distance) {
            const auto& best = all[row].best_at;
            const bool is_best = std::find(best.begin(), best.end(), distance) != best.end();
            text += fmt::format(
                "{:>8}", fmt::format("{:.0f}{}", 100.0 * all[row].win_rates[distance], is_best ? "*" : " "));
        }
        text += '\n';
        never += all[row].best_at.empty() ? (never.empty() ? "" : ", ") + matrix.names[row] : "";
    }
    text += "* the best there is at this distance\n\n";
    for (std::size_t row = 0; row < matrix.names.size(); ++row) {
        if (!all[row].dominates.empty()) {
            text += wrapped(fmt::format("{} beats at every distance: {}", matrix.names[row],
                                        fmt::join(all[row].dominates, ", ")),
                            text_columns, 4) +
                    '\n';
        }
    }
    if (!never.empty()) {
        text += wrapped("the answer at none of these distances: " + never, text_columns, 4) + '\n';
    }
    return text;
}

Table table_of(const DuelMatrix& matrix) {
    Table table{{{"at", "m", "distance_m", 1},
                 {"one", "", "one"},
                 {"other", "", "other"},
                 {"one wins", "%", "one_wins_percent", 1},
                 {"other wins", "%", "other_wins_percent", 1},
                 {"trades", "%", "trades_percent", 1},
                 {"neither", "%", "neither_percent", 1},
                 {"win rate", "%", "win_rate_percent", 1},
                 {"one has left", "%", "one_health_left_percent", 0},
                 {"other", "%", "other_health_left_percent", 0},
                 {"error", "+-%", "error_percent", 1}},
                {}};
    for (std::size_t distance = 0; distance < matrix.distances.size(); ++distance) {
        for (std::size_t row = 0; row < matrix.names.size(); ++row) {
            for (std::size_t column = 0; column < matrix.names.size(); ++column) {
                const DuelOutcome& outcome = matrix.at(distance, row, column);
                table.rows.push_back({matrix.distances[distance], matrix.names[row], matrix.names[column],
                                      100.0 * outcome.wins[0], 100.0 * outcome.wins[1],
                                      100.0 * outcome.trades, 100.0 * outcome.neither,
                                      100.0 * outcome.win_rate(0), 100.0 * outcome.health_left[0],
                                      100.0 * outcome.health_left[1], 100.0 * outcome.error});
            }
        }
    }
    return table;
}

Cell percent(double share) {
    return 100.0 * share;
}

// Two armaments, distance by distance.
Table pair_table(const Arsenal& arsenal, const std::vector<std::string>& names, const Sides& sides,
                 const DuelOptions& options) {
    Table table{{{"at", "m", "distance_m", 1},
                 {"one wins", "%", "one_wins_percent", 1},
                 {"other wins", "%", "other_wins_percent", 1},
                 {"trades", "%", "trades_percent", 1},
                 {"neither", "%", "neither_percent", 1},
                 {"left", "%", "one_health_left_percent", 0},
                 {"other", "%", "other_health_left_percent", 0},
                 {"50 ms", "+-%", "moved_by_50_ms_percent", 1},
                 {"error", "+-%", "error_percent", 1}},
                {}};
    const auto fights = static_cast<std::uint32_t>(whole("--fights", options.fights));
    if (fights > 0) {
        table.columns.push_back({"fought: one", "%", "fought_one_wins_percent", 1});
        table.columns.push_back({"other", "%", "fought_other_wins_percent", 1});
        table.columns.push_back({"trades", "%", "fought_trades_percent", 1});
    }
    Progress progress{"fighting", static_cast<std::int64_t>(options.distances.size()) * fights};
    std::int64_t done = 0;
    for (const double distance : options.distances) {
        std::array<Engagement, 2> engagements;
        std::array<Duration, 2> spreads;
        for (std::size_t side = 0; side < 2; ++side) {
            const Target target{.body = &body_of(arsenal, sides.body), .conditions = arsenal.conditions};
            engagements[side] =
                engagement_of(arsenal, names[side], sides.shooters[side], target, distance, options.shooting);
            spreads[side] = engagements[side].shooter.reaction_spread;
        }
        const auto kills = kill_distributions(engagements, settings_of(options.shooting));
        const DuelSide one{&kills[0], sides.later[0], spreads[0]};
        const DuelSide other{&kills[1], sides.later[1], spreads[1]};
        const bool trades = sides.network.lag_compensation.trades;
        const DuelOutcome outcome = duel(one, other, trades);
        std::vector<Cell> row{distance,
                              percent(outcome.wins[0]),
                              percent(outcome.wins[1]),
                              percent(outcome.trades),
                              percent(outcome.neither),
                              percent(outcome.health_left[0]),
                              percent(outcome.health_left[1]),
                              percent(win_rate_moved(one, other, later_by, trades)),
                              percent(outcome.error)};
        if (fights > 0) {
            DuelTrial trial{engagements[0], engagements[1], sides.later[0], sides.later[1]};
            std::array<double, 3> ends{};
            for (std::uint32_t fight = 0; fight < fights; ++fight) {
                const DuelEnd end = trial.fight(fight);
                ends[0] += end.died[1] && !end.died[0] ? 1.0 : 0.0;
                ends[1] += end.died[0] && !end.died[1] ? 1.0 : 0.0;
                ends[2] += end.died[0] && end.died[1] ? 1.0 : 0.0;
                if (++done % 64 == 0) {
                    progress.show(done);
                }
            }
            for (const double end : ends) {
                row.push_back(percent(end / fights));
            }
        }
        table.rows.push_back(std::move(row));
    }
    return table;
}

// Effect of the network between the sides on the first distance's duel.
std::string network_text(const Arsenal& arsenal, const std::vector<std::string>& names, const Sides& sides,
                         const DuelOptions& options, bool colour) {
    const double distance = options.distances.front();
    std::string text = '\n' +
                       emphasised(fmt::format("Over the network, at {:g} m: by formula, for {} ticks and {} "
                                              "snapshots a second",
                                              distance, sides.network.rate.hertz,
                                              sides.network.rate.hertz / sides.network.snapshot_interval),
                                  colour) +
                       '\n';
    for (std::size_t side = 0; side < 2; ++side) {
        const std::size_t victim = 1 - side;
        const LinkView& view = sides.views[side];
        const Target target{.body = &body_of(arsenal, sides.body), .conditions = arsenal.conditions};
        const Engagement engagement =
            engagement_of(arsenal, names[side], sides.shooters[side], target, distance, options.shooting);
        const Duration reaction = find(arsenal.shooters, sides.shooters[victim])->reaction;
        const ExperiencedTimes times = experienced(engagement, view, *sides.links[victim], reaction,
                                                   sides.network, settings_of(options.shooting));
        const CoverDelay cover = death_after_cover(view, sides.views[victim], sides.network);
        text +=
            wrapped(
                fmt::format(
                    "{} on {}: view delay {:.0f} ms{}; median time to kill from the first hit: {:.0f} ms on "
                    "the server, {:.0f} to {:.0f} ms for the victim, {:.0f} ms for the shooter; {:.0f} % of "
                    "its victims have longer than their reaction of {:.0f} ms; a victim in cover can still "
                    "die for {:.0f} ms on the server, {:.0f} ms in its own view",
                    names[side], sides.links[side]->id, to_milliseconds(view.view_delay),
                    view.unrewound > Duration{}
                        ? fmt::format(", {:.0f} ms of it beyond max_rewind", to_milliseconds(view.unrewound))
                        : std::string{},
                    to_milliseconds(times.median),
                    std::max(0.0, to_milliseconds(times.median - times.as_victim_adds)),
                    to_milliseconds(times.median + times.as_victim_adds),
                    to_milliseconds(times.median + times.as_shooter_adds), 100.0 * times.answerable,
                    to_milliseconds(reaction), to_milliseconds(cover.on_server), to_milliseconds(cover.felt)),
                text_columns, 2) +
            '\n';
    }
    text += fmt::format(
        "Coming round a corner, a player sees the other first: {} by {:.0f} ms, {} by {:.0f} ms\n", names[0],
        to_milliseconds(corner_advantage(sides.views[0], sides.views[1])), names[1],
        to_milliseconds(corner_advantage(sides.views[1], sides.views[0])));
    return text;
}

void run_duel(const DuelOptions& options) {
    const Arsenal arsenal = arsenal_of(files_among(options.common.words));
    const std::vector<std::string> names = armaments_of(arsenal, ids_among(options.common.words));
    const Sides sides = sides_of(arsenal, options);
    const OutputOptions& output = options.common.output;
    const bool colour = has_colour(output);
    const std::string who = sides.shooters[0] == sides.shooters[1]
                                ? "both as " + sides.shooters[0]
                                : sides.shooters[0] + " against " + sides.shooters[1];
    if (names.size() == 2) {
        const Table table = pair_table(arsenal, names, sides, options);
        std::string text =
            fmt::format("Duels of {} (one) against {} (other), {}\n\n", names[0], names[1], who) +
            to_text(table, colour) +
            "\nleft: health of the winner, on average; 50 ms: what it does to the win rate of the one to "
            "see the\n  other so much later\n";
        text += options.fights > 0.0 ? "fought: in a skirmish, where hits also shake the other\n" : "";
        if (sides.links[0] != nullptr) {
            text += network_text(arsenal, names, sides, options, colour);
        }
        if (!options.plot.empty()) {
            draw(duel_script(matrix_of(arsenal, names, sides, options), "Duels, " + who), options.plot);
        }
        write_table(table, text, output);
        return;
    }
    if (options.fights > 0.0) {
        throw WrongCall{{"error: --fights is for two weapons, such as: avrek duel thorn-rifle reed-carbine"}};
    }
    const DuelMatrix matrix = matrix_of(arsenal, names, sides, options);
    const std::string title = "Duels, " + who;
    if (!options.plot.empty()) {
        draw(duel_script(matrix, title), options.plot);
    }
    double error = 0.0;
    for (const DuelOutcome& outcome : matrix.outcomes) {
        error = std::max(error, outcome.error);
    }
    write_table(table_of(matrix),
                title + ": % won by the row against the column, trades halved\n" +
                    boards_text(matrix, colour) + standings_text(matrix, colour) +
                    fmt::format("largest error of a chance: {:.1f} %\n", 100.0 * error),
                output);
}

} // namespace

void add_duel(CLI::App& tool, int&) {
    const auto options = std::make_shared<DuelOptions>();
    options->shooting.error = "2%";
    Command command{tool, CommandGroup::tune, "duel",
                    "Who wins: weapon against weapon, over distance and links", options->common};
    command.words(options->common, "WEAPON|ARSENAL.toml",
                  "Two weapons or blades, or several for a table of all against all; all by default");
    command.numbers("--at", options->distances, {0.01, 10000.0, "m"}, "METRES", "Distances");
    add_shooting(command, options->shooting);
    command.text("--target", options->body, "BODY", "Body of both; the arsenal's first by default");
    command.texts("--link", options->links, "LINK", "Link profile of both sides, or one for each");
    command.flag("--corner", options->corner, "The first comes round a corner where the second waits");
    command.text("--rules", options->rules, "MATCH",
                 "Rules for lag compensation; the arsenal's first by default");
    command.number("--rate", options->rate, {1, 1000, "Hz"}, "HERTZ", "Ticks per second");
    command.number("--snapshot-interval", options->snapshot_interval, {1, 64, "ticks"}, "TICKS",
                   "Ticks between two snapshots");
    command.number("--interpolation", options->interpolation, {0, 1, "s"}, "SECONDS",
                   "Extra delay before remote players are drawn");
    command.number("--fights", options->fights, {0, 10'000'000, "fights"}, "COUNT",
                   "Also simulate this many duels of two weapons, and compare");
    command.plot(options->plot);
    command.example("avrek duel thorn-rifle reed-carbine --at 8,16,32 --link station-lan,far-dock");
    command.runs([options] { run_duel(*options); });
}

} // namespace avrek::cli
