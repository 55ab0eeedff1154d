#include <avrek/arsenal/body_spec.h>

#include <cassert>
#include <cstddef>

namespace avrek {

std::optional<RegionId> find_region(const RigSpec& rig, std::string_view name) {
    for (std::size_t index = 0; index < rig.regions.size(); ++index) {
        if (rig.regions[index].name == name) {
            return static_cast<RegionId>(index);
        }
    }
    return std::nullopt;
}

const RegionSpec& region_of(const RigSpec& rig, RegionId id) {
    const auto index = static_cast<std::size_t>(id);
    assert(index < rig.regions.size());
    return rig.regions[index];
}

std::optional<std::uint32_t> find_joint(const RigSpec& rig, std::string_view name) {
    for (std::size_t index = 0; index < rig.joints.size(); ++index) {
        if (rig.joints[index].name == name) {
            return static_cast<std::uint32_t>(index + 1);
        }
    }
    return std::nullopt;
}

std::vector<Pose> rest_poses(const RigSpec& rig, const Pose& pose) {
    std::vector<Pose> poses{pose};
    for (const JointSpec& joint : rig.joints) {
        poses.push_back(to_world(pose, joint.rest));
    }
    return poses;
}

Vector3 aim_point(const RigSpec& rig, RegionId region) {
    const RegionSpec& spec = region_of(rig, region);
    assert(!spec.shapes.empty() && spec.joint <= rig.joints.size());
    const Vector3 middle = centre_of(spec.shapes.front());
    return spec.joint == 0 ? middle : to_world(rig.joints[spec.joint - 1].rest, middle);
}

} // namespace avrek
