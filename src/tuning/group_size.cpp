#include <avrek/tuning/group_size.h>

#include <algorithm>
#include <cmath>
#include <vector>

namespace avrek {

GroupSize group_size(std::span<const BoardPoint> points) {
    GroupSize group;
    if (points.empty()) {
        return group;
    }
    const auto count = static_cast<double>(points.size());
    for (const BoardPoint& point : points) {
        group.centre.right += point.right / count;
        group.centre.up += point.up / count;
    }
    const auto length = [](double right, double up) { return std::sqrt(right * right + up * up); };
    group.off_aim = length(group.centre.right, group.centre.up);
    std::vector<double> away;
    away.reserve(points.size());
    for (const BoardPoint& point : points) {
        away.push_back(length(point.right - group.centre.right, point.up - group.centre.up));
    }
    std::sort(away.begin(), away.end());
    const auto holding = [&](std::size_t per_cent) {
        return away[(points.size() * per_cent + 99) / 100 - 1];
    };
    group.radius_50 = holding(50);
    group.radius_90 = holding(90);
    return group;
}

} // namespace avrek
