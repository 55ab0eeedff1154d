#include "../core/words.h"
#include <avrek/weapon/aim.h>
#include <avrek/weapon/readout.h>
#include <avrek/weapon/recoil.h>
#include <avrek/weapon/weapon.h>

#include <algorithm>

namespace avrek {

namespace {

WeaponRefusal what_it_waits_for(const WeaponSpec& spec, const WeaponState& state,
                                const AmmoReserve& reserve) {
    if (const WeaponRefusal blocked = blockage(spec, state); blocked != WeaponRefusal::none) {
        return blocked;
    }
    if (rounds_at(spec, state, reserve, state.now) < spec.rounds_per_shot) {
        return WeaponRefusal::empty;
    }
    return state.now < next_shot_allowed(state) ? WeaponRefusal::cycling : WeaponRefusal::none;
}

} // namespace

WeaponReadout readout(const WeaponSpec& spec, const WeaponState& state, const AmmoReserve& reserve,
                      const Screen& screen) {
    const Time now = state.now;
    WeaponReadout out;
    out.rounds = rounds_at(spec, state, reserve, now);
    out.capacity = capacity(spec, state);
    const bool has_reserve = spec.feed == AmmoFeed::magazine || spec.feed == AmmoFeed::reserve;
    out.reserve = spec.supply != AmmoSupply::counted ? endless_rounds : has_reserve ? reserve.rounds : 0;
    out.chambered = spec.chamber && state.rounds > 0;
    out.mode = mode_of(spec, state);
    out.activity = state.activity;
    out.waits_for = what_it_waits_for(spec, state, reserve);
    out.reload_progress = reload_progress(spec, state, reserve);
    out.heat = heat_at(spec, state, now);
    out.charge = std::min(to_seconds(charge_held_at(spec, state, now)) / to_seconds(spec.charge.full), 1.0);
    out.spin = spin_at(spec, state, now);
    out.aim_blend = aim_blend_at(spec, state, now);
    out.field_of_view =
        blended(screen.field_of_view, spec.aim.field_of_view.value_or(screen.field_of_view), out.aim_blend);
    out.cone = cone_at(spec, state, now);
    out.cone_parts = cone_parts_at(spec, state, now);
    out.accuracy = accuracy_of(spec.spread, out.cone);
    out.crosshair_gap = crosshair_gap(out.cone, {out.field_of_view, screen.height});
    out.crosshair_opacity = blended(1.0, spec.aim.crosshair, out.aim_blend);
    out.movement = blended(1.0, spec.aim.movement, out.aim_blend);
    out.view_kick = view_kick_at(spec, state, now);
    out.gun_kick = gun_kick_at(spec, state, now);
    return out;
}

std::string_view to_string(WeaponActivity activity) {
    static constexpr auto words =
        std::to_array<std::string_view>({"ready", "raising", "stowing", "stowed", "sprint-out", "opening",
                                         "inserting", "seating", "closing"});
    return detail::word_of(words, activity);
}

} // namespace avrek
