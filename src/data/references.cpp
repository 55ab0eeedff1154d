#include "toml_file.h"
#include "values.h"
#include <avrek/data/nearest_name.h>

#include <algorithm>

namespace avrek::detail {

namespace {

constexpr std::size_t max_references = 64;

bool is_known(const toml::source_region& source, const std::string& id, const std::string& where,
              const KeyRule& rule, Faults& faults) {
    const std::vector<std::string>& known = faults.known(rule.refers);
    if (std::find(known.begin(), known.end(), id) != known.end()) {
        return true;
    }
    faults.add(source, {where, "names no " + rule.refers + ": \"" + printable(id) + '"',
                        rule.type == KeyType::other_id ? allowed_text(rule)
                                                       : "the id of one, defined as [" + rule.refers + ".ID]",
                        nearest_name(id, known)});
    return false;
}

} // namespace

std::optional<std::string> read_other(const toml::node& node, const std::string& where, const KeyRule& rule,
                                      Faults& faults) {
    const auto* text = node.as_string();
    if (text == nullptr) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    return is_known(node.source(), text->get(), where, rule, faults) ? std::optional{text->get()}
                                                                     : std::nullopt;
}

std::optional<std::string> read_name(const toml::node& node, const std::string& where, const KeyRule&,
                                     Faults& faults) {
    const auto* text = node.as_string();
    if (text == nullptr || !is_id(text->get())) {
        faults.add(node.source(), {where, "is " + describe(node), id_allowed, {}});
        return std::nullopt;
    }
    return text->get();
}

std::optional<std::vector<std::string>> read_others(const toml::node& node, const std::string& where,
                                                    const KeyRule& rule, Faults& faults) {
    const toml::array* list = node.as_array();
    if (list == nullptr || list->size() > max_references) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    std::vector<std::string> ids;
    for (const toml::node& entry : *list) {
        if (auto id = read_other(entry, where, rule, faults)) {
            ids.push_back(std::move(*id));
        }
    }
    return ids;
}

std::optional<std::vector<std::pair<std::string, double>>>
read_factors(const toml::node& node, const std::string& where, const KeyRule& rule, Faults& faults) {
    const toml::table* table = node.as_table();
    if (table == nullptr || table->size() > max_references) {
        refuse(node, where, rule, faults);
        return std::nullopt;
    }
    std::vector<std::pair<std::string, double>> factors;
    for (const auto& [key, value] : in_file_order(*table)) {
        const std::string id{key->str()};
        KeyRule number = rule;
        number.type = KeyType::number;
        const auto found = read_number(*value, where + '.' + printable(id), number, faults);
        if (is_known(key->source(), id, where, rule, faults) && found) {
            factors.emplace_back(id, *found);
        }
    }
    return factors;
}

} // namespace avrek::detail
