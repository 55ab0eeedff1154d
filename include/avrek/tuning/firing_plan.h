#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/core/time.h>
#include <avrek/weapon/weapon.h>

#include <cstddef>
#include <cstdint>
#include <limits>
#include <string>
#include <vector>

/// How a shooter works a trigger.
namespace avrek {

/// The kinds of plans.
enum class FiringPlanKind : std::uint8_t {
    hold,    ///< as fast as the weapon allows, whatever its mode: held, pressed again, or charged to the full
    taps,    ///< a press every `interval`
    bursts,  ///< `shots` as fast as the weapon allows, then a pause of `interval` after the last of them
    intents, ///< exactly `intents`
};

/// A plan. But for `intents`, the shooter reloads whenever there is not enough for a shot.
struct FiringPlan {
    FiringPlanKind kind = FiringPlanKind::hold;
    std::string name = "hold";
    Duration interval{};
    std::int32_t shots = 0;
    std::vector<WeaponIntent> intents{};
};

/// How the shooter stands while firing, unchanged from long before the first shot.
struct Posture {
    double speed = 0.0; ///< m/s, at least 0
    bool crouching = false;
    bool airborne = false;
    double aim_blend = 0.0; ///< 0, from the hip, to 1
};

/// The weapon as somebody holds it who aims by `blend` all the time: the values of the hip are those of the
/// blend.
WeaponSpec aimed_by(const WeaponSpec& weapon, double blend);

/// What happens when `weapon` is fired by `plan` from Time{} on, until `length` is over, `max_shots` have
/// left or nothing is left to load. Preconditions (asserted): `length` at least 0; `interval` over 0 for
/// taps; `shots` over 0 for bursts; intents in order of time.
std::vector<WeaponEvent> fire_by_plan(const WeaponSpec& weapon, const FiringPlan& plan,
                                      const Posture& posture, Duration length,
                                      std::size_t max_shots = std::numeric_limits<std::size_t>::max());

/// What the shooter of fire_by_plan() states of its trigger and its reloads, in order of time. Statements of
/// one moment take effect one after the other.
std::vector<WeaponIntent> statements_of(const WeaponSpec& weapon, const FiringPlan& plan,
                                        const Posture& posture, Duration length,
                                        std::size_t max_shots = std::numeric_limits<std::size_t>::max());

/// Where the view points, apart from where the shooter looks, as each shot among `events` leaves: the kicks
/// before it, of which the shooter has pulled back the share `pull` of what does not return by itself.
std::vector<Look> view_at_shots(const WeaponSpec& weapon, const std::vector<WeaponEvent>& events,
                                double pull);

} // namespace avrek
