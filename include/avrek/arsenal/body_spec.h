#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/shapes.h>

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

/// One named hit region of a rig.
struct RegionSpec {
    std::string name{};
    std::vector<Shape> shapes{}; ///< at least one; in the body's axes: feet at the origin, facing +Z
};

/// The named hit regions of a kind of body.
struct RigSpec {
    std::vector<RegionSpec> regions{}; ///< at least one; RegionId is the place in this list
};

/// One kind of body: its hit regions and its vitals.
struct BodySpec {
    std::string id{};
    double health = 100.0; ///< at the start, and at most; over 0
    RigSpec rig{};
};

/// The region of `rig` with this name, if there is one.
std::optional<RegionId> find_region(const RigSpec& rig, std::string_view name);

/// The region `id` of `rig`. Precondition (asserted): `id` is one of its regions.
const RegionSpec& region_of(const RigSpec& rig, RegionId id);

/// The point of a region to aim at, in the body's axes: the middle of its first shape.
Vector3 aim_point(const RegionSpec& region);

} // namespace avrek
