#include "sight_lines.h"
#include <avrek/ballistics/spray.h>
#include <avrek/core/elementary.h>

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

constexpr std::size_t max_sprayed = 64;
constexpr double finest_step = 0.005; // share of the range

struct Cone {
    const Spray& spray;
    double sine_of_half;
    double cosine_of_half;

    bool holds(const Vector3& point) const {
        const Vector3 way = point - spray.muzzle;
        const double distance = std::sqrt(way.squaredNorm());
        return distance <= spray.range + 1e-9 &&
               way.dot(spray.direction) >= (cosine_of_half - 1e-9) * distance;
    }
};

// A point of the body in the cone. A ball about a point of the axis that touches the cone's side lies within
// the cone, so the body is in the cone when it is in such a ball: from one that it is not in, the next that
// it can be in is as far along the axis as the gap says.
std::optional<Hit> point_in_cone(const World& world, const Cone& cone, const Filter& filter) {
    const Spray& spray = cone.spray;
    // The ball about that place touches the cone's side where it ends.
    const Metres last = spray.range / cone.cosine_of_half;
    Metres along = 0.0;
    while (along <= last) {
        const Vector3 centre = spray.muzzle + along * spray.direction;
        std::array<Hit, 1> found;
        if (world.overlaps(Sphere{centre, along + spray.range}, spray.at, filter, found) == 0) {
            return std::nullopt;
        }
        const double gap = std::max(0.0, found[0].distance) - along * cone.sine_of_half;
        if (gap <= 0.0) {
            return cone.holds(found[0].point) || found[0].inside ? std::optional{found[0]} : std::nullopt;
        }
        along += std::max(gap / (1.0 + cone.sine_of_half), finest_step * spray.range);
    }
    return std::nullopt;
}

} // namespace

std::size_t spray(const World& world, const Spray& spray, const Filter& filter, std::span<SprayHit> hits) {
    assert(spray.half_angle > 0.0 && spray.half_angle <= pi / 3.0 + 1e-9 && spray.range > 0.0);
    const Cone cone{spray, sine(spray.half_angle), cosine(spray.half_angle)};
    Filter bodies = filter;
    bodies.hits = {CollisionLayer::bodies};
    std::array<Hit, max_sprayed> near;
    const std::size_t count = world.overlaps(Sphere{spray.muzzle, spray.range}, spray.at, bodies, near);
    std::size_t written = 0;
    for (std::size_t index = 0; index < count && written < hits.size(); ++index) {
        bodies.only = near[index].body;
        std::optional<Hit> touched = near[index].inside || cone.holds(near[index].point)
                                         ? std::optional{near[index]}
                                         : point_in_cone(world, cone, bodies);
        if (!touched) {
            continue;
        }
        touched->inside = near[index].inside;
        SprayHit hit;
        hit.body = *near[index].body;
        hit.exposure = detail::exposure_of(
            world, {spray.muzzle, spray.range, spray.at}, *touched,
            [&cone](const Vector3& point) { return cone.holds(point); }, hit.nearest);
        if (hit.exposure > 0.0) {
            hits[written] = hit;
            ++written;
        }
    }
    return written;
}

} // namespace avrek
