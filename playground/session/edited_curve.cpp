#include "edited_curve.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <cstdio>
#include <cstdlib>

namespace avrek::playground {

namespace {

EditedCurve::Kind kind_of(const ArsenalNumber& number, const std::string& path) {
    return number.type != KeyType::pairs       ? EditedCurve::Kind::curve
           : path.ends_with(".recoil.pattern") ? EditedCurve::Kind::path
                                               : EditedCurve::Kind::points;
}

// As one would write it.
double rounded(double value) {
    char text[32];
    std::snprintf(text, sizeof text, "%.3g", value);
    return std::strtod(text, nullptr);
}

std::string point_path(const EditedCurve& curve, std::size_t index, const char* axis) {
    return curve.path + '[' + std::to_string(index + 1) + "]." + axis;
}

} // namespace

std::vector<EditedCurve> curves_of(const Tuner& tuner, const std::vector<ArsenalNumber>& numbers) {
    std::vector<EditedCurve> curves;
    for (const ArsenalNumber& number : numbers) {
        const std::size_t bracket = number.path.rfind('[');
        if (bracket == std::string::npos || !number.path.ends_with("].y")) {
            continue;
        }
        const std::string path = number.path.substr(0, bracket);
        if (curves.empty() || curves.back().path != path) {
            curves.push_back({path,
                              kind_of(number, path),
                              {},
                              {},
                              number.min,
                              number.max,
                              {},
                              number.unit,
                              number.meaning});
        }
        EditedCurve& curve = curves.back();
        const Loaded<ArsenalNumber> first_y = tuner.first_of(number.path);
        const Loaded<ArsenalNumber> first_x = tuner.first_of(point_path(curve, curve.points.size(), "x"));
        curve.first.push_back({first_x ? first_x->value : 0.0, first_y ? first_y->value : 0.0});
        const Loaded<ArsenalNumber> x = tuner.find(point_path(curve, curve.points.size(), "x"));
        curve.points.push_back({x ? x->value : 0.0, number.value});
        curve.unit_x = x ? x->unit : "";
    }
    return curves;
}

std::optional<std::size_t> point_at(const EditedCurve& curve, const std::string& path) {
    if (!path.starts_with(curve.path + '[')) {
        return std::nullopt;
    }
    const std::size_t number = std::strtoul(path.c_str() + curve.path.size() + 1, nullptr, 10);
    return number >= 1 && number <= curve.points.size() ? std::optional{number - 1} : std::nullopt;
}

CurvePoint drawn_point(const EditedCurve& curve, std::size_t index, bool first) {
    const std::vector<CurvePoint>& points = first ? curve.first : curve.points;
    assert(index < points.size());
    if (curve.kind != EditedCurve::Kind::path) {
        return points[index];
    }
    CurvePoint sum;
    for (std::size_t step = 0; step <= index; ++step) {
        sum.x += points[step].x;
        sum.y += points[step].y;
    }
    return sum;
}

std::map<std::string, double> moved_point(const EditedCurve& curve, std::size_t index, CurvePoint wanted) {
    assert(index < curve.points.size());
    if (curve.kind == EditedCurve::Kind::path) {
        const CurvePoint drawn = drawn_point(curve, index);
        wanted.x = curve.points[index].x + wanted.x - drawn.x;
        wanted.y = curve.points[index].y + wanted.y - drawn.y;
    }
    double x = rounded(wanted.x);
    if (curve.kind == EditedCurve::Kind::curve) {
        const bool is_first = index == 0;
        const bool is_last = index + 1 == curve.points.size();
        const double low = is_first ? 0.0 : curve.points[index - 1].x;
        const double high = is_last ? 1e5 : curve.points[index + 1].x;
        // Without room between the neighbours it stays.
        x = (is_first ? x >= low : x > low) && x < high ? x : curve.points[index].x;
    }
    const double y = std::clamp(rounded(wanted.y), curve.min, curve.max);
    return {{point_path(curve, index, "x"), x}, {point_path(curve, index, "y"), y}};
}

} // namespace avrek::playground
