#pragma once
#include <avrek/arsenal/condition_spec.h>
#include <avrek/arsenal/defence_spec.h>
#include <avrek/arsenal/movement_spec.h>
#include <avrek/core/ids.h>
#include <avrek/core/shapes.h>

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

/// One named hit region of a rig.
struct RegionSpec {
    std::string name{};
    std::vector<Shape> shapes{}; ///< at least one; in the axes of its joint
    std::uint32_t joint = 0;     ///< what it moves with: 0 the body itself, n RigSpec::joints[n - 1]
};

/// A part of a body that moves by itself, such as a head or a turning barrel.
struct JointSpec {
    std::string name{};
    Pose rest{}; ///< in the body's axes, as long as the game does not pose it
};

/// The named hit regions of a kind of body. A body's own axes: feet at the origin, facing +Z.
struct RigSpec {
    std::vector<RegionSpec> regions{}; ///< at least one; RegionId is the place in this list
    std::vector<JointSpec> joints{};   ///< at most `max_joints`; names are unique
};

/// No rig has more joints besides the body itself.
inline constexpr std::size_t max_joints = 63;

/// One kind of body: its hit regions and its vitals.
struct BodySpec {
    std::string id{};
    double health = 100.0; ///< at the start, and at most; over 0
    RigSpec rig{};
    std::vector<DefenceLayerSpec>
        defence{}; ///< at most `max_defence_layers`, outermost first; names are unique
    std::vector<DamageTypeFactor>
        resists{};                    ///< share of the damage, or healing, of a kind that counts; 0: none
    std::vector<SpecRef> immune{};    ///< conditions that never come
    ConditionSet immune_set{};        ///< see link()
    std::optional<GuardSpec> guard{}; ///< none: it cannot guard
    ReactionSpec light_reaction{};
    ReactionSpec heavy_reaction{.shows = BodyState::stunned};
    MovementSpec movement{};
    PostureSpec posture{};
};

/// The region of `rig` with this name, if there is one.
std::optional<RegionId> find_region(const RigSpec& rig, std::string_view name);

/// The region `id` of `rig`. Precondition (asserted): `id` is one of its regions.
const RegionSpec& region_of(const RigSpec& rig, RegionId id);

/// The joint of `rig` with this name, as RegionSpec::joint counts them.
std::optional<std::uint32_t> find_joint(const RigSpec& rig, std::string_view name);

/// The poses of a body at `pose` with all joints at rest: its own, then one for each joint.
std::vector<Pose> rest_poses(const RigSpec& rig, const Pose& pose);

/// The point of a region to aim at, in the body's axes with all joints at rest: the middle of its first
/// shape.
Vector3 aim_point(const RigSpec& rig, RegionId region);

} // namespace avrek
