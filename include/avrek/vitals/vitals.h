#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/time.h>
#include <avrek/vitals/credit.h>
#include <avrek/vitals/damage.h>
#include <avrek/vitals/defence_layers.h>
#include <avrek/vitals/vitals_events.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

/// The vitals of one body: health and layers, conditions, guard, reactions, and the one death at the end.
///
/// Hits come in through take_hit() (<avrek/vitals/hits.h>), conditions through add_condition()
/// (<avrek/vitals/conditions.h>), the guard is raised by hold_guard() (<avrek/vitals/guard.h>); advance()
/// lets time pass. Everything happens at exact times and does not depend on how time is cut into ticks.
namespace avrek {

/// Whether a body still acts.
enum class LifeState : std::uint8_t { alive, dead };

/// One condition that a body has.
struct ConditionState {
    std::int32_t spec = -1; ///< index into Arsenal::conditions
    std::uint32_t count = 1;
    double strength = 1.0;
    Time until = Time::max();
    Time next_tick = Time::max();
    BodyId source = nobody; ///< who gets credit for what it does
};

/// What a body holds against hits.
struct GuardState {
    double stamina = 0.0; ///< as it was at `stamina_at`
    Time stamina_at{};
    Time perfect_until{};
    Time broken_until = Time::min(); ///< it is broken until it is mended then; Time::min() while it is not
    bool wanted = false;             ///< as last stated
    bool up = false;
};

/// How often a body has reacted of late.
struct ReactionCount {
    std::uint32_t count = 0;
    Time until{}; ///< it starts anew from there on
};

/// The run-time vitals of one body. Trivially copyable: save it, send it, go back to it.
struct Vitals {
    static constexpr std::size_t max_conditions = 12;

    Time now{};             ///< up to where it has been advanced
    Time due = Time::max(); ///< when something next happens by itself
    double health = 0.0;    ///< in [0, maximum]
    double maximum = 0.0;   ///< at least 0
    LifeState life = LifeState::alive;
    BodyState state = BodyState::active;
    ReactionClass reaction = ReactionClass::none; ///< under way, rising counted
    bool on_back = false;                         ///< while down, rising or limp
    std::uint8_t condition_count = 0;
    Time state_until = Time::max(); ///< when the state changes by itself
    Time protected_until{};         ///< nothing touches it before that
    Time last_hurt = Time::min();   ///< when health or a layer last lost something
    std::array<DefenceLayerState, max_defence_layers> defence{};
    GuardState guard{};
    std::array<ReactionCount, 2> reactions{};                ///< light, heavy
    std::array<ConditionState, max_conditions> conditions{}; ///< in the order in which they came
    Credits credits{};

    /// Health as a share of its maximum, in [0, 1]; 0 when the maximum is 0.
    double fraction() const;
};

/// The vitals that a body of this kind starts a life with, at `at`.
Vitals full_vitals(const BodySpec& spec, Time at = Time{});

/// Takes `damage` from the health alone at `at` and appends what happened to `events`: nothing for the dead
/// or for damage of 0, `damaged` otherwise, and `died` after it when no health is left. The last step of
/// take_hit(), and all that a body without layers, guard and conditions needs.
///
/// Health never leaves [0, maximum], and less than a billionth of the maximum is none at all, so that five
/// hits of 19.999999999999996 kill a body of 100. Damage that is not the health left to the last bit then
/// gets one more step, `clamp`, with the share there was health for: the steps multiply out to the number
/// that was applied, and health is exactly 0.
void apply_damage(Vitals& vitals, Damage damage, Time at, std::vector<VitalsEvent>& events);

/// Moves `vitals` from `vitals.now` to `until` and appends what happened, in order of time: ticks and ends of
/// conditions, ends of reactions, layers that are full again, guards that mend. What is due at `until`
/// belongs to the next call. At one and the same moment conditions tick before they end. `conditions` are the
/// arsenal's. Preconditions (asserted): `until >= vitals.now`; the spec is the one that the vitals started
/// with.
void advance(std::span<const ConditionSpec> conditions, const BodySpec& spec, Vitals& vitals, Time until,
             std::vector<VitalsEvent>& events);

/// Protects the body until `until`: hits and conditions do nothing before that.
void protect(Vitals& vitals, Time until);

/// Ends the protection, if there is one: whoever fires gives it up.
void end_protection(Vitals& vitals, Time at, std::vector<VitalsEvent>& events);

/// The points of a layer at `vitals.now`; 0 beyond the body's last.
double defence_points(const BodySpec& spec, const Vitals& vitals, std::size_t layer);

/// What the body may not do now: everything for the dead, what its reaction and its conditions forbid
/// otherwise. The one place that gates acting.
ActSet forbidden_acts(std::span<const ConditionSpec> conditions, const BodySpec& spec, const Vitals& vitals);

} // namespace avrek
