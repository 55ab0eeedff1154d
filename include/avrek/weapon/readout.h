#pragma once
#include <avrek/weapon/ammo.h>
#include <avrek/weapon/cone.h>
#include <avrek/weapon/weapon_events.h>
#include <avrek/weapon/weapon_state.h>

namespace avrek {

/// Everything that an interface shows of one weapon, at `state.now`.
struct WeaponReadout {
    std::int32_t rounds = 0;   ///< to fire without a reload; `endless_rounds` where nothing counts them
    std::int32_t capacity = 0; ///< see capacity()
    std::int32_t reserve = 0;  ///< rounds to reload from; `endless_rounds` where nothing counts them
    bool chambered = false;    ///< one of the rounds is in the chamber
    TriggerMode mode = TriggerMode::single;
    WeaponActivity activity = WeaponActivity::ready;
    WeaponRefusal waits_for = WeaponRefusal::none; ///< why a press would not fire now; `none` when it would
    double reload_progress = 0.0;                  ///< 0 to 1
    double heat = 0.0;                             ///< 0 to 1
    double charge = 0.0;                           ///< 0 to 1 of the time to full power
    double spin = 0.0;                             ///< 0 to 1
    Radians cone = 0.0;                            ///< half-angle that the next shot would leave in
    double accuracy = 1.0;                         ///< the same from 0, the weapon's worst, to 1, its best
    double crosshair_gap = 0.0;                    ///< the same in pixels
    double crosshair_opacity = 1.0;                ///< 0 to 1
    double aim_blend = 0.0;                        ///< 0, at the hip, to 1
    Radians field_of_view = 0.0;                   ///< vertical
    double movement = 1.0;                         ///< factor of the shooter's speed
    Look view_kick{};                              ///< see view_kick_at()
    double gun_kick = 0.0;                         ///< 0 to 1
};

/// The readout of a weapon, for a game whose picture at the hip is `screen`.
WeaponReadout readout(const WeaponSpec& spec, const WeaponState& state, const AmmoReserve& reserve,
                      const Screen& screen = {});

/// The words for an activity, such as "raising".
std::string_view to_string(WeaponActivity activity);

} // namespace avrek
