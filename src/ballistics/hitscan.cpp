#include <avrek/ballistics/hitscan.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

HitscanPath fire_hitscan(const World& world, const Vector3& muzzle, const Vector3& direction, Metres range,
                         const Filter& filter, Time at) {
    const Ray ray{muzzle, direction, range};
    const std::optional<Hit> hit = world.closest_hit({.ray = ray, .begin = at}, filter);
    return {muzzle, hit ? hit->point : point_at(ray, range), hit};
}

std::size_t follow_hitscan(const World& world, std::span<const SurfaceSpec> surfaces, const HitscanShot& shot,
                           const Filter& filter, std::span<PathSegment> segments, Time at) {
    assert(!segments.empty());
    BounceSpec bounce = shot.bounce;
    bounce.min_speed = 0.0;
    ImpactBudget budget = full_budget(bounce, shot.pierce);
    Filter hits = filter;
    Ray ray{shot.muzzle, shot.direction, shot.range};
    Metres flown = 0.0;
    std::size_t count = 0;
    while (count < segments.size()) {
        const HitscanPath path = fire_hitscan(world, ray.origin, ray.direction, ray.length, hits, at);
        PathSegment& segment = segments[count];
        ++count;
        segment = {path.start, path.end,           flown, power_left(budget, shot.pierce),
                   path.hit,   ImpactResult::stops};
        if (!path.hit) {
            break;
        }
        const bool had_bounced = budget.has_bounced;
        const Impact impact =
            impact_of(world, surfaces, *path.hit, ray.direction, bounce, shot.pierce, budget);
        segment.result = impact.result;
        if (impact.result == ImpactResult::stops || (path.hit->body && !hits.ignores.add(*path.hit->body))) {
            segment.result = ImpactResult::stops;
            break;
        }
        const Metres gone = path.hit->distance + impact.through;
        flown += gone;
        ray.length = std::max(0.0, ray.length - gone);
        if (impact.result == ImpactResult::bounces) {
            ray.origin = path.end + off_surface * path.hit->normal;
            ray.direction = impact.velocity.normalized();
            ray.length = had_bounced ? ray.length : std::min(ray.length, bounce.distance);
        } else {
            const Metres skipped = impact.through > 0.0 ? impact.through + off_surface : 0.0;
            ray.origin = path.end + skipped * ray.direction;
        }
    }
    return count;
}

Time arrival(Time fired, Metres distance, double speed) {
    assert(speed > 0.0);
    return fired + from_seconds(distance / speed);
}

} // namespace avrek
