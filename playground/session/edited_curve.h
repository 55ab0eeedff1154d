#pragma once
#include "tuner.h"
#include <avrek/core/curve.h>

#include <cstddef>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace avrek::playground {

/// A curve or a pattern of the tuned entry, whose points can be dragged.
struct EditedCurve {
    enum class Kind : std::uint8_t {
        curve,  ///< x rises
        points, ///< any points of a plane
        path,   ///< each point is a step from the one before: a recoil pattern
    };
    std::string path{}; ///< "weapon.thorn-rifle.falloff"
    Kind kind = Kind::curve;
    std::vector<CurvePoint> points{}; ///< as in the arsenal
    std::vector<CurvePoint> first{};  ///< with the first values
    double min = 0.0;                 ///< limits of y
    double max = 0.0;
    std::string unit_x{};
    std::string unit_y{};
    std::string meaning{};
};

/// Returns the curves and patterns among the numbers of an entry.
std::vector<EditedCurve> curves_of(const Tuner& tuner, const std::vector<ArsenalNumber>& numbers);
/// Returns the index of the point that a path such as "weapon.thorn-rifle.falloff[2].y" names; none if the
/// curve does not have it.
std::optional<std::size_t> point_at(const EditedCurve& curve, const std::string& path);
/// Returns a point of the plane: of a path the sum of its steps, else the point itself. `first`: that with
/// the first values. Precondition (asserted): there is such a point.
CurvePoint drawn_point(const EditedCurve& curve, std::size_t index, bool first = false);
/// Returns the values that move a point to where it is wanted in the drawing, as near as is allowed: x stays
/// between its neighbours. Precondition (asserted): there is such a point.
std::map<std::string, double> moved_point(const EditedCurve& curve, std::size_t index, CurvePoint wanted);

} // namespace avrek::playground
