#pragma once
#include <cstdint>
#include <string_view>

namespace avrek {

/// Start of a time to kill.
enum class TimeBase : std::uint8_t {
    pull,  ///< first pull of the trigger, or start of the first swing
    shot,  ///< first shot leaves
    hit,   ///< first hit, as the victim experiences it
    sight, ///< the shooter sees its target; its reaction counts
};

/// Returns the word for a base in options, such as "pull".
std::string_view to_string(TimeBase base);

/// Returns the words for a base in a sentence, such as "the pull of the trigger".
std::string_view words_of(TimeBase base);

} // namespace avrek
