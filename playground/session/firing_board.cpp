#include "firing_board.h"

#include <cassert>
#include <cmath>
#include <variant>
#include <vector>

namespace avrek::playground {

FiringBoard board_before(const Skirmish& fight, BodyId who, Metres distance) {
    const Fighter* fighter = fight.find(who);
    assert(fighter != nullptr);
    const CombatantReadout readout = fight.readout(who);
    const Rotation level = turned_to({readout.view.yaw, 0.0});
    const Vector3 middle = readout.eye + level * world_forward() * distance;
    return {distance, fighter->motion.position, {middle, level}, {}, {}};
}

void take(FiringBoard& board, std::span<const Event> events, BodyId who) {
    for (const Event& event : events) {
        const auto* segment = std::get_if<SegmentEvent>(&event);
        if (segment == nullptr || segment->who != who || board.distance <= 0.0) {
            continue;
        }
        const Vector3 from = to_local(board.pose, segment->segment.start);
        const Vector3 to = to_local(board.pose, segment->segment.end);
        const double way = to.z() - from.z();
        const double share = way > 0.0 ? -from.z() / way : -1.0;
        if (share < 0.0 || share > 1.0) {
            continue;
        }
        const Vector3 at = from + share * (to - from);
        if (std::abs(at.x()) <= FiringBoard::half_size && std::abs(at.y()) <= FiringBoard::half_size) {
            board.hits.push_back({-at.x(), at.y()});
            board.points.push_back(to_world(board.pose, at));
        }
        while (board.hits.size() > FiringBoard::max_hits) {
            board.hits.pop_front();
            board.points.pop_front();
        }
    }
}

GroupSize group_of(const FiringBoard& board) {
    const std::vector<BoardPoint> points{board.hits.begin(), board.hits.end()};
    return group_size(points);
}

} // namespace avrek::playground
