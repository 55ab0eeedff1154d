#pragma once
#include <avrek/scene/scene.h>

namespace avrek::detail {

/// Returns whether neither level nor foliage is between two points.
bool is_free(const Scene& scene, const Vector3& from, const Vector3& to);

/// Returns whether the middle of any region of a body, as it was at a time, is in sight of a point: neither
/// level nor foliage is between. False if the body is not there.
bool is_in_sight(const Scene& scene, const Vector3& eye, BodyId body, Time at);

} // namespace avrek::detail
