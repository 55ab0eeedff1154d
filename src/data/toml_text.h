#pragma once
#include "toml_file.h"

#include <map>
#include <string>

/// TOML as text.
namespace avrek::detail {

/// Appends the tables of an overlay, each under its name, values before tables.
void print_toml(const toml::table& table, const std::string& path, std::string& text);
/// Adds the text of every value in a node, by path.
void flatten(const toml::node& node, const std::string& path, std::map<std::string, std::string>& all);

} // namespace avrek::detail
