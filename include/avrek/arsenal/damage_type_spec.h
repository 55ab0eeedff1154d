#pragma once
#include <avrek/arsenal/spec_ref.h>
#include <avrek/core/ids.h>

#include <cstdint>
#include <optional>
#include <span>
#include <string>

namespace avrek {

/// One type of damage, such as cuts or corrosion, or of healing.
struct DamageTypeSpec {
    std::string id{};
    bool heals = false;    ///< it restores health instead of taking it
    bool guardable = true; ///< a guard can stop it
};

/// How much of one damage type counts.
struct DamageTypeFactor {
    SpecRef<DamageTypeId> type{};
    double factor = 1.0; ///< at least 0
};

/// Returns the factor for the damage type with this index; 1 where none of `factors` names it.
double factor_of(std::span<const DamageTypeFactor> factors, std::optional<DamageTypeId> type);

} // namespace avrek
