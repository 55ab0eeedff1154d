#pragma once
#include "toml_file.h"
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_keys.h>

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// Paths to numbers of an arsenal, such as "weapon.thorn-rifle.falloff[2].y".
namespace avrek::detail {

/// Place of a number: its key, and where in the value it is.
struct ValuePlace {
    KeyRule rule{};
    std::vector<std::string> table{}; ///< where the key stands
    std::string key{};
    std::string inner{};   ///< a region, of multipliers
    std::size_t point = 0; ///< point of a curve, counted from 0
    std::size_t axis = 0;  ///< 0 for x
    bool in_curve = false;
};

/// Fault of a path.
struct WrongPath {
    std::string what;
    std::vector<std::string> known;
    std::string found;
};

/// Returns the parts of a path. "falloff[2].y" is the parts "falloff", "[2]" and "y".
std::vector<std::string> parts_of_path(std::string_view path);
/// Returns the table at a path, or null.
const toml::table* table_at(const toml::table& root, const std::vector<std::string>& path);
/// Follows a path through the sections. Returns no place and sets `wrong` if it leads to no number.
std::optional<ValuePlace> place_of(const toml::table& root, const std::string& path, WrongPath& wrong);
/// Returns the node of a key: in its table, in one that it is like, or null.
const toml::node* node_of(const toml::table& root, const ValuePlace& place);
/// Returns the value at a place, or its default, or none.
std::optional<double> value_at(const toml::table& root, const ValuePlace& place);
/// Returns a diagnostic for a path.
Diagnostic fault_of(const std::string& path, const WrongPath& wrong);
/// Appends the paths of all single numbers that a table of a section can have, and its groups that are there.
void list_keys(const toml::table& table, const std::string& section, const std::string& path,
               std::vector<std::string>& paths);
/// Appends the paths of all numbers in a node.
void list_numbers(const toml::node& node, const std::string& path, std::vector<std::string>& paths);

} // namespace avrek::detail
