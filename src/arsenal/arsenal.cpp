#include <avrek/arsenal/arsenal.h>

namespace avrek {

namespace {

template <class Spec>
const Spec* find_by_id(const std::vector<Spec>& specs, std::string_view id) {
    for (const Spec& spec : specs) {
        if (spec.id == id) {
            return &spec;
        }
    }
    return nullptr;
}

} // namespace

bool assign_ammo(Arsenal& arsenal) {
    bool fits = true;
    for (WeaponSpec& weapon : arsenal.weapons) {
        const bool has_reserve = weapon.feed == AmmoFeed::magazine || weapon.feed == AmmoFeed::reserve;
        weapon.ammo_kind = -1;
        if (!has_reserve) {
            continue;
        }
        const std::string& id = weapon.ammo.empty() ? weapon.id : weapon.ammo;
        const AmmoSpec* kind = find_ammo(arsenal, id);
        if (kind == nullptr) {
            if (arsenal.ammo.size() >= max_ammo_kinds) {
                fits = false;
                continue;
            }
            kind = &arsenal.ammo.emplace_back(AmmoSpec{.id = id});
        }
        weapon.ammo_kind = static_cast<std::int32_t>(kind - arsenal.ammo.data());
        weapon.carry_limit = kind->carry_limit;
    }
    return fits;
}

const WeaponSpec* find_weapon(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.weapons, id);
}

const AmmoSpec* find_ammo(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.ammo, id);
}

std::optional<SurfaceId> find_surface(const Arsenal& arsenal, std::string_view id) {
    for (std::size_t index = 0; index < arsenal.surfaces.size(); ++index) {
        if (arsenal.surfaces[index].id == id) {
            return static_cast<SurfaceId>(index + 1);
        }
    }
    return std::nullopt;
}

const ProjectileSpec* find_projectile(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.projectiles, id);
}

const MeleeSpec* find_melee(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.melee, id);
}

const BodySpec* find_body(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.bodies, id);
}

const ConditionSpec* find_condition(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.conditions, id);
}

const HazardSpec* find_hazard(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.hazards, id);
}

const PickupSpec* find_pickup(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.pickups, id);
}

const MatchSpec* find_match(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.matches, id);
}

const ShooterSpec* find_shooter(const Arsenal& arsenal, std::string_view id) {
    return find_by_id(arsenal.shooters, id);
}

} // namespace avrek
