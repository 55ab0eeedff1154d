#include <avrek/arsenal/damage_kind_spec.h>

namespace avrek {

double factor_of(std::span<const KindFactor> factors, std::int32_t kind) {
    for (const KindFactor& factor : factors) {
        if (factor.kind.index == kind && kind >= 0) {
            return factor.factor;
        }
    }
    return 1.0;
}

} // namespace avrek
