#include "parsed_texts.h"

#include "toml_file.h"
#include <avrek/data/nearest_name.h>

namespace avrek::detail {

namespace {

void gather_file(const toml::table& root, Sections& sections, Faults& faults) {
    for (const auto& [key, value] : in_file_order(root)) {
        const std::string name{key->str()};
        if (SectionSource* section = sections.find(name)) {
            gather(*value, *section, faults);
        } else {
            faults.add(key->source(), {{},
                                       "there is no section '" + printable(name) + "'",
                                       sections_allowed(),
                                       nearest_name(name, sections.names())});
        }
    }
}

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

} // namespace

ParsedTexts::ParsedTexts(std::span<const ArsenalText> texts) {
    roots_.reserve(texts.size());
    for (const ArsenalText& text : texts) {
        if (text.text.size() <= max_file_bytes) {
            roots_.push_back(parse_toml(text.text, text.name, faults_));
        } else {
            roots_.emplace_back();
            faults_.add(text.name, {0, 0}, {{}, "the text is too large", "at most 4 MiB", {}});
        }
        gather_file(roots_.back(), sections_, faults_);
        if (roots_.back().empty() && texts.size() > 1 && !faults_.has_errors()) {
            faults_.add(text.name, {1, 1},
                        {{}, "there is nothing in this file", sections_allowed(), {}, Severity::warning});
        }
        last_name_ = text.name;
    }
}

toml::table ParsedTexts::merged() const {
    toml::table all;
    for (const toml::table& root : roots_) {
        merge(all, root);
    }
    return all;
}

void ParsedTexts::keep_specs() {
    Faults faults = faults_;
    Arsenal specs;
    read_specs(sections_, specs, nullptr, faults);
    if (faults.count() == 0) {
        specs_ = std::move(specs);
    }
}

Loaded<Arsenal> ParsedTexts::read(const toml::table* changes) const {
    Faults faults = faults_;
    Sections sections = sections_;
    if (changes != nullptr) {
        gather_file(*changes, sections, faults);
    }
    Arsenal arsenal = specs_ ? *specs_ : Arsenal{};
    read_specs(sections, arsenal, specs_ ? changes : nullptr, faults);
    finish_sections(sections, arsenal, faults);
    if (sections.are_empty() && !faults.has_errors()) {
        faults.add(last_name_, {1, 1},
                   {{}, "the arsenal is empty", "at least one entry: " + sections_allowed(), {}});
    }
    Loaded<Arsenal> loaded;
    if (!faults.has_errors()) {
        loaded.value = std::move(arsenal);
    }
    loaded.diagnostics = faults.take();
    return loaded;
}

} // namespace avrek::detail
