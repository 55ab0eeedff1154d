#include "../core/words.h"
#include <avrek/arsenal/match_spec.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(FriendlyFire policy) {
    static constexpr auto words = std::to_array<std::string_view>({"off", "reduced", "full", "reflected"});
    return detail::word_of(words, policy);
}

} // namespace avrek
