#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/vitals/vitals_events.h>
#include <avrek/weapon/loadout.h>
#include <avrek/weapon/weapon_events.h>

#include <cstdint>
#include <string_view>

/// Events of a match.
namespace avrek {

/// Kinds of events of MatchEvent::who. Members that a kind does not name keep their defaults.
enum class MatchEventKind : std::uint8_t {
    vitals,         ///< an event of its vitals
    weapon,         ///< an event of its weapon
    killed,         ///< just died, by `by` or nobody; `vitals` is the death
    assisted,       ///< in the death of `by`, with `amount` damage
    out,            ///< it has no life left
    respawned,      ///< protected until `until`; the game places it
    lives_changed,  ///< `count` lives
    score_changed,  ///< `count` points
    weapon_dropped, ///< `dropped` lies about; `count` is its index in dropped()
    drop_lost,      ///< no room for another dropped weapon
    hazard_entered, ///< it touches hazard `index`
    hazard_left,    ///< it no longer touches hazard `index`
    hazard_ended,   ///< hazard `index` is gone; nobody's event
    pickup_taken,   ///< it took pickup `index`
    pickup_refused, ///< it requested pickup `index`, which is of no use to it
    pickup_back,    ///< pickup `index` is back; nobody's event
    alert_raised,   ///< `by` is the first foe to notice it
    alert_cleared,  ///< no foe notices it any more
    match_over,     ///< `count` is the winning team or combatant; -1: a draw
};

/// One event, with its exact time.
struct MatchEvent {
    Time at{};
    MatchEventKind kind = MatchEventKind::vitals;
    BodyId who = nobody;
    BodyId by = nobody;
    std::int32_t index = -1;
    std::int64_t count = 0;
    double amount = 0.0;
    Time until{};
    VitalsEvent vitals{};
    WeaponEvent weapon{};
    DroppedWeapon dropped{};
};

/// Returns the words for an event, such as "hazard entered".
std::string_view to_string(MatchEventKind kind);

} // namespace avrek
