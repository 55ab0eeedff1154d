#include "../core/words.h"
#include <avrek/vitals/vitals_events.h>

#include <array>
#include <cstddef>

namespace avrek {

namespace {

struct Words {
    std::string_view operator()(const DamageEvent&) const { return "damaged"; }
    std::string_view operator()(const HealEvent&) const { return "healed"; }
    std::string_view operator()(const StoppedHitEvent& stopped) const { return to_string(stopped.by); }
    std::string_view operator()(const DeathEvent&) const { return "died"; }
    std::string_view operator()(const GuardEvent& guard) const { return to_string(guard.change); }
    std::string_view operator()(const DefenceEvent& defence) const {
        return defence.restored ? "defence restored" : "defence broken";
    }
    std::string_view operator()(const ConditionEvent& event) const { return to_string(event.change); }
    std::string_view operator()(const PushEvent&) const { return "pushed"; }
    std::string_view operator()(const BodyEvent& body) const { return to_string(body.change); }
    std::string_view operator()(const ProtectionEndedEvent&) const { return "protection ended"; }
    std::string_view operator()(const RetunedEvent&) const { return "retuned"; }
};

} // namespace

Time time_of(const VitalsEvent& event) {
    return std::visit([](const auto& kind) { return kind.at; }, event);
}

std::string_view words_of(const VitalsEvent& event) {
    return std::visit(Words{}, event);
}

std::string_view to_string(HitStop stop) {
    static constexpr auto words =
        std::to_array<std::string_view>({"resisted", "protected hit", "guarded", "guarded perfectly"});
    return detail::word_of(words, stop);
}

std::string_view to_string(GuardChange change) {
    static constexpr auto words =
        std::to_array<std::string_view>({"guard raised", "guard lowered", "guard broken", "guard mended"});
    return detail::word_of(words, change);
}

std::string_view to_string(ConditionChange change) {
    static constexpr auto words = std::to_array<std::string_view>(
        {"condition began", "condition stacked", "condition refused", "condition ended"});
    return detail::word_of(words, change);
}

std::string_view to_string(BodyChange change) {
    static constexpr auto words =
        std::to_array<std::string_view>({"reacted", "rising", "recovered", "vanished"});
    return detail::word_of(words, change);
}

std::string_view to_string(ConditionReason reason) {
    static constexpr auto words = std::to_array<std::string_view>(
        {"none", "immune", "prevented", "ignored", "weaker", "full", "cancelled", "hurt", "healed", "fired",
         "struck", "guarded", "new values"});
    return detail::word_of(words, reason);
}

} // namespace avrek
