#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/core/time.h>
#include <avrek/weapon/weapon.h>

#include <cstddef>
#include <cstdint>
#include <limits>
#include <string>
#include <vector>

/// Firing plans: how a shooter works the trigger.
namespace avrek {

/// Kinds of plans.
enum class FiringPlanKind : std::uint8_t {
    hold,    ///< as fast as the weapon allows: held, tapped, or fully charged
    taps,    ///< a press every `interval`
    bursts,  ///< `shots` as fast as possible, then a pause of `interval`
    intents, ///< exactly `intents`
};

/// A firing plan. With all kinds but `intents`, the shooter reloads when too few rounds are left for a shot.
struct FiringPlan {
    FiringPlanKind kind = FiringPlanKind::hold;
    std::string name = "hold";
    Duration interval{};
    std::int32_t shots = 0;
    std::vector<WeaponIntent> intents{};
};

/// Posture of the shooter while firing, constant since long before the first shot.
struct Posture {
    double speed = 0.0; ///< m/s, at least 0
    bool crouching = false;
    bool airborne = false;
    double aim_blend = 0.0; ///< 0 (hip) to 1 (aimed)
};

/// Returns the weapon as if always aimed by `blend`: the values from the hip are those of the blend.
WeaponSpec aimed_by(const WeaponSpec& weapon, double blend);

/// Returns the events of `weapon` fired by `plan` from Time{} on, until `length` is over, `max_shots` have
/// left or nothing is left to load. Preconditions (asserted): `length` at least 0; `interval` over 0 for
/// taps; `shots` over 0 for bursts; intents in order of time.
std::vector<WeaponEvent> fire_by_plan(const WeaponSpec& weapon, const FiringPlan& plan,
                                      const Posture& posture, Duration length,
                                      std::size_t max_shots = std::numeric_limits<std::size_t>::max());

/// Returns the intents of the shooter of fire_by_plan(), in order of time. Intents of one time take effect
/// one after the other.
std::vector<WeaponIntent> statements_of(const WeaponSpec& weapon, const FiringPlan& plan,
                                        const Posture& posture, Duration length,
                                        std::size_t max_shots = std::numeric_limits<std::size_t>::max());

/// Returns the recoil in the view as each shot among `events` leaves: from the kicks before it, where the
/// shooter has pulled back `pull` of the part that does not recover by itself.
std::vector<Look> view_at_shots(const WeaponSpec& weapon, const std::vector<WeaponEvent>& events,
                                double pull);

} // namespace avrek
