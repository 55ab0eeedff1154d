#include <avrek/core/curve.h>

#include <algorithm>

namespace avrek {

double value_at(const Curve& curve, double x, double when_empty) {
    if (curve.points.empty()) {
        return when_empty;
    }
    const auto right = std::lower_bound(curve.points.begin(), curve.points.end(), x,
                                        [](const CurvePoint& point, double at) { return point.x < at; });
    if (right == curve.points.end()) {
        return curve.points.back().y;
    }
    if (right == curve.points.begin() || right->x == x) {
        return right->y;
    }
    const CurvePoint& left = *(right - 1);
    return left.y + (right->y - left.y) * ((x - left.x) / (right->x - left.x));
}

} // namespace avrek
