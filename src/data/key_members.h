#pragma once
#include "../arsenal/keys/key_row.h"
#include "keys.h"
#include <avrek/arsenal/damage_type_spec.h>
#include <avrek/arsenal/reload_spec.h>
#include <avrek/arsenal/spec_ref.h>
#include <avrek/arsenal/spread_spec.h>
#include <avrek/core/units.h>

#include <string_view>
#include <type_traits>

/// The types of the members that a key can stand for: how each is written in a file.
namespace avrek::detail {

template <class Member>
inline constexpr bool is_word_list =
    std::is_same_v<Member, ActSet> || std::is_same_v<Member, Interruptions> ||
    std::is_same_v<Member, CollisionLayers>;
template <class Enum>
inline constexpr bool is_word_list<std::vector<Enum>> = std::is_enum_v<Enum>;

template <class Member>
inline constexpr bool is_reference = false;
template <class Id>
inline constexpr bool is_reference<SpecRef<Id>> = true;
template <class Member>
inline constexpr bool is_reference_list = false;
template <class Id>
inline constexpr bool is_reference_list<std::vector<SpecRef<Id>>> = true;

/// The type of a key by its member and its row.
template <class Member>
KeyType type_of(const KeyRow& row) {
    if constexpr (std::is_enum_v<Member>) {
        return KeyType::word;
    } else if constexpr (is_word_list<Member>) {
        return KeyType::words;
    } else if constexpr (std::is_same_v<Member, bool>) {
        return row.words.front().empty() ? KeyType::flag : KeyType::word;
    } else if constexpr (std::is_same_v<Member, std::int32_t>) {
        return KeyType::integer;
    } else if constexpr (std::is_same_v<Member, std::string>) {
        return *row.refers != '\0' ? KeyType::other_id : KeyType::text;
    } else if constexpr (is_reference<Member>) {
        return KeyType::other_id;
    } else if constexpr (is_reference_list<Member>) {
        return KeyType::other_ids;
    } else if constexpr (std::is_same_v<Member, std::vector<DamageTypeFactor>>) {
        return KeyType::factors;
    } else if constexpr (std::is_same_v<Member, std::vector<RegionMultiplier>>) {
        return KeyType::multipliers;
    } else if constexpr (std::is_same_v<Member, Curve>) {
        return KeyType::curve;
    } else if constexpr (std::is_same_v<Member, std::vector<Look>> ||
                         std::is_same_v<Member, std::vector<PatternPoint>>) {
        return KeyType::pairs;
    } else if constexpr (std::is_same_v<Member, Look> || std::is_same_v<Member, Rotation>) {
        return KeyType::turn;
    } else if constexpr (std::is_same_v<Member, Vector3>) {
        return KeyType::point;
    } else if constexpr (std::is_same_v<Member, Volume>) {
        return KeyType::shape;
    } else if constexpr (std::is_same_v<Member, RegionShapes>) {
        return KeyType::shapes;
    } else if constexpr (std::is_same_v<Member, JointName>) {
        return KeyType::text;
    } else {
        return KeyType::number;
    }
}

/// The rule of a key, but for its default.
template <class Member>
KeyRule rule_of(const std::string& section, const char* name, const KeyRow& row, const char* meaning) {
    KeyRule made{section,  name,         type_of<Member>(row), row.range,
                 row.unit, row.required, row.otherwise,        meaning,
                 {},       row.refers};
    for (const std::string_view word : row.words) {
        if (!word.empty()) {
            made.words.emplace_back(word);
        }
    }
    return made;
}

} // namespace avrek::detail
