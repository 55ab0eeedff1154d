#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "progress.h"
#include "report_data.h"
#include "report_page.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <memory>
#include <optional>

namespace avrek::cli {

namespace {

struct ReportOptions {
    CommonOptions common;
    std::string page;
    std::vector<std::string> overlays;
    std::vector<double> distances{2, 5, 8, 12, 16, 20, 25, 30, 40, 50};
    std::vector<std::string> shooters;
    std::string body;
    std::optional<double> points;
    std::string error = "2%";
};

std::string command_of(const ReportOptions& options) {
    std::string command = "avrek report";
    for (const std::string& word : options.common.words) {
        command += ' ' + word;
    }
    for (const std::string& overlay : options.overlays) {
        command += " --overlay " + overlay;
    }
    command += " --page " + options.page;
    return command;
}

void run_report(const ReportOptions& options) {
    if (options.page.empty()) {
        throw WrongCall{{"error: where to? allowed: --page FILE.html"}};
    }
    const std::vector<std::string> files = files_among(options.common.words);
    const Arsenal arsenal = arsenal_of(files);
    ReportAsked asked;
    asked.base = arsenal_texts(files);
    asked.armaments = armaments_of(arsenal, ids_among(options.common.words));
    ShootingOptions shooting;
    shooting.shooters = options.shooters;
    shooting.points = options.points;
    shooting.error = options.error;
    if (shooting.shooters.empty()) {
        shooting.shooters = ids_of(arsenal.shooters);
    }
    asked.shooters = shooters_of(arsenal, shooting);
    asked.distances = options.distances;
    std::sort(asked.distances.begin(), asked.distances.end());
    asked.body = body_of(arsenal, options.body).id;
    asked.command = command_of(options);
    asked.settings = settings_of(shooting);
    if (!options.overlays.empty()) {
        asked.overlays = arsenal_texts(options.overlays);
        std::vector<ArsenalText> all = asked.base;
        all.insert(all.end(), asked.overlays.begin(), asked.overlays.end());
        const Loaded<Arsenal> changed = parse_arsenal(all);
        stop_at(changed ? std::vector<Diagnostic>{} : changed.diagnostics);
        const std::vector<std::string> known = armament_names(*changed.value);
        for (const std::string& name : asked.armaments) {
            if (std::find(known.begin(), known.end(), name) == known.end()) {
                throw unknown_name("weapon", name, known);
            }
        }
    }
    Progress progress{"percent of the report", 100};
    const nlohmann::ordered_json data =
        report_data(asked, [&](double done) { progress.show(static_cast<std::int64_t>(100.0 * done)); });
    progress.end();
    const std::string page = report_page(data);
    write_result(page, {Format::text, options.page});
    if (options.common.output.format == Format::json) {
        write_result(data.dump(1) + '\n', options.common.output);
        return;
    }
    write_result(fmt::format("{} weapons, {} profiles, {} distances, error up to {:.1f} %: {} ({} kB)\n",
                             asked.armaments.size(), asked.shooters.size(), asked.distances.size(),
                             data["error"].get<double>(), options.page, page.size() / 1000),
                 options.common.output);
}

} // namespace

void add_report(CLI::App& tool, int&) {
    const auto options = std::make_shared<ReportOptions>();
    Command command{tool, CommandGroup::tune, "report",
                    "A page with all results, to read offline and to print", options->common};
    command.words(options->common, "WEAPON|ARSENAL.toml",
                  "Weapons and blades, all by default, and arsenal files");
    command.text("--page", options->page, "FILE.html", "File for the page");
    command.texts("--overlay", options->overlays, "OVERLAY.toml", "Overlays to show before and after");
    command.numbers("--at", options->distances, {0.01, 10000.0, "m"}, "METRES", "Distances");
    command.texts("--shooter", options->shooters, "SHOOTER", "Shooter profiles; all by default");
    command.text("--target", options->body, "BODY", "Body of the target; the arsenal's first by default");
    command.text("--error", options->error, "PERCENT", "Maximum error of chances; less takes longer");
    command.number("--points", options->points, {32, 4096, ""}, "COUNT",
                   "Exact number of integration points, a power of two; overrides --error");
    command.example("avrek report --page halm-ring.html");
    command.runs([options] { run_report(*options); });
}

} // namespace avrek::cli
