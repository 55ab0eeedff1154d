#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/game_bytes.h>
#include <avrek/core/ids.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/scene/world.h>
#include <avrek/skirmish/intent.h>

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

/// Locomotion: how bodies move. A game plugs in its own, and server, predicting clients, rollback and replays
/// run it alike.
namespace avrek {

/// Motion of a body. Plain data, and all that a locomotion remembers.
struct BodyMotion {
    Vector3 position = Vector3::Zero(); ///< the feet
    Vector3 velocity = Vector3::Zero(); ///< m/s
    BodyId ground_body = nobody;        ///< body that it stands on; nobody: the level, or nothing
    SurfaceId ground_surface{};         ///< surface of the level that it stands on, unless it is airborne
    bool airborne = false;
    bool teleported = false; ///< in the last tick: it passed through nothing in between
    bool placed = false;     ///< by the game, in the last tick: clients do not predict it
    GameBytes<64> game{};    ///< the locomotion's own
    friend bool operator==(const BodyMotion&, const BodyMotion&) = default;
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<BodyMotion> auto& motion) {
    field("position", motion.position);
    field("velocity", motion.velocity);
    field("ground_body", motion.ground_body);
    field("ground_surface", motion.ground_surface);
    field("airborne", motion.airborne);
    field("teleported", motion.teleported);
    field("placed", motion.placed);
    field("game", motion.game);
}

/// Input of a locomotion: one body in one tick.
struct MotionInput {
    const World& world;   ///< the level, and the bodies as far as they have moved in this tick
    const BodySpec& body; ///< its spec
    const Intent& intent; ///< intent of this tick, sanitised
    Span span;            ///< span of the tick
    BodyId who = nobody;  ///< ignore it in casts against bodies
    double speed = 1.0;   ///< factor for its speed: conditions, and the weapon that it aims
    bool can_move = true; ///< false: dead, stunned, or down; it still falls and is pushed
};

/// Moves bodies. A locomotion is a pure function: it returns the same motion for the same input, on every
/// machine, and keeps nothing between calls. So it uses avrek/core/elementary.h where the C library may
/// differ, no clock and no randomness but random_pair(). Remote bodies differ between server and client: a
/// motion that depends on them is predicted wrongly now and then, and corrected.
///
///     struct Hover final : Locomotion {
///         std::string_view name() const override { return "hover"; }
///         std::uint32_t version() const override { return 1; }
///         BodyMotion advance(const MotionInput& in, BodyMotion motion) const override {
///             motion.position += to_seconds(in.span.end - in.span.begin) * motion.velocity;
///             return motion;
///         }
///     };
class Locomotion {
  public:
    virtual ~Locomotion() = default;
    /// Returns its name: `[body.ID.movement] locomotion = "hover"` chooses it.
    virtual std::string_view name() const = 0;
    /// Returns its version. Change it with what it computes: servers refuse clients with another one, and
    /// replays of another one are refused.
    virtual std::uint32_t version() const = 0;
    /// Returns the motion at the end of the span. A motion that is not finite, or beyond 1e5 m or m/s, is
    /// ignored: the body stays.
    virtual BodyMotion advance(const MotionInput& in, BodyMotion motion) const = 0;
};

/// Locomotions of a skirmish. A body takes the one that MovementSpec::locomotion names, or else the first. If
/// it is empty, WalkingLocomotion moves every body. None is null; all outlive the skirmish.
using Locomotions = std::vector<const Locomotion*>;

/// Returns name and version of each, such as "hover 1"; of an empty list "walking 1".
std::vector<std::string> names_of(const Locomotions& locomotions);

} // namespace avrek
