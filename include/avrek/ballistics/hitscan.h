#pragma once
#include <avrek/scene/world.h>

#include <optional>

namespace avrek {

/// The way of one shot that arrives at once.
struct HitscanPath {
    Vector3 start;
    Vector3 end;            ///< where it hit, or how far it reached
    std::optional<Hit> hit; ///< none when it hit nothing within its range
};

/// Fires from `muzzle` along `direction` and stops at the first thing within `range` that `filter` names; a
/// miss has an end point too. Put the shooter among the filter's ignored bodies. Preconditions (asserted): a
/// direction of unit length within 1e-9; range at least 0.
HitscanPath fire_hitscan(const World& world, const Vector3& muzzle, const Vector3& direction, Metres range,
                         const Filter& filter);

} // namespace avrek
