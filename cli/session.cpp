#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "session_options.h"
#include "shipped_arsenal.h"
#include "table.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <memory>

namespace avrek::cli {

namespace {

constexpr std::size_t max_values = 8; // shown of each change in the list

struct SessionOptions {
    CommonOptions common;
    std::string overlay;
    bool restore = false;
};

std::string time_text(SessionTime at) {
    return fmt::format("{:%Y-%m-%d %H:%M:%S}", std::chrono::time_point_cast<std::chrono::seconds>(at));
}

std::string joined(const std::vector<std::string>& names) {
    std::string text;
    for (const std::string& name : names) {
        text += (text.empty() ? "" : ", ") + name;
    }
    return text;
}

std::string change_text(const SessionChange& change, bool is_whole, bool colour) {
    std::string text = emphasised(fmt::format("{:>4}", change.number), colour) +
                       fmt::format("  {}  {}\n", time_text(change.at), change.by);
    if (change.number == 0 || is_whole) {
        text += wrapped("      files: " + joined(change.files), text_columns, 8) + '\n';
    }
    const std::size_t shown = is_whole ? change.values.size() : std::min(change.values.size(), max_values);
    for (std::size_t index = 0; index < shown; ++index) {
        text += wrapped("      " + difference_text(change.values[index]), text_columns, 8) + '\n';
    }
    if (shown < change.values.size()) {
        text += fmt::format("      and {} more\n", change.values.size() - shown);
    }
    if (change.number > 0 && change.values.empty()) {
        text += "      no value differs\n";
    }
    return text;
}

Table table_of(std::span<const SessionChange> changes) {
    Table table{{{"number", "", "number"},
                 {"at", "UTC", "at"},
                 {"by", "", "by"},
                 {"path", "", "path"},
                 {"before", "", "before"},
                 {"after", "", "after"}},
                {}};
    for (const SessionChange& change : changes) {
        const auto row = [&](const ArsenalDifference& value) {
            table.rows.push_back({change.number, fmt::format("{:%Y-%m-%dT%H:%M:%S}Z", change.at), change.by,
                                  value.path, value.before, value.after});
        };
        std::for_each(change.values.begin(), change.values.end(), row);
        if (change.values.empty()) {
            row({});
        }
    }
    return table;
}

// Writes the files of a change back; what they hold now is kept first.
std::string restore(const std::string& file, std::int64_t number, const std::vector<ArsenalText>& texts) {
    std::vector<ArsenalText> present;
    std::string text;
    for (const ArsenalText& one : texts) {
        Loaded<ArsenalText> now = read_arsenal_text(one.name);
        if (!now && std::filesystem::exists(one.name)) {
            stop_at(now.diagnostics);
        }
        present.push_back(now ? std::move(*now.value) : one);
    }
    const Loaded<Arsenal> sound = parse_arsenal(present);
    if (!sound) {
        WrongCall call{{"error: what the files hold now has faults, and would be lost; allowed: mend it, or "
                        "move it away"}};
        for (const Diagnostic& fault : sound.diagnostics) {
            call.lines.push_back(to_string(fault));
        }
        throw call;
    }
    Loaded<TuningSession> session = TuningSession::open(file);
    stop_at(session.diagnostics);
    const Loaded<std::int64_t> kept = session->keep(present, session_now(), "before going back");
    stop_at(kept.diagnostics);
    for (std::size_t index = 0; index < texts.size(); ++index) {
        const ArsenalText& one = texts[index];
        const bool is_file = std::filesystem::exists(one.name);
        if ((is_file && present[index].text == one.text) || (!is_file && one.text == shipped_arsenal_text)) {
            continue;
        }
        write_result(one.text, {Format::text, one.name});
        text += one.name + " is as it was then\n";
    }
    if (text.empty()) {
        return "the files are so already\n";
    }
    const auto back = session->keep(texts, session_now(), fmt::format("back to change {}", number));
    stop_at(back.diagnostics);
    return text + fmt::format("that is change {}; what was there before is change {}\n", *back, *kept);
}

void run_session(const SessionOptions& options) {
    const std::vector<std::string> files = files_among(options.common.words);
    if (options.common.words.size() != 1 || files.size() != 1 || !is_session(files.front())) {
        throw WrongCall{{"error: which session? allowed: one FILE.session or FILE.session@NUMBER"}};
    }
    const auto [file, number] = session_parts(files.front());
    const Loaded<TuningSession> session = TuningSession::read(file);
    stop_at(session.diagnostics);
    Loaded<std::vector<SessionChange>> changes = session->changes();
    stop_at(changes.diagnostics);
    const std::vector<ArsenalText> texts = session_texts(files.front());
    if (number) {
        std::erase_if(*changes,
                      [only = *number](const SessionChange& change) { return change.number != only; });
    }
    const bool colour = has_colour(options.common.output);
    std::string text = file + ", times in UTC\n";
    for (const SessionChange& change : *changes) {
        text += change_text(change, number.has_value(), colour);
    }
    if (!options.overlay.empty()) {
        const Loaded<ArsenalText> overlay =
            overlay_between(session_texts(file + "@0"), texts, options.overlay);
        stop_at(overlay.diagnostics);
        write_result(overlay->text, {Format::text, options.overlay});
        text += "What differs from change 0 is in " + options.overlay + ".\n";
    }
    if (options.restore) {
        text += restore(file, number.value_or(changes->back().number), texts);
    }
    write_table(table_of(*changes), text, options.common.output);
}

} // namespace

void add_session(CLI::App& tool, int&) {
    const auto options = std::make_shared<SessionOptions>();
    Command command{tool, CommandGroup::tune, "session",
                    "Changes that a tuning session has kept; go back to any of them", options->common};
    command.words(options->common, "FILE.session[@NUMBER]",
                  "A session that --session has kept, or one of its changes");
    command.text("--overlay", options->overlay, "FILE.toml",
                 "Write what differs from the beginning as an overlay to this file");
    command.flag("--restore", options->restore,
                 "Write the arsenal files as they were after this change; what they hold now is kept first");
    command.example("avrek session evening.session@3 --restore\n"
                    "         avrek diff evening.session@3 evening.session@5");
    command.runs([options] { run_session(*options); });
}

} // namespace avrek::cli
