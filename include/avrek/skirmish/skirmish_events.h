#pragma once
#include <avrek/ballistics/aim_solving.h>
#include <avrek/ballistics/hitscan.h>
#include <avrek/ballistics/melee.h>
#include <avrek/ballistics/projectiles.h>
#include <avrek/skirmish/match_events.h>

#include <cstdint>
#include <string_view>
#include <vector>

/// What happened in a tick of a skirmish: lists of plain data by kind, and the one order of all of them.
namespace avrek {

enum class EventKind : std::uint8_t {
    shot,
    segment,
    flight,
    blast,
    weapon,
    swing,
    match,
    spawn,
};

/// The word for a kind.
std::string_view to_string(EventKind kind);

/// What became of a shot that met the body of somebody as its shooter saw it.
enum class Verdict : std::uint8_t {
    stands,
    gone,    ///< it is dead by now, or it was the body of an earlier life
    covered, ///< it has been behind cover for longer than LagCompensationSpec::cover
    late,    ///< the shooter is dead by now, and there are no trades
};

/// The word for a verdict, such as "behind cover".
std::string_view to_string(Verdict verdict);

/// A shot left. What its pellets met are legs and flights with the same `who` and `shot`.
struct ShotEvent {
    Time at{};
    BodyId who = nobody;
    std::int32_t weapon = -1; ///< index into Arsenal::weapons
    std::int8_t slot = 0;
    std::uint32_t shot = 0; ///< of all that it has fired
    Vector3 muzzle = Vector3::Zero();
    Vector3 direction = world_forward(); ///< the middle of its cone
    Radians spread = 0.0;
    double power = 1.0;
    Look kick{};
    MuzzleState state = MuzzleState::clear;
    bool held_back = false;       ///< the muzzle rule let nothing leave
    Duration view_delay{};        ///< it meets others as they were so long before
    bool rewind_exceeded = false; ///< its shooter sees them as they were longer before than the rules allow
};

/// One straight part of the way of a pellet that arrives at once, drawn as flying from `begins` to `ends`.
struct SegmentEvent {
    Time at{}; ///< of the shot
    BodyId who = nobody;
    std::int32_t weapon = -1;
    std::uint32_t shot = 0;
    std::int32_t pellet = 0;
    Time begins_at{};
    Time ends_at{};
    PathSegment segment{}; ///< of a spray: to the nearest point of a body, or as far as it reaches
    Metres flown = 0.0;    ///< by the shot, up to the leg's end
    Verdict verdict = Verdict::stands; ///< on the body that it met
    Duration covered_for{};            ///< that body has been out of the shooter's sight
};

/// Something happened to what flies.
struct FlightEvent {
    std::int32_t weapon = -1;
    double power = 1.0; ///< of the shot
    ProjectileEvent event{};
    Time as_of{};                      ///< bodies were met as they stood then: earlier while it catches up
    Verdict verdict = Verdict::stands; ///< on the body that it met
};

/// Something went off.
struct BlastEvent {
    Time at{};
    BodyId who = nobody;
    std::int32_t weapon = -1;
    std::uint32_t shot = 0;
    Vector3 centre = Vector3::Zero();
    Metres radius = 0.0;
    std::uint32_t hits = 0; ///< bodies
};

/// Something happened to a weapon, but for its shots.
struct HandlingEvent {
    BodyId who = nobody;
    std::int32_t weapon = -1;
    WeaponEvent event{};
};

/// Something happened to a blade.
struct SwingEvent {
    BodyId who = nobody;
    MeleeEvent event{};
    Verdict verdict = Verdict::stands;
};

/// Somebody comes into the world.
struct SpawnEvent {
    Time at{};
    BodyId who = nobody;
    Vector3 position = Vector3::Zero();
    Radians yaw = 0.0;
};

/// Where one event is: in the list of its kind.
struct EventRef {
    Time at{};
    EventKind kind = EventKind::shot;
    std::uint32_t index = 0;
};

/// All that happened in a tick. `order` is by time, then by id, and is the order in which effects applied.
struct SkirmishEvents {
    std::vector<EventRef> order{};
    std::vector<ShotEvent> shots{};
    std::vector<SegmentEvent> segments{};
    std::vector<FlightEvent> flights{};
    std::vector<BlastEvent> blasts{};
    std::vector<HandlingEvent> weapons{};
    std::vector<SwingEvent> swings{};
    std::vector<MatchEvent> match{};
    std::vector<SpawnEvent> spawns{};
    /// Intents and updates of combatants that are not there, and updates without a sound position.
    std::uint32_t disregarded = 0;

    void clear();
    void reserve(std::size_t each);
};

/// Calls `visit` with every event in order, as the type of its kind.
template <class Visit>
void for_each_event(const SkirmishEvents& events, Visit&& visit) {
    for (const EventRef& ref : events.order) {
        switch (ref.kind) {
        case EventKind::shot:
            visit(events.shots[ref.index]);
            break;
        case EventKind::segment:
            visit(events.segments[ref.index]);
            break;
        case EventKind::flight:
            visit(events.flights[ref.index]);
            break;
        case EventKind::blast:
            visit(events.blasts[ref.index]);
            break;
        case EventKind::weapon:
            visit(events.weapons[ref.index]);
            break;
        case EventKind::swing:
            visit(events.swings[ref.index]);
            break;
        case EventKind::match:
            visit(events.match[ref.index]);
            break;
        case EventKind::spawn:
            visit(events.spawns[ref.index]);
            break;
        }
    }
}

} // namespace avrek
