#pragma once
#include "map_maker.h"
#include <avrek/scene/scene.h>

#include <cmath>

/// Shared parts of the maps that are found by firing.
namespace avrek::detail {

inline constexpr BodyId map_shooter{1};
inline constexpr BodyId map_target{2};

/// A target on a floor; or the floor alone.
Scene map_scene(const Engagement& engagement, const EngagementPlace& place, bool with_target = true);

bool same(const MapOutcome& one, const MapOutcome& other);

/// The place of an outcome in a map, which gets it if it does not have it.
std::uint32_t place_in(MapMaker& maker, const MapOutcome& outcome);

/// Coarser numbers, so that outcomes that hardly differ are one.
inline double rounded(double value, double step) {
    return step * std::round(value / step);
}
Duration rounded(Duration value);

/// Adds `parts` even cuts from `from` to `to`; the first only where there is none yet.
void add_cuts(std::vector<double>& cuts, double from, double to, int parts);

} // namespace avrek::detail
