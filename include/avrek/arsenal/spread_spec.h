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

/// How shots lie within their cone.
enum class SpreadShape : std::uint8_t {
    uniform, ///< the same chance for each part of the cone
    centred, ///< the same chance for each distance from the middle, so most are near it
};

/// The widening that shots leave behind.
struct BloomSpec {
    Curve per_shot{};  ///< bloom there is -> bloom a shot adds, both in radians; empty: none
    Radians max = 0.0; ///< at least 0
    Recovery recovery{};
};

/// A place in a figure of pellets: 1 is the edge of the cone.
struct PatternPoint {
    double left = 0.0;
    double up = 0.0;
    friend bool operator==(const PatternPoint&, const PatternPoint&) = default;
};

/// The round cone that shots leave in, by its half-angle.
struct SpreadSpec {
    Radians hip = 0.0;              ///< in [0, pi/3]
    std::optional<Radians> aimed{}; ///< as `hip` when none
    double crouching = 1.0;         ///< factor of a crouching shooter, at least 0
    double airborne = 1.0;          ///< factor of a shooter off the ground, at least 0
    Curve moving{};                 ///< speed in m/s -> factor, at least 0; empty: always 1
    Duration speed_half_life{}; ///< the time in which half of a change of speed shows; 0: all of it at once
    Duration first_shot_rest{}; ///< after this long without a shot the next goes where it is aimed; 0: never
    SpreadShape shape = SpreadShape::uniform;
    std::vector<PatternPoint>
        pellet_pattern{};       ///< where pellets go, each within 1 of the middle; empty: at random
    double pellet_jitter = 0.0; ///< how far from there they may be, in shares of the cone, in [0, 1]
    BloomSpec bloom{};
};

/// No cone is wider than this half-angle.
inline constexpr Radians widest_spread = pi / 3.0;

/// The word for `shape` in files.
std::string_view to_string(SpreadShape shape);

} // namespace avrek
