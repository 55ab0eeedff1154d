#include "arsenal_sections.h"

#include <avrek/arsenal/contradictions.h>
#include <avrek/data/nearest_name.h>

#include <algorithm>

namespace avrek::data {

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

// What values of one entry contradict each other, at the lines that give them.
template <class Spec>
void report(const std::vector<Contradiction>& contradictions, const std::string& id,
            const SectionReader<Spec>& reader, const SectionSource& section, Faults& faults) {
    for (const Contradiction& found : contradictions) {
        const toml::node* node = reader.find(id, found.key);
        faults.add(
            node != nullptr ? node->source() : section.entries.at(id).key->source(),
            {section.name + '.' + id + '.' + found.key, found.message, found.allowed, {}, found.severity});
    }
}

using WeaponReader = SectionReader<WeaponSpec>;

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
    report(find_contradictions(weapon), weapon.id, reader, section, faults);
}

// Whether what a weapon names in another section is there.
void check_named(const WeaponSpec& weapon, const char* key, const std::string& named,
                 const WeaponReader& reader, const SectionSource& section, Faults& faults) {
    if (named.empty() || section.entries.contains(named)) {
        return;
    }
    if (const toml::node* node = reader.find(weapon.id, key)) {
        faults.add(node->source(), {"weapon." + weapon.id + '.' + key,
                                    "names no " + section.name + ": \"" + printable(named) + '"',
                                    "the id of one, defined as [" + section.name + ".ID]",
                                    nearest_name(named, section.order)});
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

} // namespace

SectionSource* Sections::find(const std::string& name) {
    for (SectionSource* section : all()) {
        if (section->name == name) {
            return section;
        }
    }
    return nullptr;
}

std::vector<std::string> Sections::names() {
    std::vector<std::string> names;
    for (const SectionSource* section : all()) {
        names.push_back(section->name);
    }
    return names;
}

bool Sections::are_empty() {
    const auto sections = all();
    return std::all_of(sections.begin(), sections.end(),
                       [](const SectionSource* section) { return section->order.empty(); });
}

Arsenal read_sections(const Sections& sections, Faults& faults) {
    Arsenal arsenal;
    SectionReader weapons{sections.weapon, weapon_keys(), faults};
    arsenal.weapons = weapons.read_all();
    arsenal.ammo = SectionReader{sections.ammo, ammo_keys(), faults}.read_all();
    for (const WeaponSpec& weapon : arsenal.weapons) {
        check_weapon(weapon, weapons, sections.weapon, faults);
        check_named(weapon, "ammo", weapon.ammo, weapons, sections.ammo, faults);
        check_named(weapon, "projectile", weapon.projectile, weapons, sections.projectile, faults);
    }
    check_kinds(arsenal, sections, faults);
    SectionReader projectiles{sections.projectile, projectile_keys(), faults};
    arsenal.projectiles = projectiles.read_all();
    for (const ProjectileSpec& projectile : arsenal.projectiles) {
        if (projectiles.is_sound(projectile.id)) {
            report(find_contradictions(projectile), projectile.id, projectiles, sections.projectile, faults);
        }
    }
    arsenal.melee = SectionReader{sections.melee, melee_keys(), faults}.read_all();
    arsenal.bodies = SectionReader{sections.body, body_keys(), faults}.read_all();
    arsenal.surfaces = SectionReader{sections.surface, surface_keys(), faults}.read_all();
    const std::vector<std::string> regions = region_names(arsenal.bodies);
    check_multiplied_regions(sections.weapon, regions, faults);
    check_multiplied_regions(sections.melee, regions, faults);
    return arsenal;
}

} // namespace avrek::data
