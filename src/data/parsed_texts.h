#pragma once
#include "arsenal_sections.h"
#include <avrek/data/arsenal_toml.h>

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace avrek::detail {

/// The texts of an arsenal, parsed once. Arsenals are read from them again and again, each time with other
/// changes.
class ParsedTexts {
  public:
    explicit ParsedTexts(std::span<const ArsenalText> texts);
    ParsedTexts(const ParsedTexts&) = delete; // sections point into the tables
    ParsedTexts& operator=(const ParsedTexts&) = delete;

    /// Returns the texts as one table: a later text's value replaces an earlier one's, value by value.
    toml::table merged() const;

    /// Reads all specs once, so that later only sections with a change are read again.
    void keep_specs();

    /// Reads the arsenal, with one more table over the texts if it is not null.
    Loaded<Arsenal> read(const toml::table* changes = nullptr) const;

  private:
    std::vector<toml::table> roots_{}; ///< one for each text
    Sections sections_{};
    Faults faults_{};
    std::string last_name_{"(no file)"};
    std::optional<Arsenal> specs_{}; ///< without faults, and before references are resolved
};

} // namespace avrek::detail
