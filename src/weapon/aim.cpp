#include "ramp.h"
#include <avrek/weapon/aim.h>
#include <avrek/weapon/weapon.h>

namespace avrek {

double aim_blend_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    return detail::ramp_at(state.aim_since, state.aiming, spec.aim.in, spec.aim.out, at);
}

double blended(double hip, double aimed, double blend) {
    return hip + (aimed - hip) * blend;
}

double spin_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    return mode_of(spec, state) == TriggerMode::spin_up
               ? detail::ramp_at(state.windup_since, state.winding, spec.spin.up, spec.spin.down, at)
               : 0.0;
}

Duration charge_held_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    const bool charges = mode_of(spec, state) == TriggerMode::charge && state.winding;
    return charges ? at - state.windup_since : Duration::zero();
}

} // namespace avrek
