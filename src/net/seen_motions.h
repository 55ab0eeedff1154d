#pragma once
#include "snapshot_bodies.h"

#include <array>
#include <cstdint>
#include <vector>

namespace avrek::detail {

/// How bodies move, to draw those that are left out of a snapshot: on as they went, for at most a quarter of
/// a second or so.
class SeenMotions {
  public:
    /// Returns the bodies as they are drawn at a snapshot, which are counted by `snapshot`.
    std::vector<SeenBody> drawn(const ReceivedBodies& received, std::int64_t snapshot);

  private:
    struct Motion {
        BodyId id = nobody;
        std::int64_t told = 0;        ///< snapshot
        SnapshotPose pose{};          ///< then
        std::array<double, 3> step{}; ///< per snapshot
    };
    std::vector<Motion> known_{}; ///< in order of ids
    std::vector<Motion> before_{};
};

} // namespace avrek::detail
