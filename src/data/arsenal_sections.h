#pragma once
#include "section.h"

#include <array>

namespace avrek::data {

/// What all files say, by section.
struct Sections {
    SectionSource weapon{"weapon", {}, {}};
    SectionSource ammo{"ammo", {}, {}};
    SectionSource projectile{"projectile", {}, {}};
    SectionSource melee{"melee", {}, {}};
    SectionSource body{"body", {}, {}};
    SectionSource surface{"surface", {}, {}};

    /// The section of this name, or null.
    SectionSource* find(const std::string& name);
    std::vector<std::string> names();
    bool are_empty();

  private:
    std::array<SectionSource*, 6> all() { return {&weapon, &ammo, &projectile, &melee, &body, &surface}; }
};

inline constexpr const char* sections_allowed =
    "[weapon.ID], [ammo.ID], [projectile.ID], [melee.ID], [body.ID], [surface.ID]";

/// Reads the specs of all sections, and reports what is wrong in them and between them.
Arsenal read_sections(const Sections& sections, Faults& faults);

} // namespace avrek::data
