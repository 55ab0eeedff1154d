#pragma once
#include <avrek/ballistics/aim_solving.h>
#include <avrek/ballistics/hitscan.h>
#include <avrek/ballistics/melee.h>
#include <avrek/ballistics/projectiles.h>
#include <avrek/core/ids.h>

#include <cstdint>
#include <optional>
#include <string_view>

/// Events of shots, swings and spawns, a type for each kind.
namespace avrek {

/// Validation of a shot that hit a body as its shooter saw it.
enum class Verdict : std::uint8_t {
    stands,
    gone,    ///< the body is dead, or was that of an earlier life
    covered, ///< it was hidden for longer than cover_grace
    late,    ///< the shooter has died, and there are no trades
};

/// Returns the words for a verdict, such as "behind cover".
std::string_view to_string(Verdict verdict);

/// A shot left. Its hits are segments and flights with the same `who` and `shot`.
struct ShotEvent {
    Time at{};
    BodyId who = nobody;
    std::optional<WeaponId> weapon{};
    std::int8_t slot = 0;
    std::uint32_t shot = 0; ///< counted over all shots of the combatant
    Vector3 muzzle = Vector3::Zero();
    Vector3 direction = world_forward(); ///< axis of its cone
    Radians spread = 0.0;
    double power = 1.0;
    Look kick{};
    MuzzleState state = MuzzleState::clear;
    bool held_back = false;       ///< the muzzle rule blocked the shot
    Duration view_delay{};        ///< it hits remote bodies as they were this long before
    bool rewind_exceeded = false; ///< the view delay is beyond max_rewind
};

/// One straight segment of a hitscan pellet's path. Draw it as flying from `begins_at` to `ends_at`.
struct SegmentEvent {
    Time at{}; ///< time of the shot
    BodyId who = nobody;
    std::optional<WeaponId> weapon{};
    std::uint32_t shot = 0;
    std::int32_t pellet = 0;
    Time begins_at{};
    Time ends_at{};
    PathSegment segment{};             ///< spray: to the nearest point of a body, or its range
    Metres flown = 0.0;                ///< distance flown at the segment's end
    Verdict verdict = Verdict::stands; ///< verdict on the body that it hit
    Duration covered_for{};            ///< how long that body was hidden from the shooter
};

/// An event of a projectile.
struct FlightEvent {
    std::optional<WeaponId> weapon{};
    double power = 1.0; ///< power of the shot
    ProjectileEvent event{};
    /// Bodies were hit as they were then; earlier while a late launch catches up.
    Time as_of{};
    Verdict verdict = Verdict::stands; ///< verdict on the body that it hit
};

/// An explosion.
struct BlastEvent {
    Time at{};
    BodyId who = nobody;
    std::optional<WeaponId> weapon{};
    std::uint32_t shot = 0;
    Vector3 centre = Vector3::Zero();
    Metres radius = 0.0;
    std::uint32_t hits = 0; ///< number of bodies hit
};

/// An event of a melee swing.
struct SwingEvent {
    BodyId who = nobody;
    MeleeEvent event{};
    Verdict verdict = Verdict::stands;
};

/// A combatant spawns.
struct SpawnEvent {
    Time at{};
    BodyId who = nobody;
    Vector3 position = Vector3::Zero();
    Radians yaw = 0.0;
};

} // namespace avrek
