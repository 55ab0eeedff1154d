#include "arsenal_sections.h"

#include <avrek/arsenal/validate.h>
#include <avrek/data/nearest_name.h>

#include <algorithm>

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

using WeaponReader = SectionReader<WeaponSpec>;

// Checks a weapon's values together: keys that its feed needs, and values that exclude each other.
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
    report(validate(weapon), weapon.id, reader, section, faults);
}

// Gives every weapon its kind of ammunition, if there is room for all.
void check_kinds(Arsenal& arsenal, const Sections& sections, Faults& faults) {
    const bool fits = arsenal.ammo.size() <= max_ammo_kinds && assign_ammo(arsenal);
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
    for (SectionSource* section : {&weapon, &ammo, &projectile, &melee, &body, &surface, &damage, &condition,
                                   &hazard, &pickup, &match, &shooter, &link}) {
        if (section->name == name) {
            return section;
        }
    }
    return nullptr;
}

std::vector<std::string> Sections::names() const {
    std::vector<std::string> names;
    for (const SectionSource* section : all()) {
        names.push_back(section->name);
    }
    return names;
}

bool Sections::are_empty() const {
    const auto sections = all();
    return std::all_of(sections.begin(), sections.end(),
                       [](const SectionSource* section) { return section->order.empty(); });
}

namespace {

// Reads a section, and holds the values of each entry to each other.
template <class Spec>
std::vector<Spec> read_checked(const SectionSource& section, const std::vector<Key<Spec>>& keys,
                               Faults& faults) {
    SectionReader reader{section, keys, faults};
    std::vector<Spec> specs = reader.read_all();
    for (const Spec& spec : specs) {
        if (reader.is_sound(spec.id)) {
            report(validate(spec), spec.id, reader, section, faults);
        }
    }
    return specs;
}

std::vector<WeaponSpec> read_weapons(const SectionSource& section, Faults& faults) {
    SectionReader reader{section, weapon_keys(), faults};
    std::vector<WeaponSpec> weapons = reader.read_all();
    for (const WeaponSpec& weapon : weapons) {
        check_weapon(weapon, reader, section, faults);
    }
    return weapons;
}

std::vector<BodySpec> read_bodies(const SectionSource& section, Faults& faults) {
    std::vector<BodySpec> bodies = read_checked(section, body_keys(), faults);
    for (BodySpec& body : bodies) {
        std::stable_sort(
            body.defence.begin(), body.defence.end(),
            [](const DefenceLayerSpec& a, const DefenceLayerSpec& b) { return a.depth < b.depth; });
    }
    return bodies;
}

// A condition is one bit of a word.
void check_condition_count(const Arsenal& arsenal, const SectionSource& section, Faults& faults) {
    if (arsenal.conditions.size() > max_condition_kinds) {
        faults.add(section.entries.at(section.order[max_condition_kinds]).key->source(),
                   {section.name, "there are too many conditions", "at most 64", {}});
    }
}

} // namespace

Arsenal read_sections(const Sections& sections, Faults& faults) {
    for (const SectionSource* section : sections.all()) {
        faults.know(section->name, section->order);
    }
    Arsenal arsenal;
    arsenal.weapons = read_weapons(sections.weapon, faults);
    arsenal.ammo = SectionReader{sections.ammo, ammo_keys(), faults}.read_all();
    check_kinds(arsenal, sections, faults);
    arsenal.projectiles = read_checked(sections.projectile, projectile_keys(), faults);
    arsenal.melee = SectionReader{sections.melee, melee_keys(), faults}.read_all();
    arsenal.bodies = read_bodies(sections.body, faults);
    arsenal.surfaces = SectionReader{sections.surface, surface_keys(), faults}.read_all();
    arsenal.damage_types = SectionReader{sections.damage, damage_type_keys(), faults}.read_all();
    arsenal.conditions = read_checked(sections.condition, condition_keys(), faults);
    arsenal.hazards = read_checked(sections.hazard, hazard_keys(), faults);
    arsenal.pickups = read_checked(sections.pickup, pickup_keys(), faults);
    arsenal.matches = read_checked(sections.match, match_keys(), faults);
    arsenal.shooters = SectionReader{sections.shooter, shooter_keys(), faults}.read_all();
    arsenal.links = SectionReader{sections.link, link_keys(), faults}.read_all();
    check_condition_count(arsenal, sections.condition, faults);
    resolve_references(arsenal);
    const std::vector<std::string> regions = region_names(arsenal.bodies);
    check_multiplied_regions(sections.weapon, regions, faults);
    check_multiplied_regions(sections.melee, regions, faults);
    return arsenal;
}

} // namespace avrek::detail
