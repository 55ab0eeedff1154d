#include "section.h"
#include "toml_file.h"
#include <avrek/arsenal/contradictions.h>
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/nearest_name.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fstream>
#include <system_error>

namespace avrek {

namespace {

using data::EntrySource;
using data::Faults;
using data::SectionSource;

constexpr const char* sections_allowed = "[weapon.ID], [ammo.ID], [body.ID], [surface.ID]";

struct Sections {
    SectionSource weapon{"weapon", {}, {}};
    SectionSource ammo{"ammo", {}, {}};
    SectionSource body{"body", {}, {}};
    SectionSource surface{"surface", {}, {}};
};

void gather_file(const toml::table& root, Sections& sections, Faults& faults) {
    const std::vector<std::string> known{"weapon", "ammo", "body", "surface"};
    for (const auto& [key, value] : data::in_file_order(root)) {
        const std::string section{key->str()};
        if (section == "weapon") {
            data::gather(*value, sections.weapon, faults);
        } else if (section == "ammo") {
            data::gather(*value, sections.ammo, faults);
        } else if (section == "body") {
            data::gather(*value, sections.body, faults);
        } else if (section == "surface") {
            data::gather(*value, sections.surface, faults);
        } else {
            faults.add(key->source(), {{},
                                       "there is no section '" + data::printable(section) + "'",
                                       sections_allowed,
                                       nearest_name(section, known)});
        }
    }
}

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
void check_multiplied_regions(const SectionSource& weapons, const std::vector<std::string>& regions,
                              Faults& faults) {
    std::string allowed;
    for (const std::string& region : regions) {
        allowed += (allowed.empty() ? "" : ", ") + region;
    }
    for (const auto& [id, entry] : weapons.entries) {
        for (const toml::table* table : entry.tables) {
            const toml::table* multipliers = (*table)["region"].as_table();
            if (multipliers == nullptr) {
                continue;
            }
            for (const auto& [key, value] : *multipliers) {
                const std::string name{key.str()};
                if (std::find(regions.begin(), regions.end(), name) == regions.end()) {
                    faults.add(key.source(),
                               {"weapon." + id + ".region",
                                "no body has a region '" + data::printable(name) + "'",
                                allowed.empty() ? "regions of a body; there is no body" : allowed,
                                nearest_name(name, regions)});
                }
            }
        }
    }
}

using WeaponReader = data::SectionReader<WeaponSpec>;

// What a weapon's values say together: keys that its feed needs, and values that do not go together.
void check_weapon(const WeaponSpec& weapon, const WeaponReader& reader, const SectionSource& section,
                  Faults& faults) {
    const EntrySource& entry = section.entries.at(weapon.id);
    const std::string where = section.name + '.' + weapon.id + '.';
    const bool holds = weapon.feed == AmmoFeed::magazine || weapon.feed == AmmoFeed::cell;
    const auto need = [&](bool needed, const char* path, const char* allowed) {
        if (needed && reader.is_whole(weapon.id) && reader.find(weapon.id, path) == nullptr) {
            faults.add(entry.key->source(), {where + path, "is missing", allowed, {}});
        }
    };
    need(holds, "magazine", "a whole number from 1 to 10000 rounds");
    need(weapon.feed == AmmoFeed::magazine, "reload.time", "0 to 60 s");
    if (!reader.is_sound(weapon.id)) {
        return; // a value that was refused would seem to contradict others
    }
    for (const Contradiction& found : find_contradictions(weapon)) {
        const toml::node* node = reader.find(weapon.id, found.key);
        faults.add(node != nullptr ? node->source() : entry.key->source(),
                   {where + found.key, found.message, found.allowed, {}, found.severity});
    }
}

void check_ammo(const WeaponSpec& weapon, const WeaponReader& reader, const SectionSource& kinds,
                Faults& faults) {
    if (weapon.ammo.empty() || kinds.entries.contains(weapon.ammo)) {
        return;
    }
    if (const toml::node* node = reader.find(weapon.id, "ammo")) {
        faults.add(node->source(),
                   {"weapon." + weapon.id + ".ammo", "names no ammo: \"" + data::printable(weapon.ammo) + '"',
                    "the id of an ammo, defined as [ammo.ID]", nearest_name(weapon.ammo, kinds.order)});
    }
}

// Gives every weapon its kind of ammunition, if there is room for all.
void check_kinds(Arsenal& arsenal, const Sections& sections, Faults& faults) {
    const bool fits = arsenal.ammo.size() <= most_ammo_kinds && assign_ammo(arsenal);
    if (!fits) {
        const SectionSource& last = sections.ammo.order.empty() ? sections.weapon : sections.ammo;
        faults.add(last.entries.at(last.order.back()).key->source(),
                   {last.name,
                    "there are too many kinds of ammunition, with those of weapons that name none",
                    "at most 64",
                    {}});
    }
}

Diagnostic unreadable(const std::filesystem::path& file, const std::string& why, const std::string& allowed) {
    return {Severity::error, file.string(), 0, 0, {}, why, allowed, {}};
}

} // namespace

Loaded<Arsenal> parse_arsenal(std::span<const ArsenalText> texts) {
    Faults faults;
    std::vector<toml::table> roots; // the sections point into them
    roots.reserve(texts.size());
    Sections sections;
    for (const ArsenalText& text : texts) {
        roots.push_back(text.text.size() <= data::most_file_bytes
                            ? data::parse_toml(text.text, text.name, faults)
                            : toml::table{});
        if (text.text.size() > data::most_file_bytes) {
            faults.add(text.name, {0, 0}, {{}, "the text is too large", "at most 4 MiB", {}});
        }
        gather_file(roots.back(), sections, faults);
        if (roots.back().empty() && texts.size() > 1 && !faults.has_errors()) {
            faults.add(text.name, {1, 1},
                       {{}, "there is nothing in this file", sections_allowed, {}, Severity::warning});
        }
    }
    Arsenal arsenal;
    data::SectionReader weapons{sections.weapon, data::weapon_keys(), faults};
    arsenal.weapons = weapons.read_all();
    arsenal.ammo = data::SectionReader{sections.ammo, data::ammo_keys(), faults}.read_all();
    for (const WeaponSpec& weapon : arsenal.weapons) {
        check_weapon(weapon, weapons, sections.weapon, faults);
        check_ammo(weapon, weapons, sections.ammo, faults);
    }
    check_kinds(arsenal, sections, faults);
    arsenal.bodies = data::SectionReader{sections.body, data::body_keys(), faults}.read_all();
    arsenal.surfaces = data::SectionReader{sections.surface, data::surface_keys(), faults}.read_all();
    check_multiplied_regions(sections.weapon, region_names(arsenal.bodies), faults);
    if (arsenal.weapons.empty() && arsenal.bodies.empty() && arsenal.ammo.empty() &&
        arsenal.surfaces.empty() && !faults.has_errors()) {
        faults.add(
            texts.empty() ? "(no file)" : texts.back().name, {1, 1},
            {{}, "the arsenal is empty", std::string{"at least one entry: "}.append(sections_allowed), {}});
    }
    Loaded<Arsenal> loaded;
    if (!faults.has_errors()) {
        loaded.value = std::move(arsenal);
    }
    loaded.diagnostics = faults.take();
    return loaded;
}

Loaded<Arsenal> parse_arsenal(std::string_view text, std::string_view name) {
    const ArsenalText only{std::string{name}, std::string{text}};
    return parse_arsenal(std::span{&only, 1});
}

Loaded<ArsenalText> read_arsenal_text(const std::filesystem::path& file) {
    Loaded<ArsenalText> loaded;
    std::error_code error;
    if (std::filesystem::is_directory(file, error)) {
        loaded.diagnostics.push_back(unreadable(file, "this is a directory", "a TOML file"));
        return loaded;
    }
    std::ifstream stream{file, std::ios::binary};
    std::string text(data::most_file_bytes + 1, '\0');
    stream.read(text.data(), static_cast<std::streamsize>(text.size()));
    if (!stream.is_open() || stream.bad()) {
        loaded.diagnostics.push_back(
            unreadable(file, std::string{"cannot be read: "} + std::strerror(errno), "a TOML file"));
        return loaded;
    }
    text.resize(static_cast<std::size_t>(stream.gcount()));
    if (text.size() > data::most_file_bytes) {
        loaded.diagnostics.push_back(unreadable(file, "the file is too large", "at most 4 MiB"));
        return loaded;
    }
    loaded.value = ArsenalText{file.string(), std::move(text)};
    return loaded;
}

Loaded<std::vector<ArsenalText>> read_arsenal_texts(std::span<const std::filesystem::path> files) {
    Loaded<std::vector<ArsenalText>> loaded;
    std::vector<ArsenalText> texts;
    for (const std::filesystem::path& file : files) {
        Loaded<ArsenalText> text = read_arsenal_text(file);
        if (text) {
            texts.push_back(std::move(*text));
        }
        loaded.diagnostics.insert(loaded.diagnostics.end(), text.diagnostics.begin(), text.diagnostics.end());
    }
    if (loaded.diagnostics.empty()) {
        loaded.value = std::move(texts);
    }
    return loaded;
}

Loaded<Arsenal> load_arsenal(std::span<const std::filesystem::path> files) {
    Loaded<std::vector<ArsenalText>> texts = read_arsenal_texts(files);
    if (!texts) {
        return {std::nullopt, std::move(texts.diagnostics)};
    }
    return parse_arsenal(*texts);
}

Loaded<Arsenal> load_arsenal(const std::filesystem::path& file) {
    return load_arsenal(std::span{&file, 1});
}

} // namespace avrek
