#include "key_ranges.h"

#include <limits>

namespace avrek::detail {

bool is_allowed(double value, const KeyRow& row) {
    // A key whose default has no number allows it in code: infinity, or the greatest or the value -1.
    if (*row.otherwise != '\0' && (value == std::numeric_limits<double>::infinity() || value == -1.0)) {
        return true;
    }
    const double scale = scale_of(row);
    const double slack = 1e-12 * scale * std::abs(row.range.max);
    const double least = scale * row.range.min;
    return value <= scale * row.range.max + slack &&
           (row.range.above_min ? value > least : value >= least - slack);
}

bool is_allowed(Duration value, const KeyRow& row) {
    return is_allowed(value == Duration::max() ? std::numeric_limits<double>::infinity() : to_seconds(value),
                      row);
}

bool is_allowed(std::int32_t value, const KeyRow& row) {
    return is_allowed(static_cast<double>(value), row);
}

bool is_allowed(const Curve& curve, const KeyRow& row) {
    double before = -1.0;
    return std::all_of(curve.points.begin(), curve.points.end(), [&](const CurvePoint& point) {
        const bool rises = std::isfinite(point.x) && point.x >= 0.0 && point.x > before;
        before = point.x;
        return rises && is_allowed(point.y, row);
    });
}

bool is_allowed(const Look& look, const KeyRow& row) {
    return is_allowed(look.yaw, row) && is_allowed(look.pitch, row);
}

bool is_allowed(const PatternPoint& point, const KeyRow& row) {
    return is_allowed(point.left, row) && is_allowed(point.up, row);
}

bool is_allowed(const DamageTypeFactor& one, const KeyRow& row) {
    return is_allowed(one.factor, row);
}

bool is_allowed(const RegionMultiplier& multiplier, const KeyRow& row) {
    return is_allowed(multiplier.multiplier, row);
}

std::string KeyRanges::range_text(const KeyRow& row) {
    const std::string unit{row.unit};
    return to_string(row.range) + (unit.empty() ? "" : ' ' + unit);
}

} // namespace avrek::detail
