#include <avrek/arsenal/hazard_spec.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(HazardSide side) {
    static constexpr std::array<std::string_view, 3> words{"all", "others", "own"};
    const auto index = static_cast<std::size_t>(side);
    return index < words.size() ? words[index] : "unknown";
}

} // namespace avrek
