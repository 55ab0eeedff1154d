#include <avrek/arsenal/damage_type_spec.h>

namespace avrek {

double factor_of(std::span<const DamageTypeFactor> factors, std::int32_t kind) {
    for (const DamageTypeFactor& factor : factors) {
        if (factor.type.index == kind && kind >= 0) {
            return factor.factor;
        }
    }
    return 1.0;
}

} // namespace avrek
