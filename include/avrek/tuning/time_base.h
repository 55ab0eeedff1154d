#pragma once
#include <cstdint>
#include <string_view>

namespace avrek {

/// From when a time to kill counts.
enum class TimeBase : std::uint8_t {
    pull,  ///< the first pull of the trigger, or the beginning of the first swing: charge and spin-up count
    shot,  ///< the first shot's leaving
    hit,   ///< the first hit: what the victim knows
    sight, ///< the moment at which the shooter sees its target: its reaction counts
};

/// The word for a base in options, such as "pull".
std::string_view to_string(TimeBase base);

/// The words for a base in a sentence, such as "the pull of the trigger".
std::string_view words_of(TimeBase base);

} // namespace avrek
