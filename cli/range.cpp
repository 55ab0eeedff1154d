#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "gnuplot.h"
#include "live_tuning.h"
#include "plan_options.h"
#include "range_compare.h"
#include "range_level.h"
#include "range_options.h"
#include "range_plot.h"
#include "range_summary.h"
#include "table.h"
#include <avrek/tuning/firing_range.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <memory>

namespace avrek::cli {

namespace {

constexpr std::size_t max_series = 6;

// Every plan at every speed.
std::vector<RangeSeries> run_all(const WeaponSpec& weapon, const BodySpec& body, const RangeOptions& options,
                                 const RangeSetup& setup) {
    std::vector<RangeSeries> series;
    if (options.plans.size() * options.speeds.size() > max_series) {
        throw WrongCall{{fmt::format("error: at most {} trials side by side, not {} plans at {} speeds",
                                     max_series, options.plans.size(), options.speeds.size())}};
    }
    for (const double speed : options.speeds) {
        for (const std::string& plan : options.plans) {
            RangeSeries& one = series.emplace_back();
            one.setup = setup;
            one.setup.posture = posture_of(options, speed);
            one.setup.plan = plan_named(plan, one.setup.posture);
            one.plan = one.setup.plan.name;
            one.posture = posture_name(one.setup.posture);
            one.trial = run_range(weapon, body, one.setup);
        }
    }
    return series;
}

// The factor of the steps of one kind of a damage application; nothing where it has no such step.
Cell factor_of(const Damage& damage, DamageStepKind kind) {
    std::optional<double> factor;
    for (std::size_t step = 0; step < damage.step_count; ++step) {
        if (damage.steps[step].kind == kind) {
            factor = factor.value_or(1.0) * damage.steps[step].factor;
        }
    }
    return factor ? Cell{*factor} : Cell{};
}

Table shot_table(const WeaponSpec& weapon, const BodySpec& body, const RangeTrial& trial) {
    Table table{{{"shot", "", "shot"},
                 {"pellet", "", "pellet"},
                 {"time", "ms", "time_ms", 3},
                 {"cone", "deg", "cone_deg", 2},
                 {"yaw", "deg", "yaw_deg", 3},
                 {"pitch", "deg", "pitch_deg", 3},
                 {"hit", "", "hit"},
                 {"away", "m", "distance_m", 2},
                 {"base", "", "base", 1},
                 {"charge", "x", "charge", 2},
                 {"falloff", "x", "falloff", 3},
                 {"region", "x", "region", 2},
                 {"target", "x", "target", 2},
                 {"resist", "x", "resistance", 2},
                 {"defence", "x", "defence", 3},
                 {"clamp", "x", "clamp", 3},
                 {"damage", "=", "damage", 2},
                 {"health", "left", "health_left", 2}},
                {}};
    for (const RangeShot& shot : trial.shots) {
        const Look look = look_of(shot.direction);
        table.rows.push_back(
            {std::int64_t{shot.number} + 1, weapon.pellets > 1 ? Cell{std::int64_t{shot.pellet} + 1} : Cell{},
             to_milliseconds(shot.at.time_since_epoch()), to_degrees(shot.cone), to_degrees(look.yaw),
             to_degrees(look.pitch), std::string{hit_name(body, shot)},
             shot.hit ? Cell{shot.hit->distance} : Cell{}, factor_of(shot.damage, DamageStepKind::base),
             factor_of(shot.damage, DamageStepKind::charge), factor_of(shot.damage, DamageStepKind::falloff),
             factor_of(shot.damage, DamageStepKind::region), factor_of(shot.damage, DamageStepKind::target),
             factor_of(shot.damage, DamageStepKind::resistance),
             factor_of(shot.damage, DamageStepKind::defence), factor_of(shot.damage, DamageStepKind::clamp),
             shot.damage.amount(), shot.health_left});
    }
    return table;
}

nlohmann::ordered_json json_of(const WeaponSpec& weapon, const BodySpec& body, const RangeOptions& options,
                               const RangeSeries& one, const RangeTrial& trial) {
    return {{"weapon", weapon.id},
            {"body", body.id},
            {"region", region_of(body.rig, one.setup.aim).name},
            {"plan", one.plan},
            {"posture", one.posture},
            {"distance_m", one.setup.distance},
            {"length_s", options.seconds},
            {"seed", options.common.seed},
            {"death_ms", trial.death
                             ? nlohmann::ordered_json(to_milliseconds(trial.death->time_since_epoch()))
                             : nlohmann::ordered_json(nullptr)},
            {"shots_to_death", trial.shots_to_death},
            {"group", to_json(comparison_table({one})).front()},
            {"reloads", reload_json(trial)},
            {"shots", to_json(shot_table(weapon, body, trial))}};
}

void compare(const WeaponSpec& weapon, const BodySpec& body, const RangeOptions& options,
             const std::vector<RangeSeries>& series) {
    if (!options.plot.empty()) {
        draw(comparison_plot(weapon, body, series), options.plot);
    }
    const OutputOptions& output = options.common.output;
    write_table(comparison_table(series), comparison_text(weapon, body, series, has_colour(output)), output);
}

void show(const WeaponSpec& weapon, const BodySpec& body, const RangeOptions& options,
          const RangeSeries& one) {
    const RangeTrial& trial = one.trial;
    if (!options.plot.empty()) {
        draw(range_plot(weapon, body, one), options.plot);
    }
    const OutputOptions& output = options.common.output;
    switch (output.format) {
    case Format::text:
        write_result(to_text(without_empty(shot_table(weapon, body, trial)), has_colour(output)) + '\n' +
                         range_summary(weapon, body, one),
                     output);
        break;
    case Format::csv:
        write_result(to_csv(shot_table(weapon, body, trial)), output);
        break;
    case Format::json:
        write_result(json_of(weapon, body, options, one, trial).dump(2) + '\n', output);
        break;
    }
}

void run_range_command(const RangeOptions& options) {
    Arsenal arsenal = arsenal_of(files_among(options.common.words));
    const Fired fired = fired_of(arsenal, ids_among(options.common.words));
    if (fired.melee == nullptr && !options.attack.empty()) {
        throw WrongCall{{fmt::format("error: --attack is for blades, and {} is none", fired.weapon->id)}};
    }
    if (fired.melee != nullptr || !options.level.empty() || delivery_of(*fired.weapon) != Delivery::hitscan) {
        run_level_range(std::move(arsenal), fired.weapon, fired.melee, options);
        return;
    }
    if (!options.from.empty() || !options.look.empty() || !options.body_positions.empty()) {
        throw WrongCall{{"error: --from, --look and --body-at are for a level; allowed: with --level LEVEL"}};
    }
    const WeaponSpec& weapon = *fired.weapon;
    const BodySpec& body = body_of(arsenal, options.body);
    RangeSetup setup;
    setup.distance = options.distance.value_or(20.0);
    setup.length = from_seconds(options.seconds);
    setup.aim = aimed_region(body, options.region);
    setup.seed = options.common.seed;
    setup.recoil_control = options.recoil_control;
    setup.conditions = arsenal.conditions;
    const std::vector<RangeSeries> series = run_all(weapon, body, options, setup);
    if (series.size() > 1) {
        compare(weapon, body, options, series);
    } else {
        show(weapon, body, options, series.front());
    }
}

} // namespace

Posture posture_of(const RangeOptions& options, double speed) {
    const std::vector<std::string> stances{"standing", "crouching", "airborne"};
    if (std::find(stances.begin(), stances.end(), options.stance) == stances.end()) {
        throw unknown_name("stance", options.stance, stances);
    }
    return {speed, options.stance == "crouching", options.stance == "airborne", options.aim};
}

RegionId aimed_region(const BodySpec& body, const std::string& name) {
    if (!name.empty()) {
        return region_named(body, name);
    }
    const std::optional<RegionId> torso = find_region(body.rig, "torso");
    if (!torso) {
        fmt::print(stderr,
                   "note: body '{}' has no region 'torso', so shots are aimed at its first one, '{}'\n",
                   body.id, body.rig.regions.front().name);
    }
    return torso.value_or(RegionId{0});
}

void add_range(CLI::App& tool, int&) {
    const auto options = std::make_shared<RangeOptions>();
    Command command{tool, CommandGroup::fire, "range",
                    "Fire at a board or into a level: every shot, path segment, hit and wound",
                    options->common};
    command.words(options->common, "WEAPON|ARSENAL.toml",
                  "A weapon, the arsenal's first by default, and arsenal files");
    command.number("--at", options->distance, {0.5, 10000.0, "m"}, "METRES",
                   "Distance of the target; 20, or the reach of a spray or a blade");
    command.number("--for", options->seconds, {0.0, 600.0, "s"}, "SECONDS", "Firing time, reloads included");
    command.repeated("--plan", options->plans, "PLAN",
                     "hold, taps:SECONDS, bursts:SHOTS,SECONDS or FILE.toml; repeat to compare");
    command.numbers("--speed", options->speeds, {0.0, 1000.0, "m/s"}, "M/S",
                    "Speed of the shooter; several to compare");
    command.text("--stance", options->stance, "STANCE", "standing, crouching or airborne");
    command.number("--aim", options->aim, {0.0, 1.0, "from the hip to aimed"}, "BLEND",
                   "Aim, from 0 (hip) to 1 (aimed)");
    command.number("--recoil-control", options->recoil_control, {0.0, 1.0, "of the kicks that do not return"},
                   "SHARE", "Share of the lasting recoil that the shooter pulls back");
    command.text("--region", options->region, "REGION",
                 "Aimed region; the torso by default, or the body's first");
    command.text("--target", options->body, "BODY", "Body of the target; the arsenal's first by default");
    command.text("--level", options->level, "LEVEL",
                 "Fire into a level: atrium, or FILE.toml, .glb or .gltf; always so for projectiles, sprays "
                 "and blades");
    command.numbers("--from", options->from, {-1e5, 1e5, "m"}, "X,Y,Z",
                    "Muzzle position in a level; 0,1.5,-20");
    command.numbers("--look", options->look, {-360.0, 360.0, "degrees"}, "YAW,PITCH",
                    "Look direction in a level; at the first body by default");
    command.repeated("--body-at", options->body_positions, "X,Y,Z",
                     "Position of a body in a level; repeat for several; three around --at by default");
    command.text("--attack", options->attack, "NAME", "Attack of a blade; its first by default");
    command.plot(options->plot);
    command.watch(options->common, "Show it again whenever an arsenal file is saved");
    command.seed(options->common);
    command.example("avrek range thorn-rifle --at 25 --plan hold --plan bursts:4,0.3 --plot range.png");
    command.runs(
        [options] { run_or_watch(options->common, "range", [&options] { run_range_command(*options); }); });
}

} // namespace avrek::cli
