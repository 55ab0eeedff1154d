#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include <avrek/data/folded_overlays.h>

#include <nlohmann/json.hpp>

#include <memory>

namespace avrek::cli {

namespace {

void run_fold(const CommonOptions& options) {
    const std::vector<std::string> files = files_among(options.words);
    if (files.empty() || !ids_among(options.words).empty()) {
        throw WrongCall{
            {"error: what is folded? allowed: OVERLAY.toml into the shipped arsenal, BASE.toml and the "
             "overlays that it gets, or FILE.session@NUMBER"}};
    }
    std::vector<ArsenalText> texts = files.size() == 1 ? arsenal_texts({}) : std::vector<ArsenalText>{};
    add_texts(texts, files);
    const Loaded<ArsenalText> folded = fold_overlays(texts);
    stop_at(folded ? std::vector<Diagnostic>{} : folded.diagnostics);
    if (options.output.format == Format::json) {
        write_result(nlohmann::ordered_json{{"name", folded->name}, {"text", folded->text}}.dump(2) + '\n',
                     options.output);
        return;
    }
    write_result(folded->text, options.output);
}

} // namespace

void add_fold(CLI::App& tool, int&) {
    const auto options = std::make_shared<CommonOptions>();
    Command command{tool, CommandGroup::tune, "fold",
                    "One file with the values of overlays, and the comments and order of the first",
                    *options};
    command.words(*options, "ARSENAL.toml", "An arsenal and its overlays, or an overlay of the shipped one");
    command.example("avrek fold data/halm-ring.toml data/overlays/quick-rifle.toml --out tidy.toml");
    command.runs([options] { run_fold(*options); });
}

} // namespace avrek::cli
