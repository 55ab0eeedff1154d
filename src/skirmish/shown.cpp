#include <avrek/core/elementary.h>
#include <avrek/skirmish/shown.h>

#include <algorithm>
#include <cmath>

namespace avrek {

namespace {

constexpr double yaw_steps = 4096.0;

std::int32_t step_of(double metres) {
    constexpr double most = most_shown;
    const double steps = std::floor(metres * shown_grid + 0.5);
    return static_cast<std::int32_t>(std::clamp(std::isfinite(steps) ? steps : 0.0, -most, most));
}

} // namespace

ShownPlace shown_place(const Vector3& position, Radians yaw) {
    const double turns = std::isfinite(yaw) ? shortest_turn(yaw) / (2.0 * pi) : 0.0;
    const auto steps = static_cast<std::int32_t>(std::floor(turns * yaw_steps + 0.5));
    return {step_of(position.x()), step_of(position.y()), step_of(position.z()),
            static_cast<std::uint16_t>(steps & 4095)};
}

Vector3 position_of(const ShownPlace& place) {
    return {place.x / shown_grid, place.y / shown_grid, place.z / shown_grid};
}

Radians yaw_of(const ShownPlace& place) {
    const int steps = place.yaw > 2048 ? int{place.yaw} - 4096 : int{place.yaw};
    return 2.0 * pi * steps / yaw_steps;
}

Pose pose_of(const ShownPlace& place) {
    return {position_of(place), turned_to({yaw_of(place), 0.0})};
}

void show(Scene& scene, Time at, std::span<const ShownBody> bodies) {
    scene.begin_frame(at);
    // Who is not shown any more goes first, so that there is room.
    for (std::size_t place = scene.body_count(); place > 0; --place) {
        const BodyId id = scene.body_at(place - 1);
        const auto shown =
            std::lower_bound(bodies.begin(), bodies.end(), id,
                             [](const ShownBody& one, BodyId wanted) { return one.id < wanted; });
        if (shown == bodies.end() || shown->id != id) {
            scene.remove(id);
        }
    }
    for (const ShownBody& body : bodies) {
        const Pose pose = pose_in(body.stance, *body.body, position_of(body.place), yaw_of(body.place));
        const std::optional<Pose> before = scene.pose_of(body.id);
        if (!before) {
            (void)scene.add({.id = body.id, .rig = &body.body->rig, .pose = pose, .team = body.team});
        } else if ((before->position - pose.position).squaredNorm() > shown_leap * shown_leap) {
            scene.jump(body.id, pose);
        } else {
            scene.move(body.id, pose);
        }
    }
}

} // namespace avrek
