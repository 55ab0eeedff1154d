#include <avrek/arsenal/defence_spec.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(BodyState state) {
    static constexpr std::array<std::string_view, 7> words{"active", "staggered", "stunned", "down",
                                                           "rising", "ragdoll",   "gone"};
    const auto index = static_cast<std::size_t>(state);
    return index < words.size() ? words[index] : "unknown";
}

} // namespace avrek
