#pragma once
#include "effect_keys.h"
#include <avrek/arsenal/weapon_spec.h>

namespace avrek::detail {

inline constexpr KeyRow cone{.unit = "degrees", .range = {0.0, 60.0}};

template <class Keys>
void visit_keys(Keys& key, BurstSpec& spec) {
    key("shots", spec.shots, {.unit = "shots", .range = {1.0, 100.0}}, "Shots per press.");
    key("gap", spec.gap, some_seconds,
        "Time between two shots of a burst; at most the interval of rate_of_fire.");
    key("on_release", spec.cut_on_release, {.words = {"finish", "cut"}},
        "Effect of releasing the trigger during a burst.");
    key("repeats", spec.repeats, {},
        "A held trigger begins another burst as soon as the rate of fire allows.");
}

template <class Keys>
void visit_keys(Keys& key, ChargeSpec& spec) {
    key("min", spec.min, seconds, "Releasing earlier drops the charge; at most charge.full.");
    key("full", spec.full, some_seconds, "Time to full power.");
    key("power", spec.power,
        {.unit = "s, factor", .range = {0.0, 100.0}, .otherwise = "in proportion, 1 when full"},
        "Damage multiplier, over the time that the trigger was held.");
    key("at_full", spec.fires_when_full, {.words = {"wait", "fire"}},
        "Whether a full charge waits for the release or fires.");
}

template <class Keys>
void visit_keys(Keys& key, SpinSpec& spec) {
    key("up", spec.up, some_seconds, "Time from standstill to full speed.");
    key("down", spec.down, some_seconds, "Time from full speed to standstill.");
    key("rate", spec.rate, {.unit = "spin, share", .range = {0.001, 1.0}, .otherwise = "always 1"},
        "Share of rate_of_fire, over the spin from 0 to 1.");
    key("fires_from", spec.fires_from, share, "Spin at which the first shot leaves.");
}

template <class Keys>
void visit_keys(Keys& key, HeatSpec& spec) {
    key("per_shot", spec.per_shot, {.range = {0.0, 1.0, true}},
        "Heat that a shot adds; at 1 the weapon locks.");
    key("cooling_time", spec.cooling_time, some_seconds, "Time from a heat of 1 to 0.");
    key("delay", spec.delay, seconds, "Delay after a shot before it cools.");
    key("unlocks_at", spec.unlocks_at, {.range = {0.0, 0.999}},
        "The heat at which a locked weapon fires again.");
}

template <class Keys>
void visit_keys(Keys& key, CellSpec& spec) {
    key("refill_time", spec.refill_time, some_seconds, "Time from an empty cell to a full one.");
    key("delay", spec.delay, seconds, "Delay after a shot before it refills.");
}

template <class Keys>
void visit_keys(Keys& key, ReloadSpec& spec) {
    key("style", spec.style, {.words = words_of<ReloadStyle>(2)},
        "Whether rounds go in all at once, or one by one: a start, a repeat for each, an end.");
    key("time", spec.time, default_is("0, but feed magazine needs it", seconds),
        "Time of the whole reload, or of one repeat.");
    key("empty_time", spec.empty_time, default_is("as time", seconds),
        "Time of the whole reload from an empty magazine.");
    key("commit", spec.commit, default_is("at the end", seconds),
        "Time from the start of the reload, or of the repeat, until the rounds are in for good.");
    key("start", spec.start, seconds, "Time before the first round goes in, style rounds.");
    key("empty_start", spec.empty_start, default_is("as start", seconds),
        "Time before the first round goes in when the magazine was empty.");
    key("end", spec.end, seconds, "Time after the last round is in, style rounds.");
    key("keeps_rounds", spec.keeps_rounds, {},
        "Rounds left in the magazine are kept; otherwise they are discarded with it.");
    key("automatic", spec.automatic, {},
        "The reload starts by itself when too few rounds are left for a shot.");
    key("cancelled_by", spec.cancelled_by,
        {.range = {0.0, 5.0}, .words = {"trigger", "swap", "sprint", "strike", "stun"}},
        "What cancels a reload; trigger only when there is a round to fire.");
}

template <class Keys>
void visit_keys(Keys& key, BloomSpec& spec) {
    key("per_shot", spec.per_shot, {.unit = "degrees, degrees", .range = cone.range, .otherwise = "always 0"},
        "Cone that a shot adds, over the bloom before it.");
    key("max", spec.max, cone, "Maximum bloom.");
    key("delay", spec.recovery.delay, seconds, "Delay after a shot before the bloom recovers.");
    key("recovery", spec.recovery.left, {.unit = "s, share", .range = share.range},
        "Share of the bloom that remains, over time.");
}

template <class Keys>
void visit_keys(Keys& key, SpreadSpec& spec) {
    key("hip", spec.hip, cone, "Half-angle of the round spread cone from the hip.");
    key("aimed", spec.aimed, default_is("as hip", cone), "Half-angle when aimed; at most spread.hip.");
    key("crouching", spec.crouching, factor, "Factor for a crouching shooter.");
    key("airborne", spec.airborne, factor, "Factor for a shooter off the ground.");
    key("moving", spec.moving, {.unit = "m/s, factor", .range = factor.range, .otherwise = "always 1"},
        "Factor over the shooter's speed.");
    key("speed_half_life", spec.speed_half_life, seconds,
        "Half-life with which the cone follows a change of speed.");
    key("first_shot_rest", spec.first_shot_rest, default_is("0, never", seconds),
        "Time without a shot after which a standing shooter's next shot goes exactly where it is aimed.");
    key("shape", spec.shape, {.words = words_of<SpreadShape>(2)},
        "Distribution in the cone: uniform by solid angle, or centred (uniform by distance from the "
        "middle).");
    key("pellet_pattern", spec.pellet_pattern,
        {.unit = "of the cone", .range = {-1.0, 1.0}, .otherwise = "at random"},
        "Fixed pellet positions: left and up, [0, 0] the middle and 1 the edge.");
    key("pellet_jitter", spec.pellet_jitter, {.unit = "of the cone", .range = share.range},
        "Maximum random offset from those positions.");
}

template <class Keys>
void visit_keys(Keys& key, RecoilSpec& spec) {
    key("pattern", spec.pattern, {.unit = "degrees", .range = {-180.0, 180.0}, .otherwise = "no kick"},
        "Kick of each shot of a run: [yaw, pitch].");
    key("loop_from", spec.loop_from, {.unit = "steps", .range = {0.0, 999.0}},
        "Step, counted from 0, that follows the last one.");
    key("jitter", spec.jitter, {.unit = "degrees", .range = {0.0, 180.0}},
        "Maximum random deviation of each kick.");
    key("aimed", spec.aimed, factor, "Factor when aimed.");
    key("crouching", spec.crouching, factor, "Factor when crouching.");
    key("recovery_share", spec.recovery_share, share,
        "Share of the kick that recovers by itself; the player pulls back the rest.");
    key("delay", spec.recovery.delay, seconds, "Delay after a shot before that share recovers.");
    key("recovery", spec.recovery.left, {.unit = "s, share", .range = share.range},
        "Share of it that remains, over time.");
    key("reset_delay", spec.reset_delay, seconds, "Time without a shot after which the pattern starts anew.");
    key("gun_kick", spec.gun_kick, seconds, "Duration of the gun model's kick.");
}

template <class Keys>
void visit_keys(Keys& key, AimSpec& spec) {
    key("in", spec.in, seconds, "Time from the hip to fully aimed.");
    key("out", spec.out, seconds, "Time from fully aimed to the hip.");
    key("by", spec.toggles, {.words = {"hold", "toggle"}},
        "Whether the button is held, or pressed again to end aiming.");
    key("field_of_view", spec.field_of_view,
        {.unit = "degrees", .range = {1.0, 170.0}, .otherwise = "the game's own"},
        "Vertical field of view when aimed.");
    key("movement", spec.movement, {.range = {0.0, 10.0}}, "Factor of the shooter's speed when aimed.");
    key("crosshair", spec.crosshair, share, "Opacity of the crosshair when aimed.");
}

template <class Keys>
void visit_keys(Keys& key, HandlingSpec& spec) {
    key("raise", spec.raise, seconds, "Time from taking the weapon in hand until it is ready.");
    key("stow", spec.stow, seconds, "Time to put the weapon away.");
    key("sprint_out", spec.sprint_out, seconds, "Time from the end of a sprint until the weapon is ready.");
    key("fires_sprinting", spec.fires_sprinting, {}, "The weapon fires during a sprint.");
    key("fires_airborne", spec.fires_airborne, {}, "The weapon fires off the ground.");
}

template <class Keys>
void visit_weapon_ammunition(Keys& key, WeaponSpec& spec) {
    key("feed", spec.feed, {.words = words_of<AmmoFeed>(4)},
        "Source of the shots: a magazine, the reserve itself, heat alone, or a cell that refills itself.");
    key("supply", spec.supply, {.words = words_of<AmmoSupply>(3)},
        "What never runs out, for testing: nothing, the reserve, or everything.");
    key("magazine", spec.magazine,
        {.unit = "rounds",
         .range = {1.0, 1e4},
         .otherwise = "1, but feed magazine and cell need it, unless the supply is endless"},
        "Capacity of the magazine or cell; it starts full.");
    key("chamber", spec.chamber, {}, "A chambered round comes on top of a full magazine.");
    key("reserve", spec.reserve, {.unit = "rounds", .range = {0.0, 1e5}},
        "Rounds carried beside the magazine at the start.");
    key("rounds_per_shot", spec.rounds_per_shot, {.unit = "rounds", .range = {1.0, 1000.0}},
        "Rounds that one shot uses.");
    key("pellets", spec.pellets, {.unit = "pellets", .range = {1.0, 64.0}}, "Pellets per shot.");
    key("ammo", spec.ammo, {.otherwise = "one of its own", .refers = "ammo"},
        "Ammunition type; weapons with the same type share their reserve.");
}

template <class Keys>
void visit_keys(Keys& key, WeaponSpec& spec) {
    key("trigger", spec.modes, {.range = {1.0, 8.0}, .words = words_of<TriggerMode>(5)},
        "Trigger modes of the weapon; the first is set at the start.");
    key("rate_of_fire", spec.rounds_per_minute,
        {.unit = "rounds/min", .range = {0.0, 6000.0, true}, .required = true},
        "Maximum shots per minute; the interval between shots is 60 s divided by it.");
    key("press_buffer", spec.press_buffer, seconds,
        "A press this much too early fires as soon as the weapon is ready.");
    visit_weapon_ammunition(key, spec);
    key("range", spec.range,
        {.unit = "m", .range = {0.0, 1e4, true}, .otherwise = "100, but without a projectile it is needed"},
        "Maximum reach of a shot; for a projectile weapon, its intended range.");
    key("damage", spec.damage,
        {.unit = "health",
         .range = {0.0, 1e5},
         .otherwise = "0, but without a projectile or a condition it is needed"},
        "Damage of one pellet, before falloff and region.");
    key("falloff", spec.falloff, {.unit = "m, share", .range = {0.0, 10.0}, .otherwise = "always 1"},
        "Share of the damage that remains, over the distance flown; constant beyond its ends.");
    key("spray", spec.spray, cone,
        "Half-angle of a cone as long as the range: each shot hits everything visible in it.");
    key("tracer_speed", spec.tracer_speed, {.unit = "m/s", .range = {0.0, 1e5, true}},
        "Drawn speed of a hitscan shot.");
    key("region", spec.region_multipliers, default_is("each 1", factor),
        "Damage multiplier for each hit region.");
    key("projectile", spec.projectile, {.otherwise = "none: hitscan", .refers = "projectile"},
        "Projectile that each pellet launches; it does the weapon's damage where it hits.");
    key.group("burst", spec.burst);
    key.group("charge", spec.charge);
    key.group("spin", spec.spin);
    key.group("heat", spec.heat);
    key.group("cell", spec.cell);
    key.group("reload", spec.reload);
    key.group("spread", spec.spread);
    key.group("bloom", spec.spread.bloom);
    key.group("recoil", spec.recoil);
    key.group("aim", spec.aim);
    key.group("handling", spec.handling);
    key.group("bounce", spec.bounce);
    key.group("pierce", spec.pierce);
    key.group("effect", spec.effect);
}

} // namespace avrek::detail
