#pragma once
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/ballistics/impact.h>
#include <avrek/core/state_bytes.h>
#include <avrek/core/time.h>

#include <cstddef>
#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <vector>

/// Projectiles: launched at exact times, swept without gaps, in pools of a fixed size.
///
/// Gravity and drag are integrated between grid times, the multiples of step_of(spec) since the start of the
/// simulation, with the classical Runge-Kutta method of fourth order; without drag that is exact. Between
/// grid times a projectile flies straight at an even speed, and that path collides: at most half a millimetre
/// off the true parabola. So the path depends on the launch alone, not on the tick rate.
namespace avrek {

/// Handle of one projectile of a pool. It never names a later one.
struct ProjectileHandle {
    std::uint32_t slot = 0;
    std::uint32_t generation = 0; ///< 0: none
    friend bool operator==(const ProjectileHandle&, const ProjectileHandle&) = default;
};

/// A launch.
struct Launch {
    Time at{};                                  ///< within the next span to be advanced
    Vector3 muzzle = Vector3::Zero();           ///< at that time
    Vector3 direction = world_forward();        ///< unit length
    Vector3 shooter_velocity = Vector3::Zero(); ///< m/s
    BodyId shooter{};
    TeamId team{};
    std::uint32_t shot = 0;             ///< number of the shooter's shot, for the events
    CollisionLayers hits = stops_shots; ///< layers of the level and of bodies that stop it
    TeamSet teams{};                    ///< teams of the bodies that it hits
    /// Bodies that it passes through, such as the hull that it is fired from; at most
    /// IgnoredBodies::max_bodies. Its shooter needs no mention: see ProjectileSpec::self_hit_after. Read
    /// during the launch only.
    std::span<const BodyId> ignores{};
    std::optional<BodyId> target{};   ///< homing target
    Vector3 aim_at = Vector3::Zero(); ///< point to home in on, in the target's axes
};

/// Kinds of projectile events.
enum class ProjectileEventKind : std::uint8_t {
    launched,
    refused, ///< the pool is full: nothing was launched
    bounced,
    pierced,
    stopped, ///< by a hit; removed, unless it explodes or sticks
    stuck,
    exploded, ///< by its fuse, near a body, or where it stopped; removed
    expired,  ///< lifetime or bounce distance is over; removed
};

/// An event of a projectile. Events of a span are in order of time, then of launch.
struct ProjectileEvent {
    ProjectileEventKind kind = ProjectileEventKind::launched;
    Time at{};
    std::uint64_t number = 0; ///< number of the launch over the pool's life
    ProjectileHandle projectile{};
    BodyId shooter{};
    TeamId team{};
    std::uint32_t shot = 0;
    Time since{};                             ///< start of the present segment: launch or last bounce
    Vector3 from = Vector3::Zero();           ///< position at `since`
    Vector3 point = Vector3::Zero();          ///< position of its centre
    Vector3 velocity = Vector3::Zero();       ///< m/s, before the event
    Vector3 velocity_after = Vector3::Zero(); ///< m/s; zero if it stops or is gone
    std::optional<Hit> hit{};                 ///< the hit, if anything was hit
    double power = 1.0;                       ///< share of the damage that remains
    Metres flown = 0.0;                       ///< distance since the launch
};

/// State of a projectile for drawing. Shooter and number name it as long as it is there.
struct ProjectileReadout {
    Vector3 position = Vector3::Zero();
    Vector3 velocity = Vector3::Zero(); ///< m/s
    Metres flown = 0.0;
    bool stuck = false;
    BodyId shooter{};
    TeamId team{};
    std::uint32_t shot = 0;
    std::uint64_t number = 0;         ///< number of its launch, as in ProjectileEvent
    std::optional<BodyId> target{};   ///< homing target
    Vector3 aim_at = Vector3::Zero(); ///< with `target`: point to home in on, in its axes
};

/// Returns the time between two grid times: 1/64 s, or less where the path bends or slows fast; a power of
/// two of it, at least 1/512 s.
Duration step_of(const ProjectileSpec& spec);

namespace detail {
struct ProjectileStates;
}

/// A pool of projectiles of one kind. Only the constructor allocates.
///
///     ProjectilePool seeds{arsenal.projectiles[0], 256};
///     seeds.launch({.at = now, .muzzle = muzzle, .direction = direction, .shooter = me}, events);
///     seeds.advance(world, arsenal.surfaces, tick, events);
class ProjectilePool {
  public:
    /// Makes room for `capacity` projectiles; copies `spec`.
    ProjectilePool(const ProjectileSpec& spec, std::size_t capacity);
    ProjectilePool(const ProjectilePool& other);
    ProjectilePool(ProjectilePool&& other) noexcept;
    ProjectilePool& operator=(const ProjectilePool& other);
    ProjectilePool& operator=(ProjectilePool&& other) noexcept;
    ~ProjectilePool();

    /// Returns the spec of its projectiles.
    const ProjectileSpec& spec() const;
    /// Returns the number of projectiles in flight or stuck.
    std::size_t size() const;
    /// Returns the capacity of the pool.
    std::size_t capacity() const;

    /// Launches a projectile. Returns none and adds the event `refused` if the pool is full. Call it before
    /// the span with the launch time is advanced. Preconditions (asserted): a direction of unit length within
    /// 1e-9; a time not before the end of the last span; at most IgnoredBodies::max_bodies ignored bodies.
    std::optional<ProjectileHandle> launch(const Launch& launch, std::vector<ProjectileEvent>& events);

    /// Launches a projectile late, at a time before the end of the last span, and flies it up to there as it
    /// would have flown with the others. Appends its events in order of time. `world` must know its bodies
    /// for that time.
    std::optional<ProjectileHandle> launch_late(const Launch& launch, const World& world,
                                                std::span<const SurfaceSpec> surfaces,
                                                std::vector<ProjectileEvent>& events);

    /// Advances all projectiles through a span, which must begin where the last one ended. Appends the
    /// events. `world` must know its bodies up to the span's end.
    void advance(const World& world, std::span<const SurfaceSpec> surfaces, Span span,
                 std::vector<ProjectileEvent>& events);

    /// Lets a projectile that stopped at a body continue through that body to the end of the last span, for a
    /// body that was gone by then. `stopped` is its event, of the last span or of a late launch since. What
    /// followed from the stop is undone: do not report that it stuck or exploded. Appends what happens
    /// instead. Returns false and does nothing if there is no such projectile.
    bool fly_on(const ProjectileEvent& stopped, const World& world, std::span<const SurfaceSpec> surfaces,
                std::vector<ProjectileEvent>& events);

    /// Returns a projectile at the end of the last span; none if it is gone.
    std::optional<ProjectileReadout> find(ProjectileHandle projectile) const;

    /// Removes a projectile without an event. Returns false if it is gone already.
    bool remove(ProjectileHandle projectile);
    /// Removes all projectiles without an event.
    void clear();
    /// Makes a projectile stick to a body, at a point in the body's axes, or to the level, at one in the
    /// world, without an event. Returns false if it is gone. It stays where it is until `world` knows the
    /// body.
    bool stick(ProjectileHandle projectile, std::optional<BodyId> body, const Vector3& point,
               const World& world);
    /// Adds copies of another pool's projectiles, as many as there is room for, for a picture of both.
    /// Preconditions (asserted): the same kind of projectiles, advanced to the same time.
    void add_copies(const ProjectilePool& other);

    /// Takes the pool over to other values at the end of the last span. What flies has them from then on: its
    /// forces, size and limits count from where it is. A fuse or lifetime that is over by the new values ends
    /// at once. It keeps the bounces that it has made and the share of its piercing energy. The same values
    /// change nothing.
    void retune(const ProjectileSpec& spec);

    /// Writes the handles of the projectiles, by launch; any of them if there is not room for all. Returns
    /// how many.
    std::size_t list(std::span<ProjectileHandle> handles) const;

    /// Returns a hash: equal for equal states; others almost surely differ.
    std::uint64_t state_hash() const;

    /// Saves all projectiles.
    void save(StateWriter& to) const;
    /// Restores a pool of the same spec and capacity. Returns false on damaged bytes; the pool is then
    /// undefined.
    bool restore(StateReader& from);

    /// Returns the maximum number of projectiles so far.
    std::size_t high_water() const;

  private:
    std::optional<ProjectileHandle> put_in(const Launch& launch, std::vector<ProjectileEvent>& events);

    std::unique_ptr<detail::ProjectileStates> states_;
};

} // namespace avrek
