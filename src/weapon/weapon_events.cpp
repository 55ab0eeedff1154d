#include "../core/words.h"
#include <avrek/weapon/weapon_events.h>

namespace avrek {

std::string_view to_string(WeaponEventKind kind) {
    static constexpr auto words = std::to_array<std::string_view>(
        {"shot",          "dry fire",        "trigger refused",  "charge started", "charge dropped",
         "mode changed",  "mode refused",    "overheated",       "cooled",         "reload started",
         "rounds loaded", "reload finished", "reload cancelled", "reload refused", "raise started",
         "raised",        "stow started",    "stowed",           "swap refused",   "retuned"});
    return detail::word_of(words, kind);
}

std::string_view to_string(WeaponRefusal refusal) {
    static constexpr auto words = std::to_array<std::string_view>(
        {"nothing",         "cycling",       "winding up",  "empty",         "too hot", "reloading",
         "magazine full",   "reserve empty", "no magazine", "one mode only", "raising", "put away",
         "no weapon there", "sprinting",     "sprint-out",  "striking",      "stunned", "forbidden",
         "airborne",        "trigger",       "let go",      "new values"});
    return detail::word_of(words, refusal);
}

} // namespace avrek
