#include "../core/words.h"
#include <avrek/arsenal/condition_spec.h>

#include <algorithm>
#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(Stacking stacking) {
    static constexpr auto words =
        std::to_array<std::string_view>({"refresh", "extend", "count", "strongest", "ignore"});
    return detail::word_of(words, stacking);
}

std::string_view to_string(ConditionEnd end) {
    static constexpr auto words =
        std::to_array<std::string_view>({"hurt", "healed", "fired", "struck", "guarded"});
    return detail::word_of(words, end);
}

bool ends_when(const ConditionSpec& spec, ConditionEnd end) {
    return std::find(spec.ends_when.begin(), spec.ends_when.end(), end) != spec.ends_when.end();
}

} // namespace avrek
