#pragma once
#include <avrek/arsenal/ammo_spec.h>
#include <avrek/arsenal/body_spec.h>
#include <avrek/arsenal/condition_spec.h>
#include <avrek/arsenal/damage_type_spec.h>
#include <avrek/arsenal/hazard_spec.h>
#include <avrek/arsenal/link_spec.h>
#include <avrek/arsenal/match_spec.h>
#include <avrek/arsenal/melee_spec.h>
#include <avrek/arsenal/pickup_spec.h>
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/arsenal/shooter_spec.h>
#include <avrek/arsenal/surface_spec.h>
#include <avrek/arsenal/weapon_spec.h>

#include <cstddef>
#include <optional>
#include <string_view>
#include <vector>

namespace avrek {

/// Everything tunable of a game, in the order of its files. Immutable once loaded: states refer to its specs.
struct Arsenal {
    std::vector<WeaponSpec> weapons{};          ///< ids are unique
    std::vector<AmmoSpec> ammo{};               ///< ids are unique, at most `max_ammo_kinds`
    std::vector<BodySpec> bodies{};             ///< ids are unique
    std::vector<SurfaceSpec> surfaces{};        ///< ids are unique; SurfaceId{n} is the n-th, counted from 1
    std::vector<ProjectileSpec> projectiles{};  ///< ids are unique
    std::vector<MeleeSpec> melee{};             ///< ids are unique
    std::vector<DamageTypeSpec> damage_types{}; ///< ids are unique
    std::vector<ConditionSpec> conditions{};    ///< ids are unique, at most `max_condition_kinds`
    std::vector<HazardSpec> hazards{};          ///< ids are unique
    std::vector<PickupSpec> pickups{};          ///< ids are unique
    std::vector<MatchSpec> matches{};           ///< ids are unique
    std::vector<ShooterSpec> shooters{};        ///< ids are unique
    std::vector<LinkSpec> links{};              ///< ids are unique
};

/// No arsenal has more kinds of ammunition, so that what a combatant carries is plain data.
inline constexpr std::size_t max_ammo_kinds = 64;

/// Sets WeaponSpec::ammo_kind of every weapon, and adds the kinds that weapons use and the arsenal lacks,
/// without a carry limit: the ones that they name, and one named as the weapon for each that names none but
/// has a reserve to draw on. The loader has done it. Returns whether there was room for all; a weapon that
/// found none keeps -1.
bool assign_ammo(Arsenal& arsenal);

/// Gives every SpecRef its place, and every effect and condition what its kind of damage says. The loader
/// has done it. Returns whether all that is named was there, regions of multipliers too; a name that was not
/// keeps -1, and a multiplier for a region that no body has never counts.
bool resolve_references(Arsenal& arsenal);

/// The weapon with this id, or null.
const WeaponSpec* find_weapon(const Arsenal& arsenal, std::string_view id);

/// The kind of ammunition with this id, or null.
const AmmoSpec* find_ammo(const Arsenal& arsenal, std::string_view id);

/// The surface with this id, if there is one.
std::optional<SurfaceId> find_surface(const Arsenal& arsenal, std::string_view id);

/// The projectile with this id, or null.
const ProjectileSpec* find_projectile(const Arsenal& arsenal, std::string_view id);

/// What is struck with and has this id, or null.
const MeleeSpec* find_melee(const Arsenal& arsenal, std::string_view id);

/// The body with this id, or null.
const BodySpec* find_body(const Arsenal& arsenal, std::string_view id);

/// The condition with this id, or null.
const ConditionSpec* find_condition(const Arsenal& arsenal, std::string_view id);

/// The hazard with this id, or null.
const HazardSpec* find_hazard(const Arsenal& arsenal, std::string_view id);

/// The pickup with this id, or null.
const PickupSpec* find_pickup(const Arsenal& arsenal, std::string_view id);

/// The rules with this id, or null.
const MatchSpec* find_match(const Arsenal& arsenal, std::string_view id);

/// The shooter with this id, or null.
const ShooterSpec* find_shooter(const Arsenal& arsenal, std::string_view id);

} // namespace avrek
