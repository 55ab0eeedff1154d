#pragma once
#include "shot_chances.h"
#include <avrek/tuning/kill_distribution.h>

#include <cstdint>
#include <deque>
#include <memory>
#include <span>
#include <utility>
#include <vector>

namespace avrek::detail {

/// Maps that several engagements can share: each is made once. Equal specs share them, also those of
/// different arsenals. Keeps the newest `max_maps`.
class SharedMaps {
  public:
    EngagementMaps maps_of(const Engagement& engagement);

  private:
    struct Key {
        std::uint64_t fired; // hash of the values that matter; 0 for silhouettes
        std::uint64_t body;
        std::uint64_t shooter;
        Metres distance;
        Metres range; // as far as it matters
        RegionId aim;
        bool crouching;
        bool sight;
        Vector3 line;
        bool operator==(const Key& other) const {
            return fired == other.fired && body == other.body && shooter == other.shooter &&
                   distance == other.distance && range == other.range && aim == other.aim &&
                   crouching == other.crouching && sight == other.sight && line == other.line;
        }
    };

    std::shared_ptr<const ShotMap> shared(const Engagement& engagement, const EngagementPlace& place,
                                          bool sight, Key key);

    static constexpr std::size_t max_maps = 512;

    std::deque<std::pair<Key, std::shared_ptr<const ShotMap>>> maps_{};
};

/// kill_distributions() with maps that are kept for others.
std::vector<KillDistribution> kill_distributions(std::span<const Engagement> engagements,
                                                 const DistributionSettings& settings, SharedMaps& maps);

} // namespace avrek::detail
