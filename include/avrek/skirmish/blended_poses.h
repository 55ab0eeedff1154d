#pragma once
#include <avrek/arsenal/pose_spec.h>
#include <avrek/skirmish/pose_source.h>

namespace avrek {

/// Blends the poses of the arsenal, `[body.ID.pose.NAME]`: a body takes the last PoseKind that fits it and
/// that it has, in the time of that pose. Aiming is laid over the others. The states are weights of poses.
class BlendedPoses final : public PoseSource {
  public:
    std::string_view name() const override { return "blended"; }
    std::uint32_t version() const override { return 1; }
    PoseState advance(const PoseInput& in, PoseState before) const override;
    void pose(const PosedBody& of, std::span<Pose> poses) const override;
};

/// Returns the built-in pose source.
const BlendedPoses& blended_poses();

/// Returns a pose source; the built-in one for null.
inline const PoseSource& pose_source_or_built_in(const PoseSource* source) {
    return source != nullptr ? *source : blended_poses();
}

/// Returns the share of a pose in a state of BlendedPoses, 0 to 1. The shares without aiming add up to 1.
double share_of(PoseKind kind, const PoseState& state);

} // namespace avrek
