#pragma once
#include <span>
#include <string>
#include <string_view>

namespace avrek {

/// A damage multiplier for hits in one region.
struct RegionMultiplier {
    std::string region; ///< name of a region of a rig
    double multiplier = 1.0;
};

/// Returns the multiplier for hits in `region`; 1 where none of `multipliers` names it.
double region_multiplier(std::span<const RegionMultiplier> multipliers, std::string_view region);

} // namespace avrek
