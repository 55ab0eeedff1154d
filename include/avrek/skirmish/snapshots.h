#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/scene/scene.h>
#include <avrek/skirmish/body_stance.h>

#include <cstdint>
#include <span>

/// What players are shown of others: every few ticks where they stand, rounded. A server remembers exactly
/// that, and a client draws exactly that, so a shot can be judged against what its shooter saw.
namespace avrek {

/// The place of somebody's feet on a grid of 1/128 m, facing one of 4096 ways.
struct SnapshotPose {
    std::int32_t x = 0;
    std::int32_t y = 0;
    std::int32_t z = 0;
    std::uint16_t yaw = 0;
    friend bool operator==(const SnapshotPose&, const SnapshotPose&) = default;
};

inline constexpr double snapshot_grid = 128.0;              ///< steps to a metre
inline constexpr std::int32_t max_snapshot_steps = 1 << 23; ///< steps from the origin: 65 km

/// The nearest place; beyond the grid, the last one on it.
SnapshotPose snapshot_pose(const Vector3& position, Radians yaw);
Vector3 position_of(const SnapshotPose& place);
Radians yaw_of(const SnapshotPose& place); ///< in (-pi, pi]
Pose pose_of(const SnapshotPose& place);   ///< of one who stands

/// A body that is shown.
struct SnapshotBody {
    BodyId id = nobody;
    const BodySpec* body = nullptr; ///< never null; outlives the scene
    TeamId team{};
    SnapshotPose pose{};
    BodyStance stance = BodyStance::standing;
};

/// A new frame of a scene, with these bodies and no others, in order of their ids. Who moves by more than
/// `shown_leap` gets there at once, and flies through nothing in between. Precondition (asserted): `at` is
/// after scene.now().
void add_snapshot(Scene& scene, Time at, std::span<const SnapshotBody> bodies);

inline constexpr Metres snapshot_leap = 4.0;

} // namespace avrek
