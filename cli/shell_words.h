#pragma once
#include <avrek/arsenal/arsenal.h>

#include <string>
#include <vector>

namespace CLI {
class App;
}

/// Words that a shell completes: the tool's commands, their options and the values of these.
namespace avrek::cli {

/// One option of a command.
struct OptionWords {
    std::string name; ///< "--target"
    std::string description;
    bool takes_value = false;
    std::vector<std::string> values; ///< words to offer; empty: files
};

/// One command of the tool.
struct CommandWords {
    std::string name;
    std::string description;
    std::vector<OptionWords> options;
    std::vector<std::string> values; ///< words to offer without a dash, beside files
};

/// The commands of `tool`. Values are offered from `arsenal`, by the type that an option states.
std::vector<CommandWords> command_words(const CLI::App& tool, const Arsenal& arsenal);

/// A script that completes the commands in bash.
std::string bash_script(const std::vector<CommandWords>& commands);

/// A script that completes the commands in zsh.
std::string zsh_script(const std::vector<CommandWords>& commands);

} // namespace avrek::cli
