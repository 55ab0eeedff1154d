#include <avrek/arsenal/hazard_spec.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(HazardSide side) {
    static constexpr std::array<std::string_view, 3> words{"all", "others", "own"};
    const auto place = static_cast<std::size_t>(side);
    return place < words.size() ? words[place] : "unknown";
}

} // namespace avrek
