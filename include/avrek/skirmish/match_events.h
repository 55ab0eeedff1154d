#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/weapon/weapon_events.h>

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string_view>

/// Events of a match, a type for each kind. `at` is the exact time, and `who` the combatant.
namespace avrek {

/// An event of a carried weapon, other than a shot.
struct HandlingEvent {
    BodyId who = nobody;
    std::optional<WeaponId> weapon{};
    WeaponEvent event{};
};

/// A combatant just died.
struct KillEvent {
    Time at{};
    BodyId who = nobody;
    BodyId by = nobody;
};

/// A combatant helped to kill.
struct AssistEvent {
    Time at{};
    BodyId who = nobody;
    BodyId victim = nobody;
    double damage = 0.0;
};

/// A combatant has no life left.
struct OutEvent {
    Time at{};
    BodyId who = nobody;
};

/// The lives of a combatant changed.
struct LivesEvent {
    Time at{};
    BodyId who = nobody;
    std::int64_t lives = 0; ///< lives left
};

/// A side has used one of the respawns that it shares.
struct RespawnsEvent {
    Time at{};
    BodyId who = nobody; ///< combatant that will use it
    TeamId team{};
    std::int64_t left = 0;
};

/// A combatant begins a new life. The game places it.
struct RespawnEvent {
    Time at{};
    BodyId who = nobody;
    Time protected_until{};
    std::int64_t lives = -1; ///< lives left; -1: not counted
};

/// The score of a combatant changed.
struct ScoreEvent {
    Time at{};
    BodyId who = nobody;
    std::int64_t score = 0; ///< its points
};

/// The weapon of a combatant that died lies about, or is lost because there is no room.
struct DropEvent {
    Time at{};
    BodyId who = nobody;
    bool lost = false;
    std::size_t index = 0; ///< in Match::dropped()
    WeaponId weapon{};
    std::int32_t rounds = 0; ///< rounds in its magazine
    Vector3 position = Vector3::Zero();
};

/// Changes about a hazard.
enum class HazardChange : std::uint8_t {
    entered, ///< `who` touches it
    left,    ///< `who` no longer touches it
    ended,   ///< it is gone; nobody's event
};

/// Something happened with a hazard.
struct HazardEvent {
    Time at{};
    BodyId who = nobody;
    HazardChange change = HazardChange::entered;
    std::size_t index = 0; ///< in Match::hazards()
};

/// Changes about a pickup.
enum class PickupChange : std::uint8_t {
    taken,   ///< `who` took it
    refused, ///< `who` requested it, and it is of no use to it
    back,    ///< it is back; nobody's event
};

/// Something happened with a pickup.
struct PickupEvent {
    Time at{};
    BodyId who = nobody;
    PickupChange change = PickupChange::taken;
    std::size_t index = 0; ///< in Match::pickups()
};

/// The first foe notices a combatant, or no foe notices it any more.
struct AlertEvent {
    Time at{};
    BodyId who = nobody;
    bool raised = true;
    BodyId by = nobody; ///< foe that notices it
};

/// The match is over; nobody's event.
struct MatchOverEvent {
    Time at{};
    BodyId who = nobody;
    std::int64_t winner = -1; ///< team or combatant that won; -1: a draw
};

/// Returns the words for a change, such as "hazard entered".
std::string_view to_string(HazardChange change);
/// Returns the words for a change, such as "pickup taken".
std::string_view to_string(PickupChange change);

} // namespace avrek
