#include "arsenal_sections.h"

#include <avrek/arsenal/validate.h>
#include <avrek/data/nearest_name.h>

#include <algorithm>
#include <type_traits>

namespace avrek::detail {

namespace {

std::vector<std::string> region_names(const std::vector<BodySpec>& bodies) {
    std::vector<std::string> names;
    for (const BodySpec& body : bodies) {
        for (const RegionSpec& region : body.rig.regions) {
            if (std::find(names.begin(), names.end(), region.name) == names.end()) {
                names.push_back(region.name);
            }
        }
    }
    return names;
}

// A multiplier for a region that no body has would never count.
void check_multiplied_regions(const SectionSource& section, const std::vector<std::string>& regions,
                              Faults& faults) {
    std::string allowed;
    for (const std::string& region : regions) {
        allowed += (allowed.empty() ? "" : ", ") + region;
    }
    for (const auto& [id, entry] : section.entries) {
        for (const toml::table* table : entry.tables) {
            const toml::table* multipliers = (*table)["region"].as_table();
            if (multipliers == nullptr) {
                continue;
            }
            for (const auto& [key, value] : *multipliers) {
                const std::string name{key.str()};
                if (std::find(regions.begin(), regions.end(), name) == regions.end()) {
                    faults.add(key.source(),
                               {section.name + '.' + id + ".region",
                                "no body has a region '" + printable(name) + "'",
                                allowed.empty() ? "regions of a body; there is no body" : allowed,
                                nearest_name(name, regions)});
                }
            }
        }
    }
}

// Reports the faults of one entry at the lines that give the values.
template <class Spec>
void report(const std::vector<SpecFault>& spec_faults, const std::string& id,
            const SectionReader<Spec>& reader, const SectionSource& section, Faults& faults) {
    for (const SpecFault& found : spec_faults) {
        const toml::node* node = reader.find(id, found.key);
        faults.add(
            node != nullptr ? node->source() : section.entries.at(id).key->source(),
            {section.name + '.' + id + '.' + found.key, found.message, found.allowed, {}, found.severity});
    }
}

// Reports the keys that a weapon of its kind needs.
void check_needs(const WeaponSpec& weapon, const SectionReader<WeaponSpec>& reader,
                 const SectionSource& section, Faults& faults) {
    const EntrySource& entry = section.entries.at(weapon.id);
    const std::string where = section.name + '.' + weapon.id + '.';
    const bool holds = weapon.feed == AmmoFeed::magazine || weapon.feed == AmmoFeed::cell;
    const auto need = [&](bool needed, const char* path, const char* allowed) {
        if (needed && reader.is_whole(weapon.id) && reader.find(weapon.id, path) == nullptr) {
            faults.add(entry.key->source(), {where + path, "is missing", allowed, {}});
        }
    };
    const bool counts = weapon.supply != AmmoSupply::endless;
    need(holds && counts, "magazine", "a whole number from 1 to 10000 rounds");
    need(weapon.feed == AmmoFeed::magazine && counts, "reload.time", "0 to 60 s");
    const bool launches = !weapon.projectile.id.empty();
    need(!launches, "range", "over 0 to 10000 m");
    need(!launches && weapon.effect.condition.id.empty(), "damage", "0 to 100000 health");
}

// Reads a section, and holds the values of each entry to each other.
template <class Spec>
std::vector<Spec> read_section(const SectionSource& section, Faults& faults) {
    SectionReader<Spec> reader{section, faults};
    std::vector<Spec> specs = reader.read_all();
    for (const Spec& spec : specs) {
        if constexpr (std::is_same_v<Spec, WeaponSpec>) {
            check_needs(spec, reader, section, faults);
        }
        if constexpr (requires { validate(spec); }) {
            // A value that was refused would seem to contradict others.
            if (reader.is_sound(spec.id)) {
                report(validate(spec), spec.id, reader, section, faults);
            }
        }
    }
    return specs;
}

// Gives every weapon its kind of ammunition, if there is room for all.
void check_kinds(Arsenal& arsenal, const Sections& sections, Faults& faults) {
    const bool fits = arsenal.ammo.size() <= max_ammo_kinds && assign_ammo(arsenal);
    if (!fits) {
        const SectionSource& ammo = sections.at("ammo");
        const SectionSource& last = ammo.order.empty() ? sections.at("weapon") : ammo;
        faults.add(last.entries.at(last.order.back()).key->source(),
                   {last.name,
                    "there are too many kinds of ammunition, with those of weapons that name none",
                    "at most 64",
                    {}});
    }
}

// The words that an effect can name as its reaction.
std::vector<std::string> reaction_words(const SectionSource& bodies, Faults& faults) {
    std::vector<std::string> words{"none", "light", "heavy"};
    for (const std::string& id : bodies.order) {
        for (const toml::table* table : bodies.entries.at(id).tables) {
            const toml::table* reactions = (*table)["reaction"].as_table();
            for (const auto& [key, value] : reactions != nullptr ? *reactions : toml::table{}) {
                const std::string name{key.str()};
                if (std::find(words.begin(), words.end(), name) != words.end()) {
                    continue;
                }
                words.push_back(name);
                if (words.size() == 1 + reaction_count + 1) {
                    faults.add(key.source(),
                               {"body." + id + ".reaction",
                                "there are too many reactions of other names than light and heavy",
                                "at most 6 names",
                                {}});
                }
            }
        }
    }
    return words;
}

// A condition is one bit of a word.
void check_condition_count(const Arsenal& arsenal, const SectionSource& section, Faults& faults) {
    if (arsenal.conditions.size() > max_condition_kinds) {
        faults.add(section.entries.at(section.order[max_condition_kinds]).key->source(),
                   {section.name, "there are too many conditions", "at most 64", {}});
    }
}

} // namespace

Sections::Sections() {
    const Arsenal none;
    visit_sections([this](const char* name, const auto&) { all_.push_back({name, {}, {}}); }, none);
}

SectionSource* Sections::find(std::string_view name) {
    const auto found = std::find_if(all_.begin(), all_.end(),
                                    [&](const SectionSource& section) { return section.name == name; });
    return found != all_.end() ? &*found : nullptr;
}

const SectionSource& Sections::at(std::string_view name) const {
    return *std::find_if(all_.begin(), all_.end(),
                         [&](const SectionSource& section) { return section.name == name; });
}

std::vector<std::string> Sections::names() const {
    std::vector<std::string> names;
    for (const SectionSource& section : all_) {
        names.push_back(section.name);
    }
    return names;
}

bool Sections::are_empty() const {
    return std::all_of(all_.begin(), all_.end(),
                       [](const SectionSource& section) { return section.order.empty(); });
}

std::string sections_allowed() {
    std::string allowed;
    for (const std::string& name : Sections{}.names()) {
        allowed += (allowed.empty() ? "[" : ", [") + name + ".ID]";
    }
    return allowed;
}

void read_specs(const Sections& sections, Arsenal& arsenal, const toml::table* changed, Faults& faults) {
    for (const SectionSource& section : sections.all()) {
        faults.know(section.name, section.order);
    }
    faults.know("reaction", reaction_words(sections.at("body"), faults));
    visit_sections(
        [&]<class Spec>(const char* name, std::vector<Spec>& specs) {
            if (changed == nullptr || changed->contains(name)) {
                specs = read_section<Spec>(sections.at(name), faults);
            }
        },
        arsenal);
}

void finish_sections(const Sections& sections, Arsenal& arsenal, Faults& faults) {
    for (BodySpec& body : arsenal.bodies) {
        std::stable_sort(
            body.defence.begin(), body.defence.end(),
            [](const DefenceLayerSpec& a, const DefenceLayerSpec& b) { return a.depth < b.depth; });
    }
    check_kinds(arsenal, sections, faults);
    check_condition_count(arsenal, sections.at("condition"), faults);
    resolve_references(arsenal);
    const std::vector<std::string> regions = region_names(arsenal.bodies);
    check_multiplied_regions(sections.at("weapon"), regions, faults);
    check_multiplied_regions(sections.at("melee"), regions, faults);
}

} // namespace avrek::detail
