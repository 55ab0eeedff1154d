#pragma once
#include "shot_steps.h"
#include <avrek/tuning/time_to_kill.h>

#include <cstddef>
#include <functional>
#include <optional>
#include <vector>

/// The parts of ideal_time_to_kill().
namespace avrek::detail {

/// A weapon that needs more hits is out of ammunition.
inline constexpr std::size_t max_hits = 100'000;

/// Hit that a target takes each time.
struct Blow {
    Damage hit;
    const EffectSpec* effect = nullptr; ///< never null
    std::int32_t pellets = 1;
    Damage blast{};
    const EffectSpec* blast_effect = nullptr;
    Duration flight{};

    double amount() const { return hit.amount() + blast.amount(); }
};

/// Returns whether hits with `effect` leave conditions on `target`.
bool leaves_condition(const Target& target, const EffectSpec& effect);

/// One attempt at a kill: shooter, shot and target. `flight` none: it does not get there.
struct KillTrial {
    const WeaponSpec& weapon;
    const Target& target;
    Metres distance = 0.0;
    RegionId region{};
    const ProjectileSpec* projectile = nullptr;
    std::optional<Duration> flight{};

    Blow blow(double power) const;
};

/// A target that blows come to.
class Victimised {
  public:
    /// The first blow leaves at `first`.
    Victimised(const Target& target, Time first, Duration flight);

    /// Lets a blow come that left at `left`. Precondition: not dead.
    void come(const Blow& blow, Time left);
    /// Lets time pass.
    void wait(Time until);
    bool is_dead() const { return vitals_.life == LifeState::dead; }
    Time death() const { return death_; } ///< time of the death, if it is dead
    const Vitals& vitals() const { return vitals_; }
    /// Health and points of layers together.
    double substance() const;

  private:
    void find_death();

    const Target* target_;
    Time began_;
    Vitals vitals_;
    std::vector<VitalsEvent> events_{};
    Time death_{};
};

/// Kills by a course of shots that `more` continues: it gives the first so many of them. Looks at no more
/// than `max_shots`. IdealKill::plan has the reloads, and nothing else.
IdealKill kill_by_course(const Target& target, const Blow& blow, ShotCourse& course, std::size_t max_shots,
                         const std::function<ShotCourse(std::size_t)>& more);

/// The kill by FiringPlanKind::hold.
IdealKill kill_by_holding(const KillTrial& trial, ShotCourse& course, std::size_t max_shots = max_hits);

/// The kill by the fastest plan, and its steps; none where it is holding.
struct FastestKill {
    IdealKill kill{};
    std::vector<ShotStep> steps{};
};
FastestKill fastest_kill(const KillTrial& trial, ShotCourse& course);

/// The same for a charged weapon whose kill by holding is `held`.
FastestKill fastest_charged_kill(const KillTrial& trial, const IdealKill& held);

} // namespace avrek::detail
