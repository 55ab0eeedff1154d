#pragma once
#include <avrek/arsenal/effect_spec.h>
#include <avrek/arsenal/impact_spec.h>
#include <avrek/core/curve.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <limits>
#include <string>

namespace avrek {

/// An explosion.
struct BlastSpec {
    Metres radius = 0.0;                     ///< at least 0; 0: no explosion
    double damage = 0.0;                     ///< damage at the centre, at least 0
    Curve falloff{{{0.0, 1.0}, {1.0, 0.0}}}; ///< share of the radius -> share of the damage
    double team_share = 1.0;                 ///< share of the damage to the shooter's team, in [0, 1]
    double self_share = 1.0;                 ///< share of the damage to the shooter, in [0, 1]
    double push = 0.0;                       ///< speed that it gives at the centre, m/s, at least 0
    EffectSpec effect{};
};

/// One kind of projectile.
struct ProjectileSpec {
    std::string id{};
    double speed = 60.0;                         ///< muzzle speed in m/s, over 0
    double inherit = 0.0;                        ///< share of the shooter's velocity that is added, in [0, 1]
    double gravity = 9.81;                       ///< m/s2, downwards
    double drag = 0.0;                           ///< 1/m: deceleration is drag * speed^2, at least 0
    Metres radius = 0.0;                         ///< at least 0
    Duration lifetime = std::chrono::seconds{5}; ///< time from launch to removal, over 0
    /// Maximum distance flown in all, over 0; it expires there.
    Metres distance = std::numeric_limits<double>::infinity();
    Duration fuse{};              ///< time from launch to explosion; 0: no fuse
    Metres arming_distance = 1.0; ///< distance flown before the proximity fuse is armed
    /// Distance flown, outside of its shooter, before it can hit its shooter.
    Metres self_hit_after = 1.0;
    Metres proximity = 0.0; ///< distance to a foe's body at which it explodes; 0: never
    double turn_rate = 0.0; ///< rad/s towards its target, at least 0
    bool sticks = false;    ///< it sticks to what stops it, until fuse or lifetime ends
    BounceSpec bounce{};
    PierceSpec pierce{};
    BlastSpec blast{}; ///< where it ends, unless its lifetime ends it
};

} // namespace avrek
