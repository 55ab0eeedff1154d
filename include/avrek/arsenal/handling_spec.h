#pragma once
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <optional>

namespace avrek {

/// Looking along the weapon.
struct AimSpec {
    Duration in{};                          ///< from the hip to fully aimed, at least 0
    Duration out{};                         ///< and back
    bool toggles = false;                   ///< a press changes it; otherwise it lasts while held
    std::optional<Radians> field_of_view{}; ///< vertical, when aimed; the game's own when none
    double movement = 1.0;                  ///< factor of the shooter's speed when aimed, at least 0
    double crosshair = 0.0;                 ///< opacity of the crosshair when aimed, in [0, 1]
};

/// Taking the weapon in hand and putting it away.
struct HandlingSpec {
    Duration raise{};             ///< from taking it to being ready
    Duration stow{};              ///< from putting it away to free hands
    Duration sprint_out{};        ///< from the end of a sprint to being ready
    bool fires_sprinting = false; ///< may fire during a sprint
    bool fires_airborne = true;   ///< may fire off the ground
};

} // namespace avrek
