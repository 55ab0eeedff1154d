#include "commands.h"
#include "crew_options.h"
#include "live_tuning.h"
#include "metrics.h"
#include "progress.h"
#include "table.h"
#include <avrek/data/arsenal_digest.h>
#include <avrek/net/server.h>
#include <avrek/net/server_file.h>
#include <avrek/net/ticket_files.h>
#include <avrek/net/udp_transport.h>

#include <fcntl.h>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <memory>
#include <optional>
#include <thread>

namespace avrek::cli {

namespace {

using Clock = std::chrono::steady_clock;

struct HostOptions {
    CrewOptions crew;
    std::string address = "127.0.0.1";
    double port = 4717;
    std::string server_file = "avrek-server.json";
    std::optional<double> metrics;
    bool private_seed = false;
    double budget = ServerSettings{}.budget;
    std::string issuer;
};

// How long ticks took.
struct TickTimes {
    std::vector<double> milliseconds;

    double share(double part) {
        if (milliseconds.empty()) {
            return 0.0;
        }
        const auto at = std::min(milliseconds.size() - 1,
                                 static_cast<std::size_t>(part * static_cast<double>(milliseconds.size())));
        std::nth_element(milliseconds.begin(), milliseconds.begin() + static_cast<std::ptrdiff_t>(at),
                         milliseconds.end());
        return milliseconds[at];
    }
};

struct Hosting {
    const HostOptions& options;
    std::vector<BoutMember> members;
    UdpServer& transport;
    Server& server;
    TunedArsenal tuned;
    SessionKeeper session;
    TickTimes times{};
    std::vector<PeerReadout> known{}; // the last of each player
    std::optional<ArsenalWatch> watch{};
    bool interrupted = false;
    bool on_terminal = Progress::is_shown();

    void say_connections() const {
        for (const ConnectionEvent& event : server.connections()) {
            static constexpr const char* words[] = {"connected", "left", "lost connection", "was refused",
                                                    "was removed"};
            fmt::print(stderr, "{}{} {}{}{}\n", on_terminal ? "\r\033[K" : "", name_of(event.player),
                       words[static_cast<std::size_t>(event.kind)], event.reason.empty() ? "" : ": ",
                       event.reason);
        }
    }
    std::string name_of(BodyId player) const {
        const auto found = std::find_if(members.begin(), members.end(),
                                        [player](const BoutMember& member) { return member.id == player; });
        return found != members.end() ? found->name : "somebody";
    }
    void note_peers() {
        for (const PeerReadout& peer : server.peers()) {
            const auto before = std::find_if(known.begin(), known.end(), [&](const PeerReadout& one) {
                return one.player == peer.player;
            });
            if (peer.player != nobody && before == known.end()) {
                known.push_back(peer);
            } else if (peer.player != nobody) {
                *before = peer;
            }
        }
    }
    void say_status() const {
        std::uint64_t bytes = 0;
        std::size_t playing = 0;
        for (const PeerReadout& peer : server.peers()) {
            playing += peer.is_playing ? 1 : 0;
            bytes += peer.down.all_bytes();
        }
        fmt::print(stderr, "\r\033[K{:.0f} s, {} playing, {:.1f} MB sent, last tick {:.2f} ms",
                   to_seconds(server.skirmish().now() - Time{}), playing, static_cast<double>(bytes) / 1e6,
                   times.milliseconds.empty() ? 0.0 : times.milliseconds.back());
        std::fflush(stderr);
    }

    // Takes saved files: they count for everybody in a tick that all links can reach.
    void take_news() {
        const auto news = watch ? watch->look() : std::nullopt;
        if (!news) {
            return;
        }
        say_news(*news);
        if (news->arsenal == nullptr) {
            return;
        }
        const Loaded<Tick> taken = server.retune(news->step);
        if (taken) {
            fmt::print(stderr, "counts from tick {} on, in {:.0f} ms\n", *taken,
                       1000.0 * static_cast<double>(*taken - server.skirmish().tick()) /
                           server.skirmish().settings().rate.hertz);
        }
        for (const Diagnostic& fault : taken.diagnostics) {
            fmt::print(stderr, "{}\n", to_string(fault));
        }
    }

    // Keeps what has counted since the last tick, players' proposals too.
    void keep_changes() {
        for (const TuningStep& step : server.retuned()) {
            tuned.take(step);
            session.keep(tuned.texts(), fmt::format("host at tick {}", server.skirmish().tick() - 1));
        }
    }

    void run(Recording& recording, Metrics* metrics) {
        const NotesInterrupts interrupts;
        const std::int64_t ticks = ticks_of(options.crew);
        const auto began = Clock::now();
        const Skirmish& skirmish = server.skirmish();
        while (skirmish.tick() < ticks && !skirmish.is_over()) {
            const auto due =
                began + tick_span(skirmish.tick(), skirmish.settings().rate).begin.time_since_epoch();
            while (Clock::now() < due && !interrupts.was_interrupted()) {
                std::this_thread::sleep_until(std::min(due, Clock::now() + std::chrono::milliseconds{20}));
            }
            interrupted = interrupts.was_interrupted();
            if (interrupted) {
                break;
            }
            take_news();
            const auto before = Clock::now();
            server.tick(seconds_of_day());
            const auto took = Clock::now() - before;
            times.milliseconds.push_back(std::chrono::duration<double, std::milli>(took).count());
            if (!recording.take(server)) {
                break;
            }
            keep_changes();
            if (metrics != nullptr) {
                metrics->take(server, transport.counts(), took);
            }
            say_connections();
            if (skirmish.tick() % skirmish.settings().rate.hertz == 0) {
                note_peers();
                if (on_terminal) {
                    say_status();
                }
            }
        }
        note_peers();
        if (on_terminal) {
            fmt::print(stderr, "\r\033[K");
        }
        server.shut_down(interrupted          ? "the server was stopped"
                         : skirmish.is_over() ? "the match is over"
                                              : "the server's time is up");
    }

    Table table() {
        Table made{{{"name", "", "name"},
                    {"score", "", "score"},
                    {"kills", "", "kills"},
                    {"deaths", "", "deaths"},
                    {"round trip", "ms", "round_trip_ms", 1},
                    {"stream", "kB", "stream_kb", 1},
                    {"notices", "kB", "notices_kb", 1},
                    {"ledger", "kB", "ledger_kb", 1},
                    {"up", "kB", "up_kb", 1},
                    {"late", "ticks", "missing_ticks"},
                    {"faults", "", "faults"},
                    {"signs", "", "signs"},
                    {"left", "out", "left_out_bodies"}},
                   {}};
        std::sort(known.begin(), known.end(),
                  [](const PeerReadout& one, const PeerReadout& other) { return one.player < other.player; });
        for (const PeerReadout& peer : known) {
            const Combatant* who = std::as_const(server).skirmish().match().find(peer.player);
            const auto kb = [&](TrafficKind kind) {
                return static_cast<double>(peer.down.bytes[static_cast<std::size_t>(kind)]) / 1000.0;
            };
            const PlayerStats stats = who != nullptr ? who->stats : PlayerStats{};
            made.rows.push_back(
                {name_of(peer.player), std::int64_t{stats.score}, std::int64_t{stats.kills},
                 std::int64_t{stats.deaths}, to_milliseconds(peer.round_trip), kb(TrafficKind::stream),
                 kb(TrafficKind::notices), kb(TrafficKind::ledger),
                 static_cast<double>(peer.up.all_bytes()) / 1000.0, static_cast<std::int64_t>(peer.missing),
                 static_cast<std::int64_t>(peer.faults.guilty()), static_cast<std::int64_t>(peer.signs.all()),
                 static_cast<std::int64_t>(peer.left_out)});
        }
        return made;
    }
};

// Lets words to a pipe that nobody reads be lost, so that the ticks go on.
void wait_for_no_reader() {
    struct stat what {};
    if (::fstat(STDERR_FILENO, &what) == 0 && S_ISFIFO(what.st_mode)) {
        ::fcntl(STDERR_FILENO, F_SETFL, ::fcntl(STDERR_FILENO, F_GETFL) | O_NONBLOCK);
    }
}

// Keys of the issuer: of its own, or the open one of a service.
KeyPair issuer_of(const HostOptions& options) {
    if (options.issuer.empty()) {
        return make_keys();
    }
    const std::optional<PublicKey> key = public_key_of(options.issuer);
    if (!key) {
        throw WrongCall{
            {fmt::format("error: --issuer: '{}' is not a public key; allowed: 64 hexadecimal digits, as "
                         "avrek ticket prints them",
                         options.issuer)}};
    }
    return {.open = *key};
}

void run_host(const HostOptions& options) {
    const CrewOptions& crew = options.crew;
    wait_for_no_reader();
    const std::vector<ArsenalText> texts = arsenal_texts(files_among(crew.common.words));
    const GameData data = game_data_of(files_among(crew.common.words), crew.level);
    const BoutSetup setup = setup_of(data.arsenal, crew);
    std::vector<BoutMember> members = bout_members(setup);
    // A player who comes back can be there twice for a moment.
    auto listening =
        UdpServer::listen(options.address, static_cast<std::uint16_t>(whole("--port", options.port)),
                          {.keys = make_keys(), .max_peers = 2 * members.size()});
    stop_at(listening.diagnostics);
    UdpServer& transport = **listening;
    const KeyPair issuer = issuer_of(options);
    ServerSettings settings;
    settings.skirmish = settings_of(data.arsenal, data.arena.plan, crew);
    settings.match = make_seed(); // another number than the seed, which stays with the server
    settings.issuer = issuer.open;
    settings.private_seed = options.private_seed;
    settings.budget = static_cast<std::int32_t>(whole("--budget", options.budget));
    for (const BoutMember& member : members) {
        settings.slots.push_back(
            {member.id, member.name, member.team, setup.body, setup.melee, member.weapons, {}});
    }
    std::optional<Metrics> metrics;
    if (options.metrics) {
        metrics.emplace(static_cast<std::uint16_t>(whole("--metrics", *options.metrics)));
    }
    stop_at(validate(data, settings));
    Server server{data, settings, crew.common.seed, transport};
    Recording recording;
    recording.open(crew, texts, server.skirmish(), members);
    const bool any_address = options.address == "0.0.0.0";
    stop_at(write_server_file({settings.match, issuer, transport.key(),
                               any_address ? "127.0.0.1" : options.address, transport.port()},
                              options.server_file));
    fmt::print(stderr, "listens at {}:{}, {} slots; the server file is {}\n", options.address,
               transport.port(), members.size(), options.server_file);
    Hosting hosting{options, std::move(members),  transport,
                    server,  TunedArsenal{texts}, keeper_of(crew.common, texts, "host", true)};
    if (crew.common.watch) {
        hosting.watch = watch_of(files_among(crew.common.words));
    }
    hosting.run(recording, metrics ? &*metrics : nullptr);
    const std::vector<Diagnostic> faults = recording.close(server.skirmish());
    const Table table = hosting.table();
    const std::string summary = fmt::format(
        "{} players, {:.1f} s at {:g} Hz, seed {}; {}; a tick took {:.3f} ms (median), {:.3f} ms (99 of "
        "100)",
        hosting.known.size(), to_seconds(server.skirmish().now() - Time{}), crew.rate, crew.common.seed,
        server.skirmish().is_over() ? "the match is over"
        : hosting.interrupted       ? "interrupted"
                                    : "time is up",
        hosting.times.share(0.5), hosting.times.share(0.99));
    const std::string text =
        to_text(table, has_colour(crew.common.output)) + '\n' + wrapped(summary, text_columns, 2) + '\n';
    write_table(table, text, crew.common.output);
    stop_at(faults);
}

} // namespace

void add_host(CLI::App& tool, int&) {
    const auto options = std::make_shared<HostOptions>();
    options->crew.seconds.reset();
    Command command{tool, CommandGroup::fight, "host", "Run the server of a match over UDP",
                    options->crew.common};
    add_crew_options(command, options->crew, 256, CrewOf::players);
    command.secret_seed(options->crew.common);
    command.text("--at", options->address, "ADDRESS", "Address of this machine to listen at");
    command.number("--port", options->port, {0, 65535, ""}, "PORT", "UDP port; 0: any free one");
    command.text("--server-file", options->server_file, "FILE",
                 "File to write for avrek join, which makes its tickets from it");
    command.number("--metrics", options->metrics, {1, 65535, ""}, "PORT",
                   "Serve Prometheus metrics at this TCP port of 127.0.0.1: /metrics and /health");
    command.text("--issuer", options->issuer, "KEY",
                 "Take tickets of the service with this public key; avrek join makes them otherwise");
    command.number("--budget", options->budget, {2'000, 1'000'000, "bytes/s"}, "BYTES",
                   "Bytes a second to each player; bodies that do not fit wait, the far ones first");
    command.flag("--private-seed", options->private_seed, "The server keeps its spread seed to itself");
    command.watch(options->crew.common,
                  "Values that are saved in the arsenal files count for all, in one tick");
    command.example("avrek host --crew 8 --for 60 --telemetry host.db --metrics 9717");
    command.runs([options] { run_host(*options); });
}

} // namespace avrek::cli
