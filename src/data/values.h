#pragma once
#include "faults.h"
#include <avrek/arsenal/region_multiplier.h>
#include <avrek/core/curve.h>
#include <avrek/core/vectors.h>
#include <avrek/data/arsenal_keys.h>

#include <toml++/toml.h>

#include <cstdint>
#include <optional>
#include <string>
#include <utility>
#include <vector>

/// Readers of single values: each returns the value when `rule` allows it, and reports it otherwise.
namespace avrek::detail {

std::optional<double> read_number(const toml::node& node, const std::string& where, const KeyRule& rule,
                                  Faults& faults);
std::optional<std::int32_t> read_integer(const toml::node& node, const std::string& where,
                                         const KeyRule& rule, Faults& faults);
std::optional<bool> read_flag(const toml::node& node, const std::string& where, const KeyRule& rule,
                              Faults& faults);
/// The places of the values among `rule.words`: of a list, or of one word alone.
std::optional<std::vector<std::size_t>> read_words(const toml::node& node, const std::string& where,
                                                   const KeyRule& rule, Faults& faults);
/// An id that is in the section `rule.refers`.
std::optional<std::string> read_other(const toml::node& node, const std::string& where, const KeyRule& rule,
                                      Faults& faults);
/// A list of up to 64 of them.
std::optional<std::vector<std::string>> read_others(const toml::node& node, const std::string& where,
                                                    const KeyRule& rule, Faults& faults);
/// A table of such ids and numbers in the rule's range.
std::optional<std::vector<std::pair<std::string, double>>>
read_factors(const toml::node& node, const std::string& where, const KeyRule& rule, Faults& faults);
/// A name that is_id() allows.
std::optional<std::string> read_name(const toml::node& node, const std::string& where, const KeyRule& rule,
                                     Faults& faults);
/// The place of the value among `rule.words`.
std::optional<std::size_t> read_word(const toml::node& node, const std::string& where, const KeyRule& rule,
                                     Faults& faults);
std::optional<Vector3> read_point(const toml::node& node, const std::string& where, const KeyRule& rule,
                                  Faults& faults);
/// A curve with x in [0, 1e5], strictly rising, of 1 to 64 points.
std::optional<Curve> read_curve(const toml::node& node, const std::string& where, const KeyRule& rule,
                                Faults& faults);

/// Up to 1000 pairs, each number in the rule's range.
std::optional<std::vector<CurvePoint>> read_pairs(const toml::node& node, const std::string& where,
                                                  const KeyRule& rule, Faults& faults);
/// One pair, each number in the rule's range.
std::optional<CurvePoint> read_pair(const toml::node& node, const std::string& where, const KeyRule& rule,
                                    Faults& faults);

/// Reads a table of region names and multipliers over those in `multipliers`.
void read_multipliers(const toml::node& node, const std::string& where, const KeyRule& rule,
                      std::vector<RegionMultiplier>& multipliers, Faults& faults);

/// Reports that a value has the wrong type or is out of range.
void refuse(const toml::node& node, const std::string& where, const KeyRule& rule, Faults& faults);

/// Whether `id` may name an entry or a region: lower-case letters, digits and single dashes, a letter first,
/// at most 64 characters.
bool is_id(std::string_view id);

/// Rule of is_id(), as text.
inline constexpr const char* id_allowed =
    "lower-case letters, digits and dashes, a letter first, at most 64 characters";

} // namespace avrek::detail
