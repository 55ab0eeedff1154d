#pragma once
#include <avrek/arsenal/spec_ref.h>
#include <avrek/core/ids.h>

#include <cstddef>
#include <cstdint>
#include <string_view>

namespace avrek {

/// Class of the reaction to a hit. Those after `heavy` are of the arsenal's own: Arsenal::reaction().
enum class ReactionClass : std::uint8_t { none, light, heavy };

/// Maximum number of the arsenal's own reactions.
inline constexpr std::size_t max_own_reactions = 6;
/// Number of the first of them among the classes.
inline constexpr std::size_t first_own_reaction = 3;
/// Number of classes besides `none`.
inline constexpr std::size_t reaction_count = 2 + max_own_reactions;

/// Returns the word for a class; "own" for one of the arsenal's own.
std::string_view to_string(ReactionClass reaction);

/// Effects of a hit besides its damage.
struct EffectSpec {
    SpecRef<DamageTypeId> type{};      ///< damage type
    SpecRef<ConditionId> condition{};  ///< condition that the hit leaves
    double strength = 1.0;             ///< strength of the condition, over 0
    SpecRef<ReactionClass> reaction{}; ///< "light", "heavy" or one of a body's own; empty: none
    // From the damage type, set by resolve_references().
    bool heals = false;
    bool guardable = true;
};

} // namespace avrek
