#pragma once
#include <avrek/core/event_kinds.h>
#include <avrek/skirmish/game_action.h>
#include <avrek/skirmish/match_events.h>
#include <avrek/skirmish/skirmish_events.h>
#include <avrek/vitals/vitals_events.h>

#include <string_view>
#include <variant>

namespace avrek {

/// Everything that can happen in a fight, a type for each kind. A match gives those that are about life and
/// death. <avrek/core/event_kinds.h> shows how to handle them.
using Event =
    std::variant<ShotEvent, SegmentEvent, FlightEvent, BlastEvent, HandlingEvent, SwingEvent, SpawnEvent,
                 DamageEvent, HealEvent, StoppedHitEvent, DeathEvent, GuardEvent, DefenceEvent,
                 ConditionEvent, PushEvent, BodyEvent, ProtectionEndedEvent, RetunedEvent, KillEvent,
                 AssistEvent, OutEvent, LivesEvent, RespawnsEvent, RespawnEvent, ScoreEvent, DropEvent,
                 HazardEvent, PickupEvent, AlertEvent, MatchOverEvent, ActionEvent>;

/// Returns the words for an event, such as "hazard entered".
std::string_view words_of(const Event& event);
/// Returns the exact time of an event.
Time time_of(const Event& event);
/// Returns the combatant that an event is about; nobody for one of nobody.
BodyId who_of(const Event& event);

} // namespace avrek
