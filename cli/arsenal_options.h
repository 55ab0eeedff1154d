#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/data/arsenal_toml.h>

#include <string>
#include <vector>

/// From the words of a command line to the arsenal and the entries they name.
namespace avrek::cli {

/// The ids of these entries.
template <class Spec>
std::vector<std::string> ids_of(const std::vector<Spec>& specs) {
    std::vector<std::string> ids;
    ids.reserve(specs.size());
    for (const Spec& spec : specs) {
        ids.push_back(spec.id);
    }
    return ids;
}

/// The words that name arsenal files (they end in .toml) or changes of sessions, in order.
std::vector<std::string> files_among(const std::vector<std::string>& words);

/// The other words.
std::vector<std::string> ids_among(const std::vector<std::string>& words);

/// The texts of these files, or of the shipped arsenal if there are none. A change of a session replaces the
/// texts before it. Throws WrongCall when one cannot be read.
std::vector<ArsenalText> arsenal_texts(const std::vector<std::string>& files);

/// Adds the texts of these files as arsenal_texts() does.
void add_texts(std::vector<ArsenalText>& texts, const std::vector<std::string>& files);

/// The arsenal of these files, or the shipped one; warnings go to standard error. Throws WrongCall on errors.
Arsenal arsenal_of(const std::vector<std::string>& files);

/// The weapons with these ids, or all of the arsenal's. Throws WrongCall for an unknown id, and when there is
/// none.
std::vector<const WeaponSpec*> weapons_of(const Arsenal& arsenal, const std::vector<std::string>& ids);

/// The one weapon that is named, or the arsenal's first. Throws WrongCall for an unknown id, for more than
/// one, and when there is none.
const WeaponSpec& one_weapon_of(const Arsenal& arsenal, const std::vector<std::string>& ids);

/// Weapon or melee weapon of a command; one of the two is set.
struct Fired {
    const WeaponSpec* weapon = nullptr;
    const MeleeSpec* melee = nullptr;
};

/// Returns the named weapon or melee weapon, or the arsenal's first weapon if none is named. Throws WrongCall
/// as one_weapon_of() does.
Fired fired_of(const Arsenal& arsenal, const std::vector<std::string>& ids);

/// The attack of a blade with this name; its first with an empty one. Throws WrongCall when there is none.
std::size_t attack_named(const MeleeSpec& melee, const std::string& name);

/// The body with this id; with an empty one, the arsenal's first. Throws WrongCall when there is none.
const BodySpec& body_of(const Arsenal& arsenal, const std::string& id);

/// The region of a body with this name. Throws WrongCall when there is none.
RegionId region_named(const BodySpec& body, const std::string& name);

} // namespace avrek::cli
