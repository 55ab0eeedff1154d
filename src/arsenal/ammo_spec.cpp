#include "../core/words.h"
#include <avrek/arsenal/ammo_spec.h>

namespace avrek {

std::string_view to_string(AmmoFeed feed) {
    static constexpr auto words = std::to_array<std::string_view>({"magazine", "reserve", "heat", "cell"});
    return detail::word_of(words, feed);
}

std::string_view to_string(AmmoSupply supply) {
    static constexpr auto words = std::to_array<std::string_view>({"counted", "endless-reserve", "endless"});
    return detail::word_of(words, supply);
}

} // namespace avrek
