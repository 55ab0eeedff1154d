#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "event_text.h"
#include "level_options.h"
#include "progress.h"
#include "table.h"
#include <avrek/data/arsenal_digest.h>
#include <avrek/data/replay_file.h>
#include <avrek/data/telemetry.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <memory>
#include <optional>

namespace avrek::cli {

namespace {

struct ReplayOptions {
    CommonOptions common;
    std::string level;
    std::optional<double> at;
    std::vector<double> events;
    std::string telemetry;
};

// A replay while it is played.
struct Playing {
    ReplayReader reader{};
    std::string file{};
    TunedArsenal tuned{};
    std::unique_ptr<Skirmish> skirmish{};
    Telemetry telemetry{};
    std::int64_t hashes = 0;
    ReplayDeparture departure{};
    bool departed = false;
    std::vector<std::string> warnings{};
    std::string events{};
    bool cut_off = false;
    bool interrupted = false;
};

// Looks whether the state after a tick is as recorded.
void compare(Playing& play, const ReplayTick& tick) {
    if (!tick.hash) {
        return;
    }
    ++play.hashes;
    const bool same = *tick.hash == play.skirmish->fight_hash();
    if (same && !play.departed) {
        play.departure.last_same = play.skirmish->tick() - 1;
    } else if (!same && !play.departed) {
        play.departed = true;
        play.departure.tick = play.skirmish->tick() - 1;
        play.departure.part = first_difference(*play.skirmish, tick.parts);
    }
}

void look_at_fields(Playing& play, const ReplayChunk& chunk) {
    if (chunk.fields.empty() || !play.departure.fields.empty()) {
        return;
    }
    std::vector<FieldDifference> found = differences(named_fields(*play.skirmish), chunk.fields, 4096);
    // The field that differed first comes first.
    std::stable_partition(found.begin(), found.end(), [&](const FieldDifference& field) {
        return !play.departure.part.empty() && field.name.starts_with(play.departure.part);
    });
    found.resize(std::min<std::size_t>(16, found.size()));
    if (!found.empty()) {
        play.departure.fields = std::move(found);
        play.departure.fields_tick = play.skirmish->tick() - 1;
        if (!play.departed) {
            play.departed = true;
            play.departure.tick = play.skirmish->tick() - 1;
        }
    }
}

// Whether a tick is in the span whose events are wanted.
bool is_wanted(Tick tick, const ReplayOptions& options) {
    return options.events.size() == 2 && static_cast<double>(tick) >= options.events[0] &&
           static_cast<double>(tick) <= options.events[1];
}

// The last tick that has to be played; none: all.
std::optional<Tick> last_tick(const ReplayOptions& options) {
    if (options.at) {
        return static_cast<Tick>(*options.at);
    }
    return options.events.size() == 2 ? std::optional{static_cast<Tick>(options.events[1])} : std::nullopt;
}

void play_all(Playing& play, const ReplayOptions& options) {
    const std::optional<Tick> last = last_tick(options);
    Progress progress{"ticks", last.value_or(0) + 1};
    const NotesInterrupts interrupts;
    std::vector<Diagnostic> faults;
    while (const auto chunk = play.reader.next(faults)) {
        for (ReplayTick tick : chunk->ticks) {
            for (const Diagnostic& fault : make_arsenals(tick, play.tuned)) {
                play.warnings.push_back(fmt::format("tick {}: {}", play.skirmish->tick(), to_string(fault)));
            }
            for (const Diagnostic& fault : avrek::play(tick, *play.skirmish)) {
                play.warnings.push_back(
                    fmt::format("tick {}: {}", play.skirmish->tick() - 1, to_string(fault)));
            }
            compare(play, tick);
            if (is_wanted(play.skirmish->tick() - 1, options)) {
                play.events += events_text(*play.skirmish);
            }
            if (!options.telemetry.empty()) {
                play.telemetry.take(*play.skirmish);
            }
            progress.show(play.skirmish->tick());
            play.interrupted = interrupts.was_interrupted();
            if (play.interrupted || (last && play.skirmish->tick() > *last)) {
                return;
            }
        }
        look_at_fields(play, *chunk);
    }
    play.cut_off = !faults.empty();
    for (const Diagnostic& fault : faults) {
        play.warnings.push_back(to_string(fault));
    }
}

Table table_of(const Skirmish& skirmish) {
    Table table{{{"who", "", "who"},
                 {"team", "", "team"},
                 {"health", "", "health", 1},
                 {"state", "", "state"},
                 {"x", "m", "x_m", 2},
                 {"y", "m", "y_m", 2},
                 {"z", "m", "z_m", 2},
                 {"yaw", "deg", "yaw_deg", 1},
                 {"weapon", "", "weapon"},
                 {"rounds", "", "rounds"},
                 {"score", "", "score"}},
                {}};
    for (std::size_t index = 0; index < skirmish.fighters().size(); ++index) {
        const Fighter& fighter = skirmish.fighters()[index];
        const Combatant& who = skirmish.match().combatants()[index];
        const CombatantReadout readout = skirmish.readout(fighter.id);
        const WeaponSpec* weapon = weapon_in(skirmish.arsenal(), who.loadout, who.loadout.in_hand);
        table.rows.push_back(
            {static_cast<std::int64_t>(fighter.id), static_cast<std::int64_t>(who.team), who.vitals.health,
             readout.alive ? std::string{to_string(who.vitals.state)} : std::string{"dead"},
             fighter.motion.position.x(), fighter.motion.position.y(), fighter.motion.position.z(),
             to_degrees(fighter.look.yaw), weapon != nullptr ? Cell{weapon->id} : Cell{},
             readout.weapon ? Cell{std::int64_t{readout.weapon->rounds}} : Cell{},
             std::int64_t{who.stats.score}});
    }
    return table;
}

std::string departure_text(const ReplayDeparture& departure) {
    std::string text = fmt::format("departs: after tick {} the state is not as recorded", departure.tick);
    text +=
        departure.last_same >= 0 ? fmt::format("; after tick {} it still was\n", departure.last_same) : "\n";
    if (!departure.part.empty()) {
        text += fmt::format("the first part that differs then: {}\n", departure.part);
    }
    if (departure.fields.empty()) {
        return text + "no fields were recorded after it, so it is not known in what\n";
    }
    Table table{{{"field", "", "field"}, {"here", "", "here"}, {"recorded", "", "recorded"}}, {}};
    for (const FieldDifference& field : departure.fields) {
        table.rows.push_back({field.name, field.one, field.other});
    }
    return text + fmt::format("the first fields that differ after tick {}:\n", departure.fields_tick) +
           to_text(table, false);
}

std::string verdict_text(const Playing& play) {
    const Tick ticks = play.skirmish->tick();
    std::string text =
        fmt::format("{}: {} ticks at {} Hz, {:.1f} s, rules {}, seed {}, by {}\n", play.file, ticks,
                    play.skirmish->settings().rate.hertz, to_seconds(play.skirmish->now() - Time{}),
                    play.reader.head().rules, play.reader.head().seed, play.reader.head().made_by);
    if (play.departed) {
        return text + departure_text(play.departure);
    }
    return text + (play.hashes == 0 ? "no state was recorded to hold it to\n"
                                    : fmt::format("all {} recorded states are the same\n", play.hashes));
}

std::string json_of(const Playing& play, const ReplayOptions& options) {
    nlohmann::ordered_json fields = nlohmann::ordered_json::array();
    for (const FieldDifference& field : play.departure.fields) {
        fields.push_back({{"field", field.name}, {"here", field.one}, {"recorded", field.other}});
    }
    nlohmann::ordered_json all{{"file", play.file},
                               {"ticks", play.skirmish->tick()},
                               {"rate_hz", play.skirmish->settings().rate.hertz},
                               {"rules", play.reader.head().rules},
                               {"seed", play.reader.head().seed},
                               {"states", play.hashes},
                               {"cut_off", play.cut_off},
                               {"departs", play.departed}};
    if (play.departed) {
        all["departs_after_tick"] = play.departure.tick;
        all["last_same_tick"] = play.departure.last_same;
        all["part"] = play.departure.part;
        all["fields_after_tick"] = play.departure.fields_tick;
        all["fields"] = fields;
    }
    if (options.at) {
        all["combatants"] = to_json(table_of(*play.skirmish));
    }
    return all.dump(2) + '\n';
}

// The one word that is no arsenal file.
std::string replay_among(const std::vector<std::string>& words) {
    const std::vector<std::string> names = ids_among(words);
    if (names.size() != 1) {
        throw WrongCall{{names.empty() ? "error: which replay? allowed: one file, and arsenal files"
                                       : fmt::format("error: one replay at a time, not also {}", names[1])}};
    }
    return names.front();
}

void check_span(const ReplayOptions& options) {
    const bool is_span =
        options.events.empty() || (options.events.size() == 2 && options.events[0] <= options.events[1]);
    if (!is_span) {
        throw WrongCall{{"error: --events takes FIRST,LAST, two ticks, the first not after the last"}};
    }
}

void run_replay(const ReplayOptions& options, int& status) {
    check_span(options);
    Playing play;
    play.file = replay_among(options.common.words);
    stop_at(play.reader.open(play.file));
    const std::vector<std::string> files = files_among(options.common.words);
    const std::vector<ArsenalText> texts = arsenal_texts(files);
    const ArsenalDigest digest = digest_of(texts);
    play.tuned = TunedArsenal{texts};
    Arsenal arsenal = arsenal_of(files);
    const std::string& recorded = play.reader.head().level_name;
    const Arena arena = arena_named(arsenal, !options.level.empty() ? options.level
                                             : recorded.empty()     ? demo_level
                                                                    : recorded);
    const auto settings = settings_for(play.reader.head(), arsenal, digest, arena.level, play.file);
    stop_at(settings.diagnostics);
    play.skirmish =
        std::make_unique<Skirmish>(arsenal, arena.level, *settings, play.reader.head().seed, arena.plan);
    if (!options.telemetry.empty()) {
        stop_at(play.telemetry.open(options.telemetry));
        play.telemetry.begin(*play.skirmish, recorded);
    }
    play_all(play, options);
    stop_at(play.telemetry.end(*play.skirmish));
    for (const std::string& warning : play.warnings) {
        fmt::print(stderr, "{}\n", warning);
    }
    const OutputOptions& output = options.common.output;
    if (output.format == Format::json) {
        write_result(json_of(play, options), output);
    } else if (options.at) {
        const Table table = table_of(*play.skirmish);
        write_table(table,
                    to_text(table, has_colour(output)) +
                        fmt::format("\nafter tick {}, at {:.6f} s\n", play.skirmish->tick() - 1,
                                    to_seconds(play.skirmish->now() - Time{})),
                    output);
    } else {
        const std::string heading =
            play.events.empty() ? "" : emphasised("    seconds    who  what", has_colour(output)) + '\n';
        write_result(heading + play.events +
                         (options.events.empty() || play.departed ? verdict_text(play) : ""),
                     output);
    }
    status = play.departed || play.cut_off || !play.warnings.empty() ? not_right : done;
}

} // namespace

void add_replay(CLI::App& tool, int& status) {
    const auto options = std::make_shared<ReplayOptions>();
    Command command{tool, CommandGroup::fight, "replay", "Play a recorded fight again and verify every state",
                    options->common};
    command.words(options->common, "FILE|ARSENAL.toml", "The replay, and its arsenal files");
    command.text("--level", options->level, "LEVEL", "Level, if it is not found under its recorded name");
    command.number("--at", options->at, {0, 1e8, "ticks"}, "TICK", "Show the combatants after this tick");
    command.numbers("--events", options->events, {0, 1e8, "ticks"}, "FIRST,LAST",
                    "Print the events of these ticks");
    command.text("--telemetry", options->telemetry, "FILE.db|FOLDER",
                 "Write telemetry to a database, or to a folder of CSV files");
    command.example("avrek replay bout.replay --events 600,640");
    command.runs([options, &status] { run_replay(*options, status); });
}

} // namespace avrek::cli
