#include "command_line.h"

#include "shipped_arsenal.h"

#include <avrek/data/nearest_name.h>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <iterator>

namespace avrek::cli {

namespace {

bool is_file(const std::string& word) {
    return word.ends_with(".toml");
}

template <class Spec>
std::vector<std::string> ids_of(const std::vector<Spec>& specs) {
    std::vector<std::string> ids;
    for (const Spec& spec : specs) {
        ids.push_back(spec.id);
    }
    return ids;
}

}

WrongCall unknown_name(const std::string& kind, const std::string& name, const std::vector<std::string>& known) {
    const std::string nearest = nearest_name(name, known);
    const std::string hint = nearest.empty() ? "" : fmt::format(", did you mean '{}'?", nearest);
    return {{fmt::format("error: there is no {} '{}'{}; allowed: {}", kind, name, hint,
                         known.empty() ? "nothing, the arsenal has none" : fmt::format("{}", fmt::join(known, ", ")))}};
}

namespace {

WrongCall wrong_arsenal(const std::vector<Diagnostic>& diagnostics) {
    WrongCall call;
    for (const Diagnostic& diagnostic : diagnostics) {
        call.lines.push_back(to_string(diagnostic));
    }
    return call;
}

} // namespace

void add_common(CLI::App& command, CommonOptions& options) {
    const auto set_format = [&options](const std::string& name) {
        options.output.format = name == "json" ? Format::json : name == "csv" ? Format::csv : Format::text;
    };
    command.add_option_function<std::string>("--format", set_format, "text, json or csv")
        ->type_name("FORMAT")
        ->check(CLI::Validator(
            [](const std::string& name) {
                return name == "text" || name == "json" || name == "csv"
                           ? std::string{}
                           : fmt::format("'{}' is not allowed; allowed: text, json, csv", name);
            },
            ""))
        ->default_str("text");
    command.add_flag_callback(
        "--json", [&options] { options.output.format = Format::json; }, "The same as --format json");
    command.add_option("--out", options.output.file, "Write the result to this file")->type_name("FILE");
    command.add_option("--seed", options.seed, "Seed of the random numbers")
        ->type_name("N")
        ->capture_default_str();
}

void add_words(CLI::App& command, CommonOptions& options, const std::string& name, const std::string& description) {
    command.add_option(name, options.words, description)->type_name("");
}

void add_plot(CLI::App& command, std::string& file) {
    const auto check = [](const std::string& name) {
        return name.ends_with(".png") || name.ends_with(".svg")
                   ? std::string{}
                   : fmt::format("'{}' is not allowed; allowed: a file ending in .png or .svg", name);
    };
    command.add_option("--plot", file, "Draw the result into this file")
        ->type_name("FILE.png|.svg")
        ->check(CLI::Validator(check, ""));
}

std::vector<std::string> files_among(const std::vector<std::string>& words) {
    std::vector<std::string> files;
    std::copy_if(words.begin(), words.end(), std::back_inserter(files), is_file);
    return files;
}

std::vector<std::string> ids_among(const std::vector<std::string>& words) {
    std::vector<std::string> ids;
    std::remove_copy_if(words.begin(), words.end(), std::back_inserter(ids), is_file);
    return ids;
}

std::vector<ArsenalText> arsenal_texts(const std::vector<std::string>& files) {
    if (files.empty()) {
        return {{"halm-ring.toml", shipped_arsenal_text}};
    }
    std::vector<ArsenalText> texts;
    std::vector<Diagnostic> unread;
    for (const std::string& file : files) {
        Loaded<ArsenalText> text = read_arsenal_text(file);
        if (text) {
            texts.push_back(std::move(*text));
        }
        unread.insert(unread.end(), text.diagnostics.begin(), text.diagnostics.end());
    }
    if (!unread.empty()) {
        throw wrong_arsenal(unread);
    }
    return texts;
}

Arsenal arsenal_of(const std::vector<std::string>& files) {
    Loaded<Arsenal> arsenal = parse_arsenal(arsenal_texts(files));
    if (!arsenal) {
        throw wrong_arsenal(arsenal.diagnostics);
    }
    for (const Diagnostic& warning : arsenal.diagnostics) {
        fmt::print(stderr, "{}\n", to_string(warning));
    }
    return std::move(*arsenal);
}

std::vector<const WeaponSpec*> weapons_of(const Arsenal& arsenal, const std::vector<std::string>& ids) {
    std::vector<const WeaponSpec*> weapons;
    for (const std::string& id : ids) {
        weapons.push_back(find_weapon(arsenal, id));
        if (weapons.back() == nullptr) {
            throw unknown_name("weapon", id, ids_of(arsenal.weapons));
        }
    }
    if (ids.empty()) {
        for (const WeaponSpec& weapon : arsenal.weapons) {
            weapons.push_back(&weapon);
        }
    }
    if (weapons.empty()) {
        throw WrongCall{{"error: the arsenal has no weapon"}};
    }
    return weapons;
}

const BodySpec& body_of(const Arsenal& arsenal, const std::string& id) {
    if (id.empty() && !arsenal.bodies.empty()) {
        return arsenal.bodies.front();
    }
    const BodySpec* body = find_body(arsenal, id);
    if (body == nullptr) {
        throw unknown_name("body", id, ids_of(arsenal.bodies));
    }
    return *body;
}

RegionId region_named(const BodySpec& body, const std::string& name) {
    const std::optional<RegionId> region = find_region(body.rig, name);
    if (!region) {
        std::vector<std::string> names;
        for (const RegionSpec& known : body.rig.regions) {
            names.push_back(known.name);
        }
        throw unknown_name("region", name, names);
    }
    return *region;
}

CLI::Validator number_between(double least, double most, bool over_least, const std::string& unit) {
    return CLI::Validator(
        [=](const std::string& text) {
            double value = 0.0;
            const auto [end, fault] = std::from_chars(text.data(), text.data() + text.size(), value);
            const bool number = fault == std::errc{} && end == text.data() + text.size() && std::isfinite(value);
            if (number && value <= most && (over_least ? value > least : value >= least)) {
                return std::string{};
            }
            return fmt::format("'{}' is not allowed; allowed: {}{} to {} {}", text, over_least ? "over " : "", least,
                               most, unit);
        },
        "");
}

} // namespace avrek::cli
