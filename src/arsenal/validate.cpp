#include "search.h"

#include <algorithm>

namespace avrek {

namespace {

constexpr Radians half_turn = pi;

bool has_mode(const WeaponSpec& weapon, TriggerMode mode) {
    return std::find(weapon.modes.begin(), weapon.modes.end(), mode) != weapon.modes.end();
}

Duration interval_of(const WeaponSpec& weapon) {
    return positive(weapon.rounds_per_minute) ? shot_offset(1, weapon.rounds_per_minute) : Duration::zero();
}

void search_recovery(Search& search, const Recovery& recovery, const char* delay_key, const char* key) {
    search.error(recovery.delay < Duration::zero(), delay_key, "is less than 0", "at least 0 s");
    const bool sound = is_sound(recovery.left, 0.0, 1.0) && !recovery.left.points.empty();
    search.error(!sound, key, "is not a curve of shares over seconds", "x rising from 0, y from 0 to 1");
    search.error(sound && !never_rises(recovery.left), key, "rises", "what is left never grows");
    search.warning(sound && recovery.left.points.back().y > 0.0, key,
                   "never comes to 0, so a part stays until the next shot and beyond", "a last y of 0");
}

void search_trigger(Search& search, const WeaponSpec& weapon) {
    search.error(!positive(weapon.rounds_per_minute), "rate_of_fire", "is no rate", "over 0 rounds/min");
    search.error(weapon.modes.empty() || weapon.modes.size() > 8, "trigger", "names no mode, or too many",
                 "1 to 8 modes");
    for (std::size_t mode = 1; mode < weapon.modes.size(); ++mode) {
        search.warning(std::count(weapon.modes.begin(), weapon.modes.end(), weapon.modes[mode]) > 1,
                       "trigger", "names a mode twice", "each mode once");
    }
    search.error(weapon.press_buffer < Duration::zero(), "press_buffer", "is less than 0", "at least 0 s");
    if (has_mode(weapon, TriggerMode::burst)) {
        search.error(weapon.burst.shots < 1 || weapon.burst.shots > 100, "burst.shots", "is no burst",
                     "1 to 100 shots");
        search.error(weapon.burst.gap <= Duration::zero(), "burst.gap", "is no time", "over 0 s");
        search.error(weapon.burst.gap > interval_of(weapon), "burst.gap",
                     "is longer than the interval between shots", "at most 60 s divided by rate_of_fire");
        search.warning(weapon.feed == AmmoFeed::magazine && weapon.burst.shots > weapon.magazine,
                       "burst.shots", "is more than the magazine holds", "at most the magazine");
    }
    if (has_mode(weapon, TriggerMode::charge)) {
        const ChargeSpec& charge = weapon.charge;
        search.error(charge.full <= Duration::zero(), "charge.full", "is no time", "over 0 s");
        search.error(charge.min < Duration::zero() || charge.min > charge.full, "charge.min",
                     "is longer than charge.full, so the charge could never be released",
                     "at least 0 s and at most charge.full");
        search.error(!is_sound(charge.power, 0.0, 1e6), "charge.power",
                     "is not a curve of power over seconds", "x rising from 0, y at least 0");
        search.warning(!charge.power.points.empty() &&
                           charge.power.points.back().x > to_seconds(charge.full) + 1e-9,
                       "charge.power", "goes on beyond charge.full, where it no longer counts",
                       "a last x of at most charge.full");
    }
    if (has_mode(weapon, TriggerMode::spin_up)) {
        const SpinSpec& spin = weapon.spin;
        search.error(spin.up <= Duration::zero(), "spin.up", "is no time", "over 0 s");
        search.error(spin.down <= Duration::zero(), "spin.down", "is no time", "over 0 s");
        search.error(!within(spin.fires_from, 0.0, 1.0), "spin.fires_from", "is no share", "0 to 1");
        search.error(!is_sound(spin.rate, 1e-3, 1.0), "spin.rate",
                     "is not a curve of shares of the rate over spin", "x rising from 0, y from 0.001 to 1");
        search.warning(!spin.rate.points.empty() && spin.rate.points.back().x > 1.0, "spin.rate",
                       "goes on beyond a spin of 1, which there is not", "a last x of at most 1");
    }
}

void search_ammo(Search& search, const WeaponSpec& weapon) {
    const bool holds = weapon.feed == AmmoFeed::magazine || weapon.feed == AmmoFeed::cell;
    search.error(holds && weapon.magazine < 1, "magazine", "holds nothing", "at least 1 round");
    search.error(weapon.reserve < 0, "reserve", "is less than 0", "at least 0 rounds");
    search.error(weapon.rounds_per_shot < 1, "rounds_per_shot", "is less than 1", "at least 1 round");
    search.error(holds && weapon.rounds_per_shot > weapon.magazine, "rounds_per_shot",
                 "is more than the magazine holds, so it could never fire", "at most the magazine");
    search.error(weapon.pellets < 1 || weapon.pellets > 64, "pellets", "is no number of pellets", "1 to 64");
    search.warning(weapon.chamber && weapon.feed != AmmoFeed::magazine, "chamber",
                   "does nothing without a magazine", "only with feed = \"magazine\"");
    if (weapon.feed == AmmoFeed::heat) {
        search.error(!within(weapon.heat.per_shot, 1e-6, 1.0), "heat.per_shot", "is no share of the heat",
                     "over 0 to 1");
        search.error(weapon.heat.cooling_time <= Duration::zero(), "heat.cooling_time", "is no time",
                     "over 0 s");
        search.error(!within(weapon.heat.unlocks_at, 0.0, 0.999), "heat.unlocks_at",
                     "is not below the heat that locks", "0 to 0.999");
    }
    if (weapon.feed == AmmoFeed::cell) {
        search.error(weapon.cell.refill_time.count() < weapon.magazine, "cell.refill_time", "is no time",
                     "over 0 s, at least 1 ns for each round");
    }
    search.error(weapon.heat.delay < Duration::zero(), "heat.delay", "is less than 0", "at least 0 s");
    search.error(weapon.cell.delay < Duration::zero(), "cell.delay", "is less than 0", "at least 0 s");
}

void search_reload(Search& search, const WeaponSpec& weapon) {
    const ReloadSpec& reload = weapon.reload;
    const Duration empty = reload.empty_time.value_or(reload.time);
    search.error(reload.time < Duration::zero(), "reload.time", "is less than 0", "at least 0 s");
    search.error(empty < Duration::zero(), "reload.empty_time", "is less than 0", "at least 0 s");
    search.error(reload.start < Duration::zero() ||
                     reload.empty_start.value_or(reload.start) < Duration::zero(),
                 "reload.start", "is less than 0", "at least 0 s");
    search.error(reload.end < Duration::zero(), "reload.end", "is less than 0", "at least 0 s");
    if (reload.commit) {
        search.error(*reload.commit < Duration::zero(), "reload.commit", "is less than 0", "at least 0 s");
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

void search_spread(Search& search, const WeaponSpec& weapon) {
    const SpreadSpec& spread = weapon.spread;
    const Radians aimed = spread.aimed.value_or(spread.hip);
    search.error(!within(spread.hip, 0.0, widest_spread), "spread.hip", "is no cone", "0 to 60 degrees");
    search.error(!within(aimed, 0.0, widest_spread), "spread.aimed", "is no cone", "0 to 60 degrees");
    search.error(aimed > spread.hip, "spread.aimed", "is wider than from the hip", "at most spread.hip");
    search.error(!within(spread.crouching, 0.0, 1e3), "spread.crouching", "is no factor", "0 to 1000");
    search.error(!within(spread.airborne, 0.0, 1e3), "spread.airborne", "is no factor", "0 to 1000");
    search.warning(spread.crouching > 1.0, "spread.crouching", "makes a crouching shooter less accurate",
                   "at most 1");
    search.warning(spread.airborne < 1.0, "spread.airborne", "makes a jumping shooter more accurate",
                   "at least 1");
    search.error(!is_sound(spread.moving, 0.0, 1e3), "spread.moving", "is not a curve of factors over speed",
                 "x rising from 0, y from 0 to 1000");
    search.error(spread.speed_half_life < Duration::zero(), "spread.speed_half_life", "is less than 0",
                 "at least 0 s");
    search.error(spread.first_shot_rest < Duration::zero(), "spread.first_shot_rest", "is less than 0",
                 "at least 0 s");
    search.error(!within(spread.pellet_jitter, 0.0, 1.0), "spread.pellet_jitter", "is no share", "0 to 1");
    search.error(std::any_of(spread.pellet_pattern.begin(), spread.pellet_pattern.end(),
                             [](const PatternPoint& point) {
                                 return !(point.left * point.left + point.up * point.up <= 1.0 + 1e-9);
                             }),
                 "spread.pellet_pattern", "has a point outside of the cone", "each within 1 of [0, 0]");
    search.warning(!spread.pellet_pattern.empty() && std::ssize(spread.pellet_pattern) != weapon.pellets,
                   "spread.pellet_pattern", "does not have one point for each pellet",
                   "as many points as pellets");
    const BloomSpec& bloom = spread.bloom;
    search.error(!within(bloom.max, 0.0, widest_spread), "bloom.max", "is no cone", "0 to 60 degrees");
    search.error(!is_sound(bloom.per_shot, 0.0, half_turn), "bloom.per_shot",
                 "is not a curve of added degrees over degrees", "x rising from 0, y at least 0");
    search.warning(!bloom.per_shot.points.empty() && bloom.max == 0.0, "bloom.max",
                   "is 0, so shots add nothing", "over 0 degrees");
    search_recovery(search, bloom.recovery, "bloom.delay", "bloom.recovery");
}

void search_recoil(Search& search, const WeaponSpec& weapon) {
    const RecoilSpec& recoil = weapon.recoil;
    const bool sound = std::all_of(recoil.pattern.begin(), recoil.pattern.end(), [](const Look& step) {
        return within(step.yaw, -half_turn, half_turn) && within(step.pitch, -half_turn, half_turn);
    });
    search.error(!sound, "recoil.pattern", "has a step that is no kick",
                 "[yaw, pitch], each -180 to 180 degrees");
    search.error(recoil.pattern.size() > 1000, "recoil.pattern", "is too long", "at most 1000 steps");
    search.error(recoil.loop_from < 0 ||
                     (recoil.loop_from > 0 && recoil.loop_from >= std::ssize(recoil.pattern)),
                 "recoil.loop_from", "is not a step of the pattern", "0 to the number of steps less one");
    search.error(!within(recoil.jitter.yaw, 0.0, half_turn) || !within(recoil.jitter.pitch, 0.0, half_turn),
                 "recoil.jitter", "is no angle", "[yaw, pitch], each 0 to 180 degrees");
    search.error(!within(recoil.aimed, 0.0, 1e3), "recoil.aimed", "is no factor", "0 to 1000");
    search.error(!within(recoil.crouching, 0.0, 1e3), "recoil.crouching", "is no factor", "0 to 1000");
    search.error(!within(recoil.recovery_share, 0.0, 1.0), "recoil.recovery_share", "is no share", "0 to 1");
    search.error(recoil.reset_delay < Duration::zero(), "recoil.reset_delay", "is less than 0",
                 "at least 0 s");
    search.error(recoil.gun_kick < Duration::zero(), "recoil.gun_kick", "is less than 0", "at least 0 s");
    search.warning(recoil.pattern.size() > 1 && recoil.reset_delay < interval_of(weapon) &&
                       !has_mode(weapon, TriggerMode::burst),
                   "recoil.reset_delay",
                   "is shorter than the interval, so every shot is the first of the pattern",
                   "longer than 60 s divided by rate_of_fire");
    search_recovery(search, recoil.recovery, "recoil.delay", "recoil.recovery");
}

void search_handling(Search& search, const WeaponSpec& weapon) {
    const AimSpec& aim = weapon.aim;
    search.error(aim.in < Duration::zero(), "aim.in", "is less than 0", "at least 0 s");
    search.error(aim.out < Duration::zero(), "aim.out", "is less than 0", "at least 0 s");
    search.error(aim.field_of_view && !within(*aim.field_of_view, from_degrees(1.0), from_degrees(170.0)),
                 "aim.field_of_view", "is no field of view", "1 to 170 degrees");
    search.error(!within(aim.movement, 0.0, 10.0), "aim.movement", "is no factor", "0 to 10");
    search.error(!within(aim.crosshair, 0.0, 1.0), "aim.crosshair", "is no opacity", "0 to 1");
    const HandlingSpec& handling = weapon.handling;
    search.error(handling.raise < Duration::zero(), "handling.raise", "is less than 0", "at least 0 s");
    search.error(handling.stow < Duration::zero(), "handling.stow", "is less than 0", "at least 0 s");
    search.error(handling.sprint_out < Duration::zero(), "handling.sprint_out", "is less than 0",
                 "at least 0 s");
    search.warning(handling.fires_sprinting && handling.sprint_out > Duration::zero(), "handling.sprint_out",
                   "does nothing for a weapon that fires during a sprint", "0 s");
}

void search_effect(Search& search, const WeaponSpec& weapon) {
    search.error(!positive(weapon.range), "range", "is no distance", "over 0 m");
    search.error(!within(weapon.damage, 0.0, 1e9), "damage", "is no damage", "at least 0 health");
    search.error(!is_sound(weapon.falloff, 0.0, 1e3), "falloff", "is not a curve of shares over metres",
                 "x rising from 0, y at least 0");
    search.warning(!never_rises(weapon.falloff), "falloff", "rises: the weapon does more from farther away",
                   "a curve that never rises");
    const bool launches = !weapon.projectile.empty();
    const bool arrives = delivery_of(weapon) == Delivery::hitscan;
    search.error(!within(weapon.spray, 0.0, widest_spread), "spray", "is no cone", "0 to 60 degrees");
    search.error(launches && weapon.spray != 0.0, "spray", "is for weapons that launch nothing",
                 "either spray or projectile");
    search.warning(weapon.spray > 0.0 && weapon.pellets > 1, "pellets", "does nothing for a spray", "1");
    search_effect(search, weapon.effect);
    search_bounce(search, weapon.bounce);
    search_pierce(search, weapon.pierce);
    search.error(!positive(weapon.tracer_speed), "tracer_speed", "is no speed", "over 0 m/s");
    search.warning(!arrives && weapon.bounce.count > 0, "bounce.count",
                   "does nothing for a weapon that is not hitscan", "that of the projectile");
    search.warning(!arrives && weapon.pierce.energy > 0.0, "pierce.energy",
                   "does nothing for a weapon that is not hitscan", "that of the projectile");
}

} // namespace

std::vector<SpecFault> validate(const WeaponSpec& weapon) {
    Search search;
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
