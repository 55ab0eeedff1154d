#pragma once
#include "picture.h"
#include <avrek/skirmish/skirmish.h>

namespace avrek::playground {

/// Where a picture is taken from.
enum class View : std::uint8_t { eye, behind, above };

/// What the picture of one player shows. It refers to the session.
struct Seen {
    const Skirmish& fight;
    BodyId player = nobody;
    const Picture& picture; ///< things that events left to be drawn
    Time at{};              ///< time of the picture
    Time bodies_at{};       ///< time of the bodies in the scene of the fight
    Look look{};            ///< of the player, without recoil
    View view = View::eye;
};

} // namespace avrek::playground
