#pragma once
#include <span>
#include <string>
#include <string_view>

namespace avrek {

/// How much more, or less, a hit in one region counts.
struct RegionMultiplier {
    std::string region; ///< a region name of a rig
    double multiplier = 1.0;
};

/// The multiplier for hits in `region`: 1 where none of `multipliers` names it.
double region_multiplier(std::span<const RegionMultiplier> multipliers, std::string_view region);

} // namespace avrek
