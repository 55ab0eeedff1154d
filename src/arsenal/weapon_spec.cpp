#include <avrek/arsenal/weapon_spec.h>

namespace avrek {

double region_multiplier(const WeaponSpec& spec, std::string_view region) {
    for (const RegionMultiplier& entry : spec.region_multipliers) {
        if (entry.region == region) {
            return entry.multiplier;
        }
    }
    return 1.0;
}

} // namespace avrek
