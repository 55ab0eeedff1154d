#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "gnuplot.h"
#include "live_tuning.h"
#include "range_options.h"
#include "table.h"
#include "target_options.h"
#include "ttk_distribution.h"
#include "ttk_lines.h"

#include <fmt/format.h>

#include <algorithm>
#include <memory>

namespace avrek::cli {

namespace {

constexpr std::size_t min_cell_width = 14;
constexpr std::size_t max_stretches_shown = 12;

struct TtkOptions {
    CommonOptions common;
    std::vector<double> distances{5, 10, 20, 30, 50};
    std::vector<std::string> regions;
    TargetOptions target;
    DistributionOptions distribution;
    std::string since = "pull";
    std::string plot;
};

// Lines of the named armaments, or of all weapons and blades; each without a region yet.
std::vector<TtkLine> named_lines(const Arsenal& arsenal, const std::vector<std::string>& ids) {
    std::vector<TtkLine> lines;
    const auto add_weapon = [&](const WeaponSpec& weapon) {
        TtkLine& line = lines.emplace_back();
        line.name = weapon.id;
        line.weapon = &weapon;
        line.projectile = find(arsenal.projectiles, weapon.projectile.id);
    };
    const auto add_melee = [&](const MeleeSpec& melee) {
        for (const MeleeAttackSpec& attack : melee.attacks) {
            TtkLine& line = lines.emplace_back();
            line.name = melee.id + ' ' + attack.name;
            line.melee = &melee;
            line.attack = &attack;
        }
    };
    for (const std::string& id : ids) {
        const Fired fired = fired_of(arsenal, {id});
        fired.weapon != nullptr ? add_weapon(*fired.weapon) : add_melee(*fired.melee);
    }
    if (ids.empty()) {
        std::for_each(arsenal.weapons.begin(), arsenal.weapons.end(), add_weapon);
        std::for_each(arsenal.melee.begin(), arsenal.melee.end(), add_melee);
    }
    if (lines.empty()) {
        throw WrongCall{{"error: the arsenal has no weapon"}};
    }
    return lines;
}

std::vector<TtkLine> compute(const Arsenal& arsenal, const Target& target, const TtkOptions& options) {
    std::vector<std::string> regions = options.regions;
    if (regions.empty()) {
        for (const RegionSpec& region : target.body->rig.regions) {
            regions.push_back(region.name);
        }
    }
    std::vector<TtkLine> lines;
    for (const TtkLine& named : named_lines(arsenal, ids_among(options.common.words))) {
        for (const std::string& region : regions) {
            TtkLine& line = lines.emplace_back(named);
            line.region = region_named(*target.body, region);
            line.region_name = region;
            for (const double distance : options.distances) {
                line.kills.push_back(line.kill_at(target, distance));
            }
        }
    }
    return lines;
}

std::string cell_text(const IdealKill& kill, TimeBase base) {
    if (kill.verdict != KillVerdict::kills) {
        return kill.verdict == KillVerdict::out_of_ammunition ? "out of ammo"
                                                              : std::string{to_string(kill.verdict)};
    }
    return fmt::format("{}{} {:>7.1f}", kill.shots, kill.plan != IdealPlan{} ? "*" : "",
                       to_milliseconds(since(kill, base)));
}

std::string times_text(const std::vector<TtkLine>& lines, const TtkOptions& options, bool colour) {
    std::size_t weapon_width = 6;
    std::size_t region_width = 6;
    std::size_t cell_width = min_cell_width;
    const TimeBase base = base_named(options.since);
    std::vector<std::string> plans;
    for (const TtkLine& line : lines) {
        for (const IdealKill& kill : line.kills) {
            cell_width = std::max(cell_width, cell_text(kill, base).size() + 2);
            const std::string plan = "* " + line.name + ": " + to_string(kill.plan) + '\n';
            const bool is_new = std::find(plans.begin(), plans.end(), plan) == plans.end();
            if (kill.plan != IdealPlan{} && is_new) {
                plans.push_back(plan);
            }
        }
        weapon_width = std::max(weapon_width, line.name.size());
        region_width = std::max(region_width, line.region_name.size());
    }
    const std::size_t label = weapon_width + 2 + region_width;
    const std::size_t fits = label + cell_width >= text_columns ? 1 : (text_columns - label) / cell_width;
    std::string text;
    for (std::size_t first = 0; first < options.distances.size(); first += fits) {
        const std::size_t end = std::min(first + fits, options.distances.size());
        std::string heading = fmt::format("{:<{}}  {:<{}}", "weapon", weapon_width, "region", region_width);
        for (std::size_t column = first; column < end; ++column) {
            heading += fmt::format("{:>{}}", fmt::format("{} m", options.distances[column]), cell_width);
        }
        text += '\n' + emphasised(heading, colour) + '\n';
        std::string above;
        for (const TtkLine& line : lines) {
            text += fmt::format("{:<{}}  {:<{}}", line.name == above ? "" : line.name, weapon_width,
                                line.region_name, region_width);
            above = line.name;
            for (std::size_t column = first; column < end; ++column) {
                text += fmt::format("{:>{}}", cell_text(line.kills[column], base), cell_width);
            }
            text += '\n';
        }
    }
    for (const std::string& plan : plans) {
        text += plan;
    }
    return text;
}

std::string stretch_text(const ShotsStretch& stretch, bool last) {
    const std::string shots = stretch.shots == 0 ? "none" : fmt::format("{}", stretch.shots);
    return last ? fmt::format("{} to its {:g} m", shots, stretch.to)
                : fmt::format("{} to {:.1f} m", shots, stretch.to);
}

// The first of them and the last; how many are left out between.
std::string stretches_text(const std::vector<ShotsStretch>& stretches) {
    const std::size_t count = stretches.size();
    std::string text;
    for (std::size_t index = 0; index < count; ++index) {
        if (index == max_stretches_shown && count > max_stretches_shown + 2) {
            const ShotsStretch& before = stretches[count - 2];
            text += fmt::format(", ... {} up to {:.1f} m left out", count - 1 - index, before.to);
            index = count - 1;
        }
        text += (index == 0 ? "" : ", ") + stretch_text(stretches[index], index + 1 == count);
    }
    const bool none = std::any_of(stretches.begin(), stretches.end(),
                                  [](const ShotsStretch& stretch) { return stretch.shots == 0; });
    return text + (none ? fmt::format(" (none: not within {} shots)", max_breakpoint_shots) : "");
}

// For the regions that are named, or for the one that is aimed at: all of them would be too much to read.
std::string breakpoints_text(const std::vector<TtkLine>& lines, const Target& target,
                             const TtkOptions& options, bool colour) {
    const RegionId aimed = aimed_region(*target.body, "");
    std::string text =
        '\n' + emphasised("Breakpoints: shots by distance, and the damage that changes them", colour) +
        fmt::format(" at {:g} m\n", options.distances.front());
    for (const TtkLine& line : lines) {
        if (line.weapon == nullptr || (options.regions.empty() && line.region != aimed)) {
            continue;
        }
        const std::string shots = stretches_text(line.stretches(target));
        const DamageBreakpoints found =
            damage_breakpoints(*line.weapon, target, options.distances.front(), line.region, line.projectile);
        std::string damage = fmt::format("{:g} damage", line.weapon->damage);
        damage += found.fewer_from ? fmt::format("; one fewer from {}",
                                                 breakpoint_text(*found.fewer_from, line.weapon->damage))
                                   : "";
        damage += found.more_below ? fmt::format("; more below {}",
                                                 breakpoint_text(*found.more_below, line.weapon->damage))
                                   : "";
        text +=
            wrapped(fmt::format("{}, {}: {}", line.name, line.region_name, shots), text_columns, 4) + '\n';
        text += "    " + wrapped(damage, text_columns - 4, 4) + '\n';
    }
    return text;
}

Table table_of(const std::vector<TtkLine>& lines, const Target& target, const TtkOptions& options) {
    Table table{{{"weapon", "", "weapon"},
                 {"body", "", "body"},
                 {"region", "", "region"},
                 {"distance", "m", "distance_m"},
                 {"verdict", "", "verdict"},
                 {"damage per hit", "health", "damage_per_hit"},
                 {"shots", "", "shots"},
                 {"reloads", "", "reloads"},
                 {"time", "ms", "time_ms"},
                 {"since", "", "since"},
                 {"plan", "", "plan"},
                 {"from", "m", "shots_from_m"},
                 {"to", "m", "shots_to_m"},
                 {"fewer from", "damage", "fewer_from_damage"},
                 {"more below", "damage", "more_below_damage"}},
                {}};
    const TimeBase base = base_named(options.since);
    const auto cell = [](const std::optional<double>& value) { return value ? Cell{*value} : Cell{}; };
    for (const TtkLine& line : lines) {
        const std::vector<ShotsStretch> stretches = line.stretches(target);
        for (std::size_t column = 0; column < line.kills.size(); ++column) {
            const IdealKill& kill = line.kills[column];
            const double distance = options.distances[column];
            const bool kills = kill.verdict == KillVerdict::kills;
            const DamageBreakpoints found =
                kills && line.weapon != nullptr
                    ? damage_breakpoints(*line.weapon, target, distance, line.region, line.projectile)
                    : DamageBreakpoints{};
            const auto stretch =
                std::find_if(stretches.begin(), stretches.end(), [&](const ShotsStretch& one) {
                    return distance >= one.from && distance <= one.to;
                });
            const bool within = kills && stretch != stretches.end();
            table.rows.push_back(
                {line.name, target.body->id, line.region_name, distance, std::string{to_string(kill.verdict)},
                 kill.damage_per_hit, kills ? Cell{std::int64_t{kill.shots}} : Cell{},
                 kills ? Cell{std::int64_t{kill.plan.reloads}} : Cell{},
                 kills ? Cell{to_milliseconds(since(kill, base))} : Cell{}, options.since,
                 kills ? Cell{to_string(kill.plan)} : Cell{}, within ? Cell{stretch->from} : Cell{},
                 within ? Cell{stretch->to} : Cell{}, cell(found.fewer_from), cell(found.more_below)});
        }
    }
    return table;
}

void run_ttk(const TtkOptions& options) {
    const Arsenal arsenal = arsenal_of(files_among(options.common.words));
    const Target target = target_of(arsenal, options.target);
    const TimeBase base = base_named(options.since);
    if (options.distribution.sensitivity) {
        run_sensitivity(files_among(options.common.words), target,
                        {ids_among(options.common.words), options.distances, "", "", options.common.output},
                        options.distribution);
        return;
    }
    if (options.distribution.wanted) {
        run_distribution(arsenal, target,
                         {ids_among(options.common.words), options.distances,
                          options.regions.empty() ? "" : options.regions.front(), options.plot,
                          options.common.output, base},
                         options.distribution);
        return;
    }
    if (base == TimeBase::sight) {
        throw WrongCall{
            {"error: --since sight: the ideal time has no shooter who sees; allowed: pull, shot, hit, "
             "and sight with --distribution"}};
    }
    const std::vector<TtkLine> lines = compute(arsenal, target, options);
    const OutputOptions& output = options.common.output;
    const std::string title = "Ideal time to kill " + target_text(arsenal, target);
    if (!options.plot.empty()) {
        const RegionId aimed =
            options.regions.empty() ? aimed_region(*target.body, "") : lines.front().region;
        std::vector<TtkLine> drawn;
        std::copy_if(lines.begin(), lines.end(), std::back_inserter(drawn),
                     [&](const TtkLine& line) { return line.region == aimed; });
        draw(ttk_plot(drawn, target,
                      title + ", " + drawn.front().region_name + ", since " + std::string{words_of(base)},
                      *std::max_element(options.distances.begin(), options.distances.end()), base),
             options.plot);
    }
    if (output.format != Format::text) {
        write_table(table_of(lines, target, options), "", output);
        return;
    }
    const bool colour = has_colour(output);
    write_result(wrapped(title + ": shots, and ms from " + std::string{words_of(base)} + " to the death",
                         text_columns, 2) +
                     '\n' + times_text(lines, options, colour) +
                     breakpoints_text(lines, target, options, colour),
                 output);
}

} // namespace

TimeBase base_named(const std::string& name) {
    std::vector<std::string> known;
    for (const TimeBase base : {TimeBase::pull, TimeBase::shot, TimeBase::hit, TimeBase::sight}) {
        if (name == to_string(base)) {
            return base;
        }
        known.emplace_back(to_string(base));
    }
    throw unknown_name("moment", name, known);
}

IdealKill TtkLine::kill_at(const Target& target, Metres distance) const {
    return weapon != nullptr ? ideal_time_to_kill(*weapon, target, distance, region, projectile)
                             : ideal_time_to_kill(*melee, *attack, target, distance, region);
}

std::vector<ShotsStretch> TtkLine::stretches(const Target& target) const {
    return weapon != nullptr ? shots_over_distance(*weapon, target, region, projectile)
                             : std::vector{ShotsStretch{0.0, range(), kill_at(target, 0.0).shots}};
}

void add_ttk(CLI::App& tool, int&) {
    const auto options = std::make_shared<TtkOptions>();
    Command command{tool, CommandGroup::fire, "ttk",
                    "Time to kill by weapon, distance and region: ideal, or its distribution",
                    options->common};
    command.words(options->common, "WEAPON|ARSENAL.toml",
                  "Weapons and blades, all by default, and arsenal files");
    command.numbers("--at", options->distances, {0.0, 10000.0, "m"}, "METRES", "Distances");
    command.texts("--region", options->regions, "REGION",
                  "Aimed regions, such as head,torso; all by default");
    add_target(command, options->target);
    add_distribution(command, options->distribution);
    command.text("--since", options->since, "MOMENT",
                 "Start of times: pull (of the trigger), shot (the first), hit (the first), or sight (of the "
                 "target; with --distribution)");
    command.plot(options->plot);
    command.watch(options->common, "Show it again whenever an arsenal file is saved");
    command.example("avrek ttk thorn-rifle --at 5,15,40 --region head,torso --target warden\n"
                    "         avrek ttk --distribution thorn-rifle --at 10,20 --shooter gardener,old-hand");
    command.runs([options] { run_or_watch(options->common, "ttk", [&options] { run_ttk(*options); }); });
}

} // namespace avrek::cli
