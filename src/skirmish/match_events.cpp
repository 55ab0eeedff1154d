#include <avrek/skirmish/match_events.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(MatchEventKind kind) {
    static constexpr std::array<std::string_view, 19> words{
        "vitals",         "weapon",        "killed",        "assisted",       "out",
        "respawned",      "lives changed", "score changed", "weapon dropped", "drop lost",
        "hazard entered", "hazard left",   "hazard ended",  "pickup taken",   "pickup refused",
        "pickup back",    "alert raised",  "alert cleared", "match over"};
    const auto index = static_cast<std::size_t>(kind);
    return index < words.size() ? words[index] : "unknown";
}

} // namespace avrek
