#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/core/random.h>
#include <avrek/core/vectors.h>

namespace avrek {

/// A direction in the round cone of `half_angle` about `aim`, of unit length within 1e-12. The same key gives
/// the same direction. With a half-angle of 0 it is `aim` itself.
///
/// By inversion, with u, v uniform in [0, 1) and phi = 2 pi v: uniform by solid angle is
/// 1 - cos(theta) = u (1 - cos(half_angle)); centred takes u^2 for u, so that half of the directions lie
/// within half of the cone's radius. Preconditions (asserted): `aim` of unit length within 1e-9; 0 <=
/// half_angle < pi/2.
Vector3 spread_direction(const Vector3& aim, Radians half_angle, const RandomKey& key,
                         SpreadShape shape = SpreadShape::uniform);

/// The direction of one pellet of a shot, as spread_direction(); where the weapon has a figure, pellet i
/// flies to its point i, modulo its size, moved by up to `pellet_jitter` of the cone, uniformly over the
/// disc, and never out of the cone. Points of a figure are shares of the cone's half-angle. `key.block` is
/// replaced by the pellet's number. Precondition (asserted): `pellet` at least 0.
Vector3 pellet_direction(const SpreadSpec& spread, const Vector3& aim, Radians half_angle, RandomKey key,
                         std::int32_t pellet);

} // namespace avrek
