#pragma once
#include <avrek/weapon/ammo.h>
#include <avrek/weapon/cone.h>
#include <avrek/weapon/weapon_events.h>
#include <avrek/weapon/weapon_state.h>

namespace avrek {

/// Everything that an interface shows of one weapon, at `state.now`.
struct WeaponReadout {
    std::int32_t rounds = 0;   ///< rounds to fire without a reload; may be `endless_rounds`
    std::int32_t capacity = 0; ///< see capacity()
    std::int32_t reserve = 0;  ///< rounds to reload from; may be `endless_rounds`
    bool chambered = false;    ///< one of the rounds is in the chamber
    TriggerMode mode = TriggerMode::single;
    WeaponActivity activity = WeaponActivity::ready;
    WeaponRefusal waits_for = WeaponRefusal::none; ///< why a press would not fire now; none: it would
    double reload_progress = 0.0;                  ///< 0 to 1
    double heat = 0.0;                             ///< 0 to 1
    double charge = 0.0;                           ///< 0 to 1 of the time to full power
    double spin = 0.0;                             ///< 0 to 1
    Radians cone = 0.0;                            ///< half-angle of the next shot's cone
    ConeParts cone_parts{};                        ///< parts of the cone
    double accuracy = 1.0;                         ///< from 0 (widest cone) to 1 (narrowest)
    double crosshair_gap = 0.0;                    ///< in pixels, see crosshair_gap()
    double crosshair_opacity = 1.0;                ///< 0 to 1
    double aim_blend = 0.0;                        ///< from 0 (hip) to 1 (aimed)
    Radians field_of_view = 0.0;                   ///< vertical
    double movement = 1.0;                         ///< factor for the shooter's speed
    Look view_kick{};                              ///< see view_kick_at()
    double gun_kick = 0.0;                         ///< 0 to 1
};

/// Returns the readout of a weapon. `screen` is the screen at the hip.
WeaponReadout readout(const WeaponSpec& spec, const WeaponState& state, const AmmoReserve& reserve,
                      const Screen& screen = {});

/// Returns the words for an activity, such as "raising".
std::string_view to_string(WeaponActivity activity);

} // namespace avrek
