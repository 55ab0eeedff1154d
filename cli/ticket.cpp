#include "command_line.h"
#include "commands.h"
#include "crew_options.h"
#include <avrek/net/server_file.h>
#include <avrek/net/ticket_files.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <filesystem>
#include <memory>
#include <optional>
#include <utility>

namespace avrek::cli {

namespace {

struct TicketOptions {
    CommonOptions common;
    std::string keys = "avrek-issuer.json";
    std::string server_file;
    std::string credentials;
    std::optional<double> player;
    std::optional<double> lasts;
    bool may_tune = false;
};

// The keys in the file, or new ones that are written to it.
KeyPair keys_in(const std::string& file) {
    if (std::filesystem::exists(file)) {
        Loaded<KeyPair> read = read_issuer_keys(file);
        stop_at(read.diagnostics);
        return *read;
    }
    const KeyPair keys = make_keys();
    stop_at(write_issuer_keys(keys, file));
    return keys;
}

// Without a server only the keys are looked at.
void refuse_without_server(const TicketOptions& options) {
    const std::pair<const char*, bool> given[] = {{"--player", options.player.has_value()},
                                                  {"--lasts", options.lasts.has_value()},
                                                  {"--credentials", !options.credentials.empty()},
                                                  {"--may-tune", options.may_tune}};
    for (const auto& [option, is_given] : given) {
        if (is_given) {
            throw WrongCall{
                {fmt::format("error: {}: there is no ticket to make; allowed: with --server-file, "
                             "the file of the server that the ticket is for",
                             option)}};
        }
    }
}

void run_ticket(const TicketOptions& options) {
    if (options.server_file.empty()) {
        refuse_without_server(options);
    }
    const KeyPair issuer = keys_in(options.keys);
    nlohmann::ordered_json result{{"issuer", to_text(issuer.open)}, {"keys", options.keys}};
    std::string text = to_text(issuer.open) + '\n';
    if (!options.server_file.empty()) {
        const Loaded<ServerFile> server = read_server_file(options.server_file);
        stop_at(server.diagnostics);
        if (server->issuer.open != issuer.open) {
            throw WrongCall{{fmt::format("error: {}: takes tickets of issuer {}, and {} is {}; allowed: the "
                                         "file of a server that runs with --issuer {}",
                                         options.server_file, to_text(server->issuer.open), options.keys,
                                         to_text(issuer.open), to_text(issuer.open))}};
        }
        const auto player = static_cast<std::uint32_t>(whole("--player", options.player.value_or(1.0)));
        const double lasts = options.lasts.value_or(300.0);
        const std::string file =
            options.credentials.empty() ? fmt::format("avrek-ticket-{}.json", player) : options.credentials;
        const std::int64_t expires = seconds_of_day() + whole("--lasts", lasts);
        stop_at(write_credentials(issue_credentials(issuer, {.match = server->match,
                                                             .player = BodyId{player},
                                                             .expires = expires,
                                                             .server = server->server,
                                                             .may_tune = options.may_tune}),
                                  file));
        result["ticket"] = file;
        result["player"] = player;
        result["expires"] = expires;
        text = fmt::format("{}: player {}, for {:g} s, good once\n", file, player, lasts);
    }
    write_result(options.common.output.format == Format::json ? result.dump(2) + '\n' : text,
                 options.common.output);
}

} // namespace

void add_ticket(CLI::App& tool, int&) {
    const auto options = std::make_shared<TicketOptions>();
    Command command{tool, CommandGroup::fight, "ticket",
                    "Sign a ticket, as the service that makes matches does; without a server, print the "
                    "issuer's public key",
                    options->common};
    command.text("--keys", options->keys, "FILE", "Keys of the issuer; made if there is no such file");
    command.text("--server-file", options->server_file, "FILE", "File written by avrek host --issuer");
    command.text("--credentials", options->credentials, "FILE",
                 "File to write for avrek join --ticket; avrek-ticket-PLAYER.json if not given");
    command.number("--player", options->player, {1, 1e6, ""}, "PLAYER",
                   "Player slot of its bearer; 1 if not given");
    command.number("--lasts", options->lasts, {1, 86400, "s"}, "SECONDS",
                   "Time until it expires; 300 s if not given");
    command.flag("--may-tune", options->may_tune, "Its bearer can change the values of the running fight");
    command.example("avrek ticket --server-file avrek-server.json --player 2");
    command.runs([options] { run_ticket(*options); });
}

} // namespace avrek::cli
