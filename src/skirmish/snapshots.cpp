#include "../core/by_id.h"
#include <avrek/core/elementary.h>
#include <avrek/skirmish/snapshots.h>

#include <algorithm>
#include <cmath>

namespace avrek {

namespace {

constexpr double yaw_steps = 4096.0;

std::int32_t step_of(double metres) {
    constexpr double most = max_snapshot_steps;
    const double steps = std::floor(metres * snapshot_grid + 0.5);
    return static_cast<std::int32_t>(std::clamp(std::isfinite(steps) ? steps : 0.0, -most, most));
}

} // namespace

SnapshotPose snapshot_pose(const Vector3& position, Radians yaw) {
    const double turns = std::isfinite(yaw) ? shortest_turn(yaw) / (2.0 * pi) : 0.0;
    const auto steps = static_cast<std::int32_t>(std::floor(turns * yaw_steps + 0.5));
    return {step_of(position.x()), step_of(position.y()), step_of(position.z()),
            static_cast<std::uint16_t>(steps & 4095)};
}

Vector3 position_of(const SnapshotPose& place) {
    return {place.x / snapshot_grid, place.y / snapshot_grid, place.z / snapshot_grid};
}

Radians yaw_of(const SnapshotPose& place) {
    const int steps = place.yaw > 2048 ? int{place.yaw} - 4096 : int{place.yaw};
    return 2.0 * pi * steps / yaw_steps;
}

Pose pose_of(const SnapshotPose& place) {
    return {position_of(place), turned_to({yaw_of(place), 0.0})};
}

void add_snapshot(Scene& scene, Time at, std::span<const SnapshotBody> bodies) {
    scene.begin_frame(at);
    // Bodies that are not shown any more go first, so that there is room.
    for (std::size_t index = scene.body_count(); index > 0; --index) {
        const BodyId id = scene.body_at(index - 1);
        if (detail::find_by_id(bodies, id) == nullptr) {
            scene.remove(id);
        }
    }
    for (const SnapshotBody& body : bodies) {
        const Pose pose = pose_in(body.stance, *body.body, position_of(body.pose), yaw_of(body.pose));
        const std::optional<Pose> before = scene.pose_of(body.id);
        if (!before) {
            (void)scene.add({.id = body.id, .rig = &body.body->rig, .pose = pose, .team = body.team});
        } else if ((before->position - pose.position).squaredNorm() > snapshot_leap * snapshot_leap) {
            scene.jump(body.id, pose);
        } else {
            scene.move(body.id, pose);
        }
    }
}

} // namespace avrek
