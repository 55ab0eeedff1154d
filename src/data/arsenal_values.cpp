#include "parsed_texts.h"
#include "toml_text.h"
#include "value_paths.h"
#include <avrek/data/arsenal_values.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <sstream>

namespace avrek {

namespace {

// A number as files have it: a whole one without a point.
toml::node& as_node(double value, toml::array& room) {
    if (value == std::floor(value) && std::abs(value) < 1e15) {
        room.push_back(static_cast<std::int64_t>(value));
    } else {
        room.push_back(value);
    }
    return room.back();
}

// Puts a value into an overlay. Returns false if it is of a point that the curve has not.
bool put(const toml::table& root, const detail::ValuePlace& place, double value, toml::table& overlay) {
    toml::table* table = &overlay;
    for (const std::string& part : place.table) {
        table = table->insert(part, toml::table{}).first->second.as_table();
    }
    toml::array room;
    const toml::node& node = as_node(value, room);
    if (!place.inner.empty()) {
        table->insert(place.key, toml::table{}).first->second.as_table()->insert_or_assign(place.inner, node);
    } else if (!place.in_curve) {
        table->insert_or_assign(place.key, node);
    } else {
        if (!table->contains(place.key)) {
            const toml::node* now = detail::node_of(root, place);
            table->insert(place.key, now != nullptr && now->is_array() ? *now->as_array() : toml::array{});
        }
        toml::array* points = table->get(place.key)->as_array();
        toml::array* pair = place.point < points->size() ? points->get(place.point)->as_array() : nullptr;
        if (pair == nullptr || pair->size() != 2) {
            return false;
        }
        pair->replace(pair->cbegin() + static_cast<std::ptrdiff_t>(place.axis), node);
    }
    return true;
}

// An overlay with these changes, as a table.
toml::table changed_values(const toml::table& root, std::span<const ArsenalChange> changes,
                           std::vector<Diagnostic>& faults) {
    toml::table overlay;
    for (const ArsenalChange& change : changes) {
        detail::WrongPath wrong;
        const auto place = detail::place_of(root, change.path, wrong);
        if (!place) {
            faults.push_back(detail::fault_of(change.path, wrong));
        } else if (!put(root, *place, change.value, overlay)) {
            faults.push_back(
                detail::fault_of(change.path, {"point", {"one that the curve has"}, change.path}));
        }
    }
    return overlay;
}

// An overlay as a text, under a comment of any number of lines.
ArsenalText text_of(const toml::table& overlay, std::string_view name, std::string_view comment) {
    std::string head;
    std::istringstream lines{std::string{comment}};
    for (std::string line; std::getline(lines, line);) {
        head += "# " + line + '\n';
    }
    head += head.empty() ? "" : "\n";
    std::string text;
    detail::print_toml(overlay, "", text);
    return {std::string{name}, head + text};
}

// Puts what `after` has and `before` lacks, or has another value of, into an overlay.
void put_changed(const toml::table& before, const toml::table& after, toml::table& overlay) {
    for (const auto& [key, node] : after) {
        const toml::node* known = before.get(key);
        const toml::table* table = node.as_table();
        if (table != nullptr && known != nullptr && known->is_table()) {
            toml::table changed;
            put_changed(*known->as_table(), *table, changed);
            if (!changed.empty()) {
                overlay.insert(key, std::move(changed));
            }
        } else if (known == nullptr || detail::value_text(*known) != detail::value_text(node)) {
            overlay.insert(key, node);
        }
    }
}

// Reports what `before` has and `after` lacks.
void list_gone(const toml::table& before, const toml::table& after, const std::string& path,
               const std::string& file, std::vector<Diagnostic>& faults) {
    for (const auto& [key, node] : before) {
        const std::string where = (path.empty() ? "" : path + '.') + std::string{key.str()};
        const toml::node* there = after.get(key);
        if (there == nullptr) {
            faults.push_back({.file = file,
                              .where = where,
                              .message = "is gone, and an overlay takes nothing away",
                              .allowed = "values that change or are new"});
        } else if (node.is_table() && there->is_table()) {
            list_gone(*node.as_table(), *there->as_table(), where, file, faults);
        }
    }
}

} // namespace

struct ArsenalValues::Parsed {
    explicit Parsed(std::span<const ArsenalText> all)
        : texts(all.begin(), all.end()), parsed(all), root(parsed.merged()) {
        parsed.keep_specs();
    }

    std::vector<ArsenalText> texts;
    detail::ParsedTexts parsed;
    toml::table root;
};

ArsenalValues::ArsenalValues(std::span<const ArsenalText> texts)
    : parsed_(std::make_shared<const Parsed>(texts)) {}

std::span<const ArsenalText> ArsenalValues::texts() const {
    return parsed_->texts;
}

Loaded<ArsenalNumber> ArsenalValues::find(std::string_view path) const {
    const toml::table& root = parsed_->root;
    const std::string text{path};
    detail::WrongPath wrong;
    const auto place = detail::place_of(root, text, wrong);
    if (!place) {
        return {std::nullopt, {detail::fault_of(text, wrong)}};
    }
    const auto value = detail::value_at(root, *place);
    if (!value) {
        return {std::nullopt, {detail::fault_of(text, {"value", {"a number that the arsenal gives"}, text})}};
    }
    ArsenalNumber number{text,
                         *value,
                         place->rule.range.min,
                         place->rule.range.max,
                         place->rule.type == KeyType::integer,
                         place->rule.unit,
                         place->rule.meaning};
    number.type = place->rule.type;
    number.fallback = place->rule.fallback;
    number.given = detail::node_of(root, *place) != nullptr;
    if (const std::size_t comma = number.unit.find(", "); place->in_curve && comma != std::string::npos) {
        number.unit = place->axis == 0 ? number.unit.substr(0, comma) : number.unit.substr(comma + 2);
    }
    if (place->in_curve && place->axis == 0) {
        number.min = 0.0;
        number.max = 1e5;
    }
    return {number, {}};
}

std::vector<ArsenalNumber> ArsenalValues::numbers_of(std::string_view entry) const {
    const std::vector<std::string> parts = detail::parts_of_path(entry);
    std::vector<ArsenalNumber> numbers;
    if (const toml::table* table = detail::table_at(parsed_->root, parts);
        table != nullptr && parts.size() == 2) {
        std::vector<std::string> paths;
        detail::list_numbers(*table, std::string{entry}, paths);
        for (const std::string& path : paths) {
            if (auto number = find(path)) {
                numbers.push_back(std::move(*number.value));
            }
        }
    }
    return numbers;
}

std::vector<ArsenalNumber> ArsenalValues::all_numbers_of(std::string_view entry) const {
    std::vector<ArsenalNumber> numbers = numbers_of(entry);
    const std::vector<std::string> parts = detail::parts_of_path(entry);
    const toml::table* table = detail::table_at(parsed_->root, parts);
    if (parts.size() != 2 || table == nullptr) {
        return numbers;
    }
    std::vector<std::string> paths;
    detail::list_keys(*table, parts.front(), std::string{entry}, paths);
    const std::size_t given = numbers.size();
    for (const std::string& path : paths) {
        const auto is_it = [&path](const ArsenalNumber& number) { return number.path == path; };
        if (std::none_of(numbers.begin(), numbers.begin() + static_cast<std::ptrdiff_t>(given), is_it)) {
            if (auto number = find(path)) {
                numbers.push_back(std::move(*number.value));
            }
        }
    }
    return numbers;
}

Loaded<Arsenal> ArsenalValues::with(std::span<const ArsenalChange> changes) const {
    std::vector<Diagnostic> faults;
    const toml::table changed = changed_values(parsed_->root, changes, faults);
    if (!faults.empty()) {
        return {std::nullopt, std::move(faults)};
    }
    Loaded<Arsenal> arsenal = parsed_->parsed.read(&changed);
    const bool has_fault = std::any_of(arsenal.diagnostics.begin(), arsenal.diagnostics.end(),
                                       [](const Diagnostic& fault) { return fault.line == 0; });
    if (!has_fault) {
        return arsenal;
    }
    // Only a text has places to name.
    std::vector<ArsenalText> all = parsed_->texts;
    all.push_back(text_of(changed, "changes", {}));
    Loaded<Arsenal> refused = parse_arsenal(all);
    for (Diagnostic& fault : refused.diagnostics) {
        if (fault.file == all.back().name) {
            fault.line = fault.column = 0; // nobody has seen that text
        }
    }
    return refused;
}

Loaded<ArsenalText> ArsenalValues::overlay(std::span<const ArsenalChange> changes, std::string_view name,
                                           std::string_view comment) const {
    std::vector<Diagnostic> faults;
    const toml::table changed = changed_values(parsed_->root, changes, faults);
    if (!faults.empty()) {
        return {std::nullopt, std::move(faults)};
    }
    return {text_of(changed, name, comment), {}};
}

std::vector<ArsenalDifference> differences(std::span<const ArsenalText> before,
                                           std::span<const ArsenalText> after) {
    std::map<std::string, std::string> old_values;
    std::map<std::string, std::string> new_values;
    detail::flatten(detail::ParsedTexts{before}.merged(), "", old_values);
    detail::flatten(detail::ParsedTexts{after}.merged(), "", new_values);
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

Loaded<ArsenalText> overlay_between(std::span<const ArsenalText> before, std::span<const ArsenalText> after,
                                    std::string_view name) {
    const toml::table was = detail::ParsedTexts{before}.merged();
    const toml::table is = detail::ParsedTexts{after}.merged();
    std::vector<Diagnostic> faults;
    list_gone(was, is, "", std::string{name}, faults);
    if (!faults.empty()) {
        return {std::nullopt, std::move(faults)};
    }
    toml::table overlay;
    put_changed(was, is, overlay);
    std::string text;
    detail::print_toml(overlay, "", text);
    return {ArsenalText{std::string{name}, std::move(text)}, {}};
}

} // namespace avrek
