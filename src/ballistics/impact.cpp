#include <avrek/ballistics/impact.h>
#include <avrek/core/elementary.h>

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <limits>

namespace avrek {

namespace {

// No level is pierced deeper than this, whatever it is made of.
constexpr Metres deepest = 1000.0;

// How much level there is from where a path enters it to where it leaves what it entered; infinite when it
// does not.
Metres thickness(const World& world, const Hit& hit, const Vector3& direction) {
    constexpr double inside = 1e-6;
    const Filter level{.hits = {hit.layer}, .bodies = false};
    std::array<Hit, 16> found;
    const Ray ray{hit.point + inside * direction, direction, deepest};
    const std::size_t count = world.every_hit({ray}, level, found);
    // Solids may overlap: what is entered on the way has to be left as well.
    int depth = 1;
    for (std::size_t index = 0; index < count; ++index) {
        if (!found[index].back) {
            depth += found[index].inside ? 0 : 1; // the one that the path is in has been counted
        } else if (--depth == 0) {
            return found[index].distance + inside;
        }
    }
    return std::numeric_limits<double>::infinity();
}

bool pierces(const World& world, std::span<const SurfaceSpec> surfaces, const Hit& hit,
             const Vector3& direction, const PierceSpec& pierce, ImpactBudget& budget, Impact& impact) {
    if (budget.energy <= 0.0 || hit.inside) {
        return false;
    }
    double cost = pierce.per_body;
    if (!hit.body) {
        const double per_metre = surface_of(surfaces, hit.surface).resistance;
        impact.through = thickness(world, hit, direction);
        cost = std::isfinite(impact.through) ? per_metre * impact.through
                                             : std::numeric_limits<double>::infinity();
    }
    if (cost >= budget.energy) {
        return false;
    }
    budget.energy -= cost;
    impact.result = ImpactResult::pierces;
    return true;
}

} // namespace

ImpactBudget full_budget(const BounceSpec& bounce, const PierceSpec& pierce) {
    return {bounce.count, pierce.energy, false};
}

double power_left(const ImpactBudget& budget, const PierceSpec& pierce) {
    return pierce.energy > 0.0 ? budget.energy / pierce.energy : 1.0;
}

Vector3 bounced(const Vector3& velocity, const Vector3& normal, double restitution, double friction) {
    const double towards = -velocity.dot(normal);
    assert(towards >= 0.0);
    const Vector3 along = velocity + towards * normal;
    return (1.0 - friction) * along + (restitution * towards) * normal;
}

Impact impact_of(const World& world, std::span<const SurfaceSpec> surfaces, const Hit& hit,
                 const Vector3& velocity, const BounceSpec& bounce, const PierceSpec& pierce,
                 ImpactBudget& budget) {
    const double speed = std::sqrt(velocity.squaredNorm());
    assert(speed > 0.0);
    Impact impact{ImpactResult::stops, velocity, 0.0};
    if (pierces(world, surfaces, hit, velocity / speed, pierce, budget, impact)) {
        return impact;
    }
    impact.through = 0.0;
    const double towards = -velocity.dot(hit.normal);
    if ((hit.body && hit.surface == SurfaceId{}) || hit.inside || budget.bounces <= 0 || towards < 0.0) {
        return impact;
    }
    const SurfaceSpec& surface = surface_of(surfaces, hit.surface);
    if (towards > speed * sine(surface.grazing_angle)) {
        return impact;
    }
    const Vector3 leaving =
        bounced(velocity, hit.normal, std::min(1.0, bounce.restitution * surface.restitution),
                std::min(1.0, bounce.friction * surface.friction));
    if (leaving.squaredNorm() < bounce.min_speed * bounce.min_speed || leaving.squaredNorm() == 0.0) {
        return impact;
    }
    --budget.bounces;
    budget.has_bounced = true;
    impact.result = ImpactResult::bounces;
    impact.velocity = leaving;
    return impact;
}

} // namespace avrek
