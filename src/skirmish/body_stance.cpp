#include <avrek/skirmish/body_stance.h>

#include <algorithm>
#include <variant>

namespace avrek {

namespace {

// How far the shapes of a rig at rest reach ahead of its axis, or behind it.
Metres depth_of(const RigSpec& rig, double ahead) {
    Metres depth = 0.0;
    for (const RegionSpec& region : rig.regions) {
        const Pose rest = region.joint > 0 ? rig.joints[region.joint - 1].rest : Pose{};
        for (const Shape& shape : region.shapes) {
            const Shape there = to_world(rest, shape);
            if (const auto* ball = std::get_if<Sphere>(&there)) {
                depth = std::max(depth, ahead * ball->centre.z() + ball->radius);
            } else if (const auto* capsule = std::get_if<Capsule>(&there)) {
                depth = std::max({depth, ahead * capsule->from.z() + capsule->radius,
                                  ahead * capsule->to.z() + capsule->radius});
            } else if (const auto* box = std::get_if<Box>(&there)) {
                const Vector3 reach =
                    (box->pose.rotation.toRotationMatrix().cwiseAbs() * box->half_extents).eval();
                depth = std::max(depth, ahead * box->pose.position.z() + reach.z());
            }
        }
    }
    return depth;
}

// From the axes of a standing body to those of its rig.
Pose lean_of(BodyStance stance, const BodySpec& body) {
    switch (stance) {
    case BodyStance::standing:
        break;
    case BodyStance::crouching:
        return {{0.0, -(1.0 - body.posture.crouched) * body.posture.eye.y(), 0.0}, Rotation::Identity()};
    case BodyStance::on_front:
        return {{0.0, depth_of(body.rig, 1.0), 0.0}, turned_to({0.0, -0.5 * pi})};
    case BodyStance::on_back:
        return {{0.0, depth_of(body.rig, -1.0), 0.0}, turned_to({0.0, 0.5 * pi})};
    }
    return {};
}

} // namespace

BodyStance stance_of(const Vitals& vitals, bool crouches) {
    if (vitals.state == BodyState::down || vitals.state == BodyState::ragdoll) {
        return vitals.on_back ? BodyStance::on_back : BodyStance::on_front;
    }
    return crouches || vitals.state == BodyState::rising ? BodyStance::crouching : BodyStance::standing;
}

Pose pose_in(BodyStance stance, const BodySpec& body, const Vector3& feet, Radians yaw) {
    const Pose stands{feet, turned_to({yaw, 0.0})};
    if (stance == BodyStance::standing) {
        return stands;
    }
    const Pose lean = lean_of(stance, body);
    return {to_world(stands, lean.position), stands.rotation * lean.rotation};
}

Pose standing_pose(BodyStance stance, const BodySpec& body, const Pose& pose) {
    if (stance == BodyStance::standing) {
        return pose;
    }
    const Pose lean = lean_of(stance, body);
    const Rotation turn = pose.rotation * lean.rotation.conjugate();
    return {pose.position - turn * lean.position, turn};
}

} // namespace avrek
