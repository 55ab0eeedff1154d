#include "bout_plot.h"
#include "command_line.h"
#include "commands.h"
#include "crew_options.h"
#include "gnuplot.h"
#include "live_tuning.h"
#include "progress.h"
#include "table.h"
#include <avrek/data/actions_toml.h>
#include <avrek/data/arsenal_digest.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <chrono>
#include <memory>
#include <thread>

namespace avrek::cli {

namespace {

struct BoutOptions {
    CrewOptions crew;
    std::string actions;
    std::vector<std::string> retune;
    std::string plot;
};

// Actions of a file, and what came of them.
struct Script {
    std::vector<GameAction> actions{}; ///< in order of time
    std::size_t next = 0;
    std::size_t done = 0;
    std::vector<std::string> refusals{};

    std::span<const GameAction> due(const Skirmish& skirmish) {
        const Time end = tick_span(skirmish.tick(), skirmish.settings().rate).end;
        const std::size_t first = next;
        while (next < actions.size() && actions[next].at < end) {
            ++next;
        }
        return std::span{actions}.subspan(first, next - first);
    }
    void note(std::span<const Event> events) {
        for (const ActionEvent& event : events_of<ActionEvent>(events)) {
            done += event.done ? 1 : 0;
            if (!event.done) {
                refusals.push_back(fmt::format("{} at {:.3f} s: {}", action_words(event.kind),
                                               to_seconds(event.at - Time{}), event.why));
            }
        }
    }
    std::size_t entrants() const {
        return static_cast<std::size_t>(
            std::count_if(actions.begin(), actions.end(), [](const GameAction& action) {
                return std::holds_alternative<EnterAction>(action.what);
            }));
    }
    std::string text() const {
        std::string text =
            actions.empty() ? "" : fmt::format("actions done: {} of {}\n", done, actions.size());
        for (const std::string& refusal : refusals) {
            text += fmt::format("  refused: {}\n", refusal);
        }
        return text;
    }
};

// A bout and all that is kept of it.
struct BoutRun {
    const BoutOptions& options;
    std::vector<ArsenalText> texts;
    Arsenal arsenal;
    Arena arena;
    BoutSetup setup;
    std::vector<BoutMember> members;
    Script script;
    LiveTuning tuning;
    std::unique_ptr<Skirmish> skirmish{};
    Recording recording{};
    std::vector<Diagnostic> faults{}; // in the recording
    BoutTraces traces{};
    std::size_t shots = 0;
    bool interrupted = false;

    void run() {
        SkirmishSettings set = settings_of(arsenal, arena.plan, options.crew);
        set.limits.combatants += script.entrants();
        skirmish =
            std::make_unique<Skirmish>(arsenal, arena.level, set, options.crew.common.seed, arena.plan);
        Bots bots{*skirmish};
        begin_bout(setup, members, *skirmish, bots);
        recording.open(options.crew, texts, *skirmish, members);
        for (const BoutMember& member : members) {
            recording.add(arsenal, entrant_of(setup, member));
        }
        const std::int64_t ticks = ticks_of(options.crew);
        Progress progress{"ticks", ticks};
        const NotesInterrupts interrupts;
        const auto began = std::chrono::steady_clock::now();
        while (skirmish->tick() < ticks && !skirmish->is_over() && !interrupted) {
            if (tuning.is_watching()) { // somebody looks on
                std::this_thread::sleep_until(began + (skirmish->now() - Time{}));
            }
            tuning.before_tick(*skirmish, recording);
            const std::span<const Intent> intents = bots.think(*skirmish);
            const std::span<const GameAction> due = script.due(*skirmish);
            skirmish->advance(intents, {}, due);
            shots += count_of<ShotEvent>(skirmish->events());
            script.note(skirmish->events());
            tuning.note(skirmish->events());
            if (!recording.tick(*skirmish, intents, due)) {
                break;
            }
            if (!options.plot.empty()) {
                traces.take(*skirmish);
            }
            progress.show(skirmish->tick());
            interrupted = interrupts.was_interrupted();
        }
        faults = recording.close(*skirmish);
    }

    double seconds() const { return to_seconds(skirmish->now() - Time{}); }

    std::string score_text() const {
        return fmt::format("Canopy {}, Rootward {}", skirmish->match().team_score(TeamId{0}),
                           skirmish->match().team_score(TeamId{1}));
    }
    std::string what_text() const {
        return fmt::format("{} bots in {}, rules {}, seed {}: {:.1f} s at {} Hz", setup.crew,
                           options.crew.level, skirmish->match().rules().id, options.crew.common.seed,
                           seconds(), skirmish->settings().rate.hertz);
    }
};

Table table_of(const BoutRun& run, bool whole_table) {
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
    const auto weapon = [&](const BoutMember& member, std::size_t index) {
        return index < member.weapons.size()
                   ? Cell{run.arsenal.weapons[static_cast<std::size_t>(member.weapons[index])].id}
                   : Cell{};
    };
    for (const BoutMember& member : run.members) {
        const Combatant* there = std::as_const(*run.skirmish).match().find(member.id);
        const PlayerStats stats = there != nullptr ? there->stats : PlayerStats{}; // an action took it out
        std::vector<Cell> row{member.name,
                              weapon(member, 0),
                              run.arsenal[member.shooter].id,
                              std::int64_t{stats.score},
                              std::int64_t{stats.kills},
                              std::int64_t{stats.deaths},
                              std::int64_t{stats.assists},
                              std::int64_t{stats.shots},
                              100.0 * stats.accuracy(),
                              stats.damage_dealt};
        if (whole_table) {
            row.emplace_back(stats.damage_taken);
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

std::string summary_of(const BoutRun& run) {
    std::string text = run.what_text() + '\n' + run.score_text();
    text += fmt::format("; {} shots", run.shots);
    text += run.skirmish->is_over() ? "; the match is over\n" : run.interrupted ? "; interrupted\n" : "\n";
    text += run.script.text() + run.tuning.text();
    std::string pools;
    for (const HighWater& water : run.skirmish->high_water()) {
        pools += fmt::format("{}{} {} of {}", pools.empty() ? "peak use: " : ", ", water.pool, water.max,
                             water.room);
    }
    text += wrapped(pools, text_columns, 2) + '\n';
    text +=
        fmt::format("state after tick {}: {:016x}\n", run.skirmish->tick() - 1, run.skirmish->state_hash());
    for (const auto& [what, file] :
         {std::pair{"replay", run.options.crew.record}, std::pair{"telemetry", run.options.crew.telemetry}}) {
        text += file.empty() ? "" : fmt::format("{}: {}\n", what, file);
    }
    return text;
}

std::string json_of(const BoutRun& run) {
    nlohmann::ordered_json pools = nlohmann::ordered_json::array();
    for (const HighWater& water : run.skirmish->high_water()) {
        pools.push_back({{"pool", water.pool}, {"max", water.max}, {"room", water.room}});
    }
    const nlohmann::ordered_json all{
        {"level", run.options.crew.level},
        {"rules", run.skirmish->match().rules().id},
        {"seed", run.options.crew.common.seed},
        {"rate_hz", run.skirmish->settings().rate.hertz},
        {"ticks", run.skirmish->tick()},
        {"over", run.skirmish->is_over()},
        {"interrupted", run.interrupted},
        {"scores",
         {run.skirmish->match().team_score(TeamId{0}), run.skirmish->match().team_score(TeamId{1})}},
        {"shots", run.shots},
        {"actions_done", run.script.done},
        {"actions_refused", run.script.refusals},
        {"retuned", run.tuning.count()},
        {"hash", fmt::format("{:016x}", run.skirmish->state_hash())},
        {"pools", pools},
        {"combatants", to_json(table_of(run, true))}};
    return all.dump(2) + '\n';
}

void run_bout(const BoutOptions& options) {
    std::vector<ArsenalText> texts = arsenal_texts(files_among(options.crew.common.words));
    Arsenal arsenal = arsenal_of(files_among(options.crew.common.words));
    Arena arena = arena_named(arsenal, options.crew.level);
    BoutSetup setup = setup_of(arsenal, options.crew);
    std::vector<BoutMember> members = bout_members(setup);
    Script script;
    if (!options.actions.empty()) {
        auto loaded = load_actions(options.actions, arsenal);
        stop_at(loaded.diagnostics);
        script.actions = std::move(*loaded);
    }
    LiveTuning tuning{texts, options.retune, options.crew.common};
    if (options.crew.common.watch) {
        tuning.watch(files_among(options.crew.common.words));
    }
    BoutRun run{options,          std::move(texts),   std::move(arsenal), std::move(arena),
                std::move(setup), std::move(members), std::move(script),  std::move(tuning)};
    run.run();
    if (!options.plot.empty()) {
        draw(run.traces.script(*run.skirmish, run.what_text(), run.score_text()), options.plot);
    }
    const OutputOptions& output = options.crew.common.output;
    if (output.format == Format::json) {
        write_result(json_of(run), output);
    } else {
        write_table(table_of(run, output.format == Format::csv),
                    to_text(table_of(run, false), has_colour(output)) + '\n' + summary_of(run), output);
    }
    stop_at(run.faults);
}

} // namespace

void add_bout(CLI::App& tool, int&) {
    const auto options = std::make_shared<BoutOptions>();
    Command command{tool, CommandGroup::fight, "bout", "Two crews of bots fight in a level",
                    options->crew.common};
    add_crew_options(command, options->crew, 1024);
    command.text("--actions", options->actions, "FILE.toml", "Actions of a game, done at their times");
    command.repeated("--retune", options->retune, "SECONDS=FILE.toml",
                     "Overlay that counts from then on; may be given several times");
    command.watch(options->crew.common,
                  "Play in real time; values that are saved in the arsenal files count at once");
    command.plot(options->plot);
    command.example("avrek bout --crew 8 --for 60 --record bout.replay --plot bout.png");
    command.runs([options] { run_bout(*options); });
}

} // namespace avrek::cli
