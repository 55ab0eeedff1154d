#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/core/time.h>
#include <avrek/tuning/firing_plan.h>
#include <avrek/weapon/cone.h>

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

/// What a weapon comes to, in numbers that people compare. All of it is measured on the weapon itself as it
/// fires.
namespace avrek {

/// The cone in one way of standing.
struct CardCone {
    std::string name; ///< "hip, at 6 m/s"
    Posture posture;
    Radians rest = 0.0;    ///< without bloom, not the first shot after a rest
    Radians worst = 0.0;   ///< with all the bloom there can be
    double accuracy = 1.0; ///< of `rest`, see accuracy_of()
    double gap = 0.0; ///< of `rest` in pixels, see crosshair_gap(); aimed with the weapon's own field of view
};

/// The card of one weapon, in its first mode, fired by FiringPlanKind::hold.
struct WeaponCard {
    /// Shots a minute while it fires: over two minutes without a reload or a pause, whole bursts counted.
    double rounds_per_minute = 0.0;
    double damage_per_shot = 0.0; ///< all pellets, full charge, up close, no region
    double burst_damage = 0.0;    ///< a second, while it fires
    /// A second, over two minutes with all reloads and pauses, the reserve endless. At most `burst_damage`.
    double sustained_damage = 0.0;
    /// Shots to an empty magazine, cell or reserve, or to too much heat; 0 if that takes over two minutes.
    std::int32_t shots_to_empty = 0;
    Duration time_to_empty{};                 ///< from the first of them to the last
    std::optional<Duration> partial_reload{}; ///< with one round missing
    std::optional<Duration> empty_reload{};   ///< from empty to full
    std::optional<Duration> pause{}; ///< of heat: from too hot to firing again. Of a cell: from empty to full
    bool first_shot_is_exact = false; ///< after SpreadSpec::first_shot_rest
    std::vector<CardCone> cones{};
    /// Where the view points just after each of the first shots, up to 24, from the hip, when the shooter
    /// pulls nothing back and what returns by itself does; without jitter.
    std::vector<Look> recoil{};
};

/// Measures `weapon`. Pixels are for `screen`. Precondition: `weapon` has no error among
/// validate().
WeaponCard card_of(const WeaponSpec& weapon, const Screen& screen = {});

/// The cone at one moment.
struct ConeSample {
    Time at{};
    Radians cone = 0.0;
};

/// The cone of `weapon` over time, from Time{} on, fired by FiringPlanKind::hold for `firing` or until it
/// must pause, then left alone for `resting`; a sample every `step` and at each shot, before and just after
/// it. Preconditions (asserted): lengths at least 0, `step` over 0.
std::vector<ConeSample> cone_over_time(const WeaponSpec& weapon, const Posture& posture, Duration firing,
                                       Duration resting, Duration step);

} // namespace avrek
