#include "section.h"

#include "toml_file.h"
#include "values.h"
#include <avrek/data/nearest_name.h>

namespace avrek::detail {

namespace {

constexpr std::size_t max_entries = 1000;
constexpr std::size_t longest_chain = 16;

// The value of `like` in the newest file that has it.
const toml::node* like_of(const EntrySource& entry) {
    for (auto table = entry.tables.rbegin(); table != entry.tables.rend(); ++table) {
        if (const toml::node* node = (*table)->get("like")) {
            return node;
        }
    }
    return nullptr;
}

// The id that an entry is like, if it names one of the section's.
std::optional<std::string> named_base(const SectionSource& section, const std::string& id,
                                      const toml::node& like, Faults& faults) {
    const std::string where = section.name + '.' + id + ".like";
    const auto* text = like.as_string();
    if (text == nullptr) {
        faults.add(like.source(), {where, "is " + describe(like), "the id of another " + section.name, {}});
        return std::nullopt;
    }
    if (!section.entries.contains(text->get())) {
        faults.add(like.source(),
                   {where, "names no " + section.name + ": \"" + printable(text->get()) + "\"",
                    "the id of another " + section.name, nearest_name(text->get(), section.order)});
        return std::nullopt;
    }
    return text->get();
}

// Fault in the chain of bases from `id` on; empty when it ends well.
std::string chain_fault(const std::map<std::string, std::string>& bases, const std::string& id) {
    std::string chain = id;
    auto base = bases.find(id);
    for (std::size_t steps = 0; base != bases.end(); ++steps) {
        chain += " -> " + base->second;
        if (base->second == id) {
            return "is like itself: " + chain;
        }
        if (steps == longest_chain) {
            return "is like another that is like another, too many times over or in a circle";
        }
        base = bases.find(base->second);
    }
    return {};
}

} // namespace

void gather(const toml::node& file_section, SectionSource& section, Faults& faults) {
    const std::string allowed = "tables of entries: [" + section.name + ".ID]";
    const toml::table* table = file_section.as_table();
    if (table == nullptr) {
        faults.add(file_section.source(), {section.name, "is " + describe(file_section), allowed, {}});
        return;
    }
    for (const auto& [key, value] : in_file_order(*table)) {
        const std::string id{key->str()};
        const std::string where = section.name + '.' + printable(id);
        if (!is_id(id)) {
            faults.add(key->source(), {where, "is not an id", id_allowed, {}});
        } else if (!value->is_table()) {
            faults.add(value->source(), {where, "is " + describe(*value), allowed, {}});
        } else if (section.order.size() >= max_entries && !section.entries.contains(id)) {
            faults.add(key->source(), {where, "is one entry too many", "at most 1000 in a section", {}});
            return;
        } else {
            EntrySource& entry = section.entries[id];
            if (entry.key == nullptr) {
                entry.key = key;
                section.order.push_back(id);
            }
            entry.tables.push_back(value->as_table());
        }
    }
}

std::map<std::string, std::string> find_bases(const SectionSource& section, Faults& faults) {
    std::map<std::string, std::string> bases;
    for (const std::string& id : section.order) {
        if (const toml::node* like = like_of(section.entries.at(id))) {
            if (const std::optional<std::string> base = named_base(section, id, *like, faults)) {
                bases.emplace(id, *base);
            }
        }
    }
    std::map<std::string, std::string> sound;
    for (const auto& [id, base] : bases) {
        const std::string fault = chain_fault(bases, id);
        if (fault.empty()) {
            sound.emplace(id, base);
        } else {
            faults.add(like_of(section.entries.at(id))->source(),
                       {section.name + '.' + id + ".like", fault, "at most 16 steps, and no circle", {}});
        }
    }
    return sound;
}

bool says_like(const EntrySource& entry) {
    return like_of(entry) != nullptr;
}

const toml::node* find_key(const EntrySource& entry, std::string_view path) {
    const std::size_t dot = path.find('.');
    for (auto table = entry.tables.rbegin(); table != entry.tables.rend(); ++table) {
        const toml::node* node = (*table)->get(path.substr(0, dot));
        if (node != nullptr && dot != std::string_view::npos) {
            node = node->is_table() ? node->as_table()->get(path.substr(dot + 1)) : nullptr;
        }
        if (node != nullptr) {
            return node;
        }
    }
    return nullptr;
}

void check_key_names(const toml::table& table, const std::string& where,
                     const std::vector<std::string>& names, Faults& faults) {
    std::string allowed;
    for (const std::string& name : names) {
        allowed += (allowed.empty() ? "" : ", ") + name;
    }
    for (const auto& [key, value] : table) {
        const std::string name{key.str()};
        if (std::find(names.begin(), names.end(), name) == names.end()) {
            faults.add(key.source(),
                       {where, "has no key '" + printable(name) + "'", allowed, nearest_name(name, names)});
        }
    }
}

void check_key_names(const toml::table& table, const std::string& where, const std::vector<KeyRule>& rules,
                     Faults& faults) {
    std::vector<std::string> names;
    for (const KeyRule& rule : rules) {
        names.push_back(rule.name);
    }
    check_key_names(table, where, names, faults);
}

} // namespace avrek::detail
