#include "command_line.h"
#include "commands.h"
#include "table.h"
#include <avrek/data/arsenal_keys.h>

#include <fmt/format.h>

#include <memory>

namespace avrek::cli {

namespace {

constexpr std::size_t name_width = 17;

struct KeysOptions {
    CommonOptions common;
    bool schema = false;
};

Table keys_table() {
    Table table{{{"section", "", "section"},
                 {"key", "", "key"},
                 {"type", "", "type"},
                 {"allowed", "", "allowed"},
                 {"default", "", "default"},
                 {"meaning", "", "meaning"}},
                {}};
    for (const KeyRule& rule : arsenal_keys()) {
        table.rows.push_back({rule.section, rule.name, to_string(rule.type), allowed_text(rule),
                              rule.required ? "required" : rule.fallback, rule.meaning});
    }
    return table;
}

// A section at a time, two lines a key: a table of this would not fit a screen.
std::string keys_text(bool colour) {
    std::string text;
    std::string section;
    for (const KeyRule& rule : arsenal_keys()) {
        if (rule.section != section) {
            section = rule.section;
            text += (text.empty() ? "" : "\n") + emphasised('[' + section + ']', colour) + '\n';
        }
        const std::string fallback = rule.required ? "required" : "default " + rule.fallback;
        const std::string head =
            fmt::format("  {:<{}}{}; {}", rule.name, name_width, allowed_text(rule), fallback);
        const std::string meaning = fmt::format("{:{}}{}", "", name_width + 2, rule.meaning);
        text += wrapped(head, text_columns, name_width + 2) + '\n';
        text += wrapped(meaning, text_columns, name_width + 2) + '\n';
    }
    return text;
}

void run_keys(const KeysOptions& options) {
    const OutputOptions& output = options.common.output;
    if (options.schema) {
        write_result(arsenal_schema(), output);
    } else {
        write_table(keys_table(), keys_text(has_colour(output)), output);
    }
}

} // namespace

void add_keys(CLI::App& tool, int&) {
    const auto options = std::make_shared<KeysOptions>();
    Command command{tool, CommandGroup::look, "keys", "List every key of an arsenal file", options->common};
    command.flag("--schema", options->schema, "Print the JSON Schema for editors instead");
    command.example("avrek keys --schema --out arsenal.schema.json");
    command.runs([options] { run_keys(*options); });
}

} // namespace avrek::cli
