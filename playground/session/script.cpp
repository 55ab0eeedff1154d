#include "script.h"

#include <avrek/data/nearest_name.h>

#include <toml++/toml.h>

#include <algorithm>
#include <sstream>

namespace avrek::playground {

namespace {

const std::vector<std::string> keys{"at",    "hold", "release", "press", "look", "set",
                                    "entry", "seek", "slot",    "shot",  "link", "preset"};

std::string listed(const std::vector<std::string>& names) {
    std::string text;
    for (const std::string& name : names) {
        text += (text.empty() ? "" : ", ") + name;
    }
    return text;
}

struct Reading {
    std::string name;
    std::vector<Diagnostic> faults{};

    void fault(const toml::source_region& where, std::string what, std::string allowed,
               std::string suggestion = {}) {
        faults.push_back({Severity::error,
                          name,
                          where.begin.line,
                          where.begin.column,
                          {},
                          std::move(what),
                          std::move(allowed),
                          std::move(suggestion)});
    }

    template <class Value>
    void names(const toml::node& node, const std::vector<std::string>& known, const char* what,
               std::optional<Value> (*named)(std::string_view), std::vector<Value>& to) {
        const toml::array* list = node.as_array();
        if (list == nullptr) {
            fault(node.source(), "is no list", "a list of " + std::string{what} + "s");
            return;
        }
        for (const toml::node& one : *list) {
            const auto word = one.value<std::string>();
            const auto value = word ? named(*word) : std::nullopt;
            if (value) {
                to.push_back(*value);
            } else {
                fault(one.source(),
                      word ? "there is no " + std::string{what} + " '" + *word + "'" : "is no text",
                      listed(known), word ? nearest_name(*word, known) : std::string{});
            }
        }
    }
    std::optional<double> number(const toml::node& node, double min, double max) {
        const auto value = node.value<double>();
        if (!value || !(*value >= min && *value <= max)) {
            std::ostringstream allowed;
            allowed << "a number from " << min << " to " << max;
            fault(node.source(), "is not allowed", allowed.str());
            return std::nullopt;
        }
        return value;
    }
    void text(const toml::node& node, std::string& to) {
        if (const auto value = node.value<std::string>()) {
            to = *value;
        } else {
            fault(node.source(), "is no text", "a text");
        }
    }
    void values(const toml::node& node, std::map<std::string, double>& to) {
        const toml::table* table = node.as_table();
        if (table == nullptr) {
            fault(node.source(), "is no table", "a table of paths and numbers");
            return;
        }
        for (const auto& [key, value] : *table) {
            if (const auto found = number(value, -1e9, 1e9)) {
                to[std::string{key.str()}] = *found;
            }
        }
    }
    void look(const toml::node& node, std::optional<Look>& to) {
        const toml::array* pair = node.as_array();
        if (pair == nullptr || pair->size() != 2) {
            fault(node.source(), "is no look", "[yaw, pitch] in degrees");
            return;
        }
        const auto yaw = number(*pair->get(0), -360, 360);
        const auto pitch = number(*pair->get(1), -89, 89);
        if (yaw && pitch) {
            to = Look{from_degrees(*yaw), from_degrees(*pitch)};
        }
    }

    void link(const toml::node& node, std::optional<LinkSettings>& to) {
        const toml::table* table = node.as_table();
        if (table == nullptr) {
            fault(node.source(), "is no table", "{ latency = MILLISECONDS, loss = PERCENT }");
            return;
        }
        to.emplace();
        const std::vector<ArsenalNumber> known = numbers_of(*to);
        std::vector<std::string> words;
        for (const ArsenalNumber& one : known) {
            words.push_back(one.path.substr(std::string_view{"link."}.size()));
        }
        for (const auto& [key, value] : *table) {
            const std::string word{key.str()};
            const auto at = std::find(words.begin(), words.end(), word);
            if (at == words.end()) {
                fault(key.source(), "a link has no key '" + word + "'", listed(words),
                      nearest_name(word, words));
                continue;
            }
            const ArsenalNumber& one = known[static_cast<std::size_t>(at - words.begin())];
            if (const auto found = number(value, one.min, one.max)) {
                set_number(*to, one.path, *found);
            }
        }
    }

    void key(std::string_view key, const toml::node& node, ScriptStep& step) {
        if (key == "at") {
            step.at = Time{from_seconds(number(node, 0, 86'400).value_or(0.0))};
        } else if (key == "hold" || key == "release") {
            names(node, held_names(), "thing to hold", held_named, key == "hold" ? step.hold : step.release);
        } else if (key == "press") {
            names(node, command_names(), "command", command_named, step.commands);
        } else if (key == "look") {
            look(node, step.look);
        } else if (key == "set") {
            values(node, step.values);
        } else if (key == "link") {
            link(node, step.link);
        } else if (key == "entry" || key == "shot" || key == "preset") {
            text(node, key == "entry" ? step.entry : key == "shot" ? step.shot : step.preset);
        } else if (key == "slot") {
            if (const auto slot = number(node, 0, 5)) {
                step.slot = static_cast<int>(*slot);
            }
        } else if (const auto tick = number(node, 0, 1e9)) {
            step.seek = static_cast<Tick>(*tick);
        }
    }

    void step(const toml::node& node, std::vector<ScriptStep>& steps) {
        const toml::table* table = node.as_table();
        if (table == nullptr || !table->contains("at")) {
            fault(node.source(), "a step has no time", "[[do]] with at = SECONDS");
            return;
        }
        ScriptStep& made = steps.emplace_back();
        for (const auto& [name_of_key, value] : *table) {
            const std::string word{name_of_key.str()};
            if (std::find(keys.begin(), keys.end(), word) == keys.end()) {
                fault(name_of_key.source(), "a step has no key '" + word + "'", listed(keys),
                      nearest_name(word, keys));
                continue;
            }
            key(word, value, made);
        }
    }
};

} // namespace

Loaded<std::vector<ScriptStep>> parse_script(std::string_view text, std::string_view name) {
    Reading reading{std::string{name}};
    const toml::parse_result parsed = toml::parse(text, name);
    std::vector<ScriptStep> steps;
    if (!parsed) {
        reading.fault(parsed.error().source(), std::string{parsed.error().description()}, "TOML");
        return {std::nullopt, std::move(reading.faults)};
    }
    for (const auto& [key, node] : parsed.table()) {
        const toml::array* list = node.as_array();
        if (key.str() != "do" || list == nullptr) {
            reading.fault(key.source(), "'" + std::string{key.str()} + "' is no list of steps", "[[do]]");
            continue;
        }
        for (const toml::node& one : *list) {
            reading.step(one, steps);
        }
    }
    std::stable_sort(steps.begin(), steps.end(),
                     [](const ScriptStep& one, const ScriptStep& other) { return one.at < other.at; });
    if (!reading.faults.empty()) {
        return {std::nullopt, std::move(reading.faults)};
    }
    return {std::move(steps), {}};
}

} // namespace avrek::playground
