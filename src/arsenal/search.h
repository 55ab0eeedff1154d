#pragma once
#include <avrek/arsenal/validate.h>

#include <algorithm>
#include <cmath>
#include <vector>

/// Shared parts of the validation.
namespace avrek::detail {

/// Collects what it finds.
struct Search {
    std::vector<SpecFault> found{};

    void error(bool wrong, const char* key, const char* message, const char* allowed) {
        if (wrong) {
            found.push_back({key, message, allowed, Severity::error});
        }
    }
    void warning(bool odd, const char* key, const char* message, const char* allowed) {
        if (odd) {
            found.push_back({key, message, allowed, Severity::warning});
        }
    }
};

/// Also false for nan.
inline bool within(double value, double least, double most) {
    return value >= least && value <= most;
}

inline bool positive(double value) {
    return std::isfinite(value) && value > 0.0;
}

inline bool never_rises(const Curve& curve) {
    return std::is_sorted(curve.points.begin(), curve.points.end(),
                          [](const CurvePoint& a, const CurvePoint& b) { return a.y > b.y; });
}

void search_pierce(Search& search, const PierceSpec& pierce);

} // namespace avrek::detail
