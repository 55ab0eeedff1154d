#include <avrek/arsenal/match_spec.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(FriendlyFire policy) {
    static constexpr std::array<std::string_view, 4> words{"off", "reduced", "full", "reflected"};
    const auto index = static_cast<std::size_t>(policy);
    return index < words.size() ? words[index] : "unknown";
}

} // namespace avrek
