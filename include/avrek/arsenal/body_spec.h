#pragma once
#include <avrek/arsenal/condition_spec.h>
#include <avrek/arsenal/defence_spec.h>
#include <avrek/arsenal/effect_spec.h>
#include <avrek/arsenal/movement_spec.h>
#include <avrek/arsenal/pose_spec.h>
#include <avrek/arsenal/spec_ref.h>
#include <avrek/core/ids.h>
#include <avrek/core/shapes.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

/// One named hit region of a rig.
struct RegionSpec {
    std::string name{};
    std::vector<Shape> shapes{}; ///< at least one, in the axes of its joint
    std::uint32_t joint = 0;     ///< 0: the body itself; n: RigSpec::joints[n - 1]
    /// In `shape_joints`: the shape moves with `joint`.
    static constexpr std::uint32_t region_joint = 0xffffffff;
    /// Joint of each shape, for a region that more than one joint moves; empty: all move with `joint`.
    std::vector<std::uint32_t> shape_joints{};
    /// Surface that shots and projectiles can bounce off; empty: the body's. Its `spec` is set by
    /// resolve_references(), to the body's if it names none.
    SpecRef<SurfaceId> surface{};
};

/// A part of a body that moves by itself, such as a head or a turning barrel.
struct JointSpec {
    std::string name{};
    Pose rest{}; ///< pose in the body's axes unless the game poses it
};

/// The hit regions of a body. The body's own axes have the feet at the origin and face +Z.
struct RigSpec {
    std::vector<RegionSpec> regions{}; ///< at least one; RegionId is the index in this list
    std::vector<JointSpec> joints{};   ///< at most `max_joints`; names are unique
};

/// Maximum number of joints of a rig, besides the body itself.
inline constexpr std::size_t max_joints = 63;

/// One kind of body: its hit regions and its vitals.
struct BodySpec {
    std::string id{};
    double health = 100.0; ///< health at the start, and its maximum; over 0
    RigSpec rig{};
    SpecRef<SurfaceId> surface{};            ///< surface of its regions; none: nothing bounces off it
    std::vector<DefenceLayerSpec> defence{}; ///< at most `max_defence_layers`, outermost first, unique names
    std::vector<DamageTypeFactor> resists{}; ///< share of damage or healing that counts, by type; 0: none
    std::vector<SpecRef<ConditionId>> immune{};           ///< conditions that never take hold
    ConditionSet immune_set{};                            ///< set by resolve_references()
    std::vector<SpecRef<ConditionId>> first_conditions{}; ///< conditions that each life starts with
    std::optional<GuardSpec> guard{};                     ///< none: it cannot guard
    RegenerationSpec regeneration{};
    ReactionSpec light_reaction{};
    ReactionSpec heavy_reaction{.shows = BodyState::stunned};
    std::vector<ReactionSpec> reactions{}; ///< its own, with unique names
    MovementSpec movement{};
    PostureSpec posture{};
    std::vector<PoseSpec> poses{}; ///< at most one of each kind
    ReadyPoses ready{};            ///< set by resolve_references()
    /// For each of the arsenal's own reactions the place in `reactions`, counted from 1; 0: it has none. Set
    /// by resolve_references().
    std::array<std::uint8_t, max_own_reactions> own_reactions{};
};

/// Returns a body's reaction of a class, or null if it has none.
const ReactionSpec* reaction_of(const BodySpec& body, ReactionClass reaction);
/// Returns the weight of that reaction; 0 if it has none.
double reaction_weight(const BodySpec& body, ReactionClass reaction);

/// Returns the region of `rig` with this name, or none.
std::optional<RegionId> find_region(const RigSpec& rig, std::string_view name);

/// Returns the region `id` of `rig`. Precondition (asserted): `id` is one of its regions.
const RegionSpec& region_of(const RigSpec& rig, RegionId id);

/// Returns the joint that a shape of a region moves with, counted as RegionSpec::joint counts.
std::uint32_t joint_of(const RegionSpec& region, std::size_t shape);

/// Returns the joint of `rig` with this name, counted as RegionSpec::joint counts, or none.
std::optional<std::uint32_t> find_joint(const RigSpec& rig, std::string_view name);

/// Returns the poses of a body at `pose` with all joints at rest: its own, then one for each joint.
std::vector<Pose> rest_poses(const RigSpec& rig, const Pose& pose);

/// One shape of a posed rig, in the axes that its poses are in.
struct PosedShape {
    RegionId region{};
    Shape shape{};
};

/// Returns all shapes of a rig in the poses of its body and joints, by region. A joint that the
/// rig does not have counts as the body itself. Precondition (asserted): one pose for the body and for each
/// joint.
std::vector<PosedShape> posed_shapes(const RigSpec& rig, std::span<const Pose> poses);

/// Returns the point to aim at for a region, in the body's axes with all joints at rest: the middle of its
/// first shape.
Vector3 aim_point(const RigSpec& rig, RegionId region);

} // namespace avrek
