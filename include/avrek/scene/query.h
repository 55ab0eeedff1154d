#pragma once
#include <avrek/scene/filter.h>
#include <avrek/scene/scene.h>

#include <optional>

namespace avrek {

/// Where a query met something.
struct Hit {
    Metres distance = 0.0;          ///< from the start of the ray
    Vector3 point;                  ///< of the world
    Vector3 normal;                 ///< out of what was hit, of unit length
    bool inside = false;            ///< the ray started inside: distance 0, normal opposite to the ray
    std::optional<BodyId> body;     ///< the body that was hit; none for the level
    std::optional<RegionId> region; ///< of the body's rig; none for the level
    SurfaceId surface{};            ///< of the level; SurfaceId{0} for a body
};

/// The nearest thing along `ray` that `filter` lets it hit. What counts as a hit is said in raycast.h.
/// At equal distances the level comes before bodies, a lower body id before a higher one, and an earlier
/// region or level piece before a later one.
std::optional<Hit> closest_hit(const Scene& scene, const Ray& ray, const Filter& filter);

} // namespace avrek
