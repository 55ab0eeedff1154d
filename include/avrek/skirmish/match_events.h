#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/vitals/vitals_events.h>
#include <avrek/weapon/loadout.h>
#include <avrek/weapon/weapon_events.h>

#include <cstdint>
#include <string_view>

/// What happens in a match.
namespace avrek {

/// What happened to MatchEvent::who. What a kind names besides is set, the rest is as made.
enum class MatchEventKind : std::uint8_t {
    vitals,         ///< `vitals` says what
    weapon,         ///< `weapon` says what
    killed,         ///< right after it died: `by` did it, or nobody; `vitals` is the death
    assisted,       ///< in the death of `by`, with `amount` damage
    out,            ///< it has no life left and stays dead
    respawned,      ///< it is back, full and protected until `until`; the game puts it somewhere
    lives_changed,  ///< `count` lives now
    score_changed,  ///< `count` is its score now
    weapon_dropped, ///< `dropped` lies about; `count` is its place in Match::dropped()
    drop_lost,      ///< a weapon was dropped where no more can lie
    hazard_entered, ///< it touches hazard `place`
    hazard_left,    ///< it does not any more
    hazard_ended,   ///< hazard `place` is gone; nobody's event
    pickup_taken,   ///< it took pickup `place`
    pickup_refused, ///< it asked for pickup `place`, which would be of no use
    pickup_back,    ///< pickup `place` is there again; nobody's event
    alert_raised,   ///< `by` was the first hostile to notice it
    alert_cleared,  ///< no hostile notices it any more
    match_over,     ///< `count` is the winning team, or combatant where everybody is alone; -1 for a draw
};

/// One thing that happened, with its exact time.
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

/// The words for an event, such as "hazard entered".
std::string_view to_string(MatchEventKind kind);

} // namespace avrek
