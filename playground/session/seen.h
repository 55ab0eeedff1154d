#pragma once
#include "picture.h"
#include <avrek/skirmish/skirmish.h>

namespace avrek::playground {

/// Where a picture is taken from.
enum class View : std::uint8_t { eye, behind, above };

/// Content of the picture of one player. It refers to the session.
struct Seen {
    const Skirmish& fight;
    BodyId player = nobody;
    const Picture& picture; ///< things that events left to be drawn
    Time at{};              ///< time of the picture
    Time bodies_at{};       ///< time of the bodies in the scene of the fight
    Look look{};            ///< the player's, without recoil
    View view = View::eye;
};

} // namespace avrek::playground
