#pragma once
#include "shot_chances.h"

#include <deque>
#include <memory>
#include <utility>

namespace avrek {

/// Maps that several engagements can share: each is made once.
class SharedMaps {
  public:
    EngagementMaps maps_of(const Engagement& engagement);

  private:
    struct Key {
        const void* fired; // null for silhouettes
        std::size_t attack;
        const BodySpec* body;
        const BodySpec* shooter;
        Metres distance;
        Metres range; // as far as it matters
        RegionId aim;
        bool crouching;
        bool sight;
        Vector3 line;
        bool operator==(const Key& other) const {
            return fired == other.fired && attack == other.attack && body == other.body &&
                   shooter == other.shooter && distance == other.distance && range == other.range &&
                   aim == other.aim && crouching == other.crouching && sight == other.sight &&
                   line == other.line;
        }
    };

    std::shared_ptr<const ShotMap> shared(const Engagement& engagement, const EngagementPlace& place,
                                          bool sight);

    std::deque<std::pair<Key, std::shared_ptr<const ShotMap>>> maps_{};
};

} // namespace avrek
