#include "shell_words.h"

#include "arsenal_options.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <map>
#include <set>

namespace avrek::cli {

namespace {

std::map<std::string, std::vector<std::string>> values_by_type(const Arsenal& arsenal) {
    std::vector<std::string> weapons = ids_of(arsenal.weapons);
    const std::vector<std::string> blades = ids_of(arsenal.melee);
    weapons.insert(weapons.end(), blades.begin(), blades.end());
    std::vector<std::string> blades_or_none = blades;
    blades_or_none.emplace_back("none");
    return {{"WEAPON", weapons},
            {"BLADE", blades_or_none},
            {"BODY", ids_of(arsenal.bodies)},
            {"SHOOTER", ids_of(arsenal.shooters)},
            {"LINK", ids_of(arsenal.links)},
            {"MATCH", ids_of(arsenal.matches)},
            {"CONDITION", ids_of(arsenal.conditions)},
            {"FORMAT", {"text", "json", "csv"}},
            {"LEVEL", {"atrium"}},
            {"STANCE", {"standing", "crouching"}},
            {"PLAN", {"hold", "taps:", "bursts:"}},
            {"MOMENT", {"pull", "shot", "hit", "sight"}},
            {"QUESTION", {"ttk", "duel", "match"}},
            {"SHELL", {"bash", "zsh"}}};
}

// The values for a type such as "CONDITION[:STRENGTH]": those of its first word.
std::vector<std::string> values_of(const std::map<std::string, std::vector<std::string>>& values,
                                   const std::string& type) {
    const auto found = values.find(type.substr(0, type.find_first_not_of("ABCDEFGHIJKLMNOPQRSTUVWXYZ")));
    return found != values.end() ? found->second : std::vector<std::string>{};
}

// Text between single quotes of a shell.
std::string shell_quoted(const std::string& text) {
    std::string safe;
    for (const char letter : text) {
        safe += letter == '\'' ? std::string{"'\\''"} : std::string{letter};
    }
    return '\'' + safe + '\'';
}

// The part of a zsh specification that a colon or a bracket would end.
std::string zsh_text(const std::string& text) {
    std::string safe;
    for (const char letter : text) {
        safe +=
            letter == ':' || letter == '[' || letter == ']' ? std::string{'\\', letter} : std::string{letter};
    }
    return safe;
}

} // namespace

std::vector<CommandWords> command_words(const CLI::App& tool, const Arsenal& arsenal) {
    const auto values = values_by_type(arsenal);
    std::vector<CommandWords> commands;
    for (const CLI::App* command : tool.get_subcommands({})) {
        CommandWords words{command->get_name(), command->get_description(), {}, {}};
        for (const CLI::Option* option : command->get_options()) {
            if (option->get_positional()) {
                words.values = values_of(values, option->get_name(true));
                continue;
            }
            for (const std::string& name : option->get_lnames()) {
                words.options.push_back({"--" + name, option->get_description(),
                                         option->get_items_expected_max() > 0,
                                         values_of(values, option->get_type_name())});
            }
        }
        commands.push_back(std::move(words));
    }
    return commands;
}

std::string bash_script(const std::vector<CommandWords>& commands) {
    std::string names;
    std::string cases;
    std::set<std::string> flags; // a word after one of these is not its value
    for (const CommandWords& command : commands) {
        names += (names.empty() ? "" : " ") + command.name;
        std::vector<std::string> options;
        std::string values;
        for (const OptionWords& option : command.options) {
            options.push_back(option.name);
            if (!option.takes_value) {
                flags.insert(option.name);
            }
            if (option.takes_value && !option.values.empty()) {
                values += fmt::format("        '{} {}') words='{}' ;;\n", command.name, option.name,
                                      fmt::join(option.values, " "));
            }
        }
        cases += values + fmt::format("        '{} --'*) ;;\n", command.name);
        cases += fmt::format("        '{} '*) words='{}'; options='{}' ;;\n", command.name,
                             fmt::join(command.values, " "), fmt::join(options, " "));
    }
    return fmt::format(R"(# Completes avrek in bash.
_avrek() {{
    local word=${{COMP_WORDS[COMP_CWORD]}} before=${{COMP_WORDS[COMP_CWORD-1]}} words='' options=''
    COMPREPLY=()
    if [ "$COMP_CWORD" -eq 1 ]; then
        COMPREPLY=($(compgen -W '{} --help --version' -- "$word"))
        return
    fi
    case "$before" in
        {}) before=. ;;
        --*) ;;
        *) before=. ;;
    esac
    case "${{COMP_WORDS[1]}} $before" in
{}    esac
    if [ "${{word#-}}" != "$word" ]; then
        COMPREPLY=($(compgen -W "$options" -- "$word"))
    else
        COMPREPLY=($(compgen -W "$words" -- "$word") $(compgen -f -- "$word"))
    fi
}}
complete -o filenames -F _avrek avrek
)",
                       names, fmt::join(flags, "|"), cases);
}

std::string zsh_script(const std::vector<CommandWords>& commands) {
    std::string names;
    std::string cases;
    for (const CommandWords& command : commands) {
        names += "        " + shell_quoted(zsh_text(command.name) + ':' + command.description) + '\n';
        std::string specs;
        for (const OptionWords& option : command.options) {
            const std::string values = option.values.empty()
                                           ? std::string{"_files"}
                                           : fmt::format("({})", fmt::join(option.values, " "));
            specs +=
                " \\\n            " + shell_quoted("*" + option.name + '[' + zsh_text(option.description) +
                                                   ']' + (option.takes_value ? ":value:" + values : ""));
        }
        const std::string words = command.values.empty()
                                      ? std::string{"_files"}
                                      : fmt::format("_alternative \"words:word:({})\" \"files:file:_files\"",
                                                    fmt::join(command.values, " "));
        cases += fmt::format("        {}) _arguments{} \\\n            {} ;;\n", command.name, specs,
                             shell_quoted("*:word:{ " + words + " }"));
    }
    return fmt::format(R"(#compdef avrek
# Completes avrek in zsh.
_avrek() {{
    local -a commands
    commands=(
{}    )
    if (( CURRENT == 2 )); then
        _describe command commands
        return
    fi
    local command=${{words[2]}}
    shift words
    (( CURRENT-- ))
    case $command in
{}    esac
}}
_avrek "$@"
)",
                       names, cases);
}

} // namespace avrek::cli
