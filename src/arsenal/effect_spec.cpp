#include <avrek/arsenal/effect_spec.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(ReactionClass reaction) {
    static constexpr std::array<std::string_view, 3> words{"none", "light", "heavy"};
    const auto index = static_cast<std::size_t>(reaction);
    return index < words.size() ? words[index] : "unknown";
}

} // namespace avrek
