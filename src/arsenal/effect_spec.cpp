#include "../core/words.h"
#include <avrek/arsenal/effect_spec.h>

#include <algorithm>
#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(ReactionClass reaction) {
    static constexpr auto words = std::to_array<std::string_view>({"none", "light", "heavy", "own"});
    return detail::word_of(words, std::min(reaction, ReactionClass{words.size() - 1}));
}

} // namespace avrek
