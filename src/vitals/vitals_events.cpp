#include <avrek/vitals/vitals_events.h>

#include <array>
#include <cstddef>

namespace avrek {

std::string_view to_string(VitalsEventKind kind) {
    static constexpr std::array<std::string_view, 23> kinds{
        "damaged",         "healed",           "resisted",          "died",
        "shrugged",        "guarded",          "guarded perfectly", "guard raised",
        "guard lowered",   "guard broken",     "guard mended",      "layer broken",
        "layer restored",  "condition began",  "condition stacked", "condition refused",
        "condition ended", "pushed",           "reacted",           "rising",
        "recovered",       "protection ended", "vanished"};
    const auto place = static_cast<std::size_t>(kind);
    return place < kinds.size() ? kinds[place] : "unknown";
}

std::string_view to_string(VitalsRefusal refusal) {
    static constexpr std::array<std::string_view, 12> reasons{"none",   "immune", "prevented", "ignored",
                                                              "weaker", "full",   "cancelled", "hurt",
                                                              "healed", "fired",  "struck",    "guarded"};
    const auto place = static_cast<std::size_t>(refusal);
    return place < reasons.size() ? reasons[place] : "unknown";
}

} // namespace avrek
