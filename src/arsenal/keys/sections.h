#pragma once
#include "body_keys.h"
#include "life_keys.h"
#include "match_keys.h"
#include "projectile_keys.h"
#include "weapon_keys.h"
#include <avrek/arsenal/arsenal.h>

namespace avrek::detail {

/// The sections of an arsenal: calls `section(name, specs)` for each. A new section is one line here.
template <class Sections, class AnyArsenal>
void visit_sections(Sections&& section, AnyArsenal& arsenal) {
    section("weapon", arsenal.weapons);
    section("ammo", arsenal.ammo);
    section("projectile", arsenal.projectiles);
    section("melee", arsenal.melee);
    section("body", arsenal.bodies);
    section("surface", arsenal.surfaces);
    section("damage", arsenal.damage_types);
    section("condition", arsenal.conditions);
    section("hazard", arsenal.hazards);
    section("pickup", arsenal.pickups);
    section("match", arsenal.matches);
    section("shooter", arsenal.shooters);
    section("link", arsenal.links);
}

} // namespace avrek::detail
