#pragma once
#include <avrek/core/shapes.h>
#include <avrek/scene/raycast.h>

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

/// A quick look at the shapes of a body before the exact one: capsules around them in single precision, each
/// a little too large. They decide what is looked at, never what is hit.
namespace avrek::detail::capsules {

inline constexpr std::size_t width = 8;

/// Eight capsules, relative to the origin of their body or joint.
struct alignas(64) Bundle {
    float from[3][width];
    float to[3][width];
    float radius[width]; ///< larger by what roundings of the corners and of a test can be
};

/// A question: which capsules does a line touch, on a part of their way between two frames?
struct Query {
    const Bundle* one = nullptr;
    const Bundle* other = nullptr; ///< the same as `one` where nothing moves
    float share = 0.0F;            ///< where the part begins, in [0, 1]
    float moved = 0.0F;            ///< how much of the way it is
    float shift[3]{};              ///< from the origin in `one` to that in `other`
    float point[3]{};              ///< on the line, relative to the origin at `share`
    float direction[3]{};          ///< unit length
    float radius = 0.0F;           ///< added to that of the capsules
    float begin = 0.0F;            ///< from `point` on: where the line begins, at most 0
    float limit = 0.0F;            ///< the same: the line does not reach beyond it
};

/// Returns a capsule that holds all of a bounded shape.
Capsule around(const Shape& shape);

/// Returns the number of bundles for so many capsules.
constexpr std::size_t bundles_for(std::size_t count) {
    return (count + width - 1) / width;
}

/// Writes a capsule, moved by `-origin`, as number `index` of the bundles.
void write(const Capsule& capsule, const Vector3& origin, std::span<Bundle> bundles, std::size_t index);

/// Puts the line of a ray into a query, by its point nearest to `origin`. The line ends with the ray, or at
/// `limit`. Roundings are added to the radius.
void set_line(Query& query, const Ray& ray, const Vector3& origin, Metres radius, Metres limit);

} // namespace avrek::detail::capsules
