#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/core/random.h>
#include <avrek/core/vectors.h>

namespace avrek {

/// Returns a direction in the round cone of `half_angle` around `aim`, of unit length within 1e-12. The same
/// key gives the same direction. A half-angle of 0 gives `aim` itself.
///
/// Inversion, with u, v uniform in [0, 1) and phi = 2 pi v. Uniform by solid angle: 1 - cos(theta) = u (1 -
/// cos(half_angle)). Centred: u^2 in place of u, so that half of the directions lie within half of the
/// radius. Preconditions (asserted): `aim` of unit length within 1e-9; 0 <= half_angle < pi/2.
Vector3 spread_direction(const Vector3& aim, Radians half_angle, const RandomKey& key,
                         SpreadShape shape = SpreadShape::uniform);

/// Returns the direction of one pellet of a shot, as spread_direction(). With a pellet pattern, pellet i
/// flies to point i, modulo the size, moved by up to `pellet_jitter` of the cone, uniformly over the disc,
/// and never out of the cone. Points are shares of the cone's half-angle. The pellet's number replaces
/// `key.block`. Precondition (asserted): `pellet` at least 0.
Vector3 pellet_direction(const SpreadSpec& spread, const Vector3& aim, Radians half_angle, RandomKey key,
                         std::int32_t pellet);

} // namespace avrek
