#include "command_line.h"

#include <avrek/data/nearest_name.h>
#include <avrek/net/keys.h>

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <charconv>
#include <cmath>

namespace avrek::cli {

namespace {

CLI::Validator number_in(const OptionRange& range) {
    const auto check = [range](const std::string& text) {
        double value = 0.0;
        const auto [end, fault] = std::from_chars(text.data(), text.data() + text.size(), value);
        const bool number = fault == std::errc{} && end == text.data() + text.size() && std::isfinite(value);
        return number && value >= range.min && value <= range.max
                   ? std::string{}
                   : fmt::format("'{}' is not allowed; allowed: {} to {} {}", text, range.min, range.max,
                                 range.unit);
    };
    return CLI::Validator(check, "");
}

CLI::Validator format_name() {
    const auto check = [](const std::string& name) {
        return name == "text" || name == "json" || name == "csv"
                   ? std::string{}
                   : unknown_name("format", name, {"text", "json", "csv"}).lines.front().substr(7);
    };
    return CLI::Validator(check, "");
}

CLI::Validator picture_name() {
    const auto check = [](const std::string& name) {
        return name.ends_with(".png") || name.ends_with(".svg")
                   ? std::string{}
                   : fmt::format("'{}' is not allowed; allowed: a file ending in .png or .svg", name);
    };
    return CLI::Validator(check, "");
}

} // namespace

WrongCall unknown_name(const std::string& kind, const std::string& name,
                       const std::vector<std::string>& known) {
    const std::string nearest = nearest_name(name, known);
    const std::string hint = nearest.empty() ? "" : fmt::format(", did you mean '{}'?", nearest);
    const std::string allowed =
        known.empty() ? "nothing, there is none" : fmt::format("{}", fmt::join(known, ", "));
    return {{fmt::format("error: there is no {} '{}'{}; allowed: {}", kind, name, hint, allowed)}};
}

void stop_at(const std::vector<Diagnostic>& faults) {
    WrongCall call;
    for (const Diagnostic& fault : faults) {
        call.lines.push_back(to_string(fault));
    }
    if (!faults.empty()) {
        throw call;
    }
}

Command::Command(CLI::App& tool, CommandGroup group, const std::string& name, const std::string& description,
                 CommonOptions& common)
    : command_(tool.add_subcommand(name, description)) {
    static constexpr const char* groups[] = {"Look at an arsenal", "Fire and explain", "Fights and matches",
                                             "Tune", "Shell"};
    command_->group(groups[static_cast<std::size_t>(group)]);
    const auto set_format = [&common](const std::string& format) {
        common.output.format = format == "json" ? Format::json : format == "csv" ? Format::csv : Format::text;
    };
    command_->add_option_function<std::string>("--format", set_format, "text, json or csv")
        ->type_name("FORMAT")
        ->check(format_name())
        ->default_str("text");
    command_->add_flag_callback(
        "--json", [&common] { common.output.format = Format::json; }, "The same as --format json");
    text("--out", common.output.file, "FILE", "Write the result to this file");
}

void Command::seed(CommonOptions& common) {
    command_->add_option("--seed", common.seed, "Seed of the random numbers")
        ->type_name("N")
        ->capture_default_str();
}

void Command::secret_seed(CommonOptions& common) {
    common.seed = make_seed();
    command_->get_option("--seed")->default_str("one that nobody can guess");
}

void Command::words(CommonOptions& common, const std::string& name, const std::string& description) {
    command_->add_option(name, common.words, description)->type_name("");
}

void Command::flag(const std::string& option, bool& value, const std::string& description) {
    command_->add_flag(option, value, description);
}

void Command::text(const std::string& option, std::string& value, const std::string& type,
                   const std::string& description) {
    command_->add_option(option, value, description)->type_name(type);
}

void Command::texts(const std::string& option, std::vector<std::string>& values, const std::string& type,
                    const std::string& description) {
    command_->add_option(option, values, description)
        ->delimiter(',')
        ->allow_extra_args(false)
        ->type_name(type);
}

void Command::repeated(const std::string& option, std::vector<std::string>& values, const std::string& type,
                       const std::string& description) {
    command_->add_option(option, values, description)->allow_extra_args(false)->type_name(type);
}

void Command::number(const std::string& option, double& value, const OptionRange& range,
                     const std::string& type, const std::string& description) {
    command_->add_option(option, value, description)
        ->type_name(type)
        ->check(number_in(range))
        ->capture_default_str();
}

void Command::number(const std::string& option, std::optional<double>& value, const OptionRange& range,
                     const std::string& type, const std::string& description) {
    command_->add_option(option, value, description)->type_name(type)->check(number_in(range));
}

void Command::numbers(const std::string& option, std::vector<double>& values, const OptionRange& range,
                      const std::string& type, const std::string& description) {
    command_->add_option(option, values, description)
        ->delimiter(',')
        ->allow_extra_args(false)
        ->type_name(type)
        ->check(number_in(range))
        ->default_str(fmt::format("{}", fmt::join(values, ",")));
}

void Command::watch(CommonOptions& common, const std::string& description) {
    flag("--watch", common.watch, description);
    text("--session", common.session, "FILE.session", "Keep each change of values in this file");
}

void Command::plot(std::string& file) {
    command_->add_option("--plot", file, "Draw the result into this file")
        ->type_name("FILE.png|.svg")
        ->check(picture_name());
}

void Command::example(const std::string& call) {
    command_->footer("Example: " + call);
}

void Command::runs(const std::function<void()>& action) {
    command_->callback(action);
}

} // namespace avrek::cli
