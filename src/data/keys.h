#pragma once
#include "faults.h"
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/shapes.h>
#include <avrek/data/arsenal_keys.h>

#include <toml++/toml.h>

#include <optional>
#include <string>
#include <vector>

namespace avrek::detail {

/// Makes a rule of its parts. Without a `fallback` the key is required.
KeyRule rule(std::string section, std::string name, KeyType type, KeyRange range, std::string unit,
             std::string fallback, std::string meaning);

/// The keys of one solid. They are rules alone: which go together decides what shape it is.
const std::vector<KeyRule>& solid_rules();

/// The keys of one shape of a body: those of a solid, and its joint.
const std::vector<KeyRule>& shape_rules();

/// The same for shapes up to `reach` from the origin; `with_planes`, also everything behind a plane.
std::vector<KeyRule> make_shape_rules(const std::string& section, Metres reach, bool with_planes);

/// The shape that a table describes by `rules`, which are shape rules; other keys are not looked at.
std::optional<Shape> read_shape(const toml::table& table, const std::string& where,
                                const std::vector<KeyRule>& rules, Faults& faults);

/// The keys of the volume of a hazard, and the volume that a table describes by them.
const std::vector<KeyRule>& hazard_shape_rules();
std::optional<Volume> read_volume(const toml::table& table, const std::string& where, Faults& faults);

/// Reports every key of `table` that is not among `names`.
void check_key_names(const toml::table& table, const std::string& where,
                     const std::vector<std::string>& names, Faults& faults);
void check_key_names(const toml::table& table, const std::string& where, const std::vector<KeyRule>& rules,
                     Faults& faults);

} // namespace avrek::detail
