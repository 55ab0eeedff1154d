#include <avrek/arsenal/condition_spec.h>

#include <algorithm>
#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(Stacking stacking) {
    static constexpr std::array<std::string_view, 5> words{"refresh", "extend", "count", "strongest",
                                                           "ignore"};
    const auto index = static_cast<std::size_t>(stacking);
    return index < words.size() ? words[index] : "unknown";
}

std::string_view to_string(ConditionEnd end) {
    static constexpr std::array<std::string_view, 5> words{"hurt", "healed", "fired", "struck", "guarded"};
    const auto index = static_cast<std::size_t>(end);
    return index < words.size() ? words[index] : "unknown";
}

bool ends_when(const ConditionSpec& spec, ConditionEnd end) {
    return std::find(spec.ends_when.begin(), spec.ends_when.end(), end) != spec.ends_when.end();
}

} // namespace avrek
