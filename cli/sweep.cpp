#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "crew_options.h"
#include "level_options.h"
#include "progress.h"
#include "ranks.h"
#include "shooting_options.h"
#include <avrek/data/arsenal_digest.h>
#include <avrek/data/sweep_file.h>
#include <avrek/net/link_trial.h>
#include <avrek/tuning/sweep.h>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <memory>
#include <mutex>
#include <thread>

namespace avrek::cli {

namespace {

struct SweepOptions {
    CommonOptions common;
    std::vector<std::string> over;
    std::string ask = "ttk";
    std::string store;
    double samples = 0;
    std::optional<double> threads;
    std::vector<double> distances{10, 20};
    ShootingOptions shooting;
    std::string body;
    double crew = 8;
    std::vector<std::string> links;
    std::string level = demo_level;
};

// All that is needed to compute any point.
struct Asked {
    std::vector<ArsenalText> texts;
    std::optional<ArsenalValues> values; ///< the texts, parsed
    SweepPlan plan;
    SweepQuestion question;
    bool matches = false;
    CrewOptions crew;
    std::vector<std::string> links;
    std::uint64_t seed = 1;
    SweepHead head;
};

const std::vector<std::string> match_columns{
    "kills",          "trades", "deaths_in_cover",       "seen_median_ms", "judged_median_ms",
    "felt_median_ms", "shots",  "hits_confirmed_percent"};

double median_ms(std::vector<Duration> times) {
    if (times.empty()) {
        return std::numeric_limits<double>::quiet_NaN();
    }
    std::sort(times.begin(), times.end());
    return to_milliseconds(times[times.size() / 2]);
}

// A whole match over links with the arsenal of a point.
std::vector<double> match_row(const Asked& asked, Arsenal arsenal) {
    Arena arena = arena_named(arsenal, asked.crew.level);
    LinkTrialSetup setup;
    setup.bout = setup_of(arsenal, asked.crew);
    for (const LinkSpec& link : arsenal.links) {
        if (asked.links.empty() ||
            std::find(asked.links.begin(), asked.links.end(), link.id) != asked.links.end()) {
            setup.links.push_back(link);
        }
    }
    setup.skirmish = settings_of(arsenal, arena.plan, asked.crew);
    const GameData data{std::move(arsenal), {.whole = 1}, std::move(arena)}; // both ends are here
    LinkTrial match{data, setup, asked.seed};
    const Tick ticks = ticks_of(asked.crew);
    while (match.server().skirmish().tick() < ticks && !match.server().skirmish().is_over()) {
        match.step();
    }
    const LinkTrialReport report = match.finish();
    double trades = 0.0;
    double in_cover = 0.0;
    double shots = 0.0;
    double hits = 0.0;
    double confirmed = 0.0;
    TimesToKill times;
    for (const LinkTrialPlayer& player : report.players) {
        trades += static_cast<double>(player.trades);
        in_cover += static_cast<double>(player.deaths_in_cover);
        shots += static_cast<double>(player.shots);
        for (const std::uint64_t count : player.hits) {
            hits += static_cast<double>(count);
        }
        confirmed += static_cast<double>(player.hits[static_cast<std::size_t>(HitFate::confirmed)]);
        const auto append = [](std::vector<Duration>& to, const std::vector<Duration>& from) {
            to.insert(to.end(), from.begin(), from.end());
        };
        append(times.seen, player.as_shooter.seen);
        append(times.on_server, player.as_shooter.on_server);
        append(times.felt, player.as_shooter.felt);
    }
    return {static_cast<double>(report.kills),
            0.5 * trades,
            in_cover,
            median_ms(times.seen),
            median_ms(times.on_server),
            median_ms(times.felt),
            shots,
            hits > 0.0 ? 100.0 * confirmed / hits : std::numeric_limits<double>::quiet_NaN()};
}

// The row of a point: its values, then what they give; nothing where the values contradict each other.
std::vector<double> row_of(const Asked& asked, std::size_t point) {
    std::vector<double> row = values_at(asked.plan, point);
    Loaded<Arsenal> arsenal = arsenal_at(*asked.values, asked.plan, point);
    if (!arsenal) {
        row.resize(asked.head.columns.size(), std::numeric_limits<double>::quiet_NaN());
        return row;
    }
    const std::vector<double> answers = asked.matches ? match_row(asked, std::move(*arsenal.value))
                                                      : sweep_row(*arsenal.value, asked.question);
    row.insert(row.end(), answers.begin(), answers.end());
    return row;
}

Asked asked_of(const SweepOptions& options) {
    Asked asked;
    const std::vector<std::string> files = files_among(options.common.words);
    const std::vector<std::string> ids = ids_among(options.common.words);
    asked.texts = arsenal_texts(files);
    asked.values.emplace(asked.texts);
    const Arsenal arsenal = arsenal_of(files);
    if (options.over.empty()) {
        throw WrongCall{{"error: sweep over what? allowed: --vary PATH=FROM:TO:STEP, such as "
                         "--vary weapon.thorn-rifle.damage=18:26:1"}};
    }
    for (const std::string& over : options.over) {
        Loaded<SweepAxis> axis = parse_axis(*asked.values, over);
        stop_at(axis.diagnostics);
        asked.plan.axes.push_back(*axis.value);
        asked.head.columns.push_back(axis.value->path);
    }
    asked.plan.samples = static_cast<std::size_t>(whole("--samples", options.samples));
    if (point_count(asked.plan) >= 1'000'000'000) {
        throw WrongCall{{"error: these are a thousand million points or more; allowed: fewer, or --samples"}};
    }
    if (options.ask != "ttk" && options.ask != "duel" && options.ask != "match") {
        throw unknown_name("question", options.ask, {"ttk", "duel", "match"});
    }
    asked.matches = options.ask == "match";
    asked.question.duels = options.ask == "duel";
    asked.question.armaments = asked.matches ? std::vector<std::string>{} : armaments_of(arsenal, ids);
    asked.question.distances = options.distances;
    asked.question.shooter = shooters_of(arsenal, options.shooting).front();
    asked.question.body = body_of(arsenal, options.body).id;
    asked.question.settings = settings_of(options.shooting);
    asked.question.overrides = overrides_of(options.shooting);
    asked.crew.common.words = ids;
    asked.crew.crew = options.crew;
    asked.crew.seconds = options.shooting.seconds.value_or(60.0);
    asked.crew.level = options.level;
    asked.crew.shooters = options.shooting.shooters;
    asked.links = options.links;
    for (const std::string& link : options.links) {
        id_named<LinkId>("link", arsenal.links, link);
    }
    asked.seed = options.common.seed;
    if (asked.matches) {
        setup_of(arsenal, asked.crew);
        Arsenal copy = arsenal;
        arena_named(copy, asked.crew.level);
    }
    const std::vector<std::string> answers = asked.matches ? match_columns : sweep_columns(asked.question);
    asked.head.columns.insert(asked.head.columns.end(), answers.begin(), answers.end());
    asked.head.points = point_count(asked.plan);
    asked.head.identity = fmt::format(
        "sweep of arsenal {:016x}, avrek " AVREK_VERSION
        ", over {}, {} samples, asks {} of {} at {} as {} on "
        "{}, {} points, error {}, {} {} {} for {}, crew {} in {} over {}, seed {}",
        digest_of(asked.texts).whole, fmt::join(options.over, " "), asked.plan.samples, options.ask,
        fmt::join(asked.matches ? ids : asked.question.armaments, " "), fmt::join(options.distances, " "),
        asked.question.shooter, asked.question.body, asked.question.settings.points,
        asked.question.settings.error, options.shooting.plan, options.shooting.stance,
        options.shooting.target_speed, options.shooting.seconds.value_or(asked.matches ? 60.0 : 10.0),
        options.crew, options.level, fmt::join(options.links, " "), options.common.seed);
    return asked;
}

// Computes what is not there yet with several threads. `next` deals places in the list, and `keep` takes what
// was computed and says whether to go on; both are called by one thread at a time.
template <class Next, class Keep>
void compute(const Asked& asked, const std::vector<std::size_t>& points, std::size_t threads,
             const Next& next, const Keep& keep) {
    bool stopped = false;
    std::mutex keeping;
    const auto work = [&] {
        std::unique_lock lock{keeping};
        while (!stopped) {
            const std::size_t at = next();
            if (at >= points.size()) {
                break;
            }
            lock.unlock();
            const std::vector<double> row = row_of(asked, points[at]);
            lock.lock();
            if (!stopped && !keep(points[at], row)) {
                stopped = true;
            }
        }
    };
    std::vector<std::thread> others;
    for (std::size_t thread = 1; thread < threads; ++thread) {
        others.emplace_back(work);
    }
    work();
    for (std::thread& other : others) {
        other.join();
    }
}

void run_sweep(const SweepOptions& options, int& status) {
    if (options.store.empty()) {
        throw WrongCall{{"error: where to? allowed: --store FILE.db or FILE.csv"}};
    }
    const Asked asked = asked_of(options);
    Ranks ranks;
    const std::size_t cores = std::max(1U, std::thread::hardware_concurrency());
    const std::size_t threads = options.threads
                                    ? static_cast<std::size_t>(whole("--threads", *options.threads))
                                    : std::max<std::size_t>(1, cores / ranks.on_this_machine());
    SweepFile file;
    std::vector<Diagnostic> faults;
    if (ranks.rank() == 0) {
        faults = file.open(options.store, asked.head);
    }
    ranks.agree(faults.empty());
    stop_at(faults);
    const std::vector<std::size_t> points = ranks.share([&] {
        std::vector<std::size_t> missing;
        for (std::size_t point = 0; point < asked.head.points; ++point) {
            if (!file.has(point)) {
                missing.push_back(point);
            }
        }
        return missing;
    });
    const std::size_t before = file.done();
    Progress progress{"points", static_cast<std::int64_t>(asked.head.points)};
    const NotesInterrupts interrupts;
    bool written = true;
    const auto store = [&](std::size_t point, const std::vector<double>& row) {
        written = written && file.add(point, row);
        progress.show(static_cast<std::int64_t>(file.done()));
    };
    const auto keep = [&](std::size_t point, const std::vector<double>& row) {
        if (ranks.rank() == 0) {
            store(point, row);
            ranks.receive(store);
        } else {
            ranks.send(point, row);
        }
        return written && !interrupts.was_interrupted();
    };
    compute(
        asked, points, threads, [&] { return ranks.next(); }, keep);
    ranks.gather(store);
    progress.end();
    if (ranks.rank() != 0) {
        return;
    }
    if (!written) {
        throw WrongCall{
            {fmt::format("error: {}.part: cannot be written; what is in it is kept", options.store)}};
    }
    if (file.done() < asked.head.points) {
        write_result(fmt::format("{} of {} points are in {}.part; the same call goes on from there\n",
                                 file.done(), asked.head.points, options.store),
                     options.common.output);
        status = not_right;
        return;
    }
    stop_at(file.finish());
    const std::string how = before > 0 ? fmt::format(", of which {} were there before", before) : "";
    write_result(options.common.output.format == Format::json
                     ? fmt::format("{{\"points\": {}, \"columns\": {}, \"file\": \"{}\"}}\n",
                                   asked.head.points, asked.head.columns.size(), options.store)
                     : fmt::format("{} points{}, {} columns: {}\n", asked.head.points, how,
                                   asked.head.columns.size() + 1, options.store),
                 options.common.output);
}

} // namespace

void add_sweep(CLI::App& tool, int& status) {
    const auto options = std::make_shared<SweepOptions>();
    options->shooting.error = "2%";
    Command command{tool, CommandGroup::tune, "sweep",
                    "Vary numbers of the arsenal and store the results; resumes where it stopped",
                    options->common};
    command.words(options->common, "WEAPON|ARSENAL.toml",
                  "Weapons and blades to measure, all by default, and arsenal files");
    command.repeated("--vary", options->over, "PATH=FROM:TO:STEP", "A number to vary; repeat for several");
    command.number("--samples", options->samples, {0, 1e8, "points"}, "COUNT",
                   "Evenly spread points instead of the whole grid");
    command.text("--measure", options->ask, "QUESTION", "ttk, duel or match");
    command.text("--store", options->store, "FILE.db|FILE.csv", "File for the results");
    command.number("--threads", options->threads, {1, 1024, "threads"}, "COUNT",
                   "Threads; one per core by default");
    command.numbers("--at", options->distances, {0.01, 10000.0, "m"}, "METRES", "Distances");
    add_shooting(command, options->shooting);
    command.text("--target", options->body, "BODY", "Body of the target; the arsenal's first by default");
    command.number("--crew", options->crew, {1, 64, "bots"}, "COUNT",
                   "Bots in each match, both crews together");
    command.texts("--link", options->links, "LINK", "Link profiles of each match; all by default");
    command.text("--level", options->level, "LEVEL", "Level of each match: atrium, or a level file");
    command.seed(options->common);
    command.example("avrek sweep thorn-rifle --vary weapon.thorn-rifle.damage=18:26:1 --store rifle.csv");
    command.runs([options, &status] { run_sweep(*options, status); });
}

} // namespace avrek::cli
