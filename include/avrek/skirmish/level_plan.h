#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/units.h>
#include <avrek/core/vectors.h>

#include <cstdint>
#include <optional>
#include <vector>

/// Spawn points, waypoints, hazards and pickups of a level.
namespace avrek {

/// A spawn point.
struct SpawnPoint {
    Vector3 position = Vector3::Zero(); ///< the feet
    Radians yaw = 0.0;
    std::optional<TeamId> team{}; ///< none: for all teams
};

/// A hazard that is placed at the start.
struct PlannedHazard {
    HazardId spec{};
    Pose pose{};
};

/// A pickup that is placed at the start.
struct PlannedPickup {
    PickupId spec{};
    Vector3 position = Vector3::Zero();
};

/// The plan of a level, in the order of its file.
struct LevelPlan {
    std::vector<SpawnPoint> spawns{};
    std::vector<Vector3> points{}; ///< waypoints for bots, on the ground
    std::vector<PlannedHazard> hazards{};
    std::vector<PlannedPickup> pickups{};
};

} // namespace avrek
