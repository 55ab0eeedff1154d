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
/// the specs by index, so an arsenal does not change while a fight uses it: Skirmish::retune() takes a fight
/// over to another one. Load one from TOML, or fill it in
/// code and call assign_ammo() and resolve_references().
///
///     const auto arsenal = avrek::load_arsenal("data/halm-ring.toml"); // <avrek/data/arsenal_toml.h>
///     const avrek::WeaponId rifle = arsenal->weapon("thorn-rifle").value();
///     const double damage = (*arsenal)[rifle].damage;
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

    /// @{ Returns the spec of an id of this arsenal.
    const WeaponSpec& operator[](WeaponId id) const { return weapons[to_index(id)]; }
    const AmmoSpec& operator[](AmmoId id) const { return ammo[to_index(id)]; }
    const BodySpec& operator[](BodySpecId id) const { return bodies[to_index(id)]; }
    const ProjectileSpec& operator[](ProjectileId id) const { return projectiles[to_index(id)]; }
    const MeleeSpec& operator[](MeleeId id) const { return melee[to_index(id)]; }
    const DamageTypeSpec& operator[](DamageTypeId id) const { return damage_types[to_index(id)]; }
    const ConditionSpec& operator[](ConditionId id) const { return conditions[to_index(id)]; }
    const HazardSpec& operator[](HazardId id) const { return hazards[to_index(id)]; }
    const PickupSpec& operator[](PickupId id) const { return pickups[to_index(id)]; }
    const MatchSpec& operator[](MatchId id) const { return matches[to_index(id)]; }
    const ShooterSpec& operator[](ShooterId id) const { return shooters[to_index(id)]; }
    const LinkSpec& operator[](LinkId id) const { return links[to_index(id)]; }
    /// @}

    /// @{ Returns the id of the entry with this name in the file, or none.
    std::optional<WeaponId> weapon(std::string_view name) const;
    std::optional<AmmoId> ammo_type(std::string_view name) const;
    std::optional<BodySpecId> body(std::string_view name) const;
    std::optional<SurfaceId> surface(std::string_view name) const;
    std::optional<ProjectileId> projectile(std::string_view name) const;
    std::optional<MeleeId> melee_weapon(std::string_view name) const;
    std::optional<DamageTypeId> damage_type(std::string_view name) const;
    std::optional<ConditionId> condition(std::string_view name) const;
    std::optional<HazardId> hazard(std::string_view name) const;
    std::optional<PickupId> pickup(std::string_view name) const;
    std::optional<MatchId> match(std::string_view name) const;
    std::optional<ShooterId> shooter(std::string_view name) const;
    std::optional<LinkId> link(std::string_view name) const;
    /// @}

    /// Returns the class of a reaction: "none", "light", "heavy", or the name of one that bodies have of
    /// their own; none if no body has it.
    std::optional<ReactionClass> reaction(std::string_view name) const;
    /// Returns the name of a class of reactions; empty if no body has it.
    std::string_view name_of(ReactionClass reaction) const;
};

/// Maximum number of ammunition types, so that a combatant's reserves are plain data.
inline constexpr std::size_t max_ammo_kinds = 64;

/// Sets the ammunition type of every weapon. Adds the ammunition types that weapons use and the arsenal
/// lacks, without a carry limit: one per name, and one per weapon that names none but has a reserve. The
/// loader calls it. Returns false if there is no room for all; weapons without a type keep none.
bool assign_ammo(Arsenal& arsenal);

/// Sets SpecRef::spec everywhere, and copies the properties of damage types into effects and conditions.
/// The loader calls it. Returns false if a name is unknown, including the regions of multipliers; an unknown
/// reference keeps none.
bool resolve_references(Arsenal& arsenal);

/// Returns the entry of a list with this name, or null: `find(arsenal.weapons, "thorn-rifle")`.
template <class Spec>
const Spec* find(const std::vector<Spec>& specs, std::string_view name) {
    for (const Spec& spec : specs) {
        if (spec.id == name) {
            return &spec;
        }
    }
    return nullptr;
}

} // namespace avrek
