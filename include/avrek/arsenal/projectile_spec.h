#pragma once
#include <avrek/arsenal/effect_spec.h>
#include <avrek/arsenal/impact_spec.h>
#include <avrek/core/curve.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <string>

namespace avrek {

/// What goes off around a point.
struct BlastSpec {
    Metres radius = 0.0;                     ///< at least 0; 0: nothing goes off
    double damage = 0.0;                     ///< at the middle, in health points, at least 0
    Curve falloff{{{0.0, 1.0}, {1.0, 0.0}}}; ///< share of the radius -> share of the damage
    double team_share = 1.0;                 ///< share that bodies of the shooter's team take, in [0, 1]
    double self_share = 1.0;                 ///< share that the shooter takes, in [0, 1]
    double push = 0.0;                       ///< speed that it gives at the middle, m/s, at least 0
    EffectSpec effect{};
};

/// One kind of thing that flies for a while.
struct ProjectileSpec {
    std::string id{};
    double speed = 60.0;                         ///< m/s at which it leaves, over 0
    double inherit = 0.0;                        ///< share of the shooter's velocity that is added, in [0, 1]
    double gravity = 9.81;                       ///< m/s2 downwards
    double drag = 0.0;                           ///< 1/m: it slows by drag * speed^2, at least 0
    Metres radius = 0.0;                         ///< at least 0
    Duration lifetime = std::chrono::seconds{5}; ///< it is gone then, over 0
    Duration fuse{};                             ///< after its launch it goes off; 0: it has none
    Metres arming_distance = 1.0;                ///< its proximity fuse works once it has flown so far
    Metres self_hit_after = 1.0; ///< it can hit its own shooter once it has flown so far and has left it
    Metres proximity = 0.0;      ///< it goes off when a body of another team comes nearer; 0: never
    double turn_rate = 0.0;      ///< rad/s by which it turns to its target, at least 0
    bool sticks = false;         ///< it stays on what stops it, until its fuse or lifetime ends
    BounceSpec bounce{};
    PierceSpec pierce{};
    BlastSpec blast{}; ///< where it ends, unless it ends by its lifetime alone
};

} // namespace avrek
