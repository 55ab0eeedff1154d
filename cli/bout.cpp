#include "arsenal_words.h"
#include "bout_plot.h"
#include "command_line.h"
#include "commands.h"
#include "gnuplot.h"
#include "level_words.h"
#include "progress.h"
#include "table.h"
#include <avrek/data/arsenal_digest.h>
#include <avrek/data/replay_file.h>
#include <avrek/data/telemetry.h>
#include <avrek/skirmish/bout.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <memory>

namespace avrek::cli {

namespace {

struct BoutOptions {
    CommonOptions common;
    double crew = 8;
    double ticks = 3840;
    double rate = 64;
    std::string level = demo_level;
    std::string rules;
    std::string body;
    std::string blade;
    std::vector<std::string> shooters;
    std::string record;
    std::string telemetry;
    std::string plot;
};

std::int64_t whole(const char* option, double value) {
    if (value != std::floor(value)) {
        throw WrongCall{
            {fmt::format("error: {}: {:g} is not allowed; allowed: a whole number", option, value)}};
    }
    return static_cast<std::int64_t>(value);
}

// The place of what an option names among the arsenal's; the first with an empty name.
template <class Spec>
std::int32_t place_named(const std::string& kind, const std::vector<Spec>& specs, const std::string& id) {
    for (std::size_t place = 0; place < specs.size(); ++place) {
        if (id.empty() || specs[place].id == id) {
            return static_cast<std::int32_t>(place);
        }
    }
    if (specs.empty()) {
        throw WrongCall{{fmt::format("error: the arsenal has no {}, and a bout needs one", kind)}};
    }
    throw unknown_name(kind, id, ids_of(specs));
}

BoutSetup setup_of(const Arsenal& arsenal, const BoutOptions& options) {
    BoutSetup setup;
    setup.crew = static_cast<std::size_t>(whole("--crew", options.crew));
    setup.body = place_named("body", arsenal.bodies, options.body);
    if (options.blade != "none" && (!arsenal.melee.empty() || !options.blade.empty())) {
        setup.melee = place_named("blade", arsenal.melee, options.blade);
    }
    for (const WeaponSpec* weapon : weapons_of(arsenal, ids_among(options.common.words))) {
        setup.weapons.push_back(static_cast<std::int32_t>(weapon - arsenal.weapons.data()));
    }
    for (const std::string& shooter : options.shooters) {
        setup.shooters.push_back(place_named("shooter", arsenal.shooters, shooter));
    }
    if (setup.shooters.empty()) {
        setup.shooters.push_back(place_named("shooter", arsenal.shooters, ""));
    }
    return setup;
}

// A bout and all that is kept of it.
struct Running {
    const BoutOptions& options;
    std::vector<ArsenalText> texts;
    Arsenal arsenal;
    Arena arena;
    BoutSetup setup;
    std::vector<BoutMember> members;
    std::unique_ptr<Skirmish> skirmish{};
    ReplayWriter replay{};
    Telemetry telemetry{};
    BoutTraces traces{};
    std::size_t shots = 0;
    bool interrupted = false;

    SkirmishSettings settings() const {
        SkirmishSettings set;
        set.rate.hertz = static_cast<std::int32_t>(whole("--rate", options.rate));
        set.rules = place_named("rules", arsenal.matches, options.rules);
        set.limits.combatants = setup.crew;
        set.limits.hazards = std::max<std::size_t>(32, arena.plan.hazards.size());
        set.limits.pickups = std::max<std::size_t>(64, arena.plan.pickups.size());
        return set;
    }

    void open_files() {
        if (!options.record.empty()) {
            stop_at(replay.open(options.record,
                                head_of(*skirmish, digest_of(texts), options.level, "avrek " AVREK_VERSION)));
            for (const BoutMember& member : members) {
                replay.add(arsenal, entrant_of(setup, member));
            }
        }
        if (!options.telemetry.empty()) {
            stop_at(telemetry.open(options.telemetry));
            telemetry.begin(*skirmish, options.level);
            for (const BoutMember& member : members) {
                telemetry.name(member.id, member.name,
                               arsenal.shooters[static_cast<std::size_t>(member.shooter)].id);
            }
        }
    }

    void run() {
        skirmish =
            std::make_unique<Skirmish>(arsenal, arena.level, settings(), options.common.seed, arena.plan);
        Bots bots{*skirmish};
        begin_bout(setup, members, *skirmish, bots);
        open_files();
        const std::int64_t ticks = whole("--ticks", options.ticks);
        Progress progress{"ticks", ticks};
        const NotesInterrupts interrupts;
        while (skirmish->tick() < ticks && !skirmish->is_over() && !interrupted) {
            const std::span<const Intent> intents = bots.think(*skirmish);
            skirmish->advance(intents);
            shots += skirmish->events().shots.size();
            if (!options.record.empty() && !replay.tick(*skirmish, intents)) {
                break;
            }
            if (!options.telemetry.empty()) {
                telemetry.take(*skirmish);
            }
            if (!options.plot.empty()) {
                traces.take(*skirmish);
            }
            progress.show(skirmish->tick());
            interrupted = interrupts.was_interrupted();
        }
        stop_at(replay.close());
        stop_at(telemetry.end(*skirmish));
    }

    double seconds() const { return to_seconds(skirmish->now() - Time{}); }

    std::string score_text() const {
        return fmt::format("Canopy {}, Rootward {}", skirmish->match().team_score(TeamId{0}),
                           skirmish->match().team_score(TeamId{1}));
    }
    std::string what_text() const {
        return fmt::format("{} bots in {}, rules {}, seed {}: {:.1f} s at {} Hz", setup.crew, options.level,
                           skirmish->match().rules().id, options.common.seed, seconds(),
                           skirmish->settings().rate.hertz);
    }
};

Table table_of(const Running& run, bool whole_table) {
    Table table{{{"name", "", "name"},
                 {"weapon", "", "weapon"},
                 {"shooter", "", "shooter"},
                 {"score", "", "score"},
                 {"kills", "", "kills"},
                 {"deaths", "", "deaths"},
                 {"assists", "", "assists"},
                 {"shots", "", "shots"},
                 {"hit", "%", "accuracy_percent", 1},
                 {"dealt", "health", "damage_dealt", 1}},
                {}};
    if (whole_table) {
        table.columns.push_back({"taken", "health", "damage_taken", 1});
        table.columns.push_back({"second", "", "second_weapon"});
    }
    const auto weapon = [&](const BoutMember& member, std::size_t place) {
        return place < member.weapons.size()
                   ? Cell{run.arsenal.weapons[static_cast<std::size_t>(member.weapons[place])].id}
                   : Cell{};
    };
    for (const BoutMember& member : run.members) {
        const Tally& tally = std::as_const(*run.skirmish).match().find(member.id)->tally;
        std::vector<Cell> row{member.name,
                              weapon(member, 0),
                              run.arsenal.shooters[static_cast<std::size_t>(member.shooter)].id,
                              std::int64_t{tally.score},
                              std::int64_t{tally.kills},
                              std::int64_t{tally.deaths},
                              std::int64_t{tally.assists},
                              std::int64_t{tally.shots},
                              100.0 * tally.accuracy(),
                              tally.damage_dealt};
        if (whole_table) {
            row.emplace_back(tally.damage_taken);
            row.push_back(weapon(member, 1));
        }
        table.rows.push_back(std::move(row));
    }
    // The best of each crew first.
    std::stable_sort(table.rows.begin(), table.rows.end(), [](const auto& one, const auto& other) {
        return std::get<std::int64_t>(one[3]) > std::get<std::int64_t>(other[3]);
    });
    return table;
}

std::string summary_of(const Running& run) {
    std::string text = run.what_text() + '\n' + run.score_text();
    text += fmt::format("; {} shots", run.shots);
    text += run.skirmish->is_over() ? "; the match is over\n" : run.interrupted ? "; interrupted\n" : "\n";
    std::string pools;
    for (const HighWater& water : run.skirmish->high_water()) {
        pools += fmt::format("{}{} {} of {}", pools.empty() ? "most at a time: " : ", ", water.pool,
                             water.most, water.room);
    }
    text += wrapped(pools, text_columns, 2) + '\n';
    text +=
        fmt::format("state after tick {}: {:016x}\n", run.skirmish->tick() - 1, run.skirmish->state_hash());
    for (const auto& [what, file] :
         {std::pair{"replay", run.options.record}, std::pair{"telemetry", run.options.telemetry}}) {
        text += file.empty() ? "" : fmt::format("{}: {}\n", what, file);
    }
    return text;
}

std::string json_of(const Running& run) {
    nlohmann::ordered_json pools = nlohmann::ordered_json::array();
    for (const HighWater& water : run.skirmish->high_water()) {
        pools.push_back({{"pool", water.pool}, {"most", water.most}, {"room", water.room}});
    }
    const nlohmann::ordered_json all{
        {"level", run.options.level},
        {"rules", run.skirmish->match().rules().id},
        {"seed", run.options.common.seed},
        {"rate_hz", run.skirmish->settings().rate.hertz},
        {"ticks", run.skirmish->tick()},
        {"over", run.skirmish->is_over()},
        {"interrupted", run.interrupted},
        {"scores",
         {run.skirmish->match().team_score(TeamId{0}), run.skirmish->match().team_score(TeamId{1})}},
        {"shots", run.shots},
        {"hash", fmt::format("{:016x}", run.skirmish->state_hash())},
        {"pools", pools},
        {"combatants", to_json(table_of(run, true))}};
    return all.dump(2) + '\n';
}

void run_bout(const BoutOptions& options) {
    std::vector<ArsenalText> texts = arsenal_texts(files_among(options.common.words));
    Arsenal arsenal = arsenal_of(files_among(options.common.words));
    Arena arena = arena_named(arsenal, options.level);
    BoutSetup setup = setup_of(arsenal, options);
    std::vector<BoutMember> members = bout_members(setup);
    Running run{options,          std::move(texts), std::move(arsenal),
                std::move(arena), std::move(setup), std::move(members)};
    run.run();
    if (!options.plot.empty()) {
        draw(run.traces.script(*run.skirmish, run.what_text(), run.score_text()), options.plot);
    }
    const OutputOptions& output = options.common.output;
    if (output.format == Format::json) {
        write_result(json_of(run), output);
        return;
    }
    write_table(table_of(run, output.format == Format::csv),
                to_text(table_of(run, false), has_colour(output)) + '\n' + summary_of(run), output);
}

} // namespace

void add_bout(CLI::App& tool, int&) {
    const auto options = std::make_shared<BoutOptions>();
    Command command{tool, "bout", "Let two crews of bots fight in a level, and say how it went",
                    options->common};
    command.words(options->common, "WEAPON|ARSENAL.toml",
                  "Weapons that the bots take in turn, all if none is named, and arsenal files");
    command.number("--crew", options->crew, {1, 1024, "bots"}, "COUNT", "Bots, both crews together");
    command.number("--ticks", options->ticks, {1, 1e8, "ticks"}, "COUNT",
                   "How long it lasts, unless the match is over before");
    command.number("--rate", options->rate, {1, 1000, "Hz"}, "HERTZ", "Ticks in a second");
    command.text("--in", options->level, "LEVEL", "The level: atrium, or a file");
    command.text("--rules", options->rules, "MATCH", "The rules; the arsenal's first if none are named");
    command.text("--body", options->body, "BODY",
                 "What body they have; the arsenal's first if none is named");
    command.text("--blade", options->blade, "BLADE",
                 "What they strike with, or none; the arsenal's first if none is named");
    command.texts("--shooter", options->shooters, "SHOOTER",
                  "Profiles that the bots take in turn; the arsenal's first if none is named");
    command.text("--record", options->record, "FILE", "Record a replay into this file");
    command.text("--telemetry", options->telemetry, "FILE.db|FOLDER",
                 "Write what happened into a database, or a folder of CSV");
    command.plot(options->plot);
    command.example("avrek bout --crew 8 --ticks 3840 --record bout.replay --plot bout.png");
    command.runs([options] { run_bout(*options); });
}

} // namespace avrek::cli
