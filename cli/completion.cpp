#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "output.h"
#include "shell_words.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include <memory>

namespace avrek::cli {

namespace {

struct CompletionOptions {
    CommonOptions common;
};

void run_completion(const CLI::App& tool, const CompletionOptions& options) {
    const std::string shell = options.common.words.empty() ? "" : options.common.words.front();
    if (shell != "bash" && shell != "zsh") {
        throw unknown_name("shell", shell, {"bash", "zsh"});
    }
    const std::vector<CommandWords> commands = command_words(tool, arsenal_of({}));
    write_result(shell == "bash" ? bash_script(commands) : zsh_script(commands), options.common.output);
}

} // namespace

void add_completion(CLI::App& tool, int&) {
    const auto options = std::make_shared<CompletionOptions>();
    Command command{tool, CommandGroup::shell, "completion", "Print the completion script of a shell",
                    options->common};
    command.words(options->common, "SHELL", "bash or zsh");
    command.example("avrek completion bash > ~/.local/share/bash-completion/completions/avrek");
    command.runs([options, &tool] { run_completion(tool, *options); });
}

} // namespace avrek::cli
