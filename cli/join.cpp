#include "commands.h"
#include "crew_options.h"
#include "live_tuning.h"
#include "progress.h"
#include "table.h"
#include <avrek/data/arsenal_digest.h>
#include <avrek/net/client.h>
#include <avrek/net/server_file.h>
#include <avrek/net/ticket_files.h>
#include <avrek/net/udp_transport.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <chrono>
#include <memory>
#include <optional>
#include <thread>

namespace avrek::cli {

namespace {

using Clock = std::chrono::steady_clock;

struct JoinOptions {
    CommonOptions common;
    std::string address;
    std::optional<double> port;
    std::string server_file = "avrek-server.json";
    std::string level = demo_level;
    std::vector<std::string> shooters;
    std::vector<std::string> proposals;
    std::vector<std::string> tickets;
    double bots = 1;
    double first = 1;
    std::optional<double> seconds{};
};

// One client and the bot that plays it.
struct Joined {
    BodyId player = nobody;
    ShooterId shooter{};
    std::unique_ptr<UdpClient> transport{};
    std::unique_ptr<Client> client{};
    std::optional<Bots> bots{};
    std::vector<std::pair<Time, TuningStep>> proposals{}; // with times since the start, in order
    std::size_t proposed = 0;
    Time may_propose{}; // a server hears one a second
    std::uint64_t shots = 0;
    std::uint64_t withdrawn = 0;

    void count(const ClientEvents& events) {
        for (const OwnEvent& event : events.own) {
            shots +=
                std::holds_alternative<ShotEvent>(event.event) && event.mark == EventMark::predicted ? 1 : 0;
            withdrawn += event.mark == EventMark::withdrawn ? 1 : 0;
        }
        for (const TuningNews& news : events.tuned) {
            const char* const back = Progress::is_shown() ? "\r\033[K" : "";
            for (const std::string& refusal : news.refusals) {
                fmt::print(stderr, "{}{}\n", back, refusal);
            }
            fmt::print(stderr, "{}player {}: {} {}\n", back, static_cast<std::uint32_t>(player),
                       news.step.texts.empty() ? "the change" : news.step.texts.back().name,
                       !news.refusals.empty() ? "is refused; the values stay as they were"
                       : news.tick < 0        ? "is taken"
                                              : fmt::format("counts from tick {} on", news.tick));
        }
    }
    void run(Time local) {
        count(client->receive(local));
        if (client->state() == ClientState::playing && !bots) {
            bots.emplace(client->view());
            bots->add(player, shooter);
        }
        if (proposed < proposals.size() && std::max(may_propose, proposals[proposed].first) <= local &&
            client->state() == ClientState::playing) {
            const TuningStep& step = proposals[proposed++].second;
            may_propose = local + std::chrono::milliseconds{1100};
            if (const Outcome asked = client->propose(step); !asked) {
                fmt::print(stderr, "{}: {}\n", step.texts.front().name, asked.why());
            }
        }
        while (client->is_tick_due(local)) {
            const auto wanted = bots->think(client->view());
            count(client->tick(wanted.empty() ? Intent{} : wanted.front()));
        }
    }
    bool goes_on() const {
        return client->state() == ClientState::connecting || client->state() == ClientState::playing;
    }
};

// The door, at another address where one is wanted.
ServerFile server_file_of(const JoinOptions& options) {
    Loaded<ServerFile> read = read_server_file(options.server_file);
    stop_at(read.diagnostics);
    ServerFile server_file = std::move(*read);
    server_file.address = options.address.empty() ? server_file.address : options.address;
    server_file.port =
        options.port ? static_cast<std::uint16_t>(whole("--port", *options.port)) : server_file.port;
    return server_file;
}

// Tickets for the bots: those that were given, or new ones.
std::vector<Credentials> credentials_of(const JoinOptions& options, const ServerFile& server_file) {
    std::vector<Credentials> all;
    for (const std::string& file : options.tickets) {
        Loaded<Credentials> read = read_credentials(file);
        stop_at(read.diagnostics);
        all.push_back(*read);
    }
    if (!all.empty()) {
        return all;
    }
    if (!can_issue(server_file)) {
        throw WrongCall{
            {fmt::format("error: {}: its tickets come from another service; allowed: --ticket FILE, as "
                         "avrek ticket writes it",
                         options.server_file)}};
    }
    const std::int64_t now = seconds_of_day();
    for (std::int64_t bot = 0; bot < whole("--bots", options.bots); ++bot) {
        all.push_back(issue_credentials(server_file.issuer, {.match = server_file.match,
                                                             .player = BodyId{static_cast<std::uint32_t>(
                                                                 whole("--first", options.first) + bot)},
                                                             .expires = now + 60,
                                                             .server = server_file.server,
                                                             .may_tune = !options.proposals.empty()}));
    }
    return all;
}

std::vector<Joined> joined(const JoinOptions& options, const ServerFile& server_file, const GameData& data) {
    std::vector<Joined> all;
    for (const Credentials& credentials : credentials_of(options, server_file)) {
        const std::size_t bot = all.size();
        Joined one;
        one.player = read_ticket(credentials.ticket).value_or(TicketClaims{}).player;
        const std::size_t turn = options.shooters.empty() ? 0 : bot % options.shooters.size();
        one.shooter = id_named<ShooterId>("shooter", data.arsenal.shooters,
                                          options.shooters.empty() ? "" : options.shooters[turn]);
        auto connecting = UdpClient::connect(server_file.address, server_file.port, credentials);
        stop_at(connecting.diagnostics);
        one.transport = std::move(*connecting);
        one.client = std::make_unique<Client>(data, ClientSettings{}, *one.transport);
        all.push_back(std::move(one));
    }
    for (const std::string& word : options.proposals) {
        all.front().proposals.push_back(timed_step("--propose", word));
    }
    std::stable_sort(all.front().proposals.begin(), all.front().proposals.end(),
                     [](const auto& one, const auto& other) { return one.first < other.first; });
    return all;
}

Table table_of(const std::vector<Joined>& all) {
    Table table{{{"player", "", "player"},
                 {"name", "", "name"},
                 {"score", "", "score"},
                 {"kills", "", "kills"},
                 {"deaths", "", "deaths"},
                 {"shots", "", "shots"},
                 {"withdrawn", "", "withdrawn"},
                 {"corrections", "", "corrections"},
                 {"down", "kB", "down_kb", 1},
                 {"up", "kB", "up_kb", 1}},
                {}};
    for (const Joined& one : all) {
        const Ledger& ledger = one.client->ledger();
        const ClientCounts counts = one.client->counts();
        const LedgerValue* name = ledger.find(one.player, "name");
        const auto* text = name != nullptr ? std::get_if<std::string>(name) : nullptr;
        table.rows.push_back({static_cast<std::int64_t>(one.player), text != nullptr ? Cell{*text} : Cell{},
                              ledger.whole(one.player, "score"), ledger.whole(one.player, "kills"),
                              ledger.whole(one.player, "deaths"), static_cast<std::int64_t>(one.shots),
                              static_cast<std::int64_t>(one.withdrawn),
                              static_cast<std::int64_t>(counts.corrections),
                              static_cast<double>(counts.down.all_bytes()) / 1000.0,
                              static_cast<double>(counts.up.all_bytes()) / 1000.0});
    }
    return table;
}

void run_join(const JoinOptions& options, int& status) {
    const std::vector<std::string> files = files_among(options.common.words);
    const GameData data = game_data_of(files, options.level);
    const ServerFile server_file = server_file_of(options);
    std::vector<Joined> all = joined(options, server_file, data);
    const NotesInterrupts interrupts;
    const double seconds = options.seconds.value_or(1e9);
    Progress progress{"seconds", static_cast<std::int64_t>(seconds)};
    const auto began = Clock::now();
    const auto passed = [&] { return std::chrono::duration_cast<Duration>(Clock::now() - began); };
    constexpr Duration patience = std::chrono::seconds{10}; // for an answer
    while (!interrupts.was_interrupted() && to_seconds(passed()) < seconds) {
        bool any = false;
        bool any_playing = false;
        for (Joined& one : all) {
            one.run(Time{passed()});
            any = any || one.goes_on();
            any_playing = any_playing || one.client->state() == ClientState::playing;
        }
        if (!any || (!any_playing && passed() > patience)) {
            break;
        }
        progress.show(static_cast<std::int64_t>(to_seconds(passed())));
        std::this_thread::sleep_for(std::chrono::milliseconds{1});
    }
    progress.end();
    for (Joined& one : all) {
        if (one.client->state() == ClientState::playing) {
            one.client->leave();
        } else {
            const bool silent = one.client->state() == ClientState::connecting;
            fmt::print(stderr, "player {}: {}\n", static_cast<std::uint32_t>(one.player),
                       silent ? fmt::format("nobody answers at {}:{}", server_file.address, server_file.port)
                              : one.client->reason());
            for (const std::string& entry : one.client->differing()) {
                fmt::print(stderr, "  differs: {}\n", entry);
            }
            status = silent || one.client->state() == ClientState::refused ? not_right : status;
        }
    }
    const Table table = table_of(all);
    write_table(table, to_text(table, has_colour(options.common.output)), options.common.output);
}

} // namespace

void add_join(CLI::App& tool, int& status) {
    const auto options = std::make_shared<JoinOptions>();
    Command command{tool, CommandGroup::fight, "join", "Bots join a server, each as a client of its own",
                    options->common};
    command.words(options->common, "ARSENAL.toml", "The arsenal files of the server");
    command.number("--bots", options->bots, {1, 256, "bots"}, "COUNT", "Number of bots");
    command.number("--first", options->first, {1, 1e6, ""}, "PLAYER",
                   "Player slot of the first bot; the others take the next ones");
    command.text("--to", options->address, "ADDRESS",
                 "Address of the server, if it differs from the server file");
    command.number("--port", options->port, {1, 65535, ""}, "PORT",
                   "UDP port of the server, if it differs from the server file");
    command.text("--server-file", options->server_file, "FILE", "File written by avrek host");
    command.repeated(
        "--ticket", options->tickets, "FILE",
        "Ticket of a bot, written by avrek ticket; may be given several times. Made from the server "
        "file if not given");
    command.text("--level", options->level, "LEVEL", "The server's level: atrium, or a level file");
    command.texts("--shooter", options->shooters, "SHOOTER",
                  "Shooter profiles that the bots take in turn; the arsenal's first by default");
    command.repeated("--propose", options->proposals, "SECONDS=FILE.toml",
                     "Overlay that the first bot asks the server for; may be given several times");
    command.number("--for", options->seconds, {0, 1e6, "s"}, "SECONDS",
                   "Leave after this time; when the match ends if not given");
    command.example("avrek join --bots 8");
    command.runs([options, &status] { run_join(*options, status); });
}

} // namespace avrek::cli
