#pragma once
#include <avrek/arsenal/acts.h>
#include <avrek/arsenal/body_spec.h>
#include <avrek/arsenal/key_range.h>
#include <avrek/core/collision_layers.h>
#include <avrek/core/units.h>

#include <array>
#include <cstdint>
#include <limits>
#include <string_view>
#include <vector>

/// The rows of an arsenal's keys: the one place that names a key, its member, unit, range and meaning.
///
/// Each spec has a function visit_keys() that calls a visitor once for each key. Loader, schema, reference
/// and hash are such visitors:
///
///     template <class Keys>
///     void visit_keys(Keys& key, AmmoSpec& spec) {
///         key("carry_limit", spec.carry_limit, {.unit = "rounds", .range = {0.0, 1e5}}, "Maximum rounds
///         ...");
///     }
///
/// The type of the member decides how a value is written: seconds for a Duration, one of the row's words for
/// an enumeration. A unit that begins with "degrees" stands for radians in the spec. The default is the
/// member's own.
namespace avrek::detail {

/// The words of a key, in order of the values that they stand for; the rest is empty.
using KeyWords = std::array<std::string_view, 8>;

/// The rest of a row, beside name, member and meaning.
struct KeyRow {
    const char* unit = "";
    KeyRange range{};           ///< numbers; y of a curve; number of words
    bool required = false;      ///< there is no default
    const char* otherwise = ""; ///< the default in words, where its value does not say it
    const char* refers = "";    ///< section of the ids
    KeyWords words{};
    std::uint8_t first_word = 0; ///< the value of the first word
};

inline constexpr KeyRow factor{.range = {0.0, 100.0}};
inline constexpr KeyRow share{.range = {0.0, 1.0}};
inline constexpr KeyRow seconds{.unit = "s", .range = {0.0, 60.0}};
inline constexpr KeyRow some_seconds{.unit = "s", .range = {0.0, 60.0, true}}; ///< over 0

/// A row with a default in words.
constexpr KeyRow default_is(const char* otherwise, KeyRow row) {
    row.otherwise = otherwise;
    return row;
}

/// The words of an enumeration, as to_string() has them: `count` values from `first` on.
template <class Enum>
KeyWords words_of(std::size_t count, std::size_t first = 0) {
    KeyWords words;
    for (std::size_t word = 0; word < count; ++word) {
        words[word] = to_string(static_cast<Enum>(first + word));
    }
    return words;
}

/// Radians in the spec for each unit in a file: less than 1 for degrees, else 1.
inline double scale_of(const KeyRow& row) {
    return std::string_view{row.unit}.starts_with("degrees") ? from_degrees(1.0) : 1.0;
}

/// A region's joint, which files name.
struct JointName {
    std::uint32_t& joint; ///< as in RegionSpec
    const std::vector<JointSpec>& joints;
};

/// The shapes of a region; each may name a joint of its own.
struct RegionShapes {
    std::vector<Shape>& shapes;
    std::vector<std::uint32_t>& joints; ///< as in RegionSpec
    const std::vector<JointSpec>& rig_joints;
};

/// Up to `max` named tables of a spec.
struct KeyTables {
    const char* entry; ///< "defence layer"
    std::size_t max;
    bool required = false;
};

} // namespace avrek::detail
