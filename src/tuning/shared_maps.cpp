#include "shared_maps.h"

#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/core/state_hash.h>

#include <cassert>

namespace avrek::detail {

namespace {

// The damage of what meets the target, and all else that follows, is no part of a map.
std::uint64_t hash_of_flight(const Arsenal& arsenal, ProjectileSpec spec) {
    spec.blast = {.radius = spec.blast.radius};
    StateHash hash;
    hash.add(hash_of(spec));
    for (const SurfaceSpec& surface : arsenal.surfaces) {
        hash.add(hash_of(surface));
    }
    return hash.value();
}

std::uint64_t hash_of_swing(const MeleeAttackSpec& attack) {
    MeleeSpec only;
    only.attacks = {attack};
    MeleeAttackSpec& swing = only.attacks.front();
    swing.name.clear();
    swing.effect = {};
    swing.recovery = {};
    swing.damage = swing.push = swing.push_away = 0.0;
    return hash_of(only);
}

std::uint64_t hash_of_fired(const Engagement& engagement) {
    if (engagement.melee != nullptr) {
        return hash_of_swing(engagement.melee->attacks[engagement.attack]);
    }
    assert(engagement.weapon != nullptr);
    const WeaponSpec& weapon = *engagement.weapon;
    StateHash hash;
    switch (delivery_of(weapon)) {
    case Delivery::hitscan:
        return 0;
    case Delivery::spray:
        hash.add(weapon.spray);
        hash.add(weapon.range);
        return hash.value();
    case Delivery::projectile:
        break;
    }
    return hash_of_flight(*engagement.arsenal, *find(engagement.arsenal->projectiles, weapon.projectile.id));
}

} // namespace

EngagementMaps SharedMaps::maps_of(const Engagement& engagement) {
    EngagementMaps maps;
    maps.place = place_of(engagement);
    const Metres range = engagement.weapon != nullptr ? engagement.weapon->range : 0.0;
    Key key{hash_of_fired(engagement),
            hash_of(*engagement.target.body),
            hash_of(*engagement.shooter_body),
            engagement.distance,
            range > engagement.distance + 3.0 ? 0.0 : range,
            engagement.aim,
            engagement.posture.crouching,
            false,
            maps.place.line};
    maps.shots = shared(engagement, maps.place, false, key);
    if (engagement.weapon != nullptr) {
        key.fired = 0;
        key.line = direction_of(maps.place.look);
        maps.sight = shared(engagement, maps.place, true, key);
    }
    return maps;
}

std::shared_ptr<const ShotMap> SharedMaps::shared(const Engagement& engagement, const EngagementPlace& place,
                                                  bool sight, Key key) {
    key.sight = sight;
    for (const auto& [known, map] : maps_) {
        if (known == key) {
            return map;
        }
    }
    auto made =
        std::make_shared<const ShotMap>(sight ? map_of_sight(engagement, place) : map_of(engagement, place));
    if (maps_.size() == max_maps) {
        maps_.pop_front();
    }
    maps_.emplace_back(key, made);
    return made;
}

} // namespace avrek::detail
