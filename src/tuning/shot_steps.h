#pragma once
#include <avrek/weapon/weapon.h>

#include <vector>

/// Plans of shots, one step for each, and what a weapon makes of them.
namespace avrek::detail {

/// Loads until nothing is missing.
inline constexpr std::int32_t whole_reload = -1;

/// The same twice: the second one fills the chamber too.
inline constexpr std::int32_t two_reloads = -2;

/// Step of a shooter from one shot to the next.
struct ShotStep {
    std::int32_t loads =
        0; ///< rounds, after which the trigger cuts the reload; `whole_reload`, `two_reloads`; 0: none
    Time not_before{}; ///< the trigger rests until then
    Duration charge{}; ///< charged shot: time for which the trigger is held
};

/// A weapon before its first shot, or just after one.
struct WeaponMoment {
    WeaponState state{};
    AmmoReserve reserve{};
};

/// When neither its rate nor its heat keeps `weapon` from firing.
Time unblocked_at(const WeaponSpec& weapon, const WeaponState& state);

/// When `weapon` fires next if it is asked to and nothing is loaded into it.
Time ready_at(const WeaponSpec& weapon, const WeaponState& state);

/// Moves `moment` to just after its next shot, fired as early as the step allows. Returns false if no shot
/// comes of it. Appends what happens to `events`, and what the shooter states to `statements`.
bool take_step(const WeaponSpec& weapon, WeaponMoment& moment, const ShotStep& step,
               std::vector<WeaponEvent>& events, std::vector<WeaponIntent>& statements);

} // namespace avrek::detail
