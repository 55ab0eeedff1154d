#pragma once
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

/// Kind of pose of a body. In this order the built-in pose source prefers them, the last one first.
enum class PoseKind : std::uint8_t {
    standing,
    crouching,
    airborne,
    staggered, ///< or stunned
    rising,
    on_front, ///< lying on the ground, feet where they were
    on_back,
    aiming, ///< laid over the others; its joints only
};

/// Number of kinds of pose.
inline constexpr std::size_t pose_kind_count = 8;

/// Returns the word for a kind: "on-front".
std::string_view to_string(PoseKind kind);

/// One joint in a pose.
struct JointPoseSpec {
    std::string name{};              ///< name of a joint of the rig
    Vector3 shift = Vector3::Zero(); ///< from its place at rest, in the body's axes
    Rotation turn = Rotation::Identity();
    double look = 0.0; ///< share of the look's pitch that it follows, -1 to 1
};

/// One pose of a body. Joints that it does not list are at rest.
struct PoseSpec {
    std::string name{};                   ///< word of a PoseKind
    Duration time{};                      ///< time in which a body takes it, at least 0
    Vector3 shift = Vector3::Zero();      ///< shift of the whole body
    Rotation turn = Rotation::Identity(); ///< turn of the whole body, about its feet
    std::vector<JointPoseSpec> joints{};
};

/// The poses of a body, ready to be blended. Set by resolve_references().
struct ReadyPoses {
    /// By kind, then the body itself and each joint: poses in the axes of the standing body.
    std::vector<Pose> poses{};
    std::vector<double> look{};                   ///< by kind and joint: share of the look's pitch
    std::array<Duration, pose_kind_count> time{}; ///< by kind
    std::array<bool, pose_kind_count> is_there{}; ///< by kind: the body has it
    std::vector<std::uint32_t> aimed{};           ///< joints that aiming moves
    std::size_t joints = 1;                       ///< per kind, the body itself included
};

struct BodySpec;

/// Returns the poses of a body, ready to be blended. Without tables of its own a body crouches by
/// PostureSpec::crouched of its eye's height, lies on the ground when it is down, and blends at once.
ReadyPoses ready_poses(const BodySpec& body);

} // namespace avrek
