#include <avrek/arsenal/region_multiplier.h>

namespace avrek {

double region_multiplier(std::span<const RegionMultiplier> multipliers, std::string_view region) {
    for (const RegionMultiplier& entry : multipliers) {
        if (entry.region == region) {
            return entry.multiplier;
        }
    }
    return 1.0;
}

} // namespace avrek
