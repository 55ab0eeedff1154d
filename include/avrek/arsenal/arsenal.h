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

/// Everything tunable of a game, in the order of its files. Ids are unique within each list. States refer to
/// the specs by index, so an arsenal does not change while a fight uses it. Load one from TOML, or fill it in
/// code and call assign_ammo() and resolve_references().
///
///     const auto arsenal = avrek::load_arsenal("data/halm-ring.toml"); // <avrek/data/arsenal_toml.h>
///     const avrek::WeaponSpec* rifle = find_weapon(*arsenal, "thorn-rifle");
struct Arsenal {
    std::vector<WeaponSpec> weapons{};
    std::vector<AmmoSpec> ammo{}; ///< at most `max_ammo_kinds`
    std::vector<BodySpec> bodies{};
    std::vector<SurfaceSpec> surfaces{}; ///< SurfaceId{n} is the n-th, counted from 1
    std::vector<ProjectileSpec> projectiles{};
    std::vector<MeleeSpec> melee{};
    std::vector<DamageTypeSpec> damage_types{};
    std::vector<ConditionSpec> conditions{}; ///< at most `max_condition_kinds`
    std::vector<HazardSpec> hazards{};
    std::vector<PickupSpec> pickups{};
    std::vector<MatchSpec> matches{};
    std::vector<ShooterSpec> shooters{};
    std::vector<LinkSpec> links{};
};

/// Maximum number of ammunition types, so that a combatant's reserves are plain data.
inline constexpr std::size_t max_ammo_kinds = 64;

/// Sets WeaponSpec::ammo_kind of every weapon. Adds the ammunition types that weapons use and the arsenal
/// lacks, without a carry limit: one per name, and one per weapon that names none but has a reserve. The
/// loader calls it. Returns false if there is no room for all; weapons without a type keep -1.
bool assign_ammo(Arsenal& arsenal);

/// Sets the index of every SpecRef, and copies the properties of damage types into effects and conditions.
/// The loader calls it. Returns false if a name is unknown, including the regions of multipliers; an unknown
/// reference keeps -1.
bool resolve_references(Arsenal& arsenal);

/// Returns the weapon with this id, or null.
const WeaponSpec* find_weapon(const Arsenal& arsenal, std::string_view id);

/// Returns the ammunition type with this id, or null.
const AmmoSpec* find_ammo(const Arsenal& arsenal, std::string_view id);

/// Returns the surface with this id, or none.
std::optional<SurfaceId> find_surface(const Arsenal& arsenal, std::string_view id);

/// Returns the projectile with this id, or null.
const ProjectileSpec* find_projectile(const Arsenal& arsenal, std::string_view id);

/// Returns the melee weapon with this id, or null.
const MeleeSpec* find_melee(const Arsenal& arsenal, std::string_view id);

/// Returns the body with this id, or null.
const BodySpec* find_body(const Arsenal& arsenal, std::string_view id);

/// Returns the condition with this id, or null.
const ConditionSpec* find_condition(const Arsenal& arsenal, std::string_view id);

/// Returns the hazard with this id, or null.
const HazardSpec* find_hazard(const Arsenal& arsenal, std::string_view id);

/// Returns the pickup with this id, or null.
const PickupSpec* find_pickup(const Arsenal& arsenal, std::string_view id);

/// Returns the match rules with this id, or null.
const MatchSpec* find_match(const Arsenal& arsenal, std::string_view id);

/// Returns the shooter profile with this id, or null.
const ShooterSpec* find_shooter(const Arsenal& arsenal, std::string_view id);

} // namespace avrek
