#pragma once
#include "section.h"

#include <string>
#include <string_view>
#include <vector>

namespace avrek::detail {

/// Sections of all files, in the order of visit_sections().
class Sections {
  public:
    Sections();

    /// The section of this name, or null.
    SectionSource* find(std::string_view name);
    /// The section of this name. Precondition: there is one.
    const SectionSource& at(std::string_view name) const;
    std::vector<std::string> names() const;
    bool are_empty() const;

    const std::vector<SectionSource>& all() const { return all_; }

  private:
    std::vector<SectionSource> all_{};
};

/// The sections of a file, as messages name them: "[weapon.ID], [ammo.ID]".
std::string sections_allowed();

/// Reads the specs of the sections, and reports what is wrong in them: of all, or only of those that
/// `changed` has, if it is not null.
void read_specs(const Sections& sections, Arsenal& arsenal, const toml::table* changed, Faults& faults);

/// Holds the specs of all sections to each other, reports what is wrong between them, and resolves their
/// references.
void finish_sections(const Sections& sections, Arsenal& arsenal, Faults& faults);

} // namespace avrek::detail
