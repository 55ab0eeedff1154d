#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "table.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <memory>
#include <string_view>

namespace avrek::cli {

namespace {

constexpr std::size_t widest_excerpt = 94;

// Line `number` of the text that the diagnostic is about, counted from 1; empty when there is none.
std::string_view line_of(const std::vector<ArsenalText>& texts, const Diagnostic& diagnostic) {
    const auto found = std::find_if(texts.begin(), texts.end(),
                                    [&](const ArsenalText& text) { return text.name == diagnostic.file; });
    if (found == texts.end() || diagnostic.line == 0) {
        return {};
    }
    std::string_view rest = found->text;
    for (std::uint32_t number = 1; number < diagnostic.line; ++number) {
        const std::size_t end = rest.find('\n');
        if (end == std::string_view::npos) {
            return {};
        }
        rest.remove_prefix(end + 1);
    }
    return rest.substr(0, rest.find_first_of("\r\n"));
}

// The line with a mark under the column, where it can be shown as it is.
std::string excerpt(std::string_view line, std::uint32_t column) {
    const bool plain = std::all_of(line.begin(), line.end(), [](char c) { return c >= ' ' && c <= '~'; });
    if (line.empty() || line.size() > widest_excerpt || !plain || column == 0) {
        return {};
    }
    return fmt::format("    {}\n    {:>{}}\n", line, '^', column);
}

std::string fault_text(const Diagnostic& diagnostic, const std::vector<ArsenalText>& texts, bool colour) {
    Diagnostic brief = diagnostic;
    brief.allowed.clear();
    std::string text = wrapped(to_string(brief), text_columns, 6);
    text = emphasised(text, colour) + '\n';
    text += excerpt(line_of(texts, diagnostic), diagnostic.column);
    if (!diagnostic.allowed.empty()) {
        text += wrapped("    allowed: " + diagnostic.allowed, text_columns, 6) + '\n';
    }
    return text;
}

std::string counted(std::size_t count, const char* one, const char* many) {
    return count == 0 ? fmt::format("no {}", many) : fmt::format("{} {}", count, count == 1 ? one : many);
}

std::string names_of(const std::vector<ArsenalText>& texts) {
    std::string names;
    for (const ArsenalText& text : texts) {
        names += (names.empty() ? "" : " + ") + text.name;
    }
    return names;
}

std::string check_text(const Loaded<Arsenal>& arsenal, const std::vector<ArsenalText>& texts, bool colour) {
    std::string text;
    for (const Diagnostic& diagnostic : arsenal.diagnostics) {
        text += fault_text(diagnostic, texts, colour);
    }
    text += fmt::format("{}: ", names_of(texts));
    if (arsenal) {
        text += fmt::format("{}, {}, {}, {}, ", counted(arsenal->weapons.size(), "weapon", "weapons"),
                            counted(arsenal->projectiles.size(), "projectile", "projectiles"),
                            counted(arsenal->melee.size(), "blade", "blades"),
                            counted(arsenal->bodies.size(), "body", "bodies"));
    }
    const auto errors = static_cast<std::size_t>(
        std::count_if(arsenal.diagnostics.begin(), arsenal.diagnostics.end(),
                      [](const Diagnostic& fault) { return fault.severity == Severity::error; }));
    const std::size_t warnings = arsenal.diagnostics.size() - errors;
    if (arsenal.diagnostics.empty()) {
        return text + "no faults\n";
    }
    return text + fmt::format("{}, {}\n", counted(errors, "error", "errors"),
                              counted(warnings, "warning", "warnings"));
}

Table fault_table(const std::vector<Diagnostic>& diagnostics) {
    Table table{{{"severity", "", "severity"},
                 {"file", "", "file"},
                 {"line", "", "line"},
                 {"column", "", "column"},
                 {"where", "", "where"},
                 {"message", "", "message"},
                 {"allowed", "", "allowed"},
                 {"suggestion", "", "suggestion"}},
                {}};
    for (const Diagnostic& fault : diagnostics) {
        table.rows.push_back({fault.severity == Severity::error ? "error" : "warning", fault.file,
                              std::int64_t{fault.line}, std::int64_t{fault.column}, fault.where,
                              fault.message, fault.allowed, fault.suggestion});
    }
    return table;
}

int run_check(const CommonOptions& options) {
    const std::vector<std::string> others = ids_among(options.words);
    if (!others.empty()) {
        throw WrongCall{{fmt::format("error: '{}' is not an arsenal file; allowed: files ending in .toml",
                                     others.front())}};
    }
    const std::vector<ArsenalText> texts = arsenal_texts(options.words);
    const Loaded<Arsenal> arsenal = parse_arsenal(texts);
    switch (options.output.format) {
    case Format::text:
        write_result(check_text(arsenal, texts, has_colour(options.output)), options.output);
        break;
    case Format::csv:
        write_result(to_csv(fault_table(arsenal.diagnostics)), options.output);
        break;
    case Format::json: {
        const nlohmann::ordered_json result{{"valid", static_cast<bool>(arsenal)},
                                            {"weapons", arsenal ? arsenal->weapons.size() : 0},
                                            {"projectiles", arsenal ? arsenal->projectiles.size() : 0},
                                            {"melee", arsenal ? arsenal->melee.size() : 0},
                                            {"bodies", arsenal ? arsenal->bodies.size() : 0},
                                            {"faults", to_json(fault_table(arsenal.diagnostics))}};
        write_result(result.dump(2, ' ', false, nlohmann::json::error_handler_t::replace) + '\n',
                     options.output);
        break;
    }
    }
    return arsenal ? done : not_right;
}

} // namespace

void add_check(CLI::App& tool, int& status) {
    const auto options = std::make_shared<CommonOptions>();
    Command command{tool, CommandGroup::look, "check", "Find every fault in an arsenal", *options};
    command.words(*options, "ARSENAL.toml", "Arsenal files; later ones overlay earlier ones");
    command.example("avrek check data/halm-ring.toml my-changes.toml");
    command.runs([options, &status] { status = run_check(*options); });
}

} // namespace avrek::cli
