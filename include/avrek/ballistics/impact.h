#pragma once
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/arsenal/surface_spec.h>
#include <avrek/scene/world.h>

#include <span>

/// What becomes of something that is fired when it meets something: the same for what arrives at once and for
/// what flies a while.
namespace avrek {

/// What goes on from a surface starts this far off it, so that it does not meet it again by rounding.
inline constexpr Metres off_surface = 1e-6;

/// What is left to spend.
struct ImpactBudget {
    std::int32_t bounces = 0;
    double energy = 0.0; ///< for piercing
    bool has_bounced = false;
};

/// The budget of something that has just been fired.
ImpactBudget full_budget(const BounceSpec& bounce, const PierceSpec& pierce);

/// Share of the damage that is left: that of the energy, 1 for what does not pierce.
double power_left(const ImpactBudget& budget, const PierceSpec& pierce);

enum class ImpactResult : std::uint8_t {
    stops,
    bounces,
    pierces,
};

struct Impact {
    ImpactResult result = ImpactResult::stops;
    Vector3 velocity = Vector3::Zero(); ///< with which it goes on
    Metres through = 0.0;               ///< of level that was pierced: it goes on so much further on
};

/// A bounce: restitution * (its speed towards the surface) away from it, and 1 - friction of its speed along
/// it (an inelastic impact with proportional tangential loss). Precondition (asserted): it flies towards the
/// surface.
Vector3 bounced(const Vector3& velocity, const Vector3& normal, double restitution, double friction);

/// What happens to something that flies with `velocity` (of any speed over 0) when it meets `hit`, and what
/// it costs. A body is pierced if what it costs is there; so is the level up to where it is left again,
/// looked for in `world` along the velocity. Otherwise something bounces off the level when it may, comes in
/// no steeper than the surface's grazing angle, and leaves fast enough.
Impact impact_of(const World& world, std::span<const SurfaceSpec> surfaces, const Hit& hit,
                 const Vector3& velocity, const BounceSpec& bounce, const PierceSpec& pierce,
                 ImpactBudget& budget);

} // namespace avrek
