#include "value_paths.h"

#include "faults.h"
#include <avrek/data/nearest_name.h>

#include <algorithm>
#include <charconv>
#include <map>

namespace avrek::detail {

namespace {

const std::map<std::string, std::vector<KeyRule>>& rules_by_section() {
    static const std::map<std::string, std::vector<KeyRule>> rules = [] {
        std::map<std::string, std::vector<KeyRule>> all;
        for (const KeyRule& rule : arsenal_keys()) {
            all[rule.section].push_back(rule);
        }
        return all;
    }();
    return rules;
}

std::optional<std::size_t> point_of(const std::string& part) {
    std::size_t number = 0;
    if (part.size() < 3 || part.front() != '[' || part.back() != ']') {
        return std::nullopt;
    }
    const auto [end, error] = std::from_chars(part.data() + 1, part.data() + part.size() - 1, number);
    return error == std::errc{} && end == part.data() + part.size() - 1 && number > 0
               ? std::optional{number - 1}
               : std::nullopt;
}

std::vector<std::string> names_in(const toml::table* table) {
    std::vector<std::string> names;
    if (table != nullptr) {
        for (const auto& [key, node] : *table) {
            names.emplace_back(key.str());
        }
    }
    return names;
}

} // namespace

std::vector<std::string> parts_of_path(std::string_view path) {
    std::vector<std::string> parts{""};
    for (const char letter : path) {
        if (letter == '.' || letter == '[') {
            if (!parts.back().empty()) {
                parts.emplace_back();
            }
        }
        if (letter != '.') {
            parts.back() += letter;
        }
    }
    return parts;
}

const toml::table* table_at(const toml::table& root, const std::vector<std::string>& path) {
    const toml::table* table = &root;
    for (const std::string& part : path) {
        table = table != nullptr ? (*table)[part].as_table() : nullptr;
    }
    return table;
}

std::optional<ValuePlace> place_of(const toml::table& root, const std::string& path, WrongPath& wrong) {
    const std::vector<std::string> parts = parts_of_path(path);
    const auto& sections = rules_by_section();
    ValuePlace place;
    std::string section = parts.front();
    std::size_t next = 1;
    const auto entry = [&] {
        const toml::table* table = table_at(root, place.table);
        if (next >= parts.size() || table == nullptr || !table->contains(parts[next])) {
            wrong = {"entry", names_in(table), next < parts.size() ? parts[next] : ""};
            return false;
        }
        place.table.push_back(parts[next++]);
        return true;
    };
    if (!sections.contains(section)) {
        wrong = {"section", {}, section};
        for (const auto& [name, rules] : sections) {
            if (name.find('.') == std::string::npos) {
                wrong.known.push_back(name);
            }
        }
        return std::nullopt;
    }
    place.table.push_back(section);
    if (!entry()) {
        return std::nullopt;
    }
    while (next < parts.size()) {
        const auto& rules = sections.at(section);
        const auto rule = std::find_if(rules.begin(), rules.end(),
                                       [&](const KeyRule& one) { return one.name == parts[next]; });
        if (rule == rules.end()) {
            wrong = {"key", {}, parts[next]};
            for (const KeyRule& one : rules) {
                wrong.known.push_back(one.name);
            }
            return std::nullopt;
        }
        place.rule = *rule;
        place.key = parts[next++];
        if (rule->type == KeyType::group || rule->type == KeyType::table) {
            section += '.' + place.key;
            place.table.push_back(place.key);
            if (rule->type == KeyType::table && !entry()) {
                return std::nullopt;
            }
            if (!sections.contains(section)) {
                break;
            }
            continue;
        }
        const std::size_t left = parts.size() - next;
        if ((rule->type == KeyType::number || rule->type == KeyType::integer) && left == 0) {
            return place;
        }
        if (rule->type == KeyType::multipliers && left == 1) {
            place.inner = parts[next];
            return place;
        }
        const bool has_points = rule->type == KeyType::curve || rule->type == KeyType::pairs;
        if (has_points && left == 2 && point_of(parts[next]) &&
            (parts[next + 1] == "x" || parts[next + 1] == "y")) {
            place.in_curve = true;
            place.point = *point_of(parts[next]);
            place.axis = parts[next + 1] == "x" ? 0 : 1;
            return place;
        }
        break;
    }
    wrong = {"number", {"a number, KEY.REGION of multipliers, or KEY[POINT].x or .y of a curve"}, path};
    return std::nullopt;
}

const toml::node* node_of(const toml::table& root, const ValuePlace& place) {
    std::vector<std::string> path = place.table;
    for (int likes = 0; likes < 32; ++likes) {
        if (const toml::table* table = table_at(root, path); table != nullptr && table->contains(place.key)) {
            return table->get(place.key);
        }
        const toml::table* entry = table_at(root, {path.begin(), path.begin() + 2});
        const auto like = entry != nullptr ? (*entry)["like"].value<std::string>() : std::nullopt;
        if (!like) {
            return nullptr;
        }
        path[1] = *like;
    }
    return nullptr;
}

std::optional<double> value_at(const toml::table& root, const ValuePlace& place) {
    const toml::node* node = node_of(root, place);
    if (node == nullptr) {
        double fallback = 0.0;
        const std::string& text = place.rule.fallback;
        const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), fallback);
        return error == std::errc{} && end == text.data() + text.size() && !place.in_curve &&
                       place.inner.empty()
                   ? std::optional{fallback}
                   : std::nullopt;
    }
    if (!place.inner.empty()) {
        const toml::table* table = node->as_table();
        return table != nullptr ? (*table)[place.inner].value<double>() : std::nullopt;
    }
    if (place.in_curve) {
        const toml::array* pairs = node->as_array();
        const toml::node* point = pairs != nullptr ? pairs->get(place.point) : nullptr;
        const toml::array* pair = point != nullptr ? point->as_array() : nullptr;
        return pair != nullptr && pair->size() == 2 ? pair->get(place.axis)->value<double>() : std::nullopt;
    }
    return node->value<double>();
}

Diagnostic fault_of(const std::string& path, const WrongPath& wrong) {
    std::string allowed;
    for (const std::string& name : wrong.known) {
        allowed += (allowed.empty() ? "" : ", ") + name;
    }
    const std::string what = wrong.found.empty()
                                 ? "the path ends before its " + wrong.what
                                 : "there is no " + wrong.what + " '" + printable(wrong.found) + "'";
    return {Severity::error, "",   0,       0,
            printable(path), what, allowed, nearest_name(wrong.found, wrong.known)};
}

void list_keys(const toml::table& table, const std::string& section, const std::string& path,
               std::vector<std::string>& paths) {
    const auto& sections = rules_by_section();
    const auto rules = sections.find(section);
    if (rules == sections.end()) {
        return;
    }
    for (const KeyRule& rule : rules->second) {
        if (rule.type == KeyType::number || rule.type == KeyType::integer) {
            paths.push_back(path + '.' + rule.name);
        } else if (const toml::table* group = table[rule.name].as_table();
                   rule.type == KeyType::group && group != nullptr) {
            // A group that is not there may mean that the thing itself is not there, such as a guard.
            list_keys(*group, section + '.' + rule.name, path + '.' + rule.name, paths);
        }
    }
}

void list_numbers(const toml::node& node, const std::string& path, std::vector<std::string>& paths) {
    if (const toml::table* table = node.as_table()) {
        for (const auto& [key, inner] : *table) {
            list_numbers(inner, path + '.' + std::string{key.str()}, paths);
        }
    } else if (const toml::array* pairs = node.as_array()) {
        for (std::size_t point = 0; point < pairs->size(); ++point) {
            const toml::array* pair = pairs->get(point)->as_array();
            if (pair != nullptr && pair->size() == 2 && pair->get(1)->is_number()) {
                paths.push_back(path + '[' + std::to_string(point + 1) + "].y");
            }
        }
    } else if (node.is_number()) {
        paths.push_back(path);
    }
}

} // namespace avrek::detail
