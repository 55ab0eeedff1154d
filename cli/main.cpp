#include "command_line.h"
#include "commands.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include <algorithm>
#include <exception>
#include <string>
#include <vector>

namespace {

// The errors of the parser in the form of our own.
avrek::cli::WrongCall wrong_call_of(const CLI::App& tool, const CLI::ParseError& error) {
    const CLI::App* command = tool.get_subcommands().empty() ? &tool : tool.get_subcommands().front();
    const std::string name = command == &tool ? "avrek" : "avrek " + command->get_name();
    avrek::cli::WrongCall call;
    const std::vector<std::string> extras = command->remaining(true);
    const auto odd = std::find_if(extras.begin(), extras.end(),
                                  [](const std::string& word) { return word.starts_with('-'); });
    if (dynamic_cast<const CLI::ExtrasError*>(&error) != nullptr && odd != extras.end()) {
        std::vector<std::string> names;
        for (const CLI::Option* option : command->get_options()) {
            for (const std::string& known : option->get_lnames()) {
                names.push_back("--" + known);
            }
        }
        std::sort(names.begin(), names.end());
        call = avrek::cli::unknown_name("option", *odd, names);
    } else {
        call.lines = {fmt::format("error: {}", error.what())};
    }
    call.lines.push_back(fmt::format("{} --help explains it", name));
    return call;
}

// A word where a command should stand; the parser itself would only say that there is no command.
void check_command(const CLI::App& tool, int count, char** words) {
    if (count < 2 || words[1][0] == '-') {
        return;
    }
    std::vector<std::string> names;
    for (const CLI::App* command : tool.get_subcommands({})) {
        names.push_back(command->get_name());
    }
    if (std::find(names.begin(), names.end(), words[1]) == names.end()) {
        throw avrek::cli::unknown_name("command", words[1], names);
    }
}

int run(int count, char** words) {
    CLI::App tool{
        "Avrek: weapons, projectiles and damage, and their tuning.\n"
        "Without an ARSENAL.toml a command uses the shipped one; later files overlay earlier ones."};
    tool.name("avrek");
    tool.set_version_flag("--version", "avrek " AVREK_VERSION);
    tool.require_subcommand(1);
    tool.footer("Exit status: 0 done; 1 the checked thing is not right; 2 the call or the input is wrong.\n"
                "avrek COMMAND --help explains a command and has an example.");
    int status = avrek::cli::done;
    // The help lists them in this order.
    avrek::cli::add_card(tool, status);
    avrek::cli::add_check(tool, status);
    avrek::cli::add_keys(tool, status);
    avrek::cli::add_ttk(tool, status);
    avrek::cli::add_explain(tool, status);
    avrek::cli::add_range(tool, status);
    avrek::cli::add_bout(tool, status);
    avrek::cli::add_match(tool, status);
    avrek::cli::add_host(tool, status);
    avrek::cli::add_join(tool, status);
    avrek::cli::add_ticket(tool, status);
    avrek::cli::add_replay(tool, status);
    avrek::cli::add_duel(tool, status);
    avrek::cli::add_session(tool, status);
    avrek::cli::add_solve(tool, status);
    avrek::cli::add_diff(tool, status);
    avrek::cli::add_fold(tool, status);
    avrek::cli::add_sweep(tool, status);
    avrek::cli::add_observe(tool, status);
    avrek::cli::add_report(tool, status);
    avrek::cli::add_completion(tool, status);
    try {
        check_command(tool, count, words);
        tool.parse(count, words);
    } catch (const CLI::ParseError& error) {
        if (error.get_exit_code() == 0) { // help was asked for, or the version
            return tool.exit(error);
        }
        for (const std::string& line : wrong_call_of(tool, error).lines) {
            fmt::print(stderr, "{}\n", line);
        }
        return avrek::cli::wrong_call;
    } catch (const avrek::cli::WrongCall& call) {
        for (const std::string& line : call.lines) {
            fmt::print(stderr, "{}\n", line);
        }
        return avrek::cli::wrong_call;
    }
    return status;
}

} // namespace

int main(int count, char** words) {
    try {
        return run(count, words);
    } catch (const std::exception& error) {
        fmt::print(stderr, "error: {}\n", error.what());
        return avrek::cli::wrong_call;
    }
}
