#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/time.h>
#include <avrek/vitals/damage.h>

#include <cstdint>
#include <vector>

/// Health, and the one death at its end.
namespace avrek {

/// Whether a body still acts.
enum class LifeState : std::uint8_t { alive, dead };

/// The run-time vitals of one body. Trivially copyable.
struct Vitals {
    double health = 0.0;  ///< in [0, maximum]
    double maximum = 0.0; ///< at least 0
    LifeState life = LifeState::alive;

    /// Health as a share of its maximum, in [0, 1]; 0 when the maximum is 0.
    double fraction() const;
};

/// What happened to a body's vitals.
enum class VitalsEventKind : std::uint8_t {
    damaged, ///< health was lost; `damage` says how much and why
    died,    ///< health reached 0: once for each life
};

/// One thing that happened, with its exact time.
struct VitalsEvent {
    Time at{};
    VitalsEventKind kind = VitalsEventKind::damaged;
    Damage damage; ///< of `damaged`: what was applied, after the clamp
    double health_left = 0.0;
    double overkill = 0.0; ///< of `damaged`: what there was no health for
};

/// The vitals that a body of this kind starts with.
Vitals full_vitals(const BodySpec& spec);

/// Takes `damage` from `vitals` at `at` and appends what happened to `events`: nothing for the dead or for
/// damage of 0, `damaged` otherwise, and `died` after it when no health is left.
///
/// Health never leaves [0, maximum], and less than a billionth of the maximum is none at all, so that five
/// hits of 19.999999999999996 kill a body of 100. Damage that is not the health left to the last bit then
/// gets one more step, `clamp`, with the share there was health for: the steps multiply out to the number
/// that was applied, and health is exactly 0.
void apply_damage(Vitals& vitals, Damage damage, Time at, std::vector<VitalsEvent>& events);

} // namespace avrek
