#pragma once
#include "faults.h"

#include <string_view>
#include <utility>
#include <vector>

namespace avrek::detail {

/// The most bytes that a file of an arsenal may have.
inline constexpr std::size_t max_file_bytes = 4U << 20U;

/// Parses `text` of the file `name` and reports what is not TOML, statement by statement: after a fault the
/// statement around it is left out and the rest is read, so that one slip does not hide the others. The table
/// holds all that could be read; its nodes know their place.
toml::table parse_toml(std::string_view text, std::string_view name, Faults& faults);

/// The entries of a table in the order in which they stand in the file.
std::vector<std::pair<const toml::key*, const toml::node*>> in_file_order(const toml::table& table);

} // namespace avrek::detail
