#pragma once
#include <avrek/core/random.h>
#include <avrek/core/vectors.h>

namespace avrek {

/// A direction in the round cone of `half_angle` about `aim`, uniform by solid angle, of unit length within
/// 1e-12. The same key gives the same direction. With a half-angle of 0 it is `aim` itself.
///
/// By inversion: with u, v uniform in [0, 1), 1 - cos(theta) = u (1 - cos(half_angle)) and phi = 2 pi v.
/// Preconditions (asserted): `aim` of unit length within 1e-9; 0 <= half_angle < pi/2.
Vector3 spread_direction(const Vector3& aim, Radians half_angle, const RandomKey& key);

} // namespace avrek
