#pragma once
#include <avrek/arsenal/spec_ref.h>

#include <cstdint>
#include <string_view>

namespace avrek {

/// How hard a hit shakes whom it hits.
enum class ReactionClass : std::uint8_t { none, light, heavy };

/// The word for a class in files.
std::string_view to_string(ReactionClass reaction);

/// What a hit is and does besides its damage.
struct EffectSpec {
    SpecRef type{};        ///< of its damage
    SpecRef condition{};   ///< that it leaves
    double strength = 1.0; ///< of the condition, over 0
    ReactionClass reaction = ReactionClass::none;
    // Of the kind, see link().
    bool heals = false;
    bool guardable = true;
};

} // namespace avrek
