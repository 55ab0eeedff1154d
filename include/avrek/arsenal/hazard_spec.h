#pragma once
#include <avrek/arsenal/effect_spec.h>
#include <avrek/core/shapes.h>
#include <avrek/core/time.h>

#include <cstdint>
#include <limits>
#include <string>
#include <string_view>

namespace avrek {

/// Whom a hazard touches, seen from the team that laid it.
enum class HazardSide : std::uint8_t { all, others, own };

/// The word for a side in files.
std::string_view to_string(HazardSide side);

/// A volume that harms, or heals, whom it touches.
struct HazardSpec {
    std::string id{};
    Volume volume = Sphere{Vector3::Zero(), 1.0}; ///< in its own axes
    double damage = 0.0;                          ///< each time, at least 0
    EffectSpec effect{};
    Duration period =
        std::chrono::milliseconds{500}; ///< between two times for the same body, at least a millisecond
    Duration lasts = Duration::max();   ///< after it is laid
    HazardSide side = HazardSide::all;
    std::uint32_t layers = 2; ///< bit n: CollisionLayer n, of the bodies that it touches; as made: bodies
};

} // namespace avrek
