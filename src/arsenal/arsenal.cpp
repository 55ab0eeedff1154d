#include "own_reactions.h"
#include <avrek/arsenal/arsenal.h>

namespace avrek {

namespace {

template <class Id, class Spec>
std::optional<Id> id_of(const std::vector<Spec>& specs, std::string_view name) {
    for (std::size_t index = 0; index < specs.size(); ++index) {
        if (specs[index].id == name) {
            return static_cast<Id>(index);
        }
    }
    return std::nullopt;
}

} // namespace

bool assign_ammo(Arsenal& arsenal) {
    bool fits = true;
    for (WeaponSpec& weapon : arsenal.weapons) {
        const bool has_reserve = weapon.feed == AmmoFeed::magazine || weapon.feed == AmmoFeed::reserve;
        weapon.ammo.spec.reset();
        if (!has_reserve) {
            continue;
        }
        const std::string& name = weapon.ammo.id.empty() ? weapon.id : weapon.ammo.id;
        std::optional<AmmoId> type = arsenal.ammo_type(name);
        if (!type) {
            if (arsenal.ammo.size() >= max_ammo_kinds) {
                fits = false;
                continue;
            }
            type = static_cast<AmmoId>(arsenal.ammo.size());
            arsenal.ammo.push_back({.id = name});
        }
        weapon.ammo.spec = type;
        weapon.carry_limit = arsenal[*type].carry_limit;
    }
    return fits;
}

std::optional<ReactionClass> Arsenal::reaction(std::string_view name) const {
    for (std::size_t reaction = 0; reaction <= reaction_count; ++reaction) {
        const auto its_class = static_cast<ReactionClass>(reaction);
        if (!name.empty() && name == name_of(its_class)) {
            return its_class;
        }
    }
    return std::nullopt;
}

std::string_view Arsenal::name_of(ReactionClass reaction) const {
    if (reaction <= ReactionClass::heavy) {
        return to_string(reaction);
    }
    const std::vector<std::string_view> own = detail::own_reaction_names(bodies);
    const std::size_t index = static_cast<std::size_t>(reaction) - first_own_reaction;
    return index < own.size() ? own[index] : std::string_view{};
}

std::optional<WeaponId> Arsenal::weapon(std::string_view name) const {
    return id_of<WeaponId>(weapons, name);
}

std::optional<AmmoId> Arsenal::ammo_type(std::string_view name) const {
    return id_of<AmmoId>(ammo, name);
}

std::optional<BodySpecId> Arsenal::body(std::string_view name) const {
    return id_of<BodySpecId>(bodies, name);
}

std::optional<ProjectileId> Arsenal::projectile(std::string_view name) const {
    return id_of<ProjectileId>(projectiles, name);
}

std::optional<MeleeId> Arsenal::melee_weapon(std::string_view name) const {
    return id_of<MeleeId>(melee, name);
}

std::optional<DamageTypeId> Arsenal::damage_type(std::string_view name) const {
    return id_of<DamageTypeId>(damage_types, name);
}

std::optional<ConditionId> Arsenal::condition(std::string_view name) const {
    return id_of<ConditionId>(conditions, name);
}

std::optional<HazardId> Arsenal::hazard(std::string_view name) const {
    return id_of<HazardId>(hazards, name);
}

std::optional<PickupId> Arsenal::pickup(std::string_view name) const {
    return id_of<PickupId>(pickups, name);
}

std::optional<MatchId> Arsenal::match(std::string_view name) const {
    return id_of<MatchId>(matches, name);
}

std::optional<ShooterId> Arsenal::shooter(std::string_view name) const {
    return id_of<ShooterId>(shooters, name);
}

std::optional<LinkId> Arsenal::link(std::string_view name) const {
    return id_of<LinkId>(links, name);
}

std::optional<SurfaceId> Arsenal::surface(std::string_view name) const {
    const auto index = id_of<SurfaceId>(surfaces, name);
    return index ? std::optional{static_cast<SurfaceId>(to_index(*index) + 1)} : std::nullopt;
}

} // namespace avrek
