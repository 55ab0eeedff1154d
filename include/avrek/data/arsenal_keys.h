#pragma once
#include <avrek/arsenal/key_range.h>

#include <span>
#include <string>
#include <vector>

/// The keys of an arsenal file: the one table that the loader, the schema and the documentation share.
namespace avrek {

/// Type of a key's value.
enum class KeyType {
    integer,     ///< a whole number
    number,      ///< any number, in the key's unit
    flag,        ///< true or false
    word,        ///< one of the key's words
    words,       ///< a list of the key's words, or one alone
    entry_id,    ///< the id of another entry of the same section
    other_id,    ///< the id of an entry of the section that the key refers to
    other_ids,   ///< a list of such ids
    factors,     ///< a table of such ids and numbers
    text,        ///< a name
    curve,       ///< a list of [x, y] pairs, x rising
    pairs,       ///< a list of [x, y] pairs
    multipliers, ///< a table of region names and numbers
    point,       ///< [x, y, z]
    segment,     ///< [[x, y, z], [x, y, z]]
    turn,        ///< [yaw, pitch]
    shape,       ///< a table with the keys of the section named like it
    shapes,      ///< a list of tables with the keys of `body.region.shape`
    table,       ///< a table of entries with keys of their own
    group,       ///< a table with the keys of the section that is named like it
};

/// One key of one section.
struct KeyRule {
    /// "weapon", "weapon.spread", "ammo", "body", "body.region" and so on.
    std::string section;
    std::string name;
    KeyType type = KeyType::number;
    KeyRange range;                 ///< numbers; y of a curve; number of words
    std::string unit;               ///< such as "m"; empty where there is none
    bool required = false;          ///< there is no default
    std::string fallback;           ///< the default, as text
    std::string meaning;            ///< one line
    std::vector<std::string> words; ///< for word and words
    std::string refers;             ///< section of the ids, for ids and factors
};

/// Returns all keys of the loader, section by section.
std::vector<KeyRule> arsenal_keys();

/// Returns the allowed values of `rule` as text: "over 0 to 6000 rounds/min".
std::string allowed_text(const KeyRule& rule);

/// Returns the word for a type: "whole number".
std::string to_string(KeyType type);

/// Returns the JSON Schema (2020-12) of an arsenal file, for editors that complete and check TOML with it.
/// Ends in a newline.
std::string arsenal_schema();

} // namespace avrek
