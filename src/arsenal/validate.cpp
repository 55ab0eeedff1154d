#include "key_ranges.h"

#include <algorithm>

namespace avrek {

namespace {

bool has_mode(const WeaponSpec& weapon, TriggerMode mode) {
    return std::find(weapon.modes.begin(), weapon.modes.end(), mode) != weapon.modes.end();
}

Duration interval_of(const WeaponSpec& weapon) {
    return detail::positive(weapon.rounds_per_minute) ? shot_offset(1, weapon.rounds_per_minute)
                                                      : Duration::zero();
}

void search_recovery(detail::Search& search, const Recovery& recovery, const char* key) {
    const bool empty = recovery.left.points.empty();
    search.error(empty, key, "is empty", "at least one point");
    search.error(!detail::never_rises(recovery.left), key, "rises", "what is left never grows");
    search.warning(!empty && recovery.left.points.back().y > 0.0, key,
                   "never comes to 0, so a part stays until the next shot and beyond", "a last y of 0");
}

void search_trigger(detail::Search& search, const WeaponSpec& weapon) {
    for (std::size_t mode = 1; mode < weapon.modes.size(); ++mode) {
        search.warning(std::count(weapon.modes.begin(), weapon.modes.end(), weapon.modes[mode]) > 1,
                       "trigger", "names a mode twice", "each mode once");
    }
    if (has_mode(weapon, TriggerMode::burst)) {
        search.error(weapon.burst.gap > interval_of(weapon), "burst.gap",
                     "is longer than the interval between shots", "at most 60 s divided by rate_of_fire");
        search.warning(weapon.feed == AmmoFeed::magazine && weapon.burst.shots > weapon.magazine,
                       "burst.shots", "is more than the magazine holds", "at most the magazine");
    }
    if (has_mode(weapon, TriggerMode::charge)) {
        const ChargeSpec& charge = weapon.charge;
        search.error(charge.min > charge.full, "charge.min",
                     "is longer than charge.full, so the charge could never be released",
                     "at most charge.full");
        search.warning(!charge.power.points.empty() &&
                           charge.power.points.back().x > to_seconds(charge.full) + 1e-9,
                       "charge.power", "goes on beyond charge.full, where it no longer counts",
                       "a last x of at most charge.full");
    }
    if (has_mode(weapon, TriggerMode::spin_up)) {
        const SpinSpec& spin = weapon.spin;
        search.warning(!spin.rate.points.empty() && spin.rate.points.back().x > 1.0, "spin.rate",
                       "goes on beyond a spin of 1, which there is not", "a last x of at most 1");
    }
}

void search_ammo(detail::Search& search, const WeaponSpec& weapon) {
    const bool holds = weapon.feed == AmmoFeed::magazine || weapon.feed == AmmoFeed::cell;
    search.error(holds && weapon.magazine < 1, "magazine", "holds nothing", "at least 1 round");
    search.error(holds && weapon.rounds_per_shot > weapon.magazine, "rounds_per_shot",
                 "is more than the magazine holds, so it could never fire", "at most the magazine");
    search.warning(weapon.chamber && weapon.feed != AmmoFeed::magazine, "chamber",
                   "does nothing without a magazine", "only with feed = \"magazine\"");
    if (weapon.feed == AmmoFeed::heat) {
        search.error(!detail::within(weapon.heat.per_shot, 1e-6, 1.0), "heat.per_shot",
                     "is no share of the heat", "over 0 to 1");
    }
    if (weapon.feed == AmmoFeed::cell) {
        search.error(weapon.cell.refill_time.count() < weapon.magazine, "cell.refill_time", "is no time",
                     "over 0 s, at least 1 ns for each round");
    }
}

void search_reload(detail::Search& search, const WeaponSpec& weapon) {
    const ReloadSpec& reload = weapon.reload;
    const Duration empty = reload.empty_time.value_or(reload.time);
    if (reload.commit) {
        search.error(*reload.commit > reload.time, "reload.commit",
                     "comes after the end of the reload, which takes reload.time", "at most reload.time");
        search.error(*reload.commit <= reload.time && *reload.commit > empty, "reload.commit",
                     "comes after the end of the reload from empty, which takes reload.empty_time",
                     "at most reload.empty_time");
    }
    search.warning(empty < reload.time, "reload.empty_time", "is shorter than from a part-filled magazine",
                   "at least reload.time");
    const bool by_round = reload.style == ReloadStyle::rounds;
    search.warning(!by_round && (reload.start > Duration::zero() || reload.end > Duration::zero()),
                   "reload.style", "has no start and end of their own",
                   "\"rounds\", for reload.start and reload.end");
    search.warning(by_round && !reload.keeps_rounds, "reload.keeps_rounds",
                   "throws nothing away when rounds go in one by one", "true");
    search.warning(by_round && reload.empty_time.has_value(), "reload.empty_time",
                   "does nothing when rounds go in one by one", "reload.empty_start");
    search.warning(weapon.feed != AmmoFeed::magazine && reload.time > Duration::zero(), "reload.time",
                   "does nothing without a magazine to reload", "only with feed = \"magazine\"");
}

void search_spread(detail::Search& search, const WeaponSpec& weapon) {
    const SpreadSpec& spread = weapon.spread;
    const Radians aimed = spread.aimed.value_or(spread.hip);
    search.error(aimed > spread.hip, "spread.aimed", "is wider than from the hip", "at most spread.hip");
    search.warning(spread.crouching > 1.0, "spread.crouching", "makes a crouching shooter less accurate",
                   "at most 1");
    search.warning(spread.airborne < 1.0, "spread.airborne", "makes a jumping shooter more accurate",
                   "at least 1");
    search.error(std::any_of(spread.pellet_pattern.begin(), spread.pellet_pattern.end(),
                             [](const PatternPoint& point) {
                                 return !(point.left * point.left + point.up * point.up <= 1.0 + 1e-9);
                             }),
                 "spread.pellet_pattern", "has a point outside of the cone", "each within 1 of [0, 0]");
    search.warning(!spread.pellet_pattern.empty() && std::ssize(spread.pellet_pattern) != weapon.pellets,
                   "spread.pellet_pattern", "does not have one point for each pellet",
                   "as many points as pellets");
    const BloomSpec& bloom = spread.bloom;
    search.warning(!bloom.per_shot.points.empty() && bloom.max == 0.0, "bloom.max",
                   "is 0, so shots add nothing", "over 0 degrees");
    search_recovery(search, bloom.recovery, "bloom.recovery");
}

void search_recoil(detail::Search& search, const WeaponSpec& weapon) {
    const RecoilSpec& recoil = weapon.recoil;
    search.error(recoil.loop_from > 0 && recoil.loop_from >= std::ssize(recoil.pattern), "recoil.loop_from",
                 "is not a step of the pattern", "0 to the number of steps less one");
    search.warning(recoil.pattern.size() > 1 && recoil.reset_delay < interval_of(weapon) &&
                       !has_mode(weapon, TriggerMode::burst),
                   "recoil.reset_delay",
                   "is shorter than the interval, so every shot is the first of the pattern",
                   "longer than 60 s divided by rate_of_fire");
    search_recovery(search, recoil.recovery, "recoil.recovery");
}

void search_handling(detail::Search& search, const WeaponSpec& weapon) {
    const HandlingSpec& handling = weapon.handling;
    search.warning(handling.fires_sprinting && handling.sprint_out > Duration::zero(), "handling.sprint_out",
                   "does nothing for a weapon that fires during a sprint", "0 s");
}

void search_effect(detail::Search& search, const WeaponSpec& weapon) {
    search.warning(!detail::never_rises(weapon.falloff), "falloff",
                   "rises: the weapon does more from farther away", "a curve that never rises");
    const bool launches = !weapon.projectile.id.empty();
    const bool arrives = delivery_of(weapon) == Delivery::hitscan;
    search.error(launches && weapon.spray != 0.0, "spray", "is for weapons that launch nothing",
                 "either spray or projectile");
    search.warning(weapon.spray > 0.0 && weapon.pellets > 1, "pellets", "does nothing for a spray", "1");
    detail::search_pierce(search, weapon.pierce);
    search.warning(!arrives && weapon.bounce.count > 0, "bounce.count",
                   "does nothing for a weapon that is not hitscan", "that of the projectile");
    search.warning(!arrives && weapon.pierce.energy > 0.0, "pierce.energy",
                   "does nothing for a weapon that is not hitscan", "that of the projectile");
}

} // namespace

std::vector<SpecFault> validate(const WeaponSpec& weapon) {
    detail::Search search;
    detail::search_ranges(search, weapon);
    search_trigger(search, weapon);
    search_ammo(search, weapon);
    search_reload(search, weapon);
    search_spread(search, weapon);
    search_recoil(search, weapon);
    search_handling(search, weapon);
    search_effect(search, weapon);
    return std::move(search.found);
}

} // namespace avrek
