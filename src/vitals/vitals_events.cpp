#include <avrek/vitals/vitals_events.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(VitalsEventKind kind) {
    static constexpr std::array<std::string_view, 23> kinds{
        "damaged",          "healed",           "resisted",          "died",
        "protected hit",    "guarded",          "guarded perfectly", "guard raised",
        "guard lowered",    "guard broken",     "guard mended",      "defence broken",
        "defence restored", "condition began",  "condition stacked", "condition refused",
        "condition ended",  "pushed",           "reacted",           "rising",
        "recovered",        "protection ended", "vanished"};
    const auto index = static_cast<std::size_t>(kind);
    return index < kinds.size() ? kinds[index] : "unknown";
}

std::string_view to_string(VitalsRefusal refusal) {
    static constexpr std::array<std::string_view, 12> reasons{"none",   "immune", "prevented", "ignored",
                                                              "weaker", "full",   "cancelled", "hurt",
                                                              "healed", "fired",  "struck",    "guarded"};
    const auto index = static_cast<std::size_t>(refusal);
    return index < reasons.size() ? reasons[index] : "unknown";
}

} // namespace avrek
