#include "shared_maps.h"

namespace avrek {

EngagementMaps SharedMaps::maps_of(const Engagement& engagement) {
    EngagementMaps maps;
    maps.place = place_of(engagement);
    if (engagement.weapon != nullptr) {
        maps.sight = shared(engagement, maps.place, true);
    }
    maps.shots = shared(engagement, maps.place, false);
    return maps;
}

std::shared_ptr<const ShotMap> SharedMaps::shared(const Engagement& engagement, const EngagementPlace& place,
                                                  bool sight) {
    const WeaponSpec* weapon = engagement.weapon;
    const bool plain = sight || (weapon != nullptr && delivery_of(*weapon) == Delivery::hitscan);
    const Metres range = weapon != nullptr ? weapon->range : 0.0;
    const void* fired = weapon != nullptr ? static_cast<const void*>(weapon) : engagement.melee;
    const Key key{plain ? nullptr : fired,
                  engagement.attack,
                  engagement.target.body,
                  engagement.shooter_body,
                  engagement.distance,
                  range > engagement.distance + 3.0 ? 0.0 : range,
                  engagement.aim,
                  engagement.posture.crouching,
                  sight,
                  sight ? direction_of(place.look) : place.line};
    for (const auto& [known, map] : maps_) {
        if (known == key) {
            return map;
        }
    }
    auto made =
        std::make_shared<const ShotMap>(sight ? map_of_sight(engagement, place) : map_of(engagement, place));
    maps_.emplace_back(key, made);
    return made;
}

} // namespace avrek
