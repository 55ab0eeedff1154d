#include <avrek/arsenal/body_spec.h>

#include <cassert>
#include <cstddef>

namespace avrek {

const ReactionSpec* reaction_of(const BodySpec& body, ReactionClass reaction) {
    switch (reaction) {
    case ReactionClass::none:
        return nullptr;
    case ReactionClass::light:
        return &body.light_reaction;
    case ReactionClass::heavy:
        return &body.heavy_reaction;
    }
    const std::size_t own = static_cast<std::size_t>(reaction) - first_own_reaction;
    const std::size_t place = own < max_own_reactions ? body.own_reactions[own] : 0;
    return place > 0 && place <= body.reactions.size() ? &body.reactions[place - 1] : nullptr;
}

double reaction_weight(const BodySpec& body, ReactionClass reaction) {
    const ReactionSpec* spec = reaction_of(body, reaction);
    return reaction <= ReactionClass::heavy ? static_cast<double>(reaction)
           : spec != nullptr                ? spec->weight
                                            : 0.0;
}

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

std::uint32_t joint_of(const RegionSpec& region, std::size_t shape) {
    return shape < region.shape_joints.size() && region.shape_joints[shape] != RegionSpec::region_joint
               ? region.shape_joints[shape]
               : region.joint;
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

std::vector<PosedShape> posed_shapes(const RigSpec& rig, std::span<const Pose> poses) {
    assert(poses.size() == rig.joints.size() + 1);
    std::vector<PosedShape> posed;
    for (std::size_t region = 0; region < rig.regions.size(); ++region) {
        const RegionSpec& spec = rig.regions[region];
        for (std::size_t shape = 0; shape < spec.shapes.size(); ++shape) {
            const std::uint32_t joint = joint_of(spec, shape);
            posed.push_back({static_cast<RegionId>(region),
                             to_world(poses[joint < poses.size() ? joint : 0], spec.shapes[shape])});
        }
    }
    return posed;
}

Vector3 aim_point(const RigSpec& rig, RegionId region) {
    const RegionSpec& spec = region_of(rig, region);
    const std::uint32_t joint = joint_of(spec, 0);
    assert(!spec.shapes.empty() && joint <= rig.joints.size());
    const Vector3 middle = centre_of(spec.shapes.front());
    return joint == 0 ? middle : to_world(rig.joints[joint - 1].rest, middle);
}

} // namespace avrek
