#include "../core/words.h"
#include <avrek/arsenal/defence_spec.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(BodyState state) {
    static constexpr auto words = std::to_array<std::string_view>(
        {"active", "staggered", "stunned", "down", "rising", "ragdoll", "gone"});
    return detail::word_of(words, state);
}

} // namespace avrek
