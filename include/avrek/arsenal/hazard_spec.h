#pragma once
#include <avrek/arsenal/effect_spec.h>
#include <avrek/core/collision_layers.h>
#include <avrek/core/shapes.h>
#include <avrek/core/time.h>

#include <cstdint>
#include <limits>
#include <string>
#include <string_view>

namespace avrek {

/// Bodies that a hazard touches, seen from the team that placed it.
enum class HazardSide : std::uint8_t { all, others, own };

/// Returns the word for a side, as files write it.
std::string_view to_string(HazardSide side);

/// A volume that damages or heals the bodies that it touches.
struct HazardSpec {
    std::string id{};
    Volume volume = Sphere{Vector3::Zero(), 1.0}; ///< in its own axes
    double damage = 0.0;                          ///< damage per period, at least 0
    EffectSpec effect{};
    Duration period = std::chrono::milliseconds{500}; ///< time between two hits on a body, at least 1 ms
    Duration lasts = Duration::max();                 ///< lifetime after it was placed
    HazardSide side = HazardSide::all;
    CollisionLayers layers{CollisionLayer::bodies}; ///< layers of the bodies that it touches
};

} // namespace avrek
