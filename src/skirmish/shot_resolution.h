#pragma once
#include "consequences.h"
#include "lag_compensation.h"
#include <avrek/ballistics/blast.h>

#include <optional>
#include <vector>

namespace avrek::detail {

/// Resolves shots, from the muzzle to the body, and blows.
class ShotResolution {
  public:
    ShotResolution(Fight& fight, WeaponPlanning& planning, LagCompensation& lag, Consequences& consequences);

    /// Begins a tick.
    void begin();
    /// Lets the projectiles fly to the end of the tick, which gives actions.
    void advance_projectiles();
    /// Swings the blades to the end of the tick, which gives actions.
    void swing_blades();
    /// Fires a planned shot.
    void fire(const PlannedEvent& planned);
    /// Does what a projectile did.
    void do_flight(std::size_t index);
    /// Sets off an explosion. `shot`: the shot that it is of, if any.
    void set_off(const BlastSpec& spec, const Blast& at, std::optional<WeaponId> weapon,
                 std::optional<std::uint32_t> shot);
    /// Does what a blade did.
    void do_swing(std::size_t index);

  private:
    AimSolution aim(const Fighter& fighter, const Look& view, Metres range, Time at) const;
    void fire_hitscan(const ShotEvent& shot, std::int32_t pellet, const Vector3& direction);
    void fire_spray(const ShotEvent& shot);
    void launch(const ShotEvent& shot, const Vector3& direction, const AimSolution& solution);
    void explode(const FlightEvent& flight);
    bool flies_on(std::size_t index);
    void queue_flight(const FlightEvent& flight);
    void strike(const SwingEvent& swing, std::size_t emitted);
    HitVerdict apply_hit(BodyId target, const RewoundHit& met, IncomingHit hit);

    Fight& fight_;
    WeaponPlanning& planning_;
    LagCompensation& lag_;
    Consequences& consequences_;
    std::vector<SwingEvent> swung_{};
    std::vector<FlightEvent> flown_{};
    std::vector<MeleeEvent> melee_events_{};
    std::vector<ProjectileEvent> projectile_events_{};
};

} // namespace avrek::detail
