#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/arsenal/weapon_spec.h>

#include <string_view>
#include <vector>

namespace avrek {

/// Everything tunable of a game, in the order of its files. Immutable once loaded: states refer to its specs.
struct Arsenal {
    std::vector<WeaponSpec> weapons; ///< ids are unique
    std::vector<BodySpec> bodies;    ///< ids are unique
};

/// The weapon with this id, or null.
const WeaponSpec* find_weapon(const Arsenal& arsenal, std::string_view id);

/// The body with this id, or null.
const BodySpec* find_body(const Arsenal& arsenal, std::string_view id);

} // namespace avrek
