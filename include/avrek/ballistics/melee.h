#pragma once
#include <avrek/arsenal/melee_spec.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>
#include <avrek/scene/world.h>

#include <cstdint>
#include <span>
#include <string_view>
#include <vector>

/// Melee swings: a windup, an active span in which the blade hits, a recovery.
namespace avrek {

/// Phases of a swing.
enum class MeleePhase : std::uint8_t { ready, windup, active, recovery };

/// Returns the word for a phase.
std::string_view to_string(MeleePhase phase);

/// State of a melee weapon. Trivially copyable.
struct MeleeState {
    Time started{};           ///< start of the present swing
    std::int32_t attack = -1; ///< index of the attack; -1: no swing
    std::uint32_t swings = 0; ///< swings begun so far
    IgnoredBodies struck{};   ///< bodies hit by the present swing
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<MeleeState> auto& swing) {
    field("started", swing.started);
    field("attack", swing.attack);
    field("swings", swing.swings);
    field("struck", swing.struck, FieldUse::not_sent);
}

/// A press of an attack.
struct MeleePress {
    Time at{};
    std::size_t attack = 0; ///< index of the attack
};

/// The wielder, and the turning point of the blade, looking where the wielder looks, at the start and the end
/// of the span.
struct Wielder {
    BodyId body{};
    Pose before{};
    Pose after{};
};

/// Kinds of melee events.
enum class MeleeEventKind : std::uint8_t {
    started,   ///< a swing began; `until` is when it ends
    refused,   ///< another swing is under way, until `until`
    struck,    ///< the blade hit a body
    ended,     ///< the recovery is over
    cancelled, ///< interrupted: its wielder can no longer strike
};

/// Returns the word for an event.
std::string_view to_string(MeleeEventKind kind);

/// One event of a swing, with its exact time.
struct MeleeEvent {
    MeleeEventKind kind = MeleeEventKind::started;
    Time at{};
    Time until{};
    std::size_t attack = 0;
    std::uint32_t swing = 0;        ///< counted from 0
    Hit hit{};                      ///< for `struck`; distance from the turning point
    Vector3 push = Vector3::Zero(); ///< for `struck`: m/s, along the blade's motion
};

/// Returns the phase of a swing.
MeleePhase phase_of(const MeleeSpec& spec, const MeleeState& state, Time at);

/// Returns the blade in the world at `share` of the active span.
Capsule blade_at(const MeleeAttackSpec& attack, const Pose& wielder, double share);

/// Takes a swing from the values `was` to the values `is`, at `at`, the end of the last span. It goes by the
/// name of its attack and keeps the share of its present phase. A swing whose attack is gone is cancelled.
/// Appends that event. The same values change nothing.
void retune(const MeleeSpec& was, const MeleeSpec& is, MeleeState& state, Time at,
            std::vector<MeleeEvent>& events);

/// Advances swings through a span. Takes the presses in it, in order of time, and sweeps the blade against
/// the bodies of `filter`, which move during the span. A swing hits every body at most once, not through the
/// level, and at most 15 bodies, fewer by those that `filter` ignores. Appends events in order of time.
///
/// The sweep consists of spheres along the blade, no more than its radius apart, in steps that turn it by at
/// most 5 degrees. They reach beyond the blade by less than a fifth of its radius and two hundredths of its
/// reach, and cover it completely. Preconditions (asserted): validate() finds no error in the spec; the
/// attacks exist.
void advance(const MeleeSpec& spec, MeleeState& state, const World& world, const Filter& filter,
             const Wielder& wielder, Span span, std::span<const MeleePress> presses,
             std::vector<MeleeEvent>& events);

} // namespace avrek
