#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/units.h>
#include <avrek/core/vectors.h>

#include <cstdint>
#include <optional>
#include <vector>

/// What stands in a level besides what can be hit.
namespace avrek {

/// Where combatants come into the world.
struct SpawnPoint {
    Vector3 position = Vector3::Zero(); ///< of the feet
    Radians yaw = 0.0;
    std::optional<TeamId> team{}; ///< whose it is; none: everybody's
};

/// A hazard that is there from the start.
struct PlannedHazard {
    std::int32_t spec = 0; ///< index into Arsenal::hazards
    Pose pose{};
};

/// A pickup that is there from the start.
struct PlannedPickup {
    std::int32_t spec = 0; ///< index into Arsenal::pickups
    Vector3 position = Vector3::Zero();
};

/// Spawn points, points to walk to, hazards and pickups. The order is that of the file.
struct LevelPlan {
    std::vector<SpawnPoint> spawns{};
    std::vector<Vector3> points{}; ///< where bots go; on the ground
    std::vector<PlannedHazard> hazards{};
    std::vector<PlannedPickup> pickups{};
};

} // namespace avrek
