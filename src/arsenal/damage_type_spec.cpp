#include <avrek/arsenal/damage_type_spec.h>

namespace avrek {

double factor_of(std::span<const DamageTypeFactor> factors, std::optional<DamageTypeId> type) {
    for (const DamageTypeFactor& factor : factors) {
        if (type && factor.type.spec == type) {
            return factor.factor;
        }
    }
    return 1.0;
}

} // namespace avrek
