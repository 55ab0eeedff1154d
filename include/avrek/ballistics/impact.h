#pragma once
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/arsenal/surface_spec.h>
#include <avrek/core/state_fields.h>
#include <avrek/scene/world.h>

#include <span>

/// Impacts of shots and projectiles: stop, bounce or pierce. Hitscan shots and projectiles share these rules.
namespace avrek {

/// A path continues this far off a surface, so that rounding does not make it hit the surface again.
inline constexpr Metres off_surface = 1e-6;

/// Bounces and piercing energy left.
struct ImpactBudget {
    std::int32_t bounces = 0;
    double energy = 0.0; ///< for piercing
    bool has_bounced = false;
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<ImpactBudget> auto& budget) {
    field("bounces", budget.bounces);
    field("energy", budget.energy);
    field("has_bounced", budget.has_bounced);
}

/// Returns the budget of a new shot.
ImpactBudget full_budget(const BounceSpec& bounce, const PierceSpec& pierce);

/// Returns the share of the damage that remains: that of the energy; 1 for shots that do not pierce.
double power_left(const ImpactBudget& budget, const PierceSpec& pierce);

/// Outcome of an impact.
enum class ImpactResult : std::uint8_t {
    stops,
    bounces,
    pierces,
};

/// Result of an impact.
struct Impact {
    ImpactResult result = ImpactResult::stops;
    Vector3 velocity = Vector3::Zero(); ///< velocity after the impact
    Metres through = 0.0;               ///< thickness of level pierced; the path continues behind it
};

/// Returns the velocity after a bounce: restitution times the normal speed, away from the surface, and 1 -
/// friction of the tangential speed (an inelastic impact with proportional tangential loss). Precondition
/// (asserted): it flies towards the surface.
Vector3 bounced(const Vector3& velocity, const Vector3& normal, double restitution, double friction);

/// Returns the impact of a shot with `velocity` (any speed over 0) on `hit`, and spends the budget. It
/// pierces a body if the energy suffices; likewise the level, up to the exit found in `world` along the
/// velocity. Otherwise it bounces off the level, or off a body with a surface, if it has bounces left, comes
/// in no steeper than the grazing angle, and leaves fast enough.
Impact impact_of(const World& world, std::span<const SurfaceSpec> surfaces, const Hit& hit,
                 const Vector3& velocity, const BounceSpec& bounce, const PierceSpec& pierce,
                 ImpactBudget& budget);

} // namespace avrek
