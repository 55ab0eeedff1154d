#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/scene/scene.h>
#include <avrek/skirmish/blended_poses.h>

#include <cstdint>
#include <span>

/// Snapshots: rounded positions of all bodies, every few ticks. The server records exactly these, and clients
/// draw exactly these, so that a hit can be validated against what its shooter saw.
namespace avrek {

/// Position of the feet on a grid of 1/128 m, and one of 4096 facings.
struct SnapshotPose {
    std::int32_t x = 0;
    std::int32_t y = 0;
    std::int32_t z = 0;
    std::uint16_t yaw = 0;
    friend bool operator==(const SnapshotPose&, const SnapshotPose&) = default;
};

inline constexpr double snapshot_grid = 128.0;              ///< steps per metre
inline constexpr std::int32_t max_snapshot_steps = 1 << 23; ///< steps from the origin: 65 km

/// Returns the nearest grid pose; beyond the grid, the last one on it.
SnapshotPose snapshot_pose(const Vector3& position, Radians yaw);
/// Returns the nearest pitch of a snapshot.
std::int16_t snapshot_pitch(Radians pitch);
/// Returns the pitch of a snapshot in radians.
Radians pitch_of(std::int16_t steps);
/// Returns the position of a grid pose.
Vector3 position_of(const SnapshotPose& place);
Radians yaw_of(const SnapshotPose& place); ///< in (-pi, pi]
Pose pose_of(const SnapshotPose& place);   ///< pose of a standing body

/// A body of a snapshot.
struct SnapshotBody {
    BodyId id = nobody;
    const BodySpec* body = nullptr; ///< never null; outlives the scene
    TeamId team{};
    SnapshotPose pose{};
    std::int16_t pitch = 0; ///< pitch of its look: 1024 steps per right angle, up to 1024 either way
    PoseState state{};      ///< for the pose source
};

/// Adds a frame with these bodies to a scene, in order of ids; other bodies are removed. Bodies that moved by
/// more than `snapshot_leap` are teleported. Precondition (asserted): `at` is after scene.now().
void add_snapshot(Scene& scene, Time at, std::span<const SnapshotBody> bodies,
                  const PoseSource& source = blended_poses());

/// Distance beyond which a moved body is teleported.
inline constexpr Metres snapshot_leap = 4.0;

} // namespace avrek
