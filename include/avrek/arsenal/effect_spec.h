#pragma once
#include <avrek/arsenal/spec_ref.h>
#include <avrek/core/ids.h>

#include <cstdint>
#include <string_view>

namespace avrek {

/// Stagger class of a hit.
enum class ReactionClass : std::uint8_t { none, light, heavy };

/// Returns the word for a class, as files write it.
std::string_view to_string(ReactionClass reaction);

/// Effects of a hit besides its damage.
struct EffectSpec {
    SpecRef<DamageTypeId> type{};     ///< damage type
    SpecRef<ConditionId> condition{}; ///< condition that the hit leaves
    double strength = 1.0;            ///< strength of the condition, over 0
    ReactionClass reaction = ReactionClass::none;
    // From the damage type, set by resolve_references().
    bool heals = false;
    bool guardable = true;
};

} // namespace avrek
