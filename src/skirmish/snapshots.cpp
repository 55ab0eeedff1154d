#include "../core/by_id.h"
#include <avrek/core/elementary.h>
#include <avrek/skirmish/snapshots.h>

#include <algorithm>
#include <cmath>

namespace avrek {

namespace {

constexpr double yaw_steps = 4096.0;
constexpr double pitch_steps = 1024.0; // per right angle

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

std::int16_t snapshot_pitch(Radians pitch) {
    const double steps = std::floor(pitch * (2.0 * pitch_steps / pi) + 0.5);
    return static_cast<std::int16_t>(
        std::clamp(std::isfinite(steps) ? steps : 0.0, -pitch_steps, pitch_steps));
}

Radians pitch_of(std::int16_t steps) {
    return steps * pi / (2.0 * pitch_steps);
}

void add_snapshot(Scene& scene, Time at, std::span<const SnapshotBody> bodies, const PoseSource& source) {
    PoseRoom room;
    scene.begin_frame(at);
    // Bodies that are not shown any more go first, so that there is room.
    for (std::size_t index = scene.body_count(); index > 0; --index) {
        const BodyId id = scene.body_at(index - 1);
        if (detail::find_by_id(bodies, id) == nullptr) {
            scene.remove(id);
        }
    }
    for (const SnapshotBody& body : bodies) {
        const std::span<const Pose> poses =
            world_poses(source, {*body.body, body.state, pitch_of(body.pitch), at}, pose_of(body.pose), room);
        const std::optional<Pose> before = scene.pose_of(body.id);
        if (!before) {
            (void)scene.add({.id = body.id, .rig = &body.body->rig, .pose = poses[0], .team = body.team});
        }
        if (before && (before->position - poses[0].position).squaredNorm() > snapshot_leap * snapshot_leap) {
            scene.jump(body.id, poses);
        } else {
            scene.move(body.id, poses);
        }
    }
    scene.end_frame();
}

} // namespace avrek
