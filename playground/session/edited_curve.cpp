#include "edited_curve.h"

#include <avrek/data/arsenal_keys.h>

#include <algorithm>
#include <cassert>
#include <cmath>
#include <cstdio>
#include <cstdlib>

namespace avrek::playground {

namespace {

// "weapon.recoil" and "pattern" of "weapon.thorn-rifle.recoil.pattern".
EditedCurve::Kind kind_of(const std::string& path) {
    static const std::vector<KeyRule> rules = arsenal_keys();
    const std::size_t entry = path.find('.');
    const std::size_t group = path.find('.', entry + 1);
    const std::size_t key = path.rfind('.');
    const std::string section =
        path.substr(0, entry) + (group < key ? path.substr(group, key - group) : std::string{});
    const std::string name = path.substr(key + 1);
    const auto rule = std::find_if(rules.begin(), rules.end(), [&](const KeyRule& one) {
        return one.section == section && one.name == name;
    });
    if (rule == rules.end() || rule->type != KeyType::pairs) {
        return EditedCurve::Kind::curve;
    }
    return section == "weapon.recoil" ? EditedCurve::Kind::path : EditedCurve::Kind::points;
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
            curves.push_back(
                {path, kind_of(path), {}, number.min, number.max, {}, number.unit, number.meaning});
        }
        EditedCurve& curve = curves.back();
        const Loaded<ArsenalNumber> x = tuner.find(point_path(curve, curve.points.size(), "x"));
        curve.points.push_back({x ? x->value : 0.0, number.value});
        curve.unit_x = x ? x->unit : "";
    }
    return curves;
}

CurvePoint drawn_point(const EditedCurve& curve, std::size_t index) {
    assert(index < curve.points.size());
    if (curve.kind != EditedCurve::Kind::path) {
        return curve.points[index];
    }
    CurvePoint sum;
    for (std::size_t step = 0; step <= index; ++step) {
        sum.x += curve.points[step].x;
        sum.y += curve.points[step].y;
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
    std::map<std::string, double> values{{point_path(curve, index, "y"), y}};
    if (x != curve.points[index].x) {
        values[point_path(curve, index, "x")] = x;
    }
    return values;
}

} // namespace avrek::playground
