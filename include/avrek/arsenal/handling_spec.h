#pragma once
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <optional>

namespace avrek {

/// Aiming down the weapon.
struct AimSpec {
    Duration in{};                          ///< time from the hip to fully aimed, at least 0
    Duration out{};                         ///< time from fully aimed to the hip, at least 0
    bool toggles = false;                   ///< a press toggles aiming; otherwise it lasts while held
    std::optional<Radians> field_of_view{}; ///< vertical, when aimed; none: the game's own
    double movement = 1.0;                  ///< factor for the shooter's speed when aimed, at least 0
    double crosshair = 0.0;                 ///< opacity of the crosshair when aimed, in [0, 1]
};

/// Taking the weapon in hand and putting it away.
struct HandlingSpec {
    Duration raise{};             ///< time from taking it until it is ready
    Duration stow{};              ///< time to put it away
    Duration sprint_out{};        ///< time from the end of a sprint until it is ready
    bool fires_sprinting = false; ///< it fires during a sprint
    bool fires_airborne = true;   ///< it fires off the ground
};

} // namespace avrek
