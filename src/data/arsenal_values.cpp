#include "faults.h"
#include "toml_file.h"
#include <avrek/data/arsenal_keys.h>
#include <avrek/data/arsenal_values.h>
#include <avrek/data/nearest_name.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <map>
#include <optional>
#include <sstream>

namespace avrek {

namespace {

using detail::Faults;

// A later text's value replaces an earlier one's, value by value.
void merge(toml::table& into, const toml::table& from) {
    for (const auto& [key, node] : from) {
        const toml::table* table = node.as_table();
        toml::table* known = into[key].as_table();
        if (table != nullptr && known != nullptr) {
            merge(*known, *table);
        } else {
            into.insert_or_assign(key, node);
        }
    }
}

toml::table merged(std::span<const ArsenalText> texts) {
    Faults faults;
    toml::table all;
    for (const ArsenalText& text : texts) {
        merge(all, detail::parse_toml(text.text, text.name, faults));
    }
    return all;
}

// A path in its parts. "falloff[2].y" is the parts "falloff", "[2]" and "y".
std::vector<std::string> parts_of(std::string_view path) {
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

struct Place {
    KeyRule rule{};
    std::vector<std::string> table{}; // where the key stands
    std::string key{};
    std::string inner{};   // a region, of multipliers
    std::size_t point = 0; // point of a curve, counted from 0
    std::size_t axis = 0;  // 0 for x
    bool in_curve = false;
};

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

// Fault of a path.
struct Wrong {
    std::string what;
    std::vector<std::string> known;
    std::string found;
};

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

const toml::table* table_at(const toml::table& root, const std::vector<std::string>& path) {
    const toml::table* table = &root;
    for (const std::string& part : path) {
        table = table != nullptr ? (*table)[part].as_table() : nullptr;
    }
    return table;
}

// Follows a path through the sections; the place, or what is wrong.
std::optional<Place> place_of(const toml::table& root, const std::string& path, Wrong& wrong) {
    const std::vector<std::string> parts = parts_of(path);
    const auto& sections = rules_by_section();
    Place place;
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

// The node of a key: in its table, in one that it is like, or none.
const toml::node* node_of(const toml::table& root, const Place& place) {
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

std::optional<double> value_of(const toml::table& root, const Place& place) {
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
        const toml::array* points = node->as_array();
        const toml::node* point = points != nullptr ? points->get(place.point) : nullptr;
        const toml::array* pair = point != nullptr ? point->as_array() : nullptr;
        return pair != nullptr && pair->size() == 2 ? pair->get(place.axis)->value<double>() : std::nullopt;
    }
    return node->value<double>();
}

Diagnostic fault_of(const std::string& path, const Wrong& wrong) {
    std::string allowed;
    for (const std::string& name : wrong.known) {
        allowed += (allowed.empty() ? "" : ", ") + name;
    }
    const std::string what = wrong.found.empty()
                                 ? "the path ends before its " + wrong.what
                                 : "there is no " + wrong.what + " '" + detail::printable(wrong.found) + "'";
    return {Severity::error,         "",   0,       0,
            detail::printable(path), what, allowed, nearest_name(wrong.found, wrong.known)};
}

// The paths of all numbers in a node.
void list_numbers(const toml::node& node, const std::string& path, std::vector<std::string>& paths) {
    if (const toml::table* table = node.as_table()) {
        for (const auto& [key, inner] : *table) {
            list_numbers(inner, path + '.' + std::string{key.str()}, paths);
        }
    } else if (const toml::array* points = node.as_array()) {
        for (std::size_t point = 0; point < points->size(); ++point) {
            const toml::array* pair = points->get(point)->as_array();
            if (pair != nullptr && pair->size() == 2 && pair->get(1)->is_number()) {
                paths.push_back(path + '[' + std::to_string(point + 1) + "].y");
            }
        }
    } else if (node.is_number()) {
        paths.push_back(path);
    }
}

// A real number in as few digits as tell it apart: 0.65 and not 0.65000000000000002.
std::string text_of(double value) {
    char digits[64];
    std::string text{digits, std::to_chars(digits, digits + sizeof digits, value).ptr};
    return text.find_first_of(".en") == std::string::npos ? text + ".0" : text;
}

// A value as it could stand in a file; of texts only what needs no escapes.
std::string text_of(const toml::node& node) {
    if (const toml::array* array = node.as_array()) {
        std::string text;
        for (const toml::node& inner : *array) {
            text += (text.empty() ? "" : ", ") + text_of(inner);
        }
        return "[" + text + "]";
    }
    if (const auto* real = node.as_floating_point()) {
        return text_of(real->get());
    }
    if (const auto* whole = node.as_integer()) {
        return std::to_string(whole->get());
    }
    if (const auto* flag = node.as_boolean()) {
        return flag->get() ? "true" : "false";
    }
    const auto* word = node.as_string();
    return word != nullptr ? '"' + word->get() + '"' : "?";
}

// The tables of an overlay, each under its name, values before tables.
void print(const toml::table& table, const std::string& path, std::string& text) {
    std::string values;
    for (const auto& [key, node] : table) {
        if (!node.is_table()) {
            values += std::string{key.str()} + " = " + text_of(node) + '\n';
        }
    }
    if (!values.empty()) {
        text += (text.empty() ? "[" : "\n[") + path + "]\n" + values;
    }
    for (const auto& [key, node] : table) {
        if (const toml::table* inner = node.as_table()) {
            print(*inner, path.empty() ? std::string{key.str()} : path + '.' + std::string{key.str()}, text);
        }
    }
}

void flatten(const toml::node& node, const std::string& path, std::map<std::string, std::string>& all) {
    if (const toml::table* table = node.as_table()) {
        for (const auto& [key, inner] : *table) {
            flatten(inner, path.empty() ? std::string{key.str()} : path + '.' + std::string{key.str()}, all);
        }
        return;
    }
    all[path] = node.is_string() ? *node.value<std::string>() : text_of(node);
}

} // namespace

struct ArsenalValues::Parsed {
    std::vector<ArsenalText> texts;
    toml::table root;
};

ArsenalValues::ArsenalValues(std::span<const ArsenalText> texts)
    : parsed_(std::make_shared<const Parsed>(
          Parsed{std::vector<ArsenalText>(texts.begin(), texts.end()), merged(texts)})) {}

std::span<const ArsenalText> ArsenalValues::texts() const {
    return parsed_->texts;
}

Loaded<ArsenalNumber> ArsenalValues::find(std::string_view path) const {
    const toml::table& root = parsed_->root;
    const std::string text{path};
    Wrong wrong;
    const auto place = place_of(root, text, wrong);
    if (!place) {
        return {std::nullopt, {fault_of(text, wrong)}};
    }
    const auto value = value_of(root, *place);
    if (!value) {
        return {std::nullopt, {fault_of(text, {"value", {"a number that the arsenal gives"}, text})}};
    }
    ArsenalNumber number{text,
                         *value,
                         place->rule.range.min,
                         place->rule.range.max,
                         place->rule.type == KeyType::integer,
                         place->rule.unit};
    if (place->in_curve && place->axis == 0) {
        number.min = 0.0;
        number.max = 1e5;
    }
    return {number, {}};
}

std::vector<ArsenalNumber> ArsenalValues::numbers_of(std::string_view entry) const {
    const std::vector<std::string> parts = parts_of(entry);
    std::vector<ArsenalNumber> numbers;
    if (const toml::table* table = table_at(parsed_->root, parts); table != nullptr && parts.size() == 2) {
        std::vector<std::string> paths;
        list_numbers(*table, std::string{entry}, paths);
        for (const std::string& path : paths) {
            if (auto number = find(path)) {
                numbers.push_back(std::move(*number.value));
            }
        }
    }
    return numbers;
}

Loaded<Arsenal> ArsenalValues::with(std::span<const ArsenalChange> changes) const {
    Loaded<ArsenalText> changed = overlay(changes, "changes");
    if (!changed) {
        return {std::nullopt, std::move(changed.diagnostics)};
    }
    std::vector<ArsenalText> all = parsed_->texts;
    all.push_back(std::move(*changed.value));
    return parse_arsenal(all);
}

Loaded<ArsenalText> ArsenalValues::overlay(std::span<const ArsenalChange> changes, std::string_view name,
                                           std::string_view comment) const {
    const toml::table& root = parsed_->root;
    toml::table overlay;
    std::vector<Diagnostic> faults;
    for (const ArsenalChange& change : changes) {
        Wrong wrong;
        const auto place = place_of(root, change.path, wrong);
        if (!place) {
            faults.push_back(fault_of(change.path, wrong));
            continue;
        }
        toml::table* table = &overlay;
        for (const std::string& part : place->table) {
            table = table->insert(part, toml::table{}).first->second.as_table();
        }
        const bool whole = change.value == std::floor(change.value) && std::abs(change.value) < 1e15;
        const auto put = [&](auto& into, const auto& key) {
            if (whole) {
                into.insert_or_assign(key, static_cast<std::int64_t>(change.value));
            } else {
                into.insert_or_assign(key, change.value);
            }
        };
        if (!place->inner.empty()) {
            put(*table->insert(place->key, toml::table{}).first->second.as_table(), place->inner);
        } else if (place->in_curve) {
            if (!table->contains(place->key)) {
                const toml::node* now = node_of(root, *place);
                table->insert(place->key,
                              now != nullptr && now->is_array() ? *now->as_array() : toml::array{});
            }
            toml::array* points = table->get(place->key)->as_array();
            toml::array* pair =
                place->point < points->size() ? points->get(place->point)->as_array() : nullptr;
            if (pair == nullptr || pair->size() != 2) {
                faults.push_back(fault_of(change.path, {"point", {"one that the curve has"}, change.path}));
                continue;
            }
            const auto at = pair->cbegin() + static_cast<std::ptrdiff_t>(place->axis);
            if (whole) {
                pair->replace(at, static_cast<std::int64_t>(change.value));
            } else {
                pair->replace(at, change.value);
            }
        } else {
            put(*table, place->key);
        }
    }
    if (!faults.empty()) {
        return {std::nullopt, std::move(faults)};
    }
    std::string text;
    print(overlay, "", text);
    std::string head;
    std::istringstream lines{std::string{comment}};
    for (std::string line; std::getline(lines, line);) {
        head += "# " + line + '\n';
    }
    head += head.empty() ? "" : "\n";
    return {ArsenalText{std::string{name}, head + text}, {}};
}

std::vector<ArsenalDifference> differences(std::span<const ArsenalText> before,
                                           std::span<const ArsenalText> after) {
    std::map<std::string, std::string> old_values;
    std::map<std::string, std::string> new_values;
    flatten(merged(before), "", old_values);
    flatten(merged(after), "", new_values);
    std::vector<ArsenalDifference> found;
    for (const auto& [path, value] : new_values) {
        const auto old = old_values.find(path);
        if (old == old_values.end() || old->second != value) {
            found.push_back({path, old == old_values.end() ? "" : old->second, value});
        }
    }
    for (const auto& [path, value] : old_values) {
        if (!new_values.contains(path)) {
            found.push_back({path, value, ""});
        }
    }
    std::sort(found.begin(), found.end(),
              [](const ArsenalDifference& a, const ArsenalDifference& b) { return a.path < b.path; });
    return found;
}

} // namespace avrek
