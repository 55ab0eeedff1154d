#include "seen_motions.h"

#include "../core/by_id.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace avrek::detail {

namespace {

constexpr std::int64_t max_between = 16; // snapshots; what lies farther apart tells no speed
constexpr std::int64_t max_onward = 8;   // snapshots; then it stands

std::int32_t onward(std::int32_t from, double by) {
    return std::clamp(from + static_cast<std::int32_t>(std::lround(by)), -max_snapshot_steps,
                      max_snapshot_steps);
}

} // namespace

std::vector<SeenBody> SeenMotions::drawn(const ReceivedBodies& received, std::int64_t snapshot) {
    std::swap(known_, before_);
    known_.clear();
    std::vector<SeenBody> drawn = received.bodies;
    for (std::size_t index = 0; index < drawn.size(); ++index) {
        SnapshotPose& pose = drawn[index].pose;
        const Motion* before = find_by_id(before_, drawn[index].id);
        Motion now{drawn[index].id, snapshot, pose, {}};
        if (!received.is_fresh(index) && before != nullptr) {
            now = *before;
            const auto ahead =
                static_cast<double>(std::clamp<std::int64_t>(snapshot - before->told, 0, max_onward));
            pose.x = onward(pose.x, ahead * now.step[0]);
            pose.y = onward(pose.y, ahead * now.step[1]);
            pose.z = onward(pose.z, ahead * now.step[2]);
        } else if (before != nullptr && snapshot > before->told && snapshot - before->told <= max_between) {
            const auto between = static_cast<double>(snapshot - before->told);
            const std::array<double, 3> way{static_cast<double>(pose.x) - before->pose.x,
                                            static_cast<double>(pose.y) - before->pose.y,
                                            static_cast<double>(pose.z) - before->pose.z};
            const double far = std::sqrt(way[0] * way[0] + way[1] * way[1] + way[2] * way[2]);
            if (far <= between * snapshot_leap * snapshot_grid / 4.0) { // not put elsewhere
                now.step = {way[0] / between, way[1] / between, way[2] / between};
            }
        }
        known_.push_back(now);
    }
    return drawn;
}

} // namespace avrek::detail
