#include "../core/words.h"
#include <avrek/arsenal/acts.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(Act act) {
    static constexpr auto words =
        std::to_array<std::string_view>({"fire", "reload", "move", "guard", "strike"});
    return detail::word_of(words, act);
}

} // namespace avrek
