#include "../core/words.h"
#include <avrek/arsenal/match_spec.h>

#include <algorithm>
#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(FriendlyFire policy) {
    static constexpr auto words = std::to_array<std::string_view>({"off", "reduced", "full", "reflected"});
    return detail::word_of(words, policy);
}

std::string_view to_string(RetunedHealth rule) {
    static constexpr auto words = std::to_array<std::string_view>({"share", "points"});
    return detail::word_of(words, rule);
}

const SideSpec* side_of(const MatchSpec& rules, TeamId team) {
    const auto found = std::find_if(rules.sides.begin(), rules.sides.end(), [team](const SideSpec& side) {
        return TeamId{static_cast<std::uint8_t>(side.team)} == team;
    });
    return rules.teams && found != rules.sides.end() ? &*found : nullptr;
}

} // namespace avrek
