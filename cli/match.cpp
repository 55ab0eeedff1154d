#include "commands.h"
#include "crew_options.h"
#include "gnuplot.h"
#include "match_plot.h"
#include "progress.h"
#include "table.h"
#include <avrek/data/arsenal_digest.h>
#include <avrek/net/link_trial.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <memory>
#include <numeric>

namespace avrek::cli {

namespace {

struct MatchOptions {
    CrewOptions crew;
    std::vector<std::string> links;
    double interpolation = 0.07;
    double budget = LinkTrialSetup{}.budget;
    bool private_seed = false;
    bool no_rewind = false;
    std::string plot;
};

std::vector<LinkSpec> links_of(const Arsenal& arsenal, const std::vector<std::string>& names) {
    std::vector<LinkSpec> links;
    links.reserve(names.size());
    for (const std::string& name : names) {
        links.push_back(arsenal[id_named<LinkId>("link", arsenal.links, name)]);
    }
    if (links.empty()) {
        links = arsenal.links;
    }
    if (links.empty()) {
        links.push_back({.id = "plain"});
    }
    return links;
}

Cell median(std::vector<Duration> times) {
    if (times.empty()) {
        return {};
    }
    std::sort(times.begin(), times.end());
    return to_milliseconds(times[times.size() / 2]);
}

double per_second(const LinkTrialPlayer& player, std::uint64_t bytes) {
    return player.played_seconds > 0.0 ? static_cast<double>(bytes) / 1000.0 / player.played_seconds : 0.0;
}

Table link_table(const LinkTrialReport& report) {
    Table table{{{"name", "", "name"},
                 {"link", "", "link"},
                 {"rtt", "ms", "round_trip_ms", 0},
                 {"lost", "% down", "lost_down_percent", 1},
                 {"lost", "% up", "lost_up_percent", 1},
                 {"stream", "kB/s", "stream_kb_s", 2},
                 {"notices", "kB/s", "notices_kb_s", 2},
                 {"ledger", "kB/s", "ledger_kb_s", 2},
                 {"up", "kB/s", "up_kb_s", 2},
                 {"packets", "/s", "packets_s", 0},
                 {"late", "ticks", "missing_ticks"},
                 {"states", "corrected", "corrections"}},
                {}};
    for (const LinkTrialPlayer& player : report.players) {
        const Traffic& down = player.counts.down;
        const auto kind = [&](TrafficKind which) {
            return per_second(player, down.bytes[static_cast<std::size_t>(which)]);
        };
        table.rows.push_back(
            {player.member.name, player.link.id, to_milliseconds(player.round_trip), 100.0 * player.lost_down,
             100.0 * player.lost_up, kind(TrafficKind::stream), kind(TrafficKind::notices),
             kind(TrafficKind::ledger), per_second(player, player.counts.up.all_bytes()),
             1000.0 * per_second(player, down.all_packets() + player.counts.up.all_packets()),
             static_cast<std::int64_t>(player.missing),
             static_cast<std::int64_t>(player.counts.corrections)});
    }
    return table;
}

Table hit_table(const LinkTrialReport& report) {
    Table table{{{"name", "", "name"},
                 {"shots", "", "shots"},
                 {"hits", "predicted", "predicted_hits"},
                 {"confirmed", "", "confirmed"},
                 {"missed", "", "missed"},
                 {"view", "too old", "view_too_old"},
                 {"target", "dead", "target_dead"},
                 {"target", "in cover", "in_cover"},
                 {"shooter", "dead", "shooter_dead"},
                 {"not", "fired", "not_fired"}},
                {}};
    for (const LinkTrialPlayer& player : report.players) {
        std::uint64_t looked = 0;
        for (const std::uint64_t hits : player.hits) {
            looked += hits;
        }
        std::vector<Cell> row{player.member.name, static_cast<std::int64_t>(player.shots),
                              static_cast<std::int64_t>(looked)};
        for (const std::uint64_t hits : player.hits) {
            row.emplace_back(static_cast<std::int64_t>(hits));
        }
        table.rows.push_back(std::move(row));
    }
    return table;
}

Table death_table(const LinkTrialReport& report) {
    Table table{{{"name", "", "name"},
                 {"kills", "", "kills"},
                 {"shooter", "ms", "shooter_ms", 0},
                 {"server", "ms", "server_ms", 0},
                 {"deaths", "", "deaths"},
                 {"victim", "ms", "victim_ms", 0},
                 {"in cover", "", "deaths_in_cover"},
                 {"trades", "", "trades"}},
                {}};
    for (const LinkTrialPlayer& player : report.players) {
        table.rows.push_back(
            {player.member.name, static_cast<std::int64_t>(player.as_shooter.on_server.size()),
             median(player.as_shooter.seen), median(player.as_shooter.on_server),
             static_cast<std::int64_t>(player.deaths), median(player.felt),
             static_cast<std::int64_t>(player.deaths_in_cover), static_cast<std::int64_t>(player.trades)});
    }
    return table;
}

struct Agreement {
    std::size_t playing = 0;
    std::size_t ledgers = 0;
    std::size_t dead = 0;
    std::size_t notices = 0;
    std::uint64_t doubled = 0;
    bool is_whole(std::size_t players) const {
        return ledgers == players && dead == players && notices == players && doubled == 0;
    }
};

Agreement agreement_of(const LinkTrialReport& report) {
    Agreement all;
    for (const LinkTrialPlayer& player : report.players) {
        all.playing += player.state == ClientState::playing ? 1 : 0;
        all.ledgers += player.ledger_equal ? 1 : 0;
        all.dead += player.dead_equal ? 1 : 0;
        all.notices += player.notices_equal ? 1 : 0;
        all.doubled += player.doubled;
    }
    return all;
}

std::string what_text(const LinkTrialReport& report, const MatchOptions& options) {
    return fmt::format("{} clients in {}, seed {}: {:.1f} s at {:g} Hz{}", report.players.size(),
                       options.crew.level, options.crew.common.seed,
                       static_cast<double>(report.ticks) / options.crew.rate, options.crew.rate,
                       options.no_rewind ? ", without lag compensation" : "");
}

std::string summary_of(const LinkTrialReport& report, const MatchOptions& options) {
    const Agreement all = agreement_of(report);
    const std::size_t players = report.players.size();
    std::string text = what_text(report, options) + '\n';
    text += wrapped(fmt::format("{} kills, {} of them of a target that was in cover by then", report.kills,
                                report.killed_in_cover),
                    text_columns, 2) +
            '\n';
    text += fmt::format("ledgers equal to the server's: {} of {}; lists of the dead: {} of {};\n"
                        "notices received exactly once: {} of {}; events played twice: {}\n",
                        all.ledgers, players, all.dead, players, all.notices, players, all.doubled);
    const std::uint64_t left_out = std::accumulate(
        report.players.begin(), report.players.end(), std::uint64_t{0},
        [](std::uint64_t sum, const LinkTrialPlayer& player) { return sum + player.left_out; });
    text += fmt::format("bodies left out of snapshots for want of room: {}\n", left_out);
    for (const LinkTrialPlayer& player : report.players) {
        if (player.state != ClientState::playing) {
            text += fmt::format("{} had left before the end\n", player.member.name);
        }
    }
    return text;
}

std::string text_of(const LinkTrialReport& report, const MatchOptions& options, bool colour) {
    static constexpr const char* legend =
        "rtt: round trip, with the wait for the next packet. late: ticks without an intent from the client. "
        "states corrected: mispredicted states of the client. view too old: beyond max_rewind. shooter, "
        "server, "
        "victim: median time to kill from the first hit, as each saw it. "
        "in cover: deaths that reached the victim when it was in cover from its killer. Bytes are without "
        "network headers.";
    return to_text(link_table(report), colour) + '\n' + to_text(hit_table(report), colour) + '\n' +
           to_text(death_table(report), colour) + '\n' + wrapped(legend, text_columns, 2) + "\n\n" +
           summary_of(report, options);
}

nlohmann::ordered_json json_of(const LinkTrialReport& report, const MatchOptions& options) {
    nlohmann::ordered_json clients = to_json(link_table(report));
    const nlohmann::ordered_json hits = to_json(hit_table(report));
    const nlohmann::ordered_json deaths = to_json(death_table(report));
    for (std::size_t index = 0; index < clients.size(); ++index) {
        clients[index].update(hits[index]);
        clients[index].update(deaths[index]);
        const LinkTrialPlayer& player = report.players[index];
        clients[index]["ledger_equal"] = player.ledger_equal;
        clients[index]["dead_equal"] = player.dead_equal;
        clients[index]["notices_equal"] = player.notices_equal;
        clients[index]["events_doubled"] = player.doubled;
        clients[index]["left_out_bodies"] = player.left_out;
        clients[index]["events_withdrawn"] = player.withdrawn;
        clients[index]["complete_after_ms"] = to_milliseconds(player.complete_after);
    }
    return {{"level", options.crew.level},
            {"seed", options.crew.common.seed},
            {"rate_hz", options.crew.rate},
            {"ticks", report.ticks},
            {"over", report.over},
            {"rewinds", !options.no_rewind},
            {"kills", report.kills},
            {"killed_in_cover", report.killed_in_cover},
            {"clients", clients}};
}

// All of it as one table, for programs.
Table whole_table(const LinkTrialReport& report) {
    Table table = link_table(report);
    for (const Table& more : {hit_table(report), death_table(report)}) {
        table.columns.insert(table.columns.end(), more.columns.begin() + 1, more.columns.end());
        for (std::size_t row = 0; row < table.rows.size(); ++row) {
            table.rows[row].insert(table.rows[row].end(), more.rows[row].begin() + 1, more.rows[row].end());
        }
    }
    table.columns.push_back({"left", "out", "left_out_bodies"});
    for (std::size_t row = 0; row < table.rows.size(); ++row) {
        table.rows[row].emplace_back(static_cast<std::int64_t>(report.players[row].left_out));
    }
    return table;
}

// Plays it, with a line that says how far it is.
void play(LinkTrial& match, Recording& recording, std::int64_t ticks) {
    Progress progress{"ticks", ticks};
    const NotesInterrupts interrupts;
    const Skirmish& skirmish = match.server().skirmish();
    while (skirmish.tick() < ticks && !skirmish.is_over() && !interrupts.was_interrupted()) {
        match.step();
        if (!recording.take(match.server())) {
            break;
        }
        progress.show(skirmish.tick());
    }
}

void run_match(const MatchOptions& options, int& status) {
    const CrewOptions& crew = options.crew;
    const std::vector<ArsenalText> texts = arsenal_texts(files_among(crew.common.words));
    GameData data = game_data_of(files_among(crew.common.words), crew.level);
    LinkTrialSetup setup;
    setup.bout = setup_of(data.arsenal, crew);
    setup.links = links_of(data.arsenal, options.links);
    setup.skirmish = settings_of(data.arsenal, data.arena.plan, crew);
    setup.private_seed = options.private_seed;
    setup.interpolation = from_seconds(options.interpolation);
    setup.budget = static_cast<std::int32_t>(whole("--budget", options.budget));
    if (options.no_rewind) {
        data.arsenal.matches[to_index(setup.skirmish.rules)].lag_compensation.max_rewind = Duration{};
    }
    LinkTrial match{data, setup, crew.common.seed};
    Recording recording;
    recording.open(crew, texts, match.server().skirmish(), bout_members(setup.bout));
    play(match, recording, ticks_of(crew));
    const std::vector<Diagnostic> faults = recording.close(match.server().skirmish());
    const LinkTrialReport report = match.finish();
    if (!options.plot.empty()) {
        draw(match_script(report, what_text(report, options)), options.plot);
    }
    const OutputOptions& output = crew.common.output;
    if (output.format == Format::json) {
        write_result(json_of(report, options).dump(2) + '\n', output);
    } else {
        write_table(whole_table(report), text_of(report, options, has_colour(output)), output);
    }
    stop_at(faults);
    status = agreement_of(report).is_whole(report.players.size()) ? done : not_right;
}

} // namespace

void add_match(CLI::App& tool, int& status) {
    const auto options = std::make_shared<MatchOptions>();
    Command command{tool, CommandGroup::fight, "match", "Bots play a networked match over simulated links",
                    options->crew.common};
    add_crew_options(command, options->crew, 256);
    command.texts("--link", options->links, "LINK",
                  "Link profiles that the clients take in turn; all by default");
    command.number("--interpolation", options->interpolation, {0, 1, "s"}, "SECONDS",
                   "Extra delay before remote players are drawn");
    command.number("--budget", options->budget, {2'000, 1'000'000, "bytes/s"}, "BYTES",
                   "Bytes a second to each client; bodies that do not fit wait, the far ones first");
    command.flag("--private-seed", options->private_seed,
                 "The server keeps its spread seed; clients draw their own spread");
    command.flag("--no-rewind", options->no_rewind, "Switch lag compensation off");
    command.plot(options->plot);
    command.example("avrek match --crew 8 --link ring-wifi,storm --seed 3 --plot match.png");
    command.runs([options, &status] { run_match(*options, status); });
}

} // namespace avrek::cli
