#pragma once
#include <avrek/arsenal/melee_spec.h>
#include <avrek/core/time.h>
#include <avrek/scene/world.h>

#include <cstdint>
#include <span>
#include <string_view>
#include <vector>

/// Blades that are swung: a windup, an active span during which the blade strikes, a recovery.
namespace avrek {

enum class MeleePhase : std::uint8_t { ready, windup, active, recovery };

/// The word for a phase.
std::string_view to_string(MeleePhase phase);

/// The run-time of what somebody strikes with. Trivially copyable.
struct MeleeState {
    Time started{};           ///< of the swing under way
    std::int32_t attack = -1; ///< of the spec; -1 when there is none
    std::uint32_t swings = 0; ///< begun so far
    IgnoredBodies struck{};   ///< by the swing under way
};

/// Somebody wants to strike.
struct MeleePress {
    Time at{};
    std::size_t attack = 0; ///< of the spec
};

/// Who swings, and the point that the blade turns about, looking where the wielder looks, at the begin and at
/// the end of the span.
struct Wielder {
    BodyId body{};
    Pose before{};
    Pose after{};
};

enum class MeleeEventKind : std::uint8_t {
    started,   ///< a swing began; `until` is when it ends
    refused,   ///< another is under way, until `until`
    struck,    ///< the blade met a body
    ended,     ///< the recovery is over
    cancelled, ///< whoever runs it ended it: its wielder may not strike any more
};

/// The word for an event.
std::string_view to_string(MeleeEventKind kind);

struct MeleeEvent {
    MeleeEventKind kind = MeleeEventKind::started;
    Time at{};
    Time until{};
    std::size_t attack = 0;
    std::uint32_t swing = 0;        ///< counted from 0
    Hit hit{};                      ///< of `struck`; the distance is from the blade's turning point
    Vector3 push = Vector3::Zero(); ///< of `struck`: m/s, the way the blade goes
};

/// What phase a swing is in.
MeleePhase phase_of(const MeleeSpec& spec, const MeleeState& state, Time at);

/// The blade in the world when `share` of the active span is over.
Capsule blade_at(const MeleeAttackSpec& attack, const Pose& wielder, double share);

/// Moves swings through a span: takes the presses in it, which are in order of time, and sweeps the blade
/// against the bodies of `filter`, which move during the span. Every body is struck at most once a swing, and
/// not through the level; 15 of them at most, less those that `filter` ignores. Adds what happened in order
/// of time.
///
/// The sweep is made of balls along the blade, no more than its radius apart, on steps that turn it by at
/// most 5 degrees; they reach beyond the blade by less than a fifth of its radius and two hundredths of its
/// reach, and nowhere less far. Preconditions (asserted): a spec without contradictions; attacks that there
/// are.
void advance(const MeleeSpec& spec, MeleeState& state, const World& world, const Filter& filter,
             const Wielder& wielder, Span span, std::span<const MeleePress> presses,
             std::vector<MeleeEvent>& events);

} // namespace avrek
