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

/// Things that fly for a while: launched at exact times, swept without gaps, in pools of a fixed size.
///
/// The path. Gravity and drag are integrated from one grid time to the next, grid times being the multiples
/// of step_of(spec) since the start of the simulation, by the classical Runge-Kutta method of fourth order;
/// without drag that is exact. Between grid times the projectile flies straight and evenly, and that is what
/// meets things: off the true parabola by at most half a millimetre. So its path depends on its launch alone,
/// not on the tick rate.
namespace avrek {

/// Names one projectile of a pool; of no other one later.
struct ProjectileHandle {
    std::uint32_t slot = 0;
    std::uint32_t generation = 0; ///< 0 names none
    friend bool operator==(const ProjectileHandle&, const ProjectileHandle&) = default;
};

/// Where a projectile comes from.
struct Launch {
    Time at{};                        ///< within the span that is advanced next
    Vector3 muzzle = Vector3::Zero(); ///< at that moment: for a shooter that moves, between two of its poses
    Vector3 direction = world_forward();        ///< of unit length
    Vector3 shooter_velocity = Vector3::Zero(); ///< m/s
    BodyId shooter{};
    TeamId team{};
    std::uint32_t shot = 0;             ///< of the shooter, for the events
    CollisionLayers hits = stops_shots; ///< what stops it, of the level and of bodies
    TeamSet teams{};                    ///< the bodies that it meets
    /// Bodies that it passes through, such as the hull that it is fired from; at most IgnoredBodies::most.
    /// Its shooter needs no mention: see ProjectileSpec::self_hit_after. Read during the launch only.
    std::span<const BodyId> ignores{};
    std::optional<BodyId> target{};   ///< what it turns to, if it can
    Vector3 aim_at = Vector3::Zero(); ///< in the target's axes
};

enum class ProjectileEventKind : std::uint8_t {
    launched,
    refused, ///< the pool is full: nothing was launched
    bounced,
    pierced,
    stopped, ///< by what it hit; it is gone, unless it goes off or sticks
    stuck,
    exploded, ///< by its fuse, by a body nearby, or where it stopped; it is gone
    expired,  ///< its lifetime is over, or its way after a bounce; it is gone
};

/// What happened to a projectile. Events of a span are in order of time, then of launch.
struct ProjectileEvent {
    ProjectileEventKind kind = ProjectileEventKind::launched;
    Time at{};
    std::uint64_t number = 0; ///< of the launch, counted over the pool's life
    ProjectileHandle projectile{};
    BodyId shooter{};
    TeamId team{};
    std::uint32_t shot = 0;
    Time since{};                    ///< when the leg that ends here began: at the launch or the last bounce
    Vector3 from = Vector3::Zero();  ///< where
    Vector3 point = Vector3::Zero(); ///< where its centre is
    Vector3 velocity = Vector3::Zero(); ///< m/s, before what happened
    std::optional<Hit> hit{};           ///< what it met, if it did
    double power = 1.0;                 ///< share of its damage that was left
    Metres flown = 0.0;                 ///< since its launch
};

/// Where a projectile is.
struct ProjectileReadout {
    Vector3 position = Vector3::Zero();
    Vector3 velocity = Vector3::Zero(); ///< m/s
    Metres flown = 0.0;
    bool stuck = false;
};

/// The time between two grid times of a projectile: 1/64 s, or less where the path bends or slows fast; a
/// power of two of it, at least 1/512 s.
Duration step_of(const ProjectileSpec& spec);

struct ProjectileStates;

/// Projectiles of one kind. Nothing is allocated after the constructor.
class ProjectilePool {
  public:
    /// Room for `capacity` projectiles; `spec` is copied.
    ProjectilePool(const ProjectileSpec& spec, std::size_t capacity);
    ProjectilePool(const ProjectilePool& other);
    ProjectilePool(ProjectilePool&& other) noexcept;
    ProjectilePool& operator=(const ProjectilePool& other);
    ProjectilePool& operator=(ProjectilePool&& other) noexcept;
    ~ProjectilePool();

    const ProjectileSpec& spec() const;
    std::size_t size() const;
    std::size_t capacity() const;

    /// Launches a projectile; a full pool adds the event `refused` and returns none. To be called before the
    /// span with the launch time is advanced. Preconditions (asserted): a direction of unit length within
    /// 1e-9; a time not before the end of the last span; at most IgnoredBodies::most ignored bodies.
    std::optional<ProjectileHandle> launch(const Launch& launch, std::vector<ProjectileEvent>& events);

    /// Launches a projectile late: at a time before the end of the last span, from where it flies by itself
    /// to there, as it would have with the others. The events are its own, in order of time. Bodies of
    /// `world` must be known for that time.
    std::optional<ProjectileHandle> launch_late(const Launch& launch, const World& world,
                                                std::span<const SurfaceSpec> surfaces,
                                                std::vector<ProjectileEvent>& events);

    /// Flies all projectiles through a span, which must begin where the last one ended, and adds what
    /// happened. Bodies of `world` must be known up to the span's end.
    void advance(const World& world, std::span<const SurfaceSpec> surfaces, Span span,
                 std::vector<ProjectileEvent>& events);

    /// Lets a projectile that stopped at a body fly on from there to the end of the last span, through that
    /// body: for when something else had removed the body by then. `stopped` is that event, of the last span
    /// or of a late launch since. What followed from stopping is undone, and must not be told: it is not
    /// stuck, and has not gone off. Adds what happens instead. Returns false, and does nothing, when there is
    /// no such projectile.
    bool fly_on(const ProjectileEvent& stopped, const World& world, std::span<const SurfaceSpec> surfaces,
                std::vector<ProjectileEvent>& events);

    /// Where a projectile is at the end of the last span; none when it is gone.
    std::optional<ProjectileReadout> find(ProjectileHandle projectile) const;

    /// Takes a projectile away without an event. Returns false when it is gone already.
    bool remove(ProjectileHandle projectile);

    /// The handles of those that are there, by launch; any of them when there is not room for all. Returns
    /// how many.
    std::size_t list(std::span<ProjectileHandle> handles) const;

    /// A number that is equal for equal states, and hardly ever else.
    std::uint64_t state_hash() const;

    void save(StateWriter& to) const;
    /// Into a pool of the same spec and capacity. A failure leaves anything in the pool.
    bool restore(StateReader& from);

    /// The most that have been there at a time.
    std::size_t high_water() const;

  private:
    std::optional<ProjectileHandle> put_in(const Launch& launch, std::vector<ProjectileEvent>& events);

    std::unique_ptr<ProjectileStates> states_;
};

} // namespace avrek
