#include "../core/words.h"
#include <avrek/tuning/time_base.h>

namespace avrek {

std::string_view to_string(TimeBase base) {
    static constexpr auto words = std::to_array<std::string_view>({"pull", "shot", "hit", "sight"});
    return detail::word_of(words, base);
}

std::string_view words_of(TimeBase base) {
    static constexpr auto words = std::to_array<std::string_view>(
        {"the pull of the trigger", "the first shot", "the first hit", "the sight of the target"});
    return detail::word_of(words, base);
}

} // namespace avrek
