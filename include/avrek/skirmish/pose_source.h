#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/game_bytes.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/skirmish/intent.h>
#include <avrek/skirmish/locomotion.h>
#include <avrek/vitals/vitals.h>

#include <array>
#include <cstdint>
#include <span>
#include <string>
#include <string_view>

/// Pose sources: how the joints of bodies are posed. A game plugs in its own, and server, clients, rewound
/// hits and replays run it alike.
namespace avrek {

/// Pose of a body in a few bytes: all that a pose source remembers, and all that travels. Plain data.
using PoseState = GameBytes<8>;

/// Input of a pose source: one body at the end of a tick.
struct PoseInput {
    const BodySpec& body;
    const Vitals& vitals;
    const Intent& intent; ///< intent of this tick, sanitised
    const BodyMotion& motion;
    Radians yaw = 0.0; ///< facing of the body
    Span span;         ///< span of the tick
    bool aiming = false;
};

/// A body to pose. Clients and rewound hits know it rounded, as a snapshot has it.
struct PosedBody {
    const BodySpec& body;
    const PoseState& state;
    Radians pitch = 0.0; ///< pitch of its look
    Time at{};
};

/// Poses bodies. Both functions are pure: they return the same for the same input, on every machine, and keep
/// nothing between calls. So they use avrek/core/elementary.h where the C library may differ.
///
/// The server advances states, and tells them with its snapshots; bytes that stay the same cost nothing.
/// Between snapshots, joints move evenly from pose to pose, on clients and in rewound hits alike.
///
///     struct Nod final : PoseSource {
///         std::string_view name() const override { return "nod"; }
///         std::uint32_t version() const override { return 1; }
///         PoseState advance(const PoseInput&, PoseState before) const override { return before; }
///         void pose(const PosedBody& of, std::span<Pose> poses) const override {
///             poses[1].rotation = turned_to({0.0, of.pitch});
///         }
///     };
class PoseSource {
  public:
    virtual ~PoseSource() = default;
    /// Returns its name.
    virtual std::string_view name() const = 0;
    /// Returns its version. Change it with what it computes: servers refuse clients with another one, and
    /// replays of another one are refused.
    virtual std::uint32_t version() const = 0;
    /// Returns the state at the end of a tick. A body starts each life with a state of zeros.
    virtual PoseState advance(const PoseInput& in, PoseState before) const = 0;
    /// Writes the poses of a body in the axes of the standing body (feet at the origin, facing +Z): itself
    /// first, then the joints of its rig in order. They are at rest when it is called. Poses that do not fit
    /// (see fits()) are ignored: the body is at rest.
    virtual void pose(const PosedBody& of, std::span<Pose> poses) const = 0;
};

/// Maximum distance of a joint from the feet, in metres.
inline constexpr Metres max_joint_distance = 100.0;

/// Returns whether poses in the axes of the standing body are sound: finite, turned by unit quaternions, and
/// within `max_joint_distance`.
bool fits(std::span<const Pose> poses);

/// Room for the poses of one body.
using PoseRoom = std::array<Pose, max_joints + 1>;

/// Returns the poses of a body and its joints in the world's axes, written to `room`. `stands`: its feet and
/// facing.
std::span<const Pose> world_poses(const PoseSource& source, const PosedBody& of, const Pose& stands,
                                  PoseRoom& room);

/// Returns name and version, such as "nod 1".
std::string name_of(const PoseSource& source);

} // namespace avrek
