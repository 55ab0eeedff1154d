#pragma once
#include <avrek/vitals/hits.h>
#include <avrek/vitals/vitals.h>

#include <span>
#include <vector>

namespace avrek {

/// A body in a game with its own world: vitals with their spec and their events. A thin face over Vitals,
/// take_hit() and advance(), which stay usable. Copies are independent.
///
///     Body target{crew, arsenal.conditions};
///     target.take(shot.damage(distance, "torso"), shot.at);
///     const bool alive = target.is_alive();
class Body {
  public:
    /// Begins a life. `spec` and `conditions` must outlive it; validate() finds no error in them.
    explicit Body(const BodySpec& spec, std::span<const ConditionSpec> conditions = {}, Time at = Time{});

    /// Takes a hit at `at`; see take_hit(). One before the present time of the body counts at that time.
    /// Forgets the events before.
    HitResult take(const IncomingHit& hit, Time at);
    /// Takes damage alone.
    HitResult take(const Damage& damage, Time at);
    /// Advances to `until`: conditions tick, layers refill. Forgets the events before. Does nothing if
    /// `until` is past.
    void advance(Time until);

    /// Returns what came of the last call, in order of time.
    std::span<const VitalsEvent> events() const { return events_; }
    bool is_alive() const { return vitals_.life == LifeState::alive; } ///< it can act and be hit
    double health() const { return vitals_.health; }                   ///< points left
    const Vitals& vitals() const { return vitals_; }                   ///< for a save or a readout
    /// Returns the body for the functions of the vitals, such as add_condition().
    LivingBody living() { return {conditions_, *spec_, vitals_}; }

  private:
    const BodySpec* spec_;
    std::span<const ConditionSpec> conditions_;
    Vitals vitals_;
    std::vector<VitalsEvent> events_{};
};

} // namespace avrek
