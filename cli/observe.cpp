#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "shooting_options.h"
#include "table.h"
#include <avrek/tuning/observe.h>

#include <fmt/format.h>

#include <algorithm>
#include <memory>

namespace avrek::cli {

namespace {

struct ObserveOptions {
    CommonOptions common;
    std::vector<double> bands{0, 5, 10, 15, 25, 40, 100};
    std::string shooter;
    double confidence = 95;
    double target_speed = 0.0;
};

Cell ms(const std::optional<Duration>& time) {
    return time ? Cell{to_milliseconds(*time)} : Cell{};
}

void run_observe(const ObserveOptions& options, int& status) {
    std::vector<std::string> databases;
    std::vector<std::string> files;
    for (const std::string& word : options.common.words) {
        (word.ends_with(".toml") ? files : databases).push_back(word);
    }
    if (databases.empty()) {
        throw WrongCall{
            {"error: observed where? allowed: telemetry databases, such as avrek bout --telemetry "
             "play.db writes, and arsenal files"}};
    }
    if (options.bands.size() < 2 || !std::is_sorted(options.bands.begin(), options.bands.end())) {
        throw WrongCall{{"error: --bands: allowed: at least two distances, rising"}};
    }
    const Arsenal arsenal = arsenal_of(files);
    std::vector<ObservedKill> kills;
    for (const std::string& database : databases) {
        Loaded<std::vector<ObservedKill>> read = read_kills(database);
        stop_at(read.diagnostics);
        kills.insert(kills.end(), read.value->begin(), read.value->end());
    }
    ObserveSetup setup;
    setup.bands = options.bands;
    setup.confidence = options.confidence / 100.0;
    setup.target_speed = options.target_speed;
    if (!options.shooter.empty()) {
        ShootingOptions shooting;
        shooting.shooters = {options.shooter};
        setup.shooter = shooters_of(arsenal, shooting).front();
    }
    const std::vector<ObservedLine> lines = observe(arsenal, kills, setup);
    Table table{{{"weapon", "", "weapon"},
                 {"from", "m", "from_m"},
                 {"to", "m", "to_m"},
                 {"mean", "m", "distance_m", 1},
                 {"kills", "", "kills"},
                 {"observed", "ms", "observed_median_ms"},
                 {"low", "ms", "low_ms"},
                 {"high", "ms", "high_ms"},
                 {"computed", "ms", "computed_median_ms"},
                 {"profile", "", "shooter"},
                 {"", "", "verdict"}},
                {}};
    std::size_t apart = 0;
    for (const ObservedLine& line : lines) {
        const std::string verdict = !line.computed   ? "not computed"
                                    : line.kills < 6 ? "too few"
                                    : line.differs   ? "differs"
                                                     : "as computed";
        apart += line.differs ? 1 : 0;
        table.rows.push_back({line.weapon, line.from, line.to, line.distance,
                              static_cast<std::int64_t>(line.kills), to_milliseconds(line.median),
                              to_milliseconds(line.low), to_milliseconds(line.high), ms(line.computed),
                              line.shooter, verdict});
    }
    std::string text = fmt::format("Time to kill, from the first hit to the death, of {} kills: medians, and "
                                   "intervals of {:g} %\n\n",
                                   kills.size(), options.confidence);
    text += lines.empty() ? "no kill that one attacker made alone with one weapon is in there\n"
                          : to_text(table, has_colour(options.common.output)) +
                                fmt::format("\ndiffers: more than chance allows, for {} lines together\n",
                                            lines.size());
    write_table(table, text, options.common.output);
    status = apart > 0 ? not_right : done;
}

} // namespace

void add_observe(CLI::App& tool, int& status) {
    const auto options = std::make_shared<ObserveOptions>();
    Command command{tool, CommandGroup::tune, "observe",
                    "Times to kill in telemetry, beside the computed ones", options->common};
    command.words(options->common, "PLAY.db|ARSENAL.toml", "Telemetry databases, and arsenal files");
    command.numbers("--bands", options->bands, {0, 10000.0, "m"}, "METRES", "Limits of the distance bands");
    command.text("--shooter", options->shooter, "SHOOTER",
                 "Shooter profile to compare with; the one that played by default");
    command.number("--confidence", options->confidence, {50, 99.99, "%"}, "PERCENT",
                   "Confidence of the intervals");
    command.number("--target-speed", options->target_speed, {0, 100, "m/s"}, "SPEED",
                   "Speed of the targets in the computation");
    command.example("avrek observe play.db --target-speed 2");
    command.runs([options, &status] { run_observe(*options, status); });
}

} // namespace avrek::cli
