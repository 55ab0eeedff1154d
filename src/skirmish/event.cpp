#include "../core/words.h"
#include <avrek/skirmish/event.h>

#include <array>

namespace avrek {

namespace {

template <class Kind>
Time time_in(const Kind& event) {
    return event.at;
}
Time time_in(const FlightEvent& flight) {
    return flight.event.at;
}
Time time_in(const HandlingEvent& hands) {
    return hands.event.at;
}
Time time_in(const SwingEvent& swing) {
    return swing.event.at;
}

template <class Kind>
BodyId who_in(const Kind& event) {
    return event.who;
}
BodyId who_in(const FlightEvent& flight) {
    return flight.event.shooter;
}

struct Words {
    std::string_view operator()(const ShotEvent&) const { return "shot"; }
    std::string_view operator()(const SegmentEvent&) const { return "segment"; }
    std::string_view operator()(const FlightEvent&) const { return "flight"; }
    std::string_view operator()(const BlastEvent&) const { return "blast"; }
    std::string_view operator()(const HandlingEvent& hands) const { return to_string(hands.event.kind); }
    std::string_view operator()(const SwingEvent& swing) const { return to_string(swing.event.kind); }
    std::string_view operator()(const SpawnEvent&) const { return "spawn"; }
    std::string_view operator()(const KillEvent&) const { return "killed"; }
    std::string_view operator()(const AssistEvent&) const { return "assisted"; }
    std::string_view operator()(const OutEvent&) const { return "out"; }
    std::string_view operator()(const LivesEvent&) const { return "lives changed"; }
    std::string_view operator()(const RespawnsEvent&) const { return "respawns changed"; }
    std::string_view operator()(const RespawnEvent&) const { return "respawned"; }
    std::string_view operator()(const ScoreEvent&) const { return "score changed"; }
    std::string_view operator()(const DropEvent& drop) const {
        return drop.lost ? "drop lost" : "weapon dropped";
    }
    std::string_view operator()(const HazardEvent& hazard) const { return to_string(hazard.change); }
    std::string_view operator()(const PickupEvent& pickup) const { return to_string(pickup.change); }
    std::string_view operator()(const AlertEvent& alert) const {
        return alert.raised ? "alert raised" : "alert cleared";
    }
    std::string_view operator()(const MatchOverEvent&) const { return "match over"; }
    std::string_view operator()(const ActionEvent& action) const {
        return action.done ? action_words(action.kind) : "action refused";
    }
    template <class Felt> // an event of the vitals
    std::string_view operator()(const Felt& felt) const {
        return avrek::words_of(VitalsEvent{felt});
    }
};

} // namespace

std::string_view words_of(const Event& event) {
    return std::visit(Words{}, event);
}

Time time_of(const Event& event) {
    return std::visit([](const auto& kind) { return time_in(kind); }, event);
}

BodyId who_of(const Event& event) {
    return std::visit([](const auto& kind) { return who_in(kind); }, event);
}

std::string_view to_string(Verdict verdict) {
    static constexpr auto words = std::to_array<std::string_view>({"stands", "gone", "behind cover", "late"});
    return detail::word_of(words, verdict);
}

std::string_view to_string(HazardChange change) {
    static constexpr auto words =
        std::to_array<std::string_view>({"hazard entered", "hazard left", "hazard ended"});
    return detail::word_of(words, change);
}

std::string_view to_string(PickupChange change) {
    static constexpr auto words =
        std::to_array<std::string_view>({"pickup taken", "pickup refused", "pickup back"});
    return detail::word_of(words, change);
}

} // namespace avrek
