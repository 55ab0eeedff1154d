#include <avrek/skirmish/pose_source.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

bool fits(std::span<const Pose> poses) {
    return std::all_of(poses.begin(), poses.end(), [](const Pose& pose) {
        // NaN is no smaller than anything.
        return pose.position.squaredNorm() <= max_joint_distance * max_joint_distance &&
               std::abs(pose.rotation.coeffs().squaredNorm() - 1.0) <= 1e-6;
    });
}

std::span<const Pose> world_poses(const PoseSource& source, const PosedBody& of, const Pose& stands,
                                  PoseRoom& room) {
    const RigSpec& rig = of.body.rig;
    assert(rig.joints.size() <= max_joints);
    const std::span<Pose> poses = std::span{room}.first(rig.joints.size() + 1);
    const auto put_at_rest = [&] {
        poses[0] = {};
        for (std::size_t joint = 0; joint < rig.joints.size(); ++joint) {
            poses[joint + 1] = rig.joints[joint].rest;
        }
    };
    put_at_rest();
    source.pose(of, poses);
    if (!fits(poses)) {
        put_at_rest();
    }
    for (Pose& pose : poses) {
        pose = to_world(stands, pose);
    }
    return poses;
}

std::string name_of(const PoseSource& source) {
    return std::string{source.name()} + ' ' + std::to_string(source.version());
}

} // namespace avrek
