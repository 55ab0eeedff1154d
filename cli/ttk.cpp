#include "arsenal_words.h"
#include "command_line.h"
#include "commands.h"
#include "table.h"
#include <avrek/tuning/time_to_kill.h>

#include <fmt/format.h>

#include <algorithm>
#include <memory>

namespace avrek::cli {

namespace {

constexpr std::size_t least_cell_width = 14;

struct TtkOptions {
    CommonOptions common;
    std::vector<double> distances{5, 10, 20, 30, 50};
    std::vector<std::string> regions;
    std::string body;
};

// One weapon aimed at one region, at each distance.
struct TtkLine {
    const WeaponSpec* weapon;
    std::string region;
    std::vector<IdealKill> kills;
};

std::vector<TtkLine> compute(const Arsenal& arsenal, const std::vector<const WeaponSpec*>& weapons,
                             const BodySpec& body, const TtkOptions& options) {
    std::vector<std::string> regions = options.regions;
    if (regions.empty()) {
        for (const RegionSpec& region : body.rig.regions) {
            regions.push_back(region.name);
        }
    }
    std::vector<TtkLine> lines;
    for (const WeaponSpec* weapon : weapons) {
        const ProjectileSpec* projectile = find_projectile(arsenal, weapon->projectile);
        for (const std::string& name : regions) {
            TtkLine& line = lines.emplace_back(TtkLine{weapon, name, {}});
            const RegionId region = region_named(body, name);
            for (const double distance : options.distances) {
                line.kills.push_back(ideal_time_to_kill(*weapon, body, distance, region, projectile));
            }
        }
    }
    return lines;
}

std::string cell_text(const IdealKill& kill) {
    if (kill.verdict != KillVerdict::kills) {
        return kill.verdict == KillVerdict::out_of_ammunition ? "out of ammo"
                                                              : std::string{to_string(kill.verdict)};
    }
    return fmt::format("{}{} {:>7.1f}", kill.shots, kill.reloads > 0 ? "*" : "", to_milliseconds(kill.time));
}

std::string text_of(const std::vector<TtkLine>& lines, const BodySpec& body, const TtkOptions& options,
                    bool colour) {
    std::size_t weapon_width = 6;
    std::size_t region_width = 6;
    std::size_t cell_width = least_cell_width;
    bool reloads = false;
    for (const TtkLine& line : lines) {
        for (const IdealKill& kill : line.kills) {
            cell_width = std::max(cell_width, cell_text(kill).size() + 2);
        }
        weapon_width = std::max(weapon_width, line.weapon->id.size());
        region_width = std::max(region_width, line.region.size());
        reloads |= std::any_of(line.kills.begin(), line.kills.end(),
                               [](const IdealKill& kill) { return kill.reloads > 0; });
    }
    const std::size_t label = weapon_width + 2 + region_width;
    const std::size_t fits = label + cell_width >= text_columns ? 1 : (text_columns - label) / cell_width;
    std::string text = fmt::format(
        "Ideal time to kill {} ({} health), every shot hitting: shots, ms until the last one hits\n", body.id,
        body.health);
    for (std::size_t first = 0; first < options.distances.size(); first += fits) {
        const std::size_t end = std::min(first + fits, options.distances.size());
        std::string heading = fmt::format("{:<{}}  {:<{}}", "weapon", weapon_width, "region", region_width);
        for (std::size_t column = first; column < end; ++column) {
            heading += fmt::format("{:>{}}", fmt::format("{} m", options.distances[column]), cell_width);
        }
        text += '\n' + emphasised(heading, colour) + '\n';
        const WeaponSpec* above = nullptr;
        for (const TtkLine& line : lines) {
            text += fmt::format("{:<{}}  {:<{}}", line.weapon == above ? "" : line.weapon->id, weapon_width,
                                line.region, region_width);
            above = line.weapon;
            for (std::size_t column = first; column < end; ++column) {
                text += fmt::format("{:>{}}", cell_text(line.kills[column]), cell_width);
            }
            text += '\n';
        }
    }
    return text + (reloads ? "* with a reload on the way\n" : "");
}

Table table_of(const std::vector<TtkLine>& lines, const BodySpec& body, const TtkOptions& options) {
    Table table{{{"weapon", "", "weapon"},
                 {"body", "", "body"},
                 {"region", "", "region"},
                 {"distance", "m", "distance_m"},
                 {"verdict", "", "verdict"},
                 {"damage per hit", "health", "damage_per_hit"},
                 {"shots", "", "shots"},
                 {"reloads", "", "reloads"},
                 {"time", "ms", "time_ms"}},
                {}};
    for (const TtkLine& line : lines) {
        for (std::size_t column = 0; column < line.kills.size(); ++column) {
            const IdealKill& kill = line.kills[column];
            const bool kills = kill.verdict == KillVerdict::kills;
            table.rows.push_back({line.weapon->id, body.id, line.region, options.distances[column],
                                  std::string{to_string(kill.verdict)}, kill.damage_per_hit,
                                  kills ? Cell{std::int64_t{kill.shots}} : Cell{},
                                  kills ? Cell{std::int64_t{kill.reloads}} : Cell{},
                                  kills ? Cell{to_milliseconds(kill.time)} : Cell{}});
        }
    }
    return table;
}

void run_ttk(const TtkOptions& options) {
    const Arsenal arsenal = arsenal_of(files_among(options.common.words));
    const BodySpec& body = body_of(arsenal, options.body);
    const auto lines = compute(arsenal, weapons_of(arsenal, ids_among(options.common.words)), body, options);
    const OutputOptions& output = options.common.output;
    write_table(table_of(lines, body, options), text_of(lines, body, options, has_colour(output)), output);
}

} // namespace

void add_ttk(CLI::App& tool, int&) {
    const auto options = std::make_shared<TtkOptions>();
    Command command{tool, "ttk", "Ideal time to kill: weapon by distance and aimed region", options->common};
    command.words(options->common, "WEAPON|ARSENAL.toml", "Weapons, all if none is named, and arsenal files");
    command.numbers("--at", options->distances, {0.0, 10000.0, "m"}, "METRES", "Distances");
    command.texts("--region", options->regions, "REGION",
                  "Aimed regions, such as head,torso; all if none is named");
    command.text("--on", options->body, "BODY", "The body that is hit; the arsenal's first if none is named");
    command.example("avrek ttk thorn-rifle --at 5,15,40 --region head,torso");
    command.runs([options] { run_ttk(*options); });
}

} // namespace avrek::cli
