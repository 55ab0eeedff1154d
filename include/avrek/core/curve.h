#pragma once
#include <vector>

namespace avrek {

/// One point of a curve.
struct CurvePoint {
    double x = 0.0;
    double y = 0.0;
    friend bool operator==(const CurvePoint&, const CurvePoint&) = default;
};

/// A piecewise linear curve through its points, constant before the first and after the last.
struct Curve {
    std::vector<CurvePoint> points; ///< x strictly rising
    friend bool operator==(const Curve&, const Curve&) = default;
};

/// Returns the curve's value at `x`; `when_empty` for a curve without points. Exact at its points.
double value_at(const Curve& curve, double x, double when_empty = 1.0);

} // namespace avrek
