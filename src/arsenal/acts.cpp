#include <avrek/arsenal/acts.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(Act act) {
    static constexpr std::array<std::string_view, 5> words{"fire", "reload", "move", "guard", "strike"};
    const auto index = static_cast<std::size_t>(act);
    return index < words.size() ? words[index] : "unknown";
}

} // namespace avrek
