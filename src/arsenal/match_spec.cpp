#include <avrek/arsenal/match_spec.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(OwnSide policy) {
    static constexpr std::array<std::string_view, 4> words{"off", "reduced", "full", "reflected"};
    const auto place = static_cast<std::size_t>(policy);
    return place < words.size() ? words[place] : "unknown";
}

} // namespace avrek
