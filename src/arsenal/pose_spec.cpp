#include <avrek/arsenal/body_spec.h>
#include <avrek/core/bounds.h>

#include <algorithm>

namespace avrek {

namespace {

// How far the shapes of a rig at rest reach ahead of its axis, or behind it.
Metres depth_of(const RigSpec& rig, double ahead) {
    Metres depth = 0.0;
    for (const PosedShape& posed : posed_shapes(rig, rest_poses(rig, Pose{}))) {
        const Bounds box = bounds_of(posed.shape);
        depth = std::max(depth, ahead > 0.0 ? box.high.z() : -box.low.z());
    }
    return depth;
}

// The body itself in a pose that it has no table of.
Pose default_pose(PoseKind kind, const BodySpec& body) {
    switch (kind) {
    case PoseKind::crouching:
    case PoseKind::rising:
        return {{0.0, -(1.0 - body.posture.crouched) * body.posture.eye.y(), 0.0}, Rotation::Identity()};
    case PoseKind::on_front:
        return {{0.0, depth_of(body.rig, 1.0), 0.0}, turned_to({0.0, -0.5 * pi})};
    case PoseKind::on_back:
        return {{0.0, depth_of(body.rig, -1.0), 0.0}, turned_to({0.0, 0.5 * pi})};
    case PoseKind::standing:
    case PoseKind::airborne:
    case PoseKind::staggered:
    case PoseKind::aiming:
        break;
    }
    return {};
}

// Poses that every body has, by a table or by default.
bool has_default(PoseKind kind) {
    return kind != PoseKind::airborne && kind != PoseKind::staggered && kind != PoseKind::aiming;
}

} // namespace

std::string_view to_string(PoseKind kind) {
    switch (kind) {
    case PoseKind::standing:
        return "standing";
    case PoseKind::crouching:
        return "crouching";
    case PoseKind::airborne:
        return "airborne";
    case PoseKind::staggered:
        return "staggered";
    case PoseKind::rising:
        return "rising";
    case PoseKind::on_front:
        return "on-front";
    case PoseKind::on_back:
        return "on-back";
    case PoseKind::aiming:
        return "aiming";
    }
    return "unknown";
}

ReadyPoses ready_poses(const BodySpec& body) {
    ReadyPoses ready;
    ready.joints = body.rig.joints.size() + 1;
    for (std::size_t index = 0; index < pose_kind_count; ++index) {
        const auto kind = static_cast<PoseKind>(index);
        const auto spec = std::find_if(body.poses.begin(), body.poses.end(),
                                       [kind](const PoseSpec& one) { return one.name == to_string(kind); });
        const bool is_own = spec != body.poses.end();
        ready.is_there[index] = is_own || has_default(kind);
        ready.time[index] = is_own ? spec->time : Duration{};
        const Pose whole = is_own ? Pose{spec->shift, spec->turn} : default_pose(kind, body);
        ready.poses.push_back(whole);
        ready.look.push_back(0.0);
        for (const JointSpec& joint : body.rig.joints) {
            Pose at_joint = joint.rest;
            double look = 0.0;
            for (const JointPoseSpec& posed : is_own ? spec->joints : std::vector<JointPoseSpec>{}) {
                if (posed.name == joint.name) {
                    at_joint = {joint.rest.position + posed.shift, joint.rest.rotation * posed.turn};
                    look = posed.look;
                    if (kind == PoseKind::aiming) {
                        ready.aimed.push_back(static_cast<std::uint32_t>(&joint - body.rig.joints.data()) +
                                              1);
                    }
                }
            }
            ready.poses.push_back(to_world(whole, at_joint));
            ready.look.push_back(look);
        }
    }
    return ready;
}

} // namespace avrek
