#include "arsenal_words.h"
#include "command_line.h"
#include "commands.h"
#include "gnuplot.h"
#include "range_plot.h"
#include "range_summary.h"
#include "table.h"
#include <avrek/tuning/firing_range.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <memory>

namespace avrek::cli {

namespace {

struct RangeOptions {
    CommonOptions common;
    double distance = 20.0;
    double seconds = 2.0;
    std::string region;
    std::string body;
    std::string plot;
};

RegionId aimed_region(const BodySpec& body, const std::string& name) {
    return name.empty() ? find_region(body.rig, "torso").value_or(RegionId{0}) : region_named(body, name);
}

// The factor of one step of a damage application; nothing where it has no such step.
Cell factor_of(const Damage& damage, DamageStepKind kind) {
    for (std::size_t step = 0; step < damage.step_count; ++step) {
        if (damage.steps[step].kind == kind) {
            return damage.steps[step].factor;
        }
    }
    return {};
}

Table shot_table(const BodySpec& body, const RangeTrial& trial) {
    Table table{{{"shot", "", "shot"},
                 {"time", "ms", "time_ms", 3},
                 {"yaw", "deg", "yaw_deg", 3},
                 {"pitch", "deg", "pitch_deg", 3},
                 {"hit", "", "hit"},
                 {"away", "m", "distance_m", 2},
                 {"base", "", "base", 1},
                 {"falloff", "x", "falloff", 3},
                 {"region", "x", "region", 2},
                 {"clamp", "x", "clamp", 3},
                 {"damage", "=", "damage", 2},
                 {"health", "left", "health_left", 2}},
                {}};
    for (const RangeShot& shot : trial.shots) {
        const Look look = look_of(shot.direction);
        table.rows.push_back(
            {std::int64_t{shot.number} + 1, to_milliseconds(shot.at.time_since_epoch()), to_degrees(look.yaw),
             to_degrees(look.pitch), std::string{hit_name(body, shot)},
             shot.hit ? Cell{shot.hit->distance} : Cell{}, factor_of(shot.damage, DamageStepKind::base),
             factor_of(shot.damage, DamageStepKind::falloff), factor_of(shot.damage, DamageStepKind::region),
             factor_of(shot.damage, DamageStepKind::clamp), shot.damage.amount(), shot.health_left});
    }
    return table;
}

nlohmann::ordered_json json_of(const WeaponSpec& weapon, const BodySpec& body, const RangeOptions& options,
                               const RangeSetup& setup, const RangeTrial& trial) {
    return {{"weapon", weapon.id},
            {"body", body.id},
            {"region", region_of(body.rig, setup.aim).name},
            {"distance_m", options.distance},
            {"length_s", options.seconds},
            {"seed", options.common.seed},
            {"death_ms", trial.death
                             ? nlohmann::ordered_json(to_milliseconds(trial.death->time_since_epoch()))
                             : nlohmann::ordered_json(nullptr)},
            {"shots_to_death", trial.shots_to_death},
            {"reloads", reload_json(trial)},
            {"shots", to_json(shot_table(body, trial))}};
}

void run_range_command(const RangeOptions& options) {
    const Arsenal arsenal = arsenal_of(files_among(options.common.words));
    const std::vector<std::string> ids = ids_among(options.common.words);
    if (ids.size() > 1) {
        throw WrongCall{{fmt::format("error: one weapon at a time, not {}", ids.size())}};
    }
    const WeaponSpec& weapon = *weapons_of(arsenal, ids).front();
    const BodySpec& body = body_of(arsenal, options.body);
    const RangeSetup setup{options.distance, from_seconds(options.seconds),
                           aimed_region(body, options.region), options.common.seed};
    const RangeTrial trial = run_range(weapon, body, setup);
    if (!options.plot.empty()) {
        draw(range_plot(weapon, body, setup, trial), options.plot);
    }
    const OutputOptions& output = options.common.output;
    switch (output.format) {
    case Format::text:
        write_result(to_text(shot_table(body, trial), has_colour(output)) + '\n' +
                         range_summary(weapon, body, setup, trial),
                     output);
        break;
    case Format::csv:
        write_result(to_csv(shot_table(body, trial)), output);
        break;
    case Format::json:
        write_result(json_of(weapon, body, options, setup, trial).dump(2) + '\n', output);
        break;
    }
}

} // namespace

void add_range(CLI::App& tool, int&) {
    const auto options = std::make_shared<RangeOptions>();
    Command command{tool, "range", "Fire a weapon at a target board and list each shot", options->common};
    command.words(options->common, "WEAPON|ARSENAL.toml",
                  "A weapon, the arsenal's first if none is named, and arsenal files");
    command.number("--at", options->distance, {0.5, 10000.0, "m"}, "METRES", "Distance of the target");
    command.number("--for", options->seconds, {0.0, 600.0, "s"}, "SECONDS",
                   "How long the trigger is worked, reloads included");
    command.text("--region", options->region, "REGION",
                 "Aimed region; the torso if none is named, or the body's first");
    command.text("--on", options->body, "BODY", "The body that is hit; the arsenal's first if none is named");
    command.plot(options->plot);
    command.example("avrek range thorn-rifle --at 20 --for 2 --plot range.png");
    command.runs([options] { run_range_command(*options); });
}

} // namespace avrek::cli
