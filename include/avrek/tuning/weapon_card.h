#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/core/time.h>
#include <avrek/tuning/firing_plan.h>
#include <avrek/weapon/cone.h>

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

/// Figures of a weapon to compare, measured on the weapon itself as it fires.
namespace avrek {

/// Cone in one posture.
struct CardCone {
    std::string name; ///< "hip, at 6 m/s"
    Posture posture;
    Radians rest = 0.0;    ///< without bloom, not the first shot after a rest
    Radians worst = 0.0;   ///< with maximum bloom
    double accuracy = 1.0; ///< accuracy_of() `rest`
    /// The crosshair_gap() of `rest` in pixels; when aimed, with the weapon's own field of view.
    double gap = 0.0;
};

/// Figures of one weapon in its first mode, fired by FiringPlanKind::hold.
struct WeaponCard {
    /// Shots per minute while firing: over two minutes without a reload or a pause, in whole bursts.
    double rounds_per_minute = 0.0;
    double damage_per_shot = 0.0; ///< all pellets, full charge, up close, no region
    double burst_damage = 0.0;    ///< damage per second while firing
    /// Damage per second over two minutes with all reloads and pauses, and an endless reserve. At most
    /// `burst_damage`.
    double sustained_damage = 0.0;
    /// Shots to an empty magazine, cell or reserve, or to overheating; 0 if that takes over two minutes.
    std::int32_t shots_to_empty = 0;
    Duration time_to_empty{};                 ///< from the first shot to the last of these
    std::optional<Duration> partial_reload{}; ///< with one round missing
    std::optional<Duration> empty_reload{};   ///< from empty to full
    std::optional<Duration> pause{};  ///< heat: from overheating to unlocked; cell: from empty to full
    bool first_shot_is_exact = false; ///< after SpreadSpec::first_shot_rest
    std::vector<CardCone> cones{};
    /// View after each of the first shots, up to 24, from the hip, without recoil control and jitter.
    std::vector<Look> recoil{};
};

/// Measures `weapon`. Pixels are for `screen`. Precondition: validate() finds no error in it.
WeaponCard card_of(const WeaponSpec& weapon, const Screen& screen = {});

/// Cone at a time.
struct ConeSample {
    Time at{};
    Radians cone = 0.0;
};

/// Returns the cone of `weapon` over time: fired from Time{} on by FiringPlanKind::hold for `firing` or until
/// it must pause, then at rest for `resting`. A sample every `step`, and before and after each shot.
/// Preconditions (asserted): lengths at least 0, `step` over 0.
std::vector<ConeSample> cone_over_time(const WeaponSpec& weapon, const Posture& posture, Duration firing,
                                       Duration resting, Duration step);

} // namespace avrek
