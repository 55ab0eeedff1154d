#pragma once
#include "faults.h"
#include <avrek/core/curve.h>
#include <avrek/core/vectors.h>
#include <avrek/data/arsenal_keys.h>

#include <toml++/toml.h>

#include <cstdint>
#include <optional>
#include <string>

/// Readers of single values: each returns the value when `rule` allows it, and reports it otherwise.
namespace avrek::data {

std::optional<double> read_number(const toml::node& node, const std::string& where, const KeyRule& rule,
                                  Faults& faults);
std::optional<std::int32_t> read_integer(const toml::node& node, const std::string& where,
                                         const KeyRule& rule, Faults& faults);
/// The place of the value among `rule.words`.
std::optional<std::size_t> read_word(const toml::node& node, const std::string& where, const KeyRule& rule,
                                     Faults& faults);
std::optional<Vector3> read_point(const toml::node& node, const std::string& where, const KeyRule& rule,
                                  Faults& faults);
/// A curve with x in [0, 1e5], strictly rising, of 1 to 64 points.
std::optional<Curve> read_curve(const toml::node& node, const std::string& where, const KeyRule& rule,
                                Faults& faults);

/// Reports that a value has the wrong type or is out of range.
void refuse(const toml::node& node, const std::string& where, const KeyRule& rule, Faults& faults);

/// Whether `id` may name an entry or a region: lower-case letters, digits and single dashes, a letter first,
/// at most 64 characters.
bool is_id(std::string_view id);

/// What is_id() allows, as text.
inline constexpr const char* id_allowed =
    "lower-case letters, digits and dashes, a letter first, at most 64 characters";

} // namespace avrek::data
