#pragma once
#include "section.h"

#include <array>

namespace avrek::detail {

/// Sections of all files.
struct Sections {
    SectionSource weapon{"weapon", {}, {}};
    SectionSource ammo{"ammo", {}, {}};
    SectionSource projectile{"projectile", {}, {}};
    SectionSource melee{"melee", {}, {}};
    SectionSource body{"body", {}, {}};
    SectionSource surface{"surface", {}, {}};
    SectionSource damage{"damage", {}, {}};
    SectionSource condition{"condition", {}, {}};
    SectionSource hazard{"hazard", {}, {}};
    SectionSource pickup{"pickup", {}, {}};
    SectionSource match{"match", {}, {}};
    SectionSource shooter{"shooter", {}, {}};
    SectionSource link{"link", {}, {}};

    /// The section of this name, or null.
    SectionSource* find(const std::string& name);
    std::vector<std::string> names() const;
    bool are_empty() const;

    std::array<const SectionSource*, 13> all() const {
        return {&weapon,    &ammo,   &projectile, &melee, &body,    &surface, &damage,
                &condition, &hazard, &pickup,     &match, &shooter, &link};
    }
};

inline constexpr const char* sections_allowed =
    "[weapon.ID], [ammo.ID], [projectile.ID], [melee.ID], "
    "[body.ID], [surface.ID], [damage.ID], [condition.ID], "
    "[hazard.ID], [pickup.ID], [match.ID], [shooter.ID], [link.ID]";

/// Reads the specs of all sections, and reports what is wrong in them and between them.
Arsenal read_sections(const Sections& sections, Faults& faults);

} // namespace avrek::detail
