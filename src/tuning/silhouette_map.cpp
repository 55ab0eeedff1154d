#include "map_maker.h"
#include <avrek/scene/raycast.h>
#include <avrek/scene/silhouette.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace avrek::detail {

namespace {

constexpr int circle_corners = 64;
constexpr std::size_t row_count = 360;

struct Outlined {
    Shape shape; // in the world
    std::uint32_t region;
    double low = std::numeric_limits<double>::infinity();
    double high = -std::numeric_limits<double>::infinity();
    std::vector<BoardPoint> outline;
};

// Where a row crosses a convex outline.
std::optional<std::pair<double, double>> crossing(const Outlined& part, double up) {
    if (up <= part.low || up >= part.high) {
        return std::nullopt;
    }
    double from = std::numeric_limits<double>::infinity();
    double to = -from;
    for (std::size_t index = 0; index < part.outline.size(); ++index) {
        const BoardPoint& a = part.outline[index];
        const BoardPoint& b = part.outline[index + 1 < part.outline.size() ? index + 1 : 0];
        if ((a.up <= up) != (b.up <= up)) {
            const double right = a.right + (up - a.up) / (b.up - a.up) * (b.right - a.right);
            from = std::min(from, right);
            to = std::max(to, right);
        }
    }
    return std::pair{from, to};
}

} // namespace

ShotMap map_of_silhouettes(const Engagement& engagement, const Viewpoint& view, const Pose& target) {
    const WeaponSpec& weapon = *engagement.weapon;
    const RigSpec& rig = engagement.target.body->rig;
    const Board board{view.from, view.from + view.line}; // at unit distance: the map's own plane
    std::vector<Outlined> parts;
    double low = std::numeric_limits<double>::infinity();
    double high = -low;
    for (const PosedShape& posed : posed_shapes(rig, rest_poses(rig, target))) {
        Outlined part{posed.shape, static_cast<std::uint32_t>(posed.region), low, high, {}};
        part.low = std::numeric_limits<double>::infinity();
        part.high = -part.low;
        part.outline = silhouette(board, Pose{}, part.shape, circle_corners);
        for (const BoardPoint& point : part.outline) {
            part.low = std::min(part.low, point.up);
            part.high = std::max(part.high, point.up);
        }
        if (!part.outline.empty()) {
            low = std::min(low, part.low);
            high = std::max(high, part.high);
            parts.push_back(std::move(part));
        }
    }
    MapMaker maker{view.line, view.line.dot(to_world(target, aim_point(rig, engagement.aim)) - view.from)};
    for (std::size_t region = 0; region < rig.regions.size(); ++region) {
        maker.outcome({{{RegionId{static_cast<std::uint16_t>(region)}}}, {}});
    }
    if (parts.empty()) {
        return maker.take();
    }
    maker.set_rows(low, high, row_count);
    std::vector<double> weights(rig.regions.size(), 0.0);
    std::vector<double> distances(rig.regions.size(), 0.0);
    std::vector<double> cuts;
    std::vector<std::pair<const Outlined*, std::pair<double, double>>> crossed;
    for (std::size_t row = 0; row < maker.rows(); ++row) {
        maker.begin_row(row);
        cuts.clear();
        crossed.clear();
        const double up = maker.middle_of(row);
        for (const Outlined& part : parts) {
            if (const auto found = crossing(part, up)) {
                crossed.emplace_back(&part, *found);
                cuts.push_back(found->first);
                cuts.push_back(found->second);
            }
        }
        std::sort(cuts.begin(), cuts.end());
        for (std::size_t cut = 0; cut + 1 < cuts.size(); ++cut) {
            const double from = cuts[cut];
            const double to = cuts[cut + 1];
            const double middle = 0.5 * (from + to);
            const Ray ray{view.from, maker.direction_at({middle, up}), 1e4};
            const Outlined* nearest = nullptr;
            Metres distance = 0.0;
            for (const auto& [part, span] : crossed) {
                if (middle > span.first && middle < span.second && to > from) {
                    const auto entry = raycast(ray, part->shape);
                    if (entry && (nearest == nullptr || entry->distance < distance)) {
                        nearest = part;
                        distance = entry->distance;
                    }
                }
            }
            if (nearest != nullptr && distance <= weapon.range) {
                maker.add(from, to, nearest->region);
                weights[nearest->region] += to - from;
                distances[nearest->region] += (to - from) * distance;
            }
        }
    }
    for (std::size_t region = 0; region < weights.size(); ++region) {
        if (weights[region] > 0.0) {
            maker.outcome_at(static_cast<std::uint32_t>(region)).hits.front().flown =
                distances[region] / weights[region];
        }
    }
    return maker.take();
}

} // namespace avrek::detail
