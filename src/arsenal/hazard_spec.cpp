#include "../core/words.h"
#include <avrek/arsenal/hazard_spec.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(HazardSide side) {
    static constexpr auto words = std::to_array<std::string_view>({"all", "others", "own"});
    return detail::word_of(words, side);
}

} // namespace avrek
