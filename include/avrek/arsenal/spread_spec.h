#pragma once
#include <avrek/arsenal/recovery.h>
#include <avrek/core/curve.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

namespace avrek {

/// Distribution of shots in their cone.
enum class SpreadShape : std::uint8_t {
    uniform, ///< uniform by solid angle
    centred, ///< uniform by distance from the middle, so denser there
};

/// Cone that shots add.
struct BloomSpec {
    Curve per_shot{};  ///< bloom -> bloom that a shot adds, radians; empty: none
    Radians max = 0.0; ///< maximum bloom, at least 0
    Recovery recovery{};
};

/// Position in a pellet pattern; 1 is the edge of the cone.
struct PatternPoint {
    double left = 0.0;
    double up = 0.0;
    friend bool operator==(const PatternPoint&, const PatternPoint&) = default;
};

/// The round cone of a weapon's shots, by its half-angle.
struct SpreadSpec {
    Radians hip = 0.0;              ///< in [0, pi/3]
    std::optional<Radians> aimed{}; ///< none: as `hip`
    double crouching = 1.0;         ///< factor for a crouching shooter, at least 0
    double airborne = 1.0;          ///< factor for a shooter off the ground, at least 0
    Curve moving{};                 ///< speed in m/s -> factor, at least 0; empty: always 1
    Duration speed_half_life{};     ///< half-life with which the cone follows the speed; 0: at once
    /// Time without a shot after which the next goes exactly where it is aimed; 0: never.
    Duration first_shot_rest{};
    SpreadShape shape = SpreadShape::uniform;
    std::vector<PatternPoint> pellet_pattern{}; ///< pellet positions, within 1 of the middle; empty: random
    /// Maximum random offset from there, share of the cone, in [0, 1].
    double pellet_jitter = 0.0;
    BloomSpec bloom{};
};

/// Maximum half-angle of a cone.
inline constexpr Radians widest_spread = pi / 3.0;

/// Returns the word for `shape`, as files write it.
std::string_view to_string(SpreadShape shape);

} // namespace avrek
