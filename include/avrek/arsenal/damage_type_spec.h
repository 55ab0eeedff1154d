#pragma once
#include <avrek/arsenal/spec_ref.h>

#include <cstdint>
#include <span>
#include <string>

namespace avrek {

/// One kind of damage, such as cuts or corrosion, or of healing.
struct DamageTypeSpec {
    std::string id{};
    bool heals = false;    ///< it gives health instead of taking it
    bool guardable = true; ///< a guard may stop it
};

/// How much of one kind of damage counts.
struct DamageTypeFactor {
    SpecRef type{};
    double factor = 1.0; ///< at least 0
};

/// The factor for damage of the kind with this index: 1 where none of `factors` names it.
double factor_of(std::span<const DamageTypeFactor> factors, std::int32_t kind);

} // namespace avrek
