#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "crew_options.h"
#include "progress.h"
#include "table.h"
#include <avrek/data/save_file.h>
#include <avrek/tuning/duel.h>
#include <avrek/tuning/engagement_trial.h>
#include <avrek/tuning/measures.h>
#include <avrek/tuning/solve.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <memory>
#include <optional>

namespace avrek::cli {

namespace {

struct SolveOptions {
    CommonOptions common;
    std::string overlay;
    double fights = 0;
    double tries = 240;
};

bool is_share(const Wish& wish) {
    return wish.measure >= WishMeasure::kill_chance;
}

std::string value_text(const Wish& wish, double value) {
    if (value >= Measures::never && !is_share(wish)) {
        return "never";
    }
    if (wish.measure == WishMeasure::ideal_shots) {
        return fmt::format("{:.0f}", value);
    }
    return is_share(wish) ? fmt::format("{:.1f} %", 100.0 * value) : fmt::format("{:.3f} s", value);
}

std::string miss_text(const Wish& wish, double miss, double error = 0.0) {
    if (miss <= error) {
        return miss <= 0.0 ? "met" : "met, within the error";
    }
    if (miss >= 0.5 * Measures::never && !is_share(wish)) {
        return "missed";
    }
    const double shown = is_share(wish) ? 100.0 * miss : miss;
    if (wish.measure != WishMeasure::ideal_shots && shown < (is_share(wish) ? 0.1 : 0.001)) {
        return fmt::format("missed by {:.2g} {}", shown, is_share(wish) ? "%" : "s");
    }
    return "missed by " + value_text(wish, miss);
}

// The measure as fights in a skirmish give it.
std::optional<double> fought(const Arsenal& arsenal, const Wish& wish, std::uint32_t fights,
                             Progress& progress, std::int64_t& done) {
    if (wish.measure == WishMeasure::ideal_time || wish.measure == WishMeasure::ideal_shots ||
        wish.measure == WishMeasure::magazine_chance) {
        return std::nullopt;
    }
    const std::string shooter = wish.shooter.empty() ? arsenal.shooters.front().id : wish.shooter;
    const std::string body = wish.body.empty() ? arsenal.bodies.front().id : wish.body;
    const auto side = [&](std::size_t which) {
        Engagement engagement =
            avrek::engagement_of(arsenal, wish.weapons[which], shooter, body, wish.at).value();
        if (!wish.region.empty()) {
            engagement.aim = region_named(*engagement.target.body, wish.region);
        }
        return engagement;
    };
    if (wish.measure == WishMeasure::win_rate) {
        DuelTrial trial{side(0), side(1)};
        double wins = 0.0;
        double decided = 0.0;
        for (std::uint32_t fight = 0; fight < fights; ++fight) {
            const DuelEnd end = trial.fight(fight);
            wins += end.died[1] ? (end.died[0] ? 0.5 : 1.0) : 0.0;
            decided += end.died[0] || end.died[1] ? 1.0 : 0.0;
            progress.show(++done);
        }
        return decided > 0.0 ? wins / decided : 0.5;
    }
    const Engagement engagement = side(0);
    EngagementTrial trial{engagement};
    std::vector<Duration> deaths;
    for (std::uint32_t fight = 0; fight < fights; ++fight) {
        if (const auto death = trial.fight(fight).death) {
            deaths.push_back(*death - engagement.shooter.reaction); // from the pull
        }
        progress.show(++done);
    }
    if (wish.measure == WishMeasure::kill_chance) {
        return static_cast<double>(deaths.size()) / fights;
    }
    std::sort(deaths.begin(), deaths.end());
    const std::size_t half = (fights + 1) / 2;
    return deaths.size() >= half ? to_seconds(deaths[half - 1]) : Measures::never;
}

std::string changes_text(const Solution& solution, const Wishes& wishes, bool colour) {
    std::size_t width = 6;
    for (const WishRange& range : wishes.ranges) {
        width = std::max(width, range.path.size());
    }
    std::string text =
        emphasised(fmt::format("{:<{}}{:>12}{:>12}", "change", width, "until now", "then"), colour) + '\n';
    for (std::size_t index = 0; index < solution.changes.size(); ++index) {
        const double before = solution.before[index];
        const double after = solution.changes[index].value;
        const std::string percent = before == after ? "as it was"
                                    : before != 0.0 ? fmt::format("{:+.1f} %", 100.0 * (after / before - 1.0))
                                                    : "";
        text += fmt::format("{:<{}}{:>12g}{:>12g}{:>12}\n", solution.changes[index].path, width, before,
                            after, percent);
    }
    return text;
}

std::string apart_text(const Solution& solution, const Wishes& wishes) {
    std::string text;
    for (std::size_t index = 0; index < solution.results.size() && !solution.met; ++index) {
        const Wish& wish = wishes.wishes[index];
        if (solution.results[index].alone > 0.0) {
            text += wrapped(fmt::format("wish {} was met by none of {} tries, whatever became of the "
                                        "others: the best {}",
                                        index + 1, solution.tries,
                                        miss_text(wish, solution.results[index].alone)),
                            text_columns, 4) +
                    '\n';
        }
    }
    for (const WishesApart& apart : solution.apart) {
        text +=
            wrapped(fmt::format("wishes {} and {} were each met, but by none of {} tries together; at best "
                                "{} is {} and {} is {}",
                                apart.one + 1, apart.other + 1, solution.tries, apart.one + 1,
                                miss_text(wishes.wishes[apart.one], apart.one_miss), apart.other + 1,
                                miss_text(wishes.wishes[apart.other], apart.other_miss)),
                    text_columns, 4) +
            '\n';
    }
    if (!text.empty()) {
        text += "They may contradict each other, or want more tries (--tries) or wider ranges.\n";
    }
    return text;
}

Table wishes_table(const Solution& solution, const Wishes& wishes,
                   const std::vector<std::optional<double>>& in_fights) {
    Table table{{{"", "", "number"},
                 {"wish", "", "wish"},
                 {"until now", "", "before"},
                 {"then", "", "after"},
                 {"+-", "", "error"},
                 {"fought", "", "fought"},
                 {"", "", "result"}},
                {}};
    for (std::size_t index = 0; index < wishes.wishes.size(); ++index) {
        const Wish& wish = wishes.wishes[index];
        const WishResult& result = solution.results[index];
        table.rows.push_back({static_cast<std::int64_t>(index + 1), to_string(wish),
                              value_text(wish, result.before), value_text(wish, result.after),
                              value_text(wish, result.error),
                              in_fights[index] ? Cell{value_text(wish, *in_fights[index])} : Cell{},
                              miss_text(wish, result.miss, result.error)});
    }
    return table;
}

std::string wishes_text(const Table& table) {
    std::string text;
    for (const auto& row : table.rows) {
        text +=
            wrapped(fmt::format("{:>2}  {}", std::get<std::int64_t>(row[0]), std::get<std::string>(row[1])),
                    text_columns, 6) +
            '\n';
        std::string line = fmt::format("    {} -> {} (+- {})", std::get<std::string>(row[2]),
                                       std::get<std::string>(row[3]), std::get<std::string>(row[4]));
        if (const auto* value = std::get_if<std::string>(&row[5])) {
            line += ", fought " + *value;
        }
        text += line + ": " + std::get<std::string>(row[6]) + '\n';
    }
    return text;
}

void run_solve(const SolveOptions& options, int& status) {
    const std::vector<std::string> files = files_among(options.common.words);
    if (files.empty() || !ids_among(options.common.words).empty()) {
        throw WrongCall{
            {"error: which wishes? allowed: a file of wishes that ends in .toml, then arsenal files"}};
    }
    const std::vector<ArsenalText> texts = arsenal_texts({files.begin() + 1, files.end()});
    Loaded<Wishes> wishes = load_wishes(files.front(), texts);
    stop_at(wishes.diagnostics);
    SolveSettings settings;
    settings.max_tries = static_cast<std::size_t>(whole("--tries", options.tries));
    Progress progress{"solving", static_cast<std::int64_t>(settings.max_tries)};
    NotesInterrupts interrupts;
    std::int64_t tries = 0;
    settings.goes_on = [&] {
        progress.show(++tries);
        return !interrupts.was_interrupted();
    };
    Loaded<Solution> solved = solve(texts, *wishes.value, settings);
    progress.end();
    stop_at(solved.diagnostics);
    const Solution& solution = *solved.value;
    std::vector<std::optional<double>> in_fights(wishes.value->wishes.size());
    const auto fights = static_cast<std::uint32_t>(whole("--fights", options.fights));
    if (fights > 0) {
        std::vector<ArsenalText> all = texts;
        all.push_back(solution.overlay);
        const Loaded<Arsenal> arsenal = parse_arsenal(all);
        Progress fighting{"fighting", static_cast<std::int64_t>(wishes.value->wishes.size()) * fights};
        std::int64_t done = 0;
        for (std::size_t index = 0; index < in_fights.size(); ++index) {
            in_fights[index] = fought(*arsenal.value, wishes.value->wishes[index], fights, fighting, done);
        }
    }
    if (!options.overlay.empty()) {
        write_result(solution.overlay.text, {Format::text, options.overlay});
    }
    const bool colour = has_colour(options.common.output);
    const Table table = wishes_table(solution, *wishes.value, in_fights);
    std::string text = (wishes.value->title.empty() ? std::string{} : wishes.value->title + "\n\n") +
                       changes_text(solution, *wishes.value, colour) + '\n' + wishes_text(table) + '\n' +
                       apart_text(solution, *wishes.value);
    text += solution.met && solution.tries == 0
                ? std::string{"All wishes are met already; nothing changes.\n"}
            : solution.met ? fmt::format("All wishes are met, after {} tries.\n", solution.tries)
                           : fmt::format("Not all wishes are met: this is the nearest of {} tries{}.\n",
                                         solution.tries, solution.was_cut ? ", when it was interrupted" : "");
    if (options.overlay.empty()) {
        text += '\n' + emphasised("The overlay (--overlay FILE writes it):", colour) + '\n' +
                solution.overlay.text;
    } else {
        text += "The overlay is in " + options.overlay + ".\n";
    }
    if (options.common.output.format == Format::json) {
        nlohmann::ordered_json json{{"met", solution.met}, {"tries", solution.tries}};
        for (std::size_t index = 0; index < solution.changes.size(); ++index) {
            json["changes"].push_back({{"path", solution.changes[index].path},
                                       {"before", solution.before[index]},
                                       {"after", solution.changes[index].value}});
        }
        json["wishes"] = to_json(table);
        for (const WishesApart& apart : solution.apart) {
            json["not_met_together"].push_back({apart.one + 1, apart.other + 1});
        }
        json["overlay"] = solution.overlay.text;
        write_result(json.dump(2) + '\n', options.common.output);
    } else {
        write_table(table, text, options.common.output);
    }
    if (!solution.met) {
        status = not_right;
    }
}

} // namespace

void add_solve(CLI::App& tool, int& status) {
    const auto options = std::make_shared<SolveOptions>();
    Command command{tool, CommandGroup::tune, "solve", "Find weapon values that meet a designer's targets",
                    options->common};
    command.words(options->common, "WISHES.toml ARSENAL.toml", "A file of wishes, then arsenal files");
    command.text("--overlay", options->overlay, "FILE.toml", "Write the overlay to this file");
    command.number("--fights", options->fights, {0, 1'000'000, "fights"}, "COUNT",
                   "Also simulate this many fights per wish, with the overlay");
    command.number("--tries", options->tries, {10, 100'000, "tries"}, "COUNT",
                   "Maximum number of arsenals to try");
    command.example("avrek solve data/wishes/rifle-in-a-third.toml --overlay tuned.toml");
    command.runs([options, &status] { run_solve(*options, status); });
}

} // namespace avrek::cli
