#pragma once
#include "toml_file.h"

#include <map>
#include <string>
#include <string_view>

/// TOML as text.
namespace avrek::detail {

/// Returns a key as it stands in a file, in quotes if it needs them.
std::string key_text(std::string_view key);
/// Returns a value as it could stand in a file, on one line.
std::string value_text(const toml::node& node);
/// Appends the tables of an overlay, each under its name, values before tables.
void print_toml(const toml::table& table, const std::string& path, std::string& text);
/// Adds the text of every value in a node, by path.
void flatten(const toml::node& node, const std::string& path, std::map<std::string, std::string>& all);

} // namespace avrek::detail
